"""One way an element of a network fails: what changes in its parameters, how badly, and how often beside the others."""

from dataclasses import dataclass

import numpy as np

from iron_probe.core.arrays import Floats
from iron_probe.core.circuit.elements import Conductor, Joint
from iron_probe.core.circuit.faults import OPEN, RESISTIVE_MODES, SHORT_MODES, Change
from iron_probe.core.circuit.network import Network

WAYS_LOST = frozenset({*RESISTIVE_MODES, OPEN})
"""Faults of a conductor that a joint beside it has just so."""


def on_itself(network: Network, element: str, mode: str) -> bool:
    """Whether only volts between the part's own ends tell this fault from one beside it."""
    return mode in WAYS_LOST and isinstance(network.sheet.element(element), Joint | Conductor)


def beside_it(network: Network, element: str, mode: str) -> bool:
    """Whether something that the drawing lacks at the part's end, a joint or a way to ground, acts as this fault does and is not this fault."""
    return mode in WAYS_LOST | SHORT_MODES and isinstance(network.sheet.element(element), Joint | Conductor)


@dataclass(frozen=True, slots=True)
class Effect:
    """One changed parameter, by row; the severity is taken to the power `power` (0 for a fixed `amount`)."""

    row: int
    change: Change
    amount: float = 1.0
    power: float = 1.0


@dataclass(frozen=True, slots=True, kw_only=True)
class FaultMode:
    """One way an element fails. Severity is log-uniform from `least` to `most` (both 1 when there is none); `weight` is relative.

    `comes` is how many of such faults are there in one moment and not in the next; one that `blows` draws what can open a fuse, and `opened`
    is the fuse that it has.
    """

    element: str
    name: str
    effects: tuple[Effect, ...]
    weight: float
    least: float = 1.0
    most: float = 1.0
    comes: float = 0.0
    blows: bool = False
    opened: str | None = None

    @property
    def graded(self) -> bool:
        """Whether the fault has a severity."""
        return self.most > self.least

    @property
    def worst_share(self) -> float:
        """Where on its range it shows most: what shrinks a parameter is worst at its least."""
        shrinks = self.most <= 1 and any(e.change is Change.SCALE for e in self.effects)
        return 0.0 if shrinks else 1.0

    def severity(self, share: Floats) -> Floats:
        """Severities at shares 0..1 of the log range."""
        return self.least * (self.most / self.least) ** share

    def apply(self, values: Floats, severity: Floats) -> None:
        """Write the fault into `values` (parameters, V), one severity a column; the array given is changed."""
        for effect in self.effects:
            size = effect.amount * severity**effect.power
            if effect.change is Change.ADD:
                values[effect.row] += size
            elif effect.change is Change.SCALE:
                values[effect.row] *= size
            else:
                values[effect.row] = size

    def put_in(self, nominal: Floats, share: Floats) -> Floats:
        """Machines (parameters, V) like a nominal one (parameters,), with the fault at each of some shares (V,) of its severities."""
        values = np.repeat(nominal[:, None], len(share), axis=1)
        self.apply(values, self.severity(share))
        return values
