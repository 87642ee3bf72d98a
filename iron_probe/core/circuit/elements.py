"""The elements a machine's circuit is built from, as they stand in a circuit sheet.

Each element knows its nominal values with their spread (`parameters`) and the two-pole branches the solver sees
(`branches`). Everything else - drawing, faults, netlist, messages - is derived from these two.
"""

from typing import Annotated, ClassVar, Literal

from pydantic import Field, model_validator

from iron_probe.core.circuit.battery import (
    LAG_SHARE,
    LAG_V,
    BatteryState,
    Chemistry,
    charging_resistance_ohm,
    internal_resistance_ohm,
    open_circuit_v,
)
from iron_probe.core.circuit.charging import Alternator, Charger, FieldRegulator, Rectifier, Stator
from iron_probe.core.circuit.conductors import Material, awg_area_mm2, conductor_ohm
from iron_probe.core.circuit.control_module import Feed, Input, Module, Output, Pull
from iron_probe.core.circuit.element_base import Branch, BranchKind, Conditions, ElementBase, Parameter, Positions, Positive, Tag, TwoPole
from iron_probe.core.circuit.faults import (
    BARE,
    FED_ELSEWHERE,
    OPEN_OHM,
    SUPPLY_LEAK,
    WRONG_RATING,
    Altered,
    Around,
    Change,
    Fault,
    bare_to_ground,
    burnt_together,
    fixed,
    leaking,
    never_makes,
    parted,
    resistive,
    scaled,
)
from iron_probe.core.circuit.fuses import KINDS, FuseKind, fuse_ohm
from iron_probe.core.circuit.starting import STANDSTILL_SHARE, Solenoid, Starter, warm

__all__ = [
    "STANDSTILL_SHARE",
    "Alternator",
    "Battery",
    "Branch",
    "BranchKind",
    "Charger",
    "Conditions",
    "Conductor",
    "Diode",
    "Element",
    "ElementBase",
    "Feed",
    "FieldRegulator",
    "Fuse",
    "Input",
    "Joint",
    "Lamp",
    "Load",
    "Module",
    "Output",
    "Parameter",
    "Positions",
    "Positive",
    "Pull",
    "Rectifier",
    "Relay",
    "Solenoid",
    "Starter",
    "Stator",
    "Switch",
    "Tag",
    "TwoPole",
]  # fmt: skip

EMPTY_SHARE = 0.94
"""Rest volts of a battery left empty, which is when it freezes, beside those of a full one (common practice)."""
UNREAD_CHARGE = 0.011
"""Spread of the rest volts of a battery whose charge nobody has read yet: from half full to full."""
UNREAD_TAKING = 0.5
"""Spread of the current a battery takes when charged while nobody has read its charge: at four fifths it takes four times what it takes when full."""


