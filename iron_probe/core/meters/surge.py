"""A crank or a load test in a stream of figures: volts that fall away from where they stood, amps that rise, caught with their mean and their farthest."""

from dataclasses import dataclass

from iron_probe.core.meters.measured import Measured

STANDS_OUT: dict[Measured, float] = {Measured.DC_VOLTS: 0.5, Measured.AMPS: 20.0}
"""So far from where it stood something great was switched on [V], [A] (common practice: a starter takes more, lamps less)."""
BACK_SHARE = 0.4
"""Within this share of that it is over."""
INRUSH_S = 0.4
"""The mean leaves the first so many seconds out: a motor that begins to turn, a pile that is turned up [s]."""


@dataclass(slots=True)
class Surge:
    """The last one of a stream: `mean` after its inrush, `far` the value farthest from where it stood, how long it has `lasted_s`, whether it
    runs yet, and how long `ago_s` it ended: a technician's leads are elsewhere soon."""

    measured: Measured
    stood: float | None = None
    mean: float | None = None
    far: float | None = None
    lasted_s: float = 0.0
    runs: bool = False
    ago_s: float = 0.0
    _began: float = 0.0
    _sum: float = 0.0
    _count: int = 0

    def take(self, at_s: float, value: float | None, held: float | None) -> None:
        """One more figure, and the figure the stream stands still at, if it does."""
        most = STANDS_OUT.get(self.measured)
        if most is None or value is None:
            return
        away = 0.0 if self.stood is None else abs(value - self.stood)
        if not self.runs:
            self.ago_s = at_s - self._began - self.lasted_s
        if self.runs:
            self.lasted_s = at_s - self._began
            if away < BACK_SHARE * most:
                self.runs = False
                return
            self._follow(value)
        elif self.stood is not None and away > most:
            self.runs, self._began, self.lasted_s, self.ago_s = True, at_s, 0.0, 0.0
            self.mean, self.far, self._sum, self._count = None, None, 0.0, 0
            self._follow(value)
        elif held is not None:
            self.stood = held

    def _follow(self, value: float) -> None:
        assert self.stood is not None
        if self.far is None or abs(value - self.stood) > abs(self.far - self.stood):
            self.far = value
        if self.lasted_s >= INRUSH_S:
            self._sum, self._count = self._sum + value, self._count + 1
            self.mean = self._sum / self._count
