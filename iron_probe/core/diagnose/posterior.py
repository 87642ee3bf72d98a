"""What a set of readings leaves of the hypotheses."""

from dataclasses import dataclass

from iron_probe.core.arrays import Floats


@dataclass(frozen=True, slots=True, kw_only=True)
class Suspect:
    """An element with its share; `mode` is its likeliest fault, `modes` all of them with theirs."""

    element: str
    p: float
    mode: str
    modes: tuple[tuple[str, float], ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Struck:
    """An element struck out, and the reading (number from 1) that did most of it."""

    element: str
    by_reading: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Posterior:
    """What the readings leave. `weights` (V,) over the ensemble's first draw, for predictions; `labels` by hypothesis number;
    `off_sheet` share of a fault the drawing does not show; `unexplained` reading numbers nothing left predicts;
    `contradictory` numbers of readings that disagree with another at the same place; `found` element or None."""

    suspects: tuple[Suspect, ...]
    eliminated: tuple[Struck, ...]
    no_fault: float
    off_sheet: float
    unexplained: tuple[int, ...]
    contradictory: tuple[int, ...]
    found: str | None
    pair: tuple[str, str] | None
    weights: Floats

    def share(self, element: str) -> float:
        """Share of an element."""
        return next((s.p for s in self.suspects if s.element == element), 0.0)