class Battery(TwoPole):
    """A battery block; `from` is its minus post, `to` its plus post."""

    type: Literal["battery"]
    capacity_ah: Positive
    cca_a: Positive
    chemistry: Chemistry = "flooded"
    charge: Annotated[float, Field(ge=0, le=1)] = 0.95
    volts: Literal[6, 12, 24] = 12

    def parameters(self, at: Conditions) -> list[Parameter]:
        blocks = self.volts / 12
        state = BatteryState(state_of_charge=self.charge if at.charge is None else at.charge, temp_degc=at.temp_degc)
        return [
            Parameter("emf_v", open_circuit_v(self.chemistry, state) * blocks, UNREAD_CHARGE if at.charge is None else 0.006),
            Parameter("lag_v", LAG_V * blocks, 0.2),
            Parameter("heavy_a", LAG_SHARE * self.cca_a, 0.0),
            Parameter("r_ohm", internal_resistance_ohm(self.cca_a, state, self.chemistry) * blocks, 0.12),
            Parameter("capacity_ah", self.capacity_ah, 0.08),
            Parameter(
                "charge_ohm",
                charging_resistance_ohm(self.capacity_ah, self.chemistry, state) * blocks,
                UNREAD_TAKING if at.charge is None else 0.25,
            ),
        ]

    def faults(self, around: Around) -> list[Fault]:
        flat = (
            Altered("emf_v", Change.SCALE, 1.0, -0.03),
            Altered("r_ohm", Change.SCALE),
            Altered("charge_ohm", Change.SCALE, 1.0, -0.8),
        )
        empty = (Altered("emf_v", Change.SCALE, 1.0, -1.0), Altered("r_ohm", Change.SCALE, 40.0, 0.3))
        dead_cell = (Altered("emf_v", Change.ADD, -2.05, 0.0), Altered("r_ohm", Change.SCALE, 1.0, 1.0))
        cut_off = (Altered("emf_v", Change.SCALE, 1.0, -1.0), Altered("r_ohm", Change.SET, 5e4, 0.0))
        frozen = (Altered("emf_v", Change.SCALE, EMPTY_SHARE, 0.0), Altered("r_ohm", Change.SCALE), Altered("charge_ohm", Change.SCALE))
        return [
            Fault("flat", 4.0, flat, 1.4, 30.0),
            Fault("empty", 2.0, empty, 1.04, 25.0),
            scaled("worn", 3.0, "r_ohm", 2.0, 20.0),
            scaled("low_capacity", 1.0, "capacity_ah", 0.05, 0.6),
            Fault("dead_cell", 1.0, dead_cell, 1.2, 2.5),
            Fault("cut_off", 2.0, cut_off, 2.5, 50.0) if self.chemistry == "lifepo4" else Fault("frozen", 0.3, frozen, 30.0, 300.0),
        ]

    def branches(self) -> list[Branch]:
        return [Branch("", BranchKind.BATTERY, self.end, self.start, "r_ohm")]


class Joint(TwoPole):
    """A clamp, stud, eyelet, crimp, plug pin or ground point: metal on metal."""

    feeds_on: ClassVar[bool] = True
    bare_metal: ClassVar[bool] = True
    type: Literal["joint", "plug", "ground"]
    r_mohm: Positive = 0.2

    def parameters(self, at: Conditions) -> list[Parameter]:
        bare = [Parameter(BARE, 0.0)] if self.type == "plug" else []
        return [Parameter("r_ohm", self.r_mohm / 1000, 0.35), *bare]

    def faults(self, around: Around) -> list[Fault]:
        found = [
            resistive(2.0, around),
            parted("open", 0.9, "r_ohm"),
        ]
        return [*found, *(bare_to_ground(self.end) if self.type == "plug" else [])]


class Conductor(TwoPole):
    """A cable or wire by size and length, or a frame or block by its resistance."""

    feeds_on: ClassVar[bool] = True
    bare_metal: ClassVar[bool] = True
    type: Literal["cable", "wire", "frame"]
    mm2: Positive | None = None
    awg: Annotated[int, Field(ge=-3, le=30)] | None = None
    length_m: Positive | None = None
    r_mohm: Positive | None = None
    material: Material = "copper"

    @model_validator(mode="after")
    def _one_way_to_size(self) -> "Conductor":
        given = [self.mm2 is not None, self.awg is not None, self.r_mohm is not None]
        if sum(given) != 1:
            raise ValueError("give exactly one of mm2, awg or r_mohm")
        if self.r_mohm is None and self.length_m is None:
            raise ValueError("length_m is missing: a conductor by size needs its length in metres")
        return self

    def parameters(self, at: Conditions) -> list[Parameter]:
        bare = [Parameter(BARE, 0.0)] if self.type == "wire" else []
        if self.r_mohm is not None:
            return [Parameter("r_ohm", self.r_mohm / 1000, 0.25), *bare]
        area = self.mm2 if self.mm2 is not None else awg_area_mm2(self.awg or 0)
        return [Parameter("r_ohm", conductor_ohm(area, self.length_m or 0, self.material, at.temp_degc), 0.06), *bare]

    def faults(self, around: Around) -> list[Fault]:
        if self.type == "frame":
            return [resistive(0.3, around)]
        found = [resistive(1.0, around), parted("open", 0.6, "r_ohm")]
        if self.type == "wire":
            found.append(leaking(self.end, SUPPLY_LEAK, FED_ELSEWHERE, 0.15, 0.3, 30.0))
            found += bare_to_ground(self.end)
        return found


