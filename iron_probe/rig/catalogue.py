"""The fault catalogue: what goes wrong with machines, read from `faults.yaml`, where it may sit, and one drawn from it."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Annotated, Literal

import numpy as np
import yaml
from pydantic import BaseModel, ConfigDict, Field, model_validator

from iron_probe.core.circuit.elements import Alternator, Battery, Element, Module
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.circuit.stator_ways import ac_amps
from iron_probe.core.circuit.wiring import joined_to, wiring_of
from iron_probe.rig.errors import RigError
from iron_probe.rig.machine import BroughtBy, Machine

FILE = Path(__file__).with_name("faults.yaml")
CARRIES_A = 1e-3
"""A resistance is put only where more than this flows in some state [A]."""

Span = tuple[float, float]


class _Entry(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class ShortTo(_Entry):
    """A path from one end of the part to a post, or to the end of another wire."""

    to: Literal["minus", "plus", "neighbour"]
    ohm: Span


class BlockChange(_Entry):
    """What a battery has become."""

    charge: Span | None = None
    flat_v: Span | None = None
    health: Span | None = None
    dead_cells: Span | None = None
    frozen: bool = False
    apart: bool = False

    def severity(self) -> Span | None:
        """How bad it may be; None where it is or is not."""
        return self.charge or self.flat_v or self.health or self.dead_cells


class Does(_Entry):
    """What a fault changes: one value of the part (and perhaps another), a short, a joint in the way, a battery, or a module's driver."""

    value: str | None = None
    becomes: float | Literal["open"] | Span | None = None
    times: Span | None = None
    plus: Span | None = None
    loss_v: Span | None = None
    also: "Does | None" = None
    short: ShortTo | None = None
    joint: Span | None = None
    block: BlockChange | None = None
    output: float | None = None

    @model_validator(mode="after")
    def _says_one_thing(self) -> "Does":
        ways = [w is not None for w in (self.becomes, self.times, self.plus, self.loss_v)]
        others = [w is not None for w in (self.short, self.joint, self.block, self.output)]
        if sum(others) + (self.value is not None) != 1 or sum(ways) != (self.value is not None):
            raise ValueError("a fault changes one value in one way, or is a short, a joint, a battery's or a driver's")
        return self

    def severity(self) -> Span | None:
        """Least and most of how bad it may be; None where it is or is not."""
        if self.block:
            return self.block.severity()
        spans = (self.becomes if isinstance(self.becomes, tuple) else None, self.times, self.plus, self.loss_v, self.joint)
        return next((s for s in spans if s), self.short.ohm if self.short else None)


class Coming(_Entry):
    """How often a fault that comes and goes is there, and what brings it on."""

    chance: Annotated[float, Field(gt=0, lt=1)]
    by: BroughtBy


class CatalogueFault(_Entry):
    """One thing that goes wrong: `sits_on` element types, `needs` a terminal the part must have, `only` what its sheet must say of it,
    `along` a charge bus or the AC side of a stator alone; `chance` beside the others; `shows` how it is complained of, `comes` when it comes and goes."""

    name: str
    kind: Annotated[str, Field(alias="class")]
    sits_on: list[str]
    needs: str | None = None
    only: dict[str, str] = {}
    along: Literal["bus", "stator"] | None = None
    chance: Annotated[float, Field(gt=0)]
    shows: Literal["work", "drain"] = "work"
    comes: Coming | None = None
    does: Does
    story: str


@dataclass(frozen=True, slots=True)
class HiddenFault:
    """A fault where it sits: the element, and how bad it is in the unit of what it changes."""

    fault: CatalogueFault
    element: str
    severity: float


@cache
def catalogue() -> tuple[CatalogueFault, ...]:
    """All of it; raises pydantic's ValidationError when the file says something else than a fault."""
    return tuple(CatalogueFault.model_validate(one) for one in yaml.safe_load(FILE.read_text())["faults"])


Special = Mapping[str, frozenset[str]]
"""Wires and plugs that carry no battery current, by what they lie along."""


def special_ways(sheet: Sheet) -> Special:
    """Those along a charge bus, and those between a stator and its rectifier."""
    ways = wiring_of(sheet)
    ends = [e.bus for e in sheet.elements if isinstance(e, Alternator) and e.bus]
    bus = frozenset(way for end in ends for _, _, way in joined_to(ways, end).edges.data("element"))
    return {"bus": bus, "stator": frozenset(ac_amps(sheet))}


def may_sit(fault: CatalogueFault, element: Element, peaks: Mapping[str, float], special: Special) -> bool:
    """Whether a fault can be on that element of a machine whose parts carry at most `peaks` [A] and whose special ways are those."""
    if element.type not in fault.sits_on or (fault.needs and not getattr(element, fault.needs, None)):
        return False
    lies = next((along for along, ways in special.items() if element.id in ways), None)
    if fault.along != lies:
        return False
    if any(getattr(element, name, None) != wanted for name, wanted in fault.only.items()):
        return False
    if fault.does.output is not None:
        return isinstance(element, Module) and bool(element.outputs)
    carried = max((amps for branch, amps in peaks.items() if branch.partition(".")[0] == element.id), default=0.0)
    by_load = fault.does.loss_v is not None or fault.does.joint is not None
    return isinstance(element, Battery) or not by_load or carried > CARRIES_A


def draw_fault(
    machine: Machine, peaks: Mapping[str, float], rng: np.random.Generator, kind: str | None = None, only: str | None = None
) -> HiddenFault:
    """A fault of the catalogue (of one class, or of one name) on this machine; RigError when it has no place for any."""
    special = special_ways(machine.sheet)
    places = [
        (f, e)
        for f in catalogue()
        for e in machine.sheet.elements
        if (kind is None or f.kind == kind) and (only is None or f.name == only) and may_sit(f, e, peaks, special)
    ]
    if not places:
        raise RigError(f"{machine.sheet.id} has no place for a fault of {kind or only}")
    chance = np.array([f.chance / max(sum(g is f for g, _ in places), 1) for f, _ in places])
    fault, element = places[int(rng.choice(len(places), p=chance / chance.sum()))]
    return HiddenFault(fault, element.id, drawn(fault.does.severity(), rng))


def drawn(span: Span | None, rng: np.random.Generator) -> float:
    """A severity, log-uniform between the two; 1 where there is none."""
    return float(span[0] * (span[1] / span[0]) ** rng.random()) if span else 1.0
