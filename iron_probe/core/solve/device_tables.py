"""The devices of a network in one operating state, as records of numbers for compiled code."""

from collections.abc import Iterable
from functools import lru_cache
from typing import Any

import numpy as np

from iron_probe.core.arrays import Floats
from iron_probe.core.circuit.charging import SET_V
from iron_probe.core.circuit.elements import STANDSTILL_SHARE, Alternator, BranchKind, FieldRegulator, Lamp, Rectifier
from iron_probe.core.circuit.network import Generator, Network, Unit
from iron_probe.core.circuit.stator_ways import brought
from iron_probe.core.solve.devices import (
    BATTERY,
    COIL,
    CONTACT,
    DIODE,
    DRIVE,
    GENERATOR,
    LAMP,
    MOTOR,
    NEED,
    OUTPUT,
    SWITCH,
    UNIT,
    Devices,
    Records,
)
from iron_probe.core.solve.generate import DEFAULT_V

MODULE_DROP_SHARE = 0.85
"""A live module stays alive down to this share of the voltage it wakes at."""


def full_output(generator: Generator, rpm: float, values: Floats) -> Floats:
    """Current (V,) [A] a generator can give at an engine speed, its field full."""
    element = generator.element
    turns = rpm * (values[generator.slip] if generator.slip is not None else 1.0)
    share = 1 - np.exp(-np.maximum(turns - element.cut_in_rpm, 0.0) / element.knee_rpm)
    for row in generator.windings:
        share = share * values[row]
    if isinstance(element, Rectifier) and any(generator.ways):
        share = share * brought(element, [np.sum(values[list(rows)], axis=0) for rows in generator.ways])
    return np.asarray(values[generator.rated_a] * share)


@lru_cache(maxsize=512)
def devices_of(network: Network, state: str) -> Devices:
    """The devices of a network in one operating state, worked out once."""
    sheet, of, closed = network.sheet, network.of_kind, network.closed_in(state)
    coil_of = {coil.element: number for number, coil in enumerate(network.coils)}

    def row(branch: int, name: str) -> int:
        return network.row[network.owners[branch].id, name]

    outputs, needs = _outputs(network, state)
    return Devices(
        system_v=sheet.system_v,
        rpm=float(sheet.state(state).rpm),
        value=network.value,
        start=network.start,
        end=network.end,
        driving=np.concatenate([of(kind) for kind in (BranchKind.BATTERY, BranchKind.MOTOR, BranchKind.DIODE, BranchKind.SOURCE)]),
        batteries=_records(
            BATTERY,
            (
                (n, network.value[n], *(row(n, name) for name in ("emf_v", "lag_v", "heavy_a", "charge_ohm")))
                for n in of(BranchKind.BATTERY)
            ),
        ),
        switches=_records(SWITCH, ((n, row(n, "stuck"), closed[n]) for n in of(BranchKind.SWITCH))),
        contacts=_records(
            CONTACT,
            ((n, row(n, "stuck"), coil_of[network.owners[n].id], network.branches[n].rest) for n in of(BranchKind.CONTACT)),
        ),
        motors=_records(MOTOR, ((n, network.value[n], row(n, "load_a"), row(n, "back_v"), STANDSTILL_SHARE) for n in of(BranchKind.MOTOR))),
        lamps=_records(LAMP, ((n, o.volts) for n in of(BranchKind.LAMP) if isinstance(o := network.owners[n], Lamp))),
        diodes=_records(DIODE, ((n, row(n, "forward_v"), closed[n]) for n in of(BranchKind.DIODE))),
        generators=_generators(network, state),
        drives=_drives(network),
        coils=_records(COIL, ((*(*coil.windings, -1)[:2], coil.pull_in, coil.drop_out) for coil in network.coils)),
        units=_units(network, state),
        outputs=outputs,
        needs=needs,
    )


def _records(kind: np.dtype[Any], rows: Iterable[tuple[Any, ...]]) -> Records:
    return np.array(list(rows), dtype=kind).view(np.recarray)


def _none(number: int | None) -> int:
    return -1 if number is None else number