class Fuse(TwoPole):
    """A fuse, fusible link or breaker with its rating."""

    feeds_on: ClassVar[bool] = True
    bare_metal: ClassVar[bool] = True
    type: Literal["fuse", "link", "breaker"]
    rating_a: Positive
    kind: FuseKind | None = None
    r_mohm: Positive | None = None

    @property
    def make(self) -> FuseKind:
        """Its kind: as the sheet says, or what its type usually is."""
        usual: dict[str, FuseKind] = {"fuse": "regular", "link": "link", "breaker": "breaker"}
        return self.kind or usual[self.type]

    def parameters(self, at: Conditions) -> list[Parameter]:
        r_ohm = fuse_ohm(self.rating_a, self.make, at.temp_degc) if self.r_mohm is None else self.r_mohm / 1000
        return [Parameter("r_ohm", r_ohm, KINDS[self.make][1])]

    def faults(self, around: Around) -> list[Fault]:
        wrong = Fault("wrong_rating", 0.1, (Altered("r_ohm", Change.SCALE, WRONG_RATING, 0.0),))
        return [fixed("open", 1.2, "r_ohm", OPEN_OHM), resistive(0.7, around), wrong]


class Switch(TwoPole):
    """A switch pole; `closed_in` says in which control positions it makes contact."""

    feeds_on: ClassVar[bool] = True
    type: Literal["switch"]
    closed_in: Positions
    r_mohm: Positive = 15.0
    role: Literal["ignition", "isolator", "start", "interlock", "accessory"] = "accessory"

    def parameters(self, at: Conditions) -> list[Parameter]:
        return [Parameter("r_ohm", self.r_mohm / 1000, 0.3), Parameter("stuck", 0.0)]

    def faults(self, around: Around) -> list[Fault]:
        found = [never_makes("stuck_open", 1.2), resistive(1.2, around)]
        if self.closed_in and around.opened_in(self.closed_in):  # by its own contact, or by a bridge that reaches the other side of it
            found += [fixed("stuck_closed", 0.4, "stuck", 1.0), leaking(self.end, SUPPLY_LEAK, FED_ELSEWHERE, 0.06, 0.3, 30.0)]
        return found

    def branches(self) -> list[Branch]:
        return [Branch("", BranchKind.SWITCH, self.start, self.end, "r_ohm")]

    def listens_to(self) -> list[Positions]:
        return [self.closed_in]


class Load(TwoPole):
    """A consumer of plain resistance (`ohm`, or `watts` at system voltage); `on_in` limits when it is switched on inside."""

    type: Literal["load"]
    ohm: Positive | None = None
    watts: Positive | None = None
    volts: Positive = 12.0
    on_in: Positions = {}

    @model_validator(mode="after")
    def _ohm_or_watts(self) -> "Load":
        if (self.ohm is None) == (self.watts is None):
            raise ValueError("give either ohm or watts")
        return self

    def parameters(self, at: Conditions) -> list[Parameter]:
        ohm = self.ohm if self.ohm is not None else self.volts**2 / (self.watts or 1)
        return [Parameter("r_ohm", ohm, 0.08), Parameter("stuck", 0.0)]

    def faults(self, around: Around) -> list[Fault]:
        return [fixed("open", 0.5, "r_ohm", OPEN_OHM), burnt_together("shorted", 0.25, "r_ohm")]

    def branches(self) -> list[Branch]:
        return [Branch("", BranchKind.SWITCH, self.start, self.end, "r_ohm")]

    def listens_to(self) -> list[Positions]:
        return [self.on_in]


