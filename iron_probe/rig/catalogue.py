"""The fault catalogue: what goes wrong with machines, read from `faults.yaml`, and a fault drawn from it put into a machine."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cache
from math import inf
from pathlib import Path
from typing import Annotated, Literal

import numpy as np
import yaml
from pydantic import BaseModel, ConfigDict, Field, model_validator

from iron_probe.core.circuit.elements import Battery, Element, Module, TwoPole
from iron_probe.rig.errors import RigError
from iron_probe.rig.machine import Bypass, Machine

FILE = Path(__file__).with_name("faults.yaml")
CARRIES_A = 1e-3
"""A resistance is put only where more than this flows in some state [A]."""

Span = tuple[float, float]


class _Entry(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class ShortTo(_Entry):
    """A path from one end of the part to a post."""

    to: Literal["minus", "plus"]
    ohm: Span


class BlockChange(_Entry):
    """What a battery has become."""

    charge: Span | None = None
    flat_v: Span | None = None
    health: Span | None = None
    dead_cells: Span | None = None


class Does(_Entry):
    """What a fault changes: one value of the part (and perhaps another), a short, a battery, or a module's driver."""

    value: str | None = None
    becomes: float | Literal["open"] | None = None
    times: Span | None = None
    loss_v: Span | None = None
    also: "Does | None" = None
    short: ShortTo | None = None
    block: BlockChange | None = None
    output: float | None = None

    @model_validator(mode="after")
    def _says_one_thing(self) -> "Does":
        ways = [self.becomes is not None, self.times is not None, self.loss_v is not None]
        if (self.value is None) == (self.short is None and self.block is None and self.output is None) or sum(ways) != (
            self.value is not None
        ):
            raise ValueError("a fault changes one value in one way, or is a short, a battery's or a driver's")
        return self


class CatalogueFault(_Entry):
    """One thing that goes wrong: `sits_on` element types, `chance` beside the others, `needs` a terminal the part must have."""

    name: str
    kind: Annotated[str, Field(alias="class")]
    sits_on: list[str]
    chance: Annotated[float, Field(gt=0)]
    does: Does
    needs: str | None = None
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


def may_sit(fault: CatalogueFault, element: Element, peaks: Mapping[str, float]) -> bool:
    """Whether a fault can be on that element of a machine whose parts carry at most `peaks` [A]."""
    if element.type not in fault.sits_on or (fault.needs and not getattr(element, fault.needs, None)):
        return False
    if fault.does.output is not None:
        return isinstance(element, Module) and bool(element.outputs)
    carried = max((amps for branch, amps in peaks.items() if branch.partition(".")[0] == element.id), default=0.0)
    return isinstance(element, Battery) or fault.does.loss_v is None or carried > CARRIES_A


def draw_fault(
    machine: Machine, peaks: Mapping[str, float], rng: np.random.Generator, kind: str | None = None, only: str | None = None
) -> HiddenFault:
    """A fault of the catalogue (of one class, or of one name) on this machine; RigError when it has no place for any."""
    places = [
        (f, e)
        for f in catalogue()
        for e in machine.sheet.elements
        if (kind is None or f.kind == kind) and (only is None or f.name == only) and may_sit(f, e, peaks)
    ]
    if not places:
        raise RigError(f"{machine.sheet.id} has no place for a fault of {kind or only}")
    chance = np.array([f.chance / max(sum(g is f for g, _ in places), 1) for f, _ in places])
    fault, element = places[int(rng.choice(len(places), p=chance / chance.sum()))]
    span = _span(fault.does)
    severity = float(span[0] * (span[1] / span[0]) ** rng.random()) if span else 1.0
    return HiddenFault(fault, element.id, severity)


def _span(does: Does) -> Span | None:
    if does.block:
        return does.block.charge or does.block.flat_v or does.block.health or does.block.dead_cells
    return does.times or does.loss_v or (does.short.ohm if does.short else None)


def put_in(machine: Machine, hidden: HiddenFault, peaks: Mapping[str, float], rng: np.random.Generator) -> None:
    """Change the machine; `peaks` [A] is the most each branch carries in the sound one."""
    element = machine.sheet.element(hidden.element)
    _change(machine, element, hidden.fault.does, hidden.severity, peaks, rng)


def _change(machine: Machine, element: Element, does: Does, severity: float, peaks: Mapping[str, float], rng: np.random.Generator) -> None:
    values = machine.values[element.id]
    if does.block:
        block = machine.blocks[element.id]
        name = next(n for n in ("charge", "flat_v", "health", "dead_cells") if getattr(does.block, n) is not None)
        below = {"charge": 0.02} if name == "flat_v" else {}
        machine.blocks[element.id] = replace(block, **below, **{name: round(severity) if name == "dead_cells" else severity})  # type: ignore[arg-type]
    elif does.short:
        assert isinstance(element, TwoPole)
        a = (element.start, element.end)[int(rng.integers(2))]
        b = machine.sheet.minus if does.short.to == "minus" else machine.sheet.plus
        machine.bypasses.append(Bypass(a, b, severity))
    elif does.output is not None:
        assert isinstance(element, Module)
        values[f"{element.outputs[int(rng.integers(len(element.outputs)))].name}_stuck"] = does.output
    elif does.loss_v is not None:
        part = (does.value or "").removesuffix("ohm").removesuffix("_")
        carried = peaks.get(f"{element.id}.{part}" if part else element.id, 0.0)
        values[does.value or ""] += severity * machine.sheet.system_v / 12 / max(carried, CARRIES_A)
    elif does.times is not None:
        values[does.value or ""] *= severity
    else:
        values[does.value or ""] = inf if does.becomes == "open" else float(does.becomes or 0)
    if does.also:
        span = _span(does.also)
        more = float(span[0] * (span[1] / span[0]) ** rng.random()) if span else 1.0
        _change(machine, element, does.also, more, peaks, rng)