def _generators(network: Network, state: str) -> Records:
    regulators = [e.id for e in network.sheet.elements if isinstance(e, FieldRegulator)]
    part = {(network.owners[n].id, kind): int(n) for kind in (BranchKind.EXCITER, BranchKind.TRIO) for n in network.of_kind(kind)}

    def record(g: Generator) -> tuple[Any, ...]:
        machine = g.element if isinstance(g.element, Alternator) else None
        commanded_v = network.sheet.asked_v(machine, state) if machine else None
        small = (_none(n) for n in (g.lamp, g.ignition, g.bus, g.field))
        parts = (part.get((g.element.id, kind), -1) for kind in (BranchKind.EXCITER, BranchKind.TRIO))
        drive = regulators.index(machine.regulator) if machine and machine.regulator in regulators else -1
        rows = (_none(n) for n in (g.deaf, g.field_ohm, g.exciter_ohm, g.design))
        told = 1.0 if commanded_v is None else commanded_v / SET_V
        return (
            g.branch, g.sense, g.ground, *small, *parts, drive, network.value[g.branch], g.set_v, g.most_v, _none(g.slip), g.stuck[0], g.stuck[-1], *rows,
            told, DEFAULT_V / SET_V, g.element.cut_in_rpm, _self_excites_rpm(machine), machine is not None, *_woken_by(g),
        )  # fmt: skip

    return _records(GENERATOR, (record(g) for g in network.generators))


def _self_excites_rpm(machine: Alternator | None) -> float:
    """From which speed on its residual magnetism is enough; no small wire at all leaves it nothing else."""
    if machine is None or machine.woken_by == "itself" or not (machine.ig or machine.l or machine.f):
        return 0.0
    return machine.self_excites_rpm or np.inf


def _woken_by(generator: Generator) -> tuple[bool, bool]:
    """Whether the ignition and the lamp can wake an alternator: what its design says, by the terminals it has."""
    element, has_lamp, has_ignition = generator.element, generator.lamp is not None, generator.ignition is not None
    if not isinstance(element, Alternator):
        return False, False
    by_lamp = has_lamp and element.woken_by != "ignition"
    by_ignition = has_ignition and not (has_lamp and element.woken_by == "lamp")
    return by_ignition, by_lamp and generator.exciter_ohm is not None


def _drives(network: Network) -> Records:
    driven = {g.element.regulator: g for g in network.generators if isinstance(g.element, Alternator)}
    regulators = [o for o in network.sheet.elements if isinstance(o, FieldRegulator)]
    return _records(
        DRIVE,
        (
            (n, network.value[n], network.point_row[o.feed], network.point_row[o.ground], network.row[driven[o.id].element.id, "field_ohm"], network.row[o.id, "stuck"])
            for n, o in zip(network.of_kind(BranchKind.DRIVE), regulators, strict=True)
        ),
    )  # fmt: skip


def _units(network: Network, state: str) -> Records:
    def record(unit: Unit, draw: int) -> tuple[Any, ...]:
        element = unit.element
        asleep, wakes_v = network.row[element.id, "asleep_ohm"], element.alive_above_v
        awake = network.sheet.in_position(element.awake_in, state)
        return unit.supply, unit.ground, draw, unit.dead, unit.wakeful, asleep, wakes_v, wakes_v * MODULE_DROP_SHARE, awake, element.latches

    return _records(UNIT, (record(u, draw) for u, draw in zip(network.units, network.of_kind(BranchKind.DRAW), strict=True)))


def _outputs(network: Network, state: str) -> tuple[Records, Records]:
    """The outputs of all modules, and what they need."""
    outputs: list[tuple[Any, ...]] = []
    needs: list[tuple[Any, ...]] = []
    for number, unit in enumerate(network.units):
        for branch, output, stuck in unit.outputs:
            first = len(needs)
            needs += [
                (network.point_row[n.point], n.below_v if n.above_v is None else n.above_v, n.above_v is not None) for n in output.needs
            ]
            outputs.append((branch, number, unit.ground, stuck, first, len(needs), network.sheet.in_position(output.on_in, state)))
    return _records(OUTPUT, outputs), _records(NEED, needs)
