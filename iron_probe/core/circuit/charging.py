"""Elements that charge: alternators with their regulators, and the permanent-magnet stator with its regulator-rectifier."""

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

from iron_probe.core.circuit.element_base import Branch, BranchKind, Conditions, ElementBase, Parameter, Positions, Positive, TwoPole
from iron_probe.core.circuit.faults import LEAK, OPEN_OHM, SUPPLY_LEAK, Altered, Around, Change, Fault, diode_faults, fixed, scaled

SET_V = 14.3
"""Regulated voltage of a 12 V system at 20 °C [V] (13.5 to 14.7 V by temperature: common practice)."""
SET_V_PER_K = -0.006
"""Change of the regulated voltage per kelvin at 12 V (regulators follow the battery's need; common practice)."""
RIPPLE_V = 0.12
"""Peak-to-peak ripple across the battery of a sound machine [V] (under 0.5 V: common practice)."""
PHASE_LOST = 0.5
"""Share of its current a three-phase stator has left with a phase lost (ngspice transient of stator and bridge,
tests/outside/test_stator_on_its_bridge.py)."""
UNEVEN_RIPPLE = 5.0
"""Ripple of a bridge with one of its phases gone beside a sound one's (as PHASE_LOST)."""
GROUNDED_OHM = (0.05, 3.0)
"""What varnish burnt through leaves between a winding and the core [Ω]: more than this costs no output (as PHASE_LOST)."""
GROUNDED_LEAVES = {"star": (0.85, 0.2), "delta": (0.63, 0.28), "single": (0.63, 0.28)}
"""Share of its current a stator has left with a winding on the core through 1 Ω, and the power that other ohms are taken to: at a star's
point only what the phases do not share flows there (as PHASE_LOST)."""
GROUNDED_RIPPLES = {"star": (1.8, -0.25), "delta": (UNEVEN_RIPPLE, 0.0), "single": (1.0, 0.0)}
"""The same for times of a sound machine's ripple."""
FLAT_V = 12.0
"""Volts of a 12 V battery into which a charger gives its rated current (common practice)."""
SPREAD = {"set_v": 0.008, "rated_a": 0.1, "most_v": 0.03}
FIELD_INSIDE_OHM = (0.01, 0.3)
"""A field terminal that lies on a rail inside its alternator [Ω] (common practice)."""
MOST_V = 16.8
"""What an unregulated machine reaches on a 12 V system [V] (15 to 16 V and more when full-fielded: common practice)."""


WokenBy = Literal["lamp", "ignition", "either", "itself"]
"""What excites an alternator before it charges: current through its lamp, volts at its ignition terminal, either of them, or its own
residual magnetism."""


