"""What a set of readings leaves of the hypotheses."""

from dataclasses import dataclass

from iron_probe.core.arrays import Packed

SOUND_SHARE = 0.8
"""What no fault must hold to be said."""
BESIDE_SHARE = 0.85
"""What a joint beside an element, with what lies anywhere off the drawing, must hold to be found there; the joint must hold no less of it than
everywhere else."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Suspect:
    """An element with its share; `mode` is its likeliest fault, `modes` all of them with theirs; `comes` how much of it is a fault that comes
    and goes."""

    element: str
    p: float
    mode: str
    modes: tuple[tuple[str, float], ...]
    comes: float = 0.0

    @property
    def fleeting(self) -> bool:
        """Whether its fault is rather one that comes and goes than one that is always there."""
        return self.comes > 0.5


@dataclass(frozen=True, slots=True, kw_only=True)
class Struck:
    """An element struck out, and the reading (number from 1) that did most of it."""

    element: str
    by_reading: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Posterior:
    """What the readings leave. `weights` (V,) over the ensemble's first draw, for predictions; `labels` by hypothesis number;
    `off_sheet` share of a fault that lies anywhere off the drawing; `unexplained` reading numbers nothing left predicts;
    `contradictory` numbers of readings that disagree with another at the same place; `away` numbers of those read while a fault that comes and
    goes was away; `stands` states in which the machine was last heard to do what a sound one does not; `found` element or None; `pair` the
    two that together explain most, with `pair_share`, which counts in the share of both; `beside` shares of a joint the
    drawing lacks at the end of an element, the greatest first; `grounded` shares, counted in `off_sheet`, of a way to ground at one,
    and `rests_on` the number of the one reading that the first of these rests on where it is not yet read twice; `untested` share, counted
    in the suspects', of what no reading so far could have shown; `set_aside` share, counted in `off_sheet`, for readings that were taken twice and
    fit nothing that leads: what is proven without them is found all the same."""

    suspects: tuple[Suspect, ...]
    eliminated: tuple[Struck, ...]
    no_fault: float
    off_sheet: float
    unexplained: tuple[int, ...]
    contradictory: tuple[int, ...]
    found: str | None
    pair: tuple[str, str] | None
    weights: Packed
    beside: tuple[tuple[str, float], ...] = ()
    grounded: tuple[tuple[str, float], ...] = ()
    rests_on: int | None = None
    away: tuple[int, ...] = ()
    stands: tuple[str, ...] = ()
    pair_share: float = 0.0
    untested: float = 0.0
    set_aside: float = 0.0

    @property
    def sound(self) -> bool:
        """Whether nothing is wrong in what was tested, and what was complained of was tried and did not come."""
        return self.nothing_wrong and not self.stands

    @property
    def nothing_wrong(self) -> bool:
        """Whether a sound machine holds enough of what the readings could tell at all."""
        return self.no_fault >= SOUND_SHARE * (1 - self.untested)

    @property
    def found_beside(self) -> str | None:
        """The element beside which the fault was found, its own two ends read sound."""
        if not self.beside or self.unexplained:
            return None
        element, p = self.beside[0]
        return element if p >= self.off_sheet and p + self.off_sheet >= BESIDE_SHARE else None

    @property
    def settled(self) -> bool:
        """Whether the hunt is over: a part is found, or what lies beside one."""
        return self.found is not None or self.found_beside is not None

    @property
    def lead(self) -> float:
        """What the leading suspect holds of all but what is set aside; nothing where there is none."""
        return self.suspects[0].p / (1 - self.set_aside) if self.suspects else 0.0

    def share(self, element: str) -> float:
        """Share of an element."""
        return next((s.p for s in self.suspects if s.element == element), 0.0)
