"""What turns the engine: the solenoid on the starter, and the starter motor."""

from typing import Annotated, Literal

from pydantic import Field

from iron_probe.core.circuit.element_base import Branch, BranchKind, Conditions, ElementBase, Parameter, Positive, TwoPole
from iron_probe.core.circuit.faults import (
    COMES_AND_GOES,
    DRAGGING,
    OPEN_OHM,
    Altered,
    Around,
    Change,
    Fault,
    fixed,
    never_makes,
    parted,
    resistive,
    scaled,
)

COLD_LOAD_PER_K: dict[str, float] = {"petrol": 0.0175, "diesel": 0.025, "gas": 0.0175}
"""Rise of the torque to turn an engine per kelvin below 20 °C oil, by fuel: at -20 °C 1.7 and 2 times (1.6 to 2.2: common practice)."""

STANDSTILL_SHARE = 0.75
"""Share of a starter's load current that its torque asks however slowly it turns; the rest grows with its speed (common practice)."""

WARM_LOAD_FLOOR = 0.7
"""Least share of the 20 °C load current that hot oil leaves (common practice, no source)."""


COPPER_PER_K = 0.0039
"""Rise of a winding's resistance per kelvin above 20 °C, as a share (IEC 60028, from memory)."""


def warm(temp_degc: float) -> float:
    """Resistance of a winding at a temperature beside that at 20 °C."""
    return 1 + COPPER_PER_K * (temp_degc - 20)


class Solenoid(ElementBase):
    """A starter solenoid on the starter: `s` command stud, `b` heavy feed, `m` motor stud, `case` ground.

    The hold-in winding lies from S to case; the pull-in winding from S to M, shorted out once the contact closes. Both have as many
    turns, so their currents add: with both it pulls in at `pull_in_v`, the hold-in winding alone lets go at `drop_out_v`.
    """

    type: Literal["solenoid"]
    s: str
    b: str
    m: str
    case: str
    hold_ohm: Positive = 1.1
    pull_ohm: Positive = 0.4
    contact_mohm: Positive = 0.3
    pull_in_v: Positive = 7.0
    drop_out_v: Positive = 3.0

    def parameters(self, at: Conditions) -> list[Parameter]:
        return [
            Parameter("hold_ohm", self.hold_ohm * warm(at.temp_degc), 0.06),
            Parameter("pull_ohm", self.pull_ohm * warm(at.temp_degc), 0.06),
            Parameter("contact_ohm", self.contact_mohm / 1000, 0.3),
            Parameter("pull_in_a", self.pull_in_v * (1 / self.hold_ohm + 1 / self.pull_ohm), 0.05),
            Parameter("drop_out_a", self.drop_out_v / self.hold_ohm, 0.1),
            Parameter("stuck", 0.0),
        ]

    def faults(self, around: Around) -> list[Fault]:
        coils = (Altered("hold_ohm", Change.SET, OPEN_OHM, 0.0), Altered("pull_ohm", Change.SET, OPEN_OHM, 0.0))
        return [
            Fault("coil_open", 0.8, coils, comes=COMES_AND_GOES),
            parted("hold_open", 0.4, "hold_ohm"),
            parted("pull_open", 0.4, "pull_ohm"),
            never_makes("contact_open", 0.8),
            fixed("contact_welded", 0.3, "stuck", 1.0),
            resistive(1.5, around, "contact_ohm", "contact_burnt"),
        ]

    def branches(self) -> list[Branch]:
        return [
            Branch("hold", BranchKind.CONDUCTOR, self.s, self.case, "hold_ohm"),
            Branch("pull", BranchKind.CONDUCTOR, self.s, self.m, "pull_ohm"),
            Branch("contact", BranchKind.CONTACT, self.b, self.m, "contact_ohm", coil="hold"),
        ]


LOAD_SPREAD = 0.15
"""How far what a sound starter draws spreads about its rating: oil, compression, and how warm the engine is (common practice)."""


class Starter(TwoPole):
    """A starter motor that draws `load_a` to turn this engine at 20 °C oil and `load_v` at its stud.

    With fewer volts it turns more slowly and draws a little less; cold oil asks for more current. When the volts cannot drive that current through `stall_mohm`, it stands still.
    """

    type: Literal["starter"]
    load_a: Positive
    stall_mohm: Positive
    load_v: Positive = 10.5
    slow_below: Annotated[float, Field(gt=0, lt=1)] = 0.72
    start_above: Annotated[float, Field(gt=0, lt=1)] = 0.5

    def parameters(self, at: Conditions) -> list[Parameter]:
        cold = 1 + COLD_LOAD_PER_K[at.fuel] * (20 - at.temp_degc)
        back_v = self.load_v - self.load_a * self.stall_mohm / 1000
        return [
            Parameter("load_a", self.load_a * max(cold, WARM_LOAD_FLOOR), LOAD_SPREAD),
            Parameter("r_ohm", self.stall_mohm / 1000, 0.06),
            Parameter("back_v", max(back_v, 0.1), 0.03),
        ]

    def faults(self, around: Around) -> list[Fault]:
        return [
            parted("open", 1.1, "r_ohm"),
            fixed("dead_spot", 0.4, "r_ohm", OPEN_OHM, comes=1.0),
            scaled(DRAGGING, 1.5, "load_a", 1.35, 3.0),
        ]

    def branches(self) -> list[Branch]:
        return [Branch("", BranchKind.MOTOR, self.start, self.end, "r_ohm")]
