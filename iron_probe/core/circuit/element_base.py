"""What every element of a circuit shares: parameters with their spread, two-pole branches, tags and titles."""

from dataclasses import dataclass
from enum import StrEnum
from typing import Annotated, ClassVar, Literal

from pydantic import BaseModel, ConfigDict, Field

from iron_probe.core.circuit.faults import Around, Fault

Tag = Literal["exposed", "aftermarket", "recently_replaced", "weak_point"]
Positive = Annotated[float, Field(gt=0)]


class BranchKind(StrEnum):
    """How the solver treats a two-pole branch."""

    CONDUCTOR = "conductor"  # plain resistance
    BATTERY = "battery"  # open-circuit voltage behind a resistance, plus pole first
    SWITCH = "switch"  # resistance, closed in the control positions of the sheet
    CONTACT = "contact"  # resistance, closed by a coil
    MOTOR = "motor"  # load current until the volts no longer suffice, then stall resistance
    LAMP = "lamp"  # filament: resistance rises with voltage
    DIODE = "diode"  # forward voltage and slope, open backwards; with volts of its own that drive, a charger
    OUTPUT = "output"  # a module's driver
    DRAW = "draw"  # a module's own supply current
    SOURCE = "source"  # an alternator's or rectifier's output: regulated volts, up to the current its speed gives
    EXCITER = "exciter"  # its lamp terminal while it does not charge: a way to ground
    TRIO = "trio"  # its lamp terminal while it charges: fed from its own output
    DRIVE = "drive"  # an outside regulator's hold on the field


@dataclass(frozen=True, slots=True, kw_only=True)
class Conditions:
    """Where and how the machine stands: air and oil at `temp_degc` [°C], `charge` of its batteries 0..1 (None: as the sheet says, and
    not read yet); `fuel` is that of the sheet's engine, put in where its network is built."""

    temp_degc: float = 20.0
    charge: float | None = None
    fuel: Literal["petrol", "diesel", "gas"] = "petrol"


@dataclass(frozen=True, slots=True)
class Parameter:
    """One value of an element: nominal (unit in the name's ending) and `spread`, the one-sigma share of sound parts."""

    name: str
    nominal: float
    spread: float = 0.0


@dataclass(frozen=True, slots=True)
class Branch:
    """A two-pole part of an element; `name` is empty when the element is one branch.

    `value` names its resistance parameter. A CONTACT closes while coil `coil` of the same element is pulled in
    (`rest` turns that round).
    """

    name: str
    kind: BranchKind
    start: str
    end: str
    value: str
    coil: str = ""
    rest: bool = False


Positions = dict[str, list[str]]
"""Control positions in which something is closed: {control: [position, ...]}; all named controls must agree."""


class ElementBase(BaseModel):
    """What every element has: an id, a title in the trade's words, likelihood tags, and the box and slot it sits in."""

    model_config = ConfigDict(extra="forbid", frozen=True, populate_by_name=True)

    feeds_on: ClassVar[bool] = False
    """Whether it can bring current to what lies behind it without being a consumer."""
    bare_metal: ClassVar[bool] = False
    """Whether it is nothing but a way for current: two of them across a battery are a short."""

    id: Annotated[str, Field(pattern=r"^[a-z0-9][a-z0-9.\-]*$", max_length=40)]
    title: Annotated[str, Field(min_length=1, max_length=60)]
    tags: list[Tag] = []
    box: str | None = None
    slot: str | None = None
    place: Annotated[tuple[int, int] | None, Field(description="row and column in its box, from 1")] = None
    part: str | None = None
    assumed: Annotated[bool, Field(description="drawn because such machines usually have it; nobody has said or seen so of this one")] = (
        False
    )

    def parameters(self, at: Conditions) -> list[Parameter]:
        """Nominal values under the given conditions."""
        raise NotImplementedError

    def branches(self) -> list[Branch]:
        """Two-pole branches, in a fixed order."""
        raise NotImplementedError

    def faults(self, around: Around) -> list[Fault]:
        """How it may fail. A type that cannot would never be suspected: say at least one."""
        raise NotImplementedError

    def refers_to(self) -> dict[str, str]:
        """Other elements this one hangs on: their id, with the type each must be."""
        return {}

    def listens_to(self) -> list["Positions"]:
        """The control positions that decide what it does."""
        return []

    def senses(self) -> list[str]:
        """Points it only looks at, which may carry nothing else."""
        return []

    def points(self) -> list[str]:
        """Every circuit point this element touches, in terminal order, without repeats."""
        return list(dict.fromkeys(p for b in self.branches() for p in (b.start, b.end)))


class TwoPole(ElementBase):
    """An element with two ends; current flows from `from` to `to` when the machine works."""

    start: Annotated[str, Field(alias="from")]
    end: Annotated[str, Field(alias="to")]

    def branches(self) -> list[Branch]:
        return [Branch("", BranchKind.CONDUCTOR, self.start, self.end, "r_ohm")]
