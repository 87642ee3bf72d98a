"""A fault put into a machine: values changed, a way made that should not be, a joint in the way, a battery spoilt."""

from collections.abc import Mapping
from dataclasses import replace
from math import inf

import numpy as np

from iron_probe.core.circuit.elements import Conductor, Element, Joint, Module, TwoPole
from iron_probe.core.circuit.sheet import Point
from iron_probe.rig.catalogue import CARRIES_A, BlockChange, Does, HiddenFault, ShortTo, drawn
from iron_probe.rig.machine import Bypass, Comes, Machine

UNDRAWN = "undrawn"
"""Id of a joint that no drawing shows, and the beginning of its point's name."""


def put_in(machine: Machine, hidden: HiddenFault, peaks: Mapping[str, float], rng: np.random.Generator) -> None:
    """Change the machine; `peaks` [A] is the most each branch carries in the sound one."""
    element = machine.sheet.element(hidden.element)
    before = dict(machine.values[element.id])
    _change(machine, element, hidden.fault.does, hidden.severity, peaks, rng)
    if comes := hidden.fault.comes:
        there = machine.values[element.id]
        changed = {name: (before[name], value) for name, value in there.items() if value != before.get(name)}
        machine.values[element.id] = before
        machine.comes += [Comes(element.id, name, away, value, comes.chance, comes.by) for name, (away, value) in changed.items()]


def _change(machine: Machine, element: Element, does: Does, severity: float, peaks: Mapping[str, float], rng: np.random.Generator) -> None:
    values = machine.values[element.id]
    if does.block:
        _spoil(machine, element, does.block, severity)
    elif does.short:
        _short(machine, element, does.short, severity, rng)
    elif does.joint:
        _join_in(machine, element, _ohm_losing(machine, severity, peaks.get(element.id, 0.0)))
    elif does.output is not None:
        assert isinstance(element, Module)
        values[f"{element.outputs[int(rng.integers(len(element.outputs)))].name}_stuck"] = does.output
    elif does.loss_v is not None:
        part = (does.value or "").removesuffix("ohm").removesuffix("_")
        values[does.value or ""] += _ohm_losing(machine, severity, peaks.get(f"{element.id}.{part}", peaks.get(element.id, 0.0)))
    elif does.plus is not None:
        values[does.value or ""] += severity
    elif does.times is not None:
        values[does.value or ""] *= severity
    elif isinstance(does.becomes, tuple):
        values[does.value or ""] = severity
    else:
        values[does.value or ""] = inf if does.becomes == "open" else float(does.becomes or 0)
    if does.also:
        _change(machine, element, does.also, drawn(does.also.severity(), rng), peaks, rng)


def _ohm_losing(machine: Machine, loss_v: float, carried_a: float) -> float:
    """Ohms that lose so many volts of a 12 V machine at what the part carries."""
    return loss_v * machine.sheet.system_v / 12 / max(carried_a, CARRIES_A)


def _spoil(machine: Machine, element: Element, become: BlockChange, severity: float) -> None:
    block = machine.blocks[element.id]
    if become.frozen:
        block = replace(block, frozen=True, charge=0.1)
    elif become.apart:
        block = replace(block, apart=True)
    elif become.flat_v:
        block = replace(block, charge=0.02, flat_v=severity)
    elif become.charge:
        block = replace(block, charge=severity)
    elif become.health:
        block = replace(block, health=severity)
    else:
        block = replace(block, dead_cells=round(severity))
    machine.blocks[element.id] = block


def _short(machine: Machine, element: Element, short: ShortTo, ohm: float, rng: np.random.Generator) -> None:
    assert isinstance(element, TwoPole)
    sheet, a = machine.sheet, (element.start, element.end)[int(rng.integers(2))]
    ends = [e.end for e in sheet.elements if isinstance(e, Conductor) and e.type == "wire" and not {e.start, e.end} & set(element.points())]
    to = {"minus": [sheet.minus], "plus": [sheet.plus], "neighbour": ends or [sheet.plus]}[short.to]
    machine.bypasses.append(Bypass(a, to[int(rng.integers(len(to)))], ohm, of=element.id))


def _join_in(machine: Machine, element: Element, ohm: float) -> None:
    """Put a joint between a wire's far end and the point the drawing says it ends at."""
    assert isinstance(element, TwoPole)
    sheet, end = machine.sheet, f"{UNDRAWN}.{element.end}"
    joint = Joint.model_validate({"id": UNDRAWN, "type": "joint", "title": "A joint no drawing shows", "from": end, "to": element.end})
    moved = element.model_copy(update={"end": end})
    machine.sheet = sheet.changed(
        points={**sheet.points, end: Point(title="behind a joint no drawing shows")},
        elements=[*(moved if e.id == element.id else e for e in sheet.elements), joint],
    )
    machine.values[UNDRAWN] = {"ohm": ohm}
    machine.damp[end] = machine.damp[element.end]