class Lamp(TwoPole):
    """An incandescent lamp of `watts` at `volts`."""

    type: Literal["lamp"]
    watts: Positive
    volts: Positive = 12.0

    def parameters(self, at: Conditions) -> list[Parameter]:
        return [Parameter("r_ohm", self.volts**2 / self.watts, 0.08), Parameter("rated_v", self.volts)]

    def faults(self, around: Around) -> list[Fault]:
        return [fixed("open", 0.5, "r_ohm", OPEN_OHM), burnt_together("shorted", 0.25, "r_ohm")]

    def branches(self) -> list[Branch]:
        return [Branch("", BranchKind.LAMP, self.start, self.end, "r_ohm")]


class Diode(TwoPole):
    """A diode; `from` is the anode."""

    feeds_on: ClassVar[bool] = True
    type: Literal["diode"]
    forward_v: Positive = 0.7
    r_mohm: Positive = 20.0

    def parameters(self, at: Conditions) -> list[Parameter]:
        return [Parameter("forward_v", self.forward_v, 0.04), Parameter("r_ohm", self.r_mohm / 1000, 0.2)]

    def faults(self, around: Around) -> list[Fault]:
        shorted = Fault("shorted", 0.5, (Altered("forward_v", Change.SET, 0.001, 0.0),), blows=True)
        return [fixed("open", 0.4, "r_ohm", OPEN_OHM), shorted]

    def branches(self) -> list[Branch]:
        return [Branch("", BranchKind.DIODE, self.start, self.end, "r_ohm")]


class Relay(ElementBase):
    """A relay: coil between `coil` points, contact `common` to `make` (and `rest` if it changes over).

    A heavy relay (slave relay, starter solenoid away from the starter) is one with `heavy: true`. It moves by the current through its
    coil: `pull_in_v` and `drop_out_v` say at which volts a sound coil at 20 °C carries enough.
    """

    type: Literal["relay"]
    coil: tuple[str, str]
    common: str
    make: str
    rest: str | None = None
    coil_ohm: Positive = 85.0
    pull_in_v: Positive = 7.5
    drop_out_v: Positive = 2.5
    contact_mohm: Positive = 5.0
    heavy: bool = False

    def parameters(self, at: Conditions) -> list[Parameter]:
        return [
            Parameter("coil_ohm", self.coil_ohm * warm(at.temp_degc), 0.06),
            Parameter("contact_ohm", self.contact_mohm / 1000, 0.3),
            Parameter("pull_in_a", self.pull_in_v / self.coil_ohm, 0.05),
            Parameter("drop_out_a", self.drop_out_v / self.coil_ohm, 0.1),
            Parameter("stuck", 0.0),
        ]

    def faults(self, around: Around) -> list[Fault]:
        return [
            parted("coil_open", 1.0, "coil_ohm"),
            burnt_together("coil_shorted", 0.2, "coil_ohm"),
            never_makes("contact_open", 1.0),
            fixed("contact_welded", 0.5, "stuck", 1.0),
            resistive(1.0, around, "contact_ohm", "contact_resistive"),
        ]

    def branches(self) -> list[Branch]:
        found = [
            Branch("coil", BranchKind.CONDUCTOR, *self.coil, "coil_ohm"),
            Branch("contact", BranchKind.CONTACT, self.common, self.make, "contact_ohm", coil="coil"),
        ]
        if self.rest is not None:
            found.append(Branch("rest", BranchKind.CONTACT, self.common, self.rest, "contact_ohm", coil="coil", rest=True))
        return found


Element = Annotated[
    Battery
    | Joint
    | Conductor
    | Fuse
    | Switch
    | Load
    | Lamp
    | Diode
    | Relay
    | Solenoid
    | Starter
    | Module
    | Alternator
    | FieldRegulator
    | Stator
    | Rectifier
    | Charger,
    Field(discriminator="type"),
]
