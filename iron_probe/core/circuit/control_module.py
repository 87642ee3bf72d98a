"""A control module as a circuit element: its supply, what it must see, what it drives."""

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

from iron_probe.core.circuit.element_base import Branch, BranchKind, Conditions, ElementBase, Parameter, Positions, Positive
from iron_probe.core.circuit.faults import Around, Fault, fixed


class Input(BaseModel):
    """What a module must see before it drives an output: `point` above or below a voltage against the module's ground."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    point: str
    above_v: float | None = None
    below_v: float | None = None

    @model_validator(mode="after")
    def _one_limit(self) -> "Input":
        if (self.above_v is None) == (self.below_v is None):
            raise ValueError("give either above_v or below_v")
        return self


class Feed(BaseModel):
    """A further supply of a module, at `point`, that draws `draw_a` whenever it is live."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    point: str
    draw_a: Positive


class Output(BaseModel):
    """One driver of a module: pulls `point` to ground or to its supply (`fed_by` names another of its feeds) through `r_ohm` while all of
    `needs` hold."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    name: Annotated[str, Field(pattern=r"^[a-z0-9\-]+$")]
    point: str
    to: Literal["supply", "ground"]
    fed_by: str | None = None
    r_ohm: Positive = 0.4
    needs: list[Input] = []
    on_in: Positions = {}


class Pull(BaseModel):
    """A module's input resistor from `point` to its supply or ground."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    point: str
    to: Literal["supply", "ground"]
    ohm: Positive = 10_000.0


class Module(ElementBase):
    """A control module for `volts`: alive above `alive_above_v` at its supply, draws `draw_a`, drives its outputs, loads its inputs and its
    further `feeds`. One that `latches` stays out once its supply has let it go, until the state is brought about anew."""

    type: Literal["module"]
    supply: str
    ground: str
    volts: Literal[6, 12, 24] = 12
    draw_a: Positive = 0.5
    asleep_a: Positive = 0.004
    awake_in: Positions = {}
    alive_above_v: Positive = 6.0
    latches: bool = False
    feeds: list[Feed] = []
    outputs: list[Output] = []
    pulls: list[Pull] = []

    @model_validator(mode="after")
    def _fed_by_its_own(self) -> "Module":
        own = {f.point for f in self.feeds}
        for output in self.outputs:
            if output.fed_by is not None and (output.to != "supply" or output.fed_by not in own):
                raise ValueError(f"output {output.name} is fed by {output.fed_by}: name one of the module's feeds, and pull to supply")
        return self

    def listens_to(self) -> list[Positions]:
        return [self.awake_in, *(o.on_in for o in self.outputs)]

    def senses(self) -> list[str]:
        return [needed.point for o in self.outputs for needed in o.needs]

    def parameters(self, at: Conditions) -> list[Parameter]:
        found = [
            Parameter("draw_ohm", self.volts / self.draw_a, 0.15),
            Parameter("asleep_ohm", self.volts / self.asleep_a, 0.3),
            Parameter("dead", 0.0),
            Parameter("wakeful", 0.0),
        ]
        found += [Parameter(f"feed{n}_ohm", self.volts / feed.draw_a, 0.15) for n, feed in enumerate(self.feeds)]
        for output in self.outputs:
            found += [Parameter(f"{output.name}_ohm", output.r_ohm, 0.2), Parameter(f"{output.name}_stuck", 0.0)]
        found += [Parameter(f"pull{n}_ohm", pull.ohm, 0.05) for n, pull in enumerate(self.pulls)]
        return found

    def faults(self, around: Around) -> list[Fault]:
        found = [fixed("dead", 0.8, "dead", 1.0), fixed("stays_awake", 0.4, "wakeful", 1.0)]
        for output in self.outputs:
            found.append(fixed(f"{output.name}_stuck_off", 0.6, f"{output.name}_stuck", -1.0))
            found.append(fixed(f"{output.name}_stuck_on", 0.2, f"{output.name}_stuck", 1.0))
        return found

    def branches(self) -> list[Branch]:
        found = [Branch("supply", BranchKind.DRAW, self.supply, self.ground, "draw_ohm")]
        for output in self.outputs:
            ends = (output.point, self.ground) if output.to == "ground" else (output.fed_by or self.supply, output.point)
            found.append(Branch(output.name, BranchKind.OUTPUT, *ends, f"{output.name}_ohm"))
        found += [Branch(f"feed{n}", BranchKind.CONDUCTOR, f.point, self.ground, f"feed{n}_ohm") for n, f in enumerate(self.feeds)]
        for n, pull in enumerate(self.pulls):
            ends = (pull.point, self.ground) if pull.to == "ground" else (self.supply, pull.point)
            found.append(Branch(f"in{n}", BranchKind.CONDUCTOR, *ends, f"pull{n}_ohm"))
        return found