class Command(BaseModel):
    """Volts of a 12 V system that a module asks of its alternator on purpose in some control positions: passive with the battery full, high
    while the machine slows down (12.2 to 15.2 V: common practice)."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    asks_v: Positive
    when: Positions


class Alternator(ElementBase):
    """An alternator: output `b`, housing `case`, and of the small wires those its design has.

    `ig` ignition feed, `l` lamp or exciter, `s` sense, `bus` the one-wire line its commands come on. With `f` the regulator is outside
    (`regulator` names it) and the field's other end lies on `field_end`: on B+ the regulator grounds F, on the case it feeds F.
    `cut_in_rpm` and `knee_rpm` are engine speeds; output is `rated_a` (1 - exp(-(rpm - cut-in) / knee)): about half of the rating at a
    usual idle (45 to 60 % hot: common practice). `commands` come over the bus while it is heard. `woken_by` is a property of the machine that its terminals do not tell; left out, it is
    not known: with a lamp terminal alone it is the lamp, with ignition alone that, with both one or the other.
    """

    type: Literal["alternator"]
    b: str
    case: str
    ig: str | None = None
    l: str | None = None  # noqa: E741 the trade's name of the terminal
    s: str | None = None
    bus: str | None = None
    commands: list[Command] = []
    f: str | None = None
    regulator: str | None = None
    field_end: Literal["b", "case"] = "case"
    rated_a: Positive
    cut_in_rpm: Positive = 400
    knee_rpm: Positive = 550
    woken_by: WokenBy | None = None
    self_excites_rpm: Positive | None = None
    volts: Literal[6, 12, 24] = 12
    field_ohm: Positive = 4.0

    @model_validator(mode="after")
    def _one_regulator(self) -> "Alternator":
        if (self.f is None) != (self.regulator is None):
            raise ValueError("an alternator with a field terminal names its regulator, and the other way round")
        return self

    @model_validator(mode="after")
    def _commanded_over_its_bus(self) -> "Alternator":
        if self.commands and self.bus is None:
            raise ValueError("commands come over the bus: name its bus terminal")
        return self

    def refers_to(self) -> dict[str, str]:
        return {self.regulator: "field_regulator"} if self.regulator else {}

    def listens_to(self) -> list[Positions]:
        return [c.when for c in self.commands]

    def parameters(self, at: Conditions) -> list[Parameter]:
        blocks = self.volts / 12
        found = [
            Parameter("set_v", (SET_V + SET_V_PER_K * (at.temp_degc - 20)) * blocks, SPREAD["set_v"]),
            Parameter("most_v", MOST_V * blocks, SPREAD["most_v"]),
            Parameter("rated_a", self.rated_a, SPREAD["rated_a"]),
            Parameter("r_ohm", 0.008 * blocks, 0.2),
            Parameter("windings", 1.0, 0.03),
            Parameter("slip", 1.0),
            Parameter("stuck", 0.0),
            Parameter("ripple_v", RIPPLE_V * blocks, 0.25),
        ]
        if self.ig and self.l and self.woken_by is None:
            found.append(Parameter("design", 1.0, 0.7))
        if self.ig:
            found.append(Parameter("ig_ohm", 45.0 * blocks, 0.1))
        if self.l:
            found += [Parameter("l_ohm", 5.0, 0.4), Parameter("trio_ohm", 1.5, 0.1)]
        if self.s:
            found.append(Parameter("sense_ohm", 9000.0, 0.1))
        if self.bus:
            found += [Parameter("bus_ohm", 30_000.0, 0.1), Parameter("deaf", 0.0)]
        if self.f:
            found.append(Parameter("field_ohm", self.field_ohm * blocks, 0.06))
        return found

    def faults(self, around: Around) -> list[Fault]:
        return [
            fixed("no_output", 1.4, "stuck", -1.0),
            self._full_on(),
            *([fixed("exciter_open", 0.5, "l_ohm", OPEN_OHM)] if self.l else []),  # brushes that no longer touch
            *([fixed("never_answers", 0.5, "deaf", 1.0)] if self.bus else []),  # a replacement that does not match the module
            scaled("worn", 0.5, "windings", 0.1, 0.55),
            scaled("belt_slips", 0.7, "slip", 0.2, 0.6),
            *diode_faults("windings", 0.6, 0.5),
        ]

    def _full_on(self) -> Fault:
        """Its own regulator never lets go; or, where that is outside, its field terminal lies on the other rail inside."""
        if self.f is None:
            return fixed("full_on", 0.5, "stuck", 1.0)
        rail = LEAK if self.field_end == "b" else SUPPLY_LEAK
        least, most = (1 / ohm for ohm in reversed(FIELD_INSIDE_OHM))
        return Fault("full_on", 0.5, (Altered("stuck", Change.SET, 1.0, 0.0), Altered(rail, Change.ADD, owner=self.f)), least, most)

    def branches(self) -> list[Branch]:
        found = [Branch("output", BranchKind.SOURCE, self.b, self.case, "r_ohm")]
        if self.ig:
            found.append(Branch("ignition", BranchKind.CONDUCTOR, self.ig, self.case, "ig_ohm"))
        if self.l:
            found.append(Branch("exciter", BranchKind.EXCITER, self.l, self.case, "l_ohm"))
            found.append(Branch("trio", BranchKind.TRIO, self.b, self.l, "trio_ohm"))
        if self.s:
            found.append(Branch("sense", BranchKind.CONDUCTOR, self.s, self.case, "sense_ohm"))
        if self.bus:
            found.append(Branch("bus", BranchKind.CONDUCTOR, self.bus, self.case, "bus_ohm"))
        if self.f:
            found.append(Branch("field", BranchKind.CONDUCTOR, self.f, self.b if self.field_end == "b" else self.case, "field_ohm"))
        return found


class FieldRegulator(ElementBase):
    """A regulator outside its alternator: it senses at `feed` against `ground` and drives `f` (feeding it, or grounding it)."""

    type: Literal["field_regulator"]
    feed: str
    ground: str
    f: str
    drives: Literal["feeds", "grounds"] = "feeds"
    volts: Literal[6, 12, 24] = 12

    def parameters(self, at: Conditions) -> list[Parameter]:
        blocks = self.volts / 12
        return [
            Parameter("set_v", (SET_V + SET_V_PER_K * (at.temp_degc - 20)) * blocks, SPREAD["set_v"]),
            Parameter("r_ohm", 0.22, 0.5),  # points, a transistor or a field relay: no two designs alike
            Parameter("draw_ohm", 120.0 * blocks, 0.1),
            Parameter("stuck", 0.0),
        ]

    def faults(self, around: Around) -> list[Fault]:
        return [fixed("dead", 1.5, "stuck", -1.0), fixed("full_on", 0.7, "stuck", 1.0)]

    def branches(self) -> list[Branch]:
        ends = (self.feed, self.f) if self.drives == "feeds" else (self.f, self.ground)
        return [Branch("drive", BranchKind.DRIVE, *ends, "r_ohm"), Branch("coil", BranchKind.CONDUCTOR, self.feed, self.ground, "draw_ohm")]


Joined = Literal["star", "delta", "single"]
"""How the windings of a stator are joined."""


class Stator(ElementBase):
    """A permanent-magnet stator: phases `p1` to `p3` in star (joined at `star`, which may be grounded) or in delta (winding k from phase k
    to the next), or a `single` winding from `p1` to `p2`; `pair_v_per_krpm` AC volts a pair at 1000 rpm, open circuit."""

    type: Literal["stator"]
    p1: str
    p2: str
    p3: str | None = None
    star: str | None = None
    case: str
    joined: Joined = "star"
    phase_mohm: Positive = 250.0
    pair_v_per_krpm: Positive = 16.0
    star_grounded: bool = False

    @model_validator(mode="after")
    def _star_point(self) -> "Stator":
        if (self.joined == "star") != (self.star is not None) or (self.star_grounded and self.star is None):
            raise ValueError("a stator in star names its star point; any other has none, and none to ground")
        if (self.joined == "single") != (self.p3 is None):
            raise ValueError("a single winding has p1 and p2; in star or delta there is a p3 too")
        return self

    def phases(self) -> tuple[str, ...]:
        """Its AC pins, in order."""
        return tuple(p for p in (self.p1, self.p2, self.p3) if p)

    def windings(self) -> list[tuple[str, str]]:
        """Ends of each winding: one, or as many as phases."""
        phases = self.phases()
        return [(p, self.star or phases[(k + 1) % 3]) for k, p in enumerate(phases)] if self.p3 else [(self.p1, self.p2)]

    def parameters(self, at: Conditions) -> list[Parameter]:
        numbers = range(1, len(self.windings()) + 1)
        wound = [Parameter(f"w{k}_ohm", self.phase_mohm / 1000, 0.05) for k in numbers]
        shares = [Parameter(f"e{k}", 1.0, 0.015) for k in numbers]
        earth = Parameter("earth_ohm", 0.01 if self.star_grounded else 20e6)
        return [*wound, *shares, earth, Parameter("windings", 1.0, 0.03), Parameter("uneven", 1.0)]

    def faults(self, around: Around) -> list[Fault]:
        found, left = [], PHASE_LOST if self.p3 else 0.0
        uneven = (Altered("uneven", Change.SET, UNEVEN_RIPPLE, 0.0),) if self.p3 else ()  # one winding alone is as even as it was
        for k in range(1, len(self.windings()) + 1):
            opened = (Altered(f"w{k}_ohm", Change.SET, OPEN_OHM, 0.0), Altered("windings", Change.SCALE, left, 0.0), *uneven)
            turns = (
                Altered(f"w{k}_ohm", Change.SCALE),
                Altered(f"e{k}", Change.SCALE),
                Altered("windings", Change.SCALE, 1.0, 0.7),
                *uneven,
            )
            found += [Fault(f"phase_{k}_open", 0.5, opened), Fault(f"phase_{k}_turns", 0.4, turns, 0.3, 0.8)]
        grounded = (
            Altered("earth_ohm", Change.SET),
            Altered("windings", Change.SCALE, *GROUNDED_LEAVES[self.joined]),
            Altered("uneven", Change.SET, *GROUNDED_RIPPLES[self.joined]),
        )
        return [*found, Fault("to_ground", 0.5, grounded, *GROUNDED_OHM)]

    def branches(self) -> list[Branch]:
        wound = [Branch(f"w{k}", BranchKind.CONDUCTOR, a, b, f"w{k}_ohm") for k, (a, b) in enumerate(self.windings(), start=1)]
        return [*wound, Branch("earth", BranchKind.CONDUCTOR, self.star or self.p1, self.case, "earth_ohm")]


class Rectifier(ElementBase):
    """A regulator-rectifier behind a permanent-magnet `stator` (its id): output `b`, ground `case`; it senses at its own output. `ac` are
    its own pins in the order of the stator's phases, with plugs and wires between; none where the stator's pins are its own."""

    type: Literal["rectifier"]
    b: str
    case: str
    stator: str
    ac: tuple[str, ...] = ()
    rated_a: Positive
    cut_in_rpm: Positive = 700
    knee_rpm: Positive = 1500
    volts: Literal[6, 12, 24] = 12
    series: Annotated[bool, Field(description="series regulator; shunt when false")] = False

    def refers_to(self) -> dict[str, str]:
        return {self.stator: "stator"}

    def senses(self) -> list[str]:
        return list(self.ac)

    def parameters(self, at: Conditions) -> list[Parameter]:
        blocks = self.volts / 12
        return [
            Parameter("set_v", 14.4 * blocks, SPREAD["set_v"]),
            Parameter("most_v", MOST_V * blocks, SPREAD["most_v"]),
            Parameter("rated_a", self.rated_a, SPREAD["rated_a"]),
            Parameter("r_ohm", 0.02 * blocks, 0.2),
            Parameter("bridge", 1.0, 0.02),
            Parameter("stuck", 0.0),
            Parameter("ripple_v", RIPPLE_V * 2 * blocks, 0.25),
        ]

    def faults(self, around: Around) -> list[Fault]:
        return [fixed("no_output", 1.5, "stuck", -1.0), fixed("full_on", 0.6, "stuck", 1.0), *diode_faults("bridge", 0.8, 0.8)]

    def branches(self) -> list[Branch]:
        return [Branch("output", BranchKind.SOURCE, self.b, self.case, "r_ohm")]


class Charger(TwoPole):
    """A charger fitted to the machine, fed from outside, its minus lead on `from` and its plus lead on `to`: up to `rated_a` into a battery
    at rest, less the nearer it is to `full_v` of 12 V. `on_in` says in which control positions it is fed; nothing flows back into it."""

    type: Literal["charger"]
    rated_a: Positive
    full_v: Positive = 13.8
    volts: Literal[6, 12, 24] = 12
    on_in: Positions = {}

    def parameters(self, at: Conditions) -> list[Parameter]:
        blocks = self.volts / 12
        return [
            Parameter("forward_v", -self.full_v * blocks, 0.008),
            Parameter("r_ohm", (self.full_v - FLAT_V) * blocks / self.rated_a, 0.15),
        ]

    def faults(self, around: Around) -> list[Fault]:
        return [fixed("no_output", 1.0, "r_ohm", OPEN_OHM)]

    def branches(self) -> list[Branch]:
        return [Branch("", BranchKind.DIODE, self.start, self.end, "r_ohm")]

    def listens_to(self) -> list[Positions]:
        return [self.on_in]
