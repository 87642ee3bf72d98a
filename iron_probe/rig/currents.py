"""Currents of a solved instant by branch of the sheet, from node volts and the ammeters of the netlist."""

from collections.abc import Iterator
from math import isinf

from iron_probe.core.circuit.elements import (
    Alternator,
    Battery,
    Diode,
    Element,
    FieldRegulator,
    Fuse,
    Lamp,
    Load,
    Module,
    Rectifier,
    Relay,
    Solenoid,
    Starter,
    Stator,
    Switch,
    TwoPole,
)
from iron_probe.rig.netlist import COLD_LAMP, LAMP_POWER, Devices, Machine, closed, motor_equivalent
from iron_probe.rig.parts import Values

Volts = dict[str, float]


def branch_amps(machine: Machine, devices: Devices, state: str, volts: Volts, found: dict[str, float]) -> dict[str, float]:
    """Current of every branch that carries one [A], from its start to its end; a battery's is what flows into its plus post."""
    amps: dict[str, float] = {}
    for k, element in enumerate(machine.sheet.elements):
        if element.id in machine.out:
            continue
        for part, value in _element(machine, devices, state, element, k, volts, found):
            amps[f"{element.id}.{part}" if part else element.id] = value
    return amps


def _element(
    machine: Machine, devices: Devices, state: str, element: Element, k: int, volts: Volts, found: dict[str, float]
) -> Iterator[tuple[str, float]]:
    values, sheet = machine.values[element.id], machine.sheet

    def through(a: str, b: str, ohm: float) -> float:
        return 0.0 if isinf(ohm) else (volts[a] - volts[b]) / ohm

    match element:
        case Battery():
            yield "", found.get(f"v{k}#branch", 0.0)
        case Relay():
            yield "coil", through(*element.coil, values["coil_ohm"])
            pulled = closed(devices.pulled.get(element.id, False), values["stuck"])
            yield "contact", through(element.common, element.make, values["contact_ohm"]) if pulled else 0.0
            if element.rest:
                yield "rest", 0.0 if pulled else through(element.common, element.rest, values["contact_ohm"])
        case Solenoid():
            yield "hold", through(element.s, element.case, values["hold_ohm"])
            yield "pull", through(element.s, element.m, values["pull_ohm"])
            pulled = closed(devices.pulled.get(element.id, False), values["stuck"])
            yield "contact", through(element.b, element.m, values["contact_ohm"]) if pulled else 0.0
        case Starter():
            drop = volts[element.start] - volts[element.end]
            ohm, back = motor_equivalent(values) if devices.turning.get(element.id, False) else (values["ohm"], 0.0)
            yield "", 0.0 if isinf(values["ohm"]) else (drop - back) / ohm
        case Module():
            awake = sheet.in_position(element.awake_in, state) or bool(values["wakeful"])
            own = values["awake_ohm" if awake else "asleep_ohm"]
            yield "supply", 0.0 if values["dead"] else through(element.supply, element.ground, own)
            for output in element.outputs:
                ends = (output.point, element.ground) if output.to == "ground" else (element.supply, output.point)
                on = closed(devices.driving.get((element.id, output.name), False), values[f"{output.name}_stuck"])
                yield output.name, through(*ends, values[f"{output.name}_ohm"]) if on else 0.0
        case Alternator() | Rectifier():
            yield "output", -found.get(f"va{k}#branch", 0.0)
            if isinstance(element, Alternator):
                yield from _small_wires(element, values, devices, volts)
        case FieldRegulator():
            yield "coil", through(element.feed, element.ground, values["draw_ohm"])
        case Stator():
            return
        case _:
            yield "", _two_pole(machine, devices, state, element, k, volts, found)


def _small_wires(element: Alternator, values: Values, devices: Devices, volts: Volts) -> Iterator[tuple[str, float]]:
    case = element.case
    if element.ig:
        yield "ignition", (volts[element.ig] - volts[case]) / values["ig_ohm"]
    if element.f:
        yield "field", (volts[element.f] - volts[element.b if element.field_end == "b" else case]) / values["field_ohm"]
    if element.l and not devices.excited.get(element.id, False):
        yield "exciter", 0.0 if isinf(values["exciter_ohm"]) else (volts[element.l] - volts[case]) / values["exciter_ohm"]


def _two_pole(machine: Machine, devices: Devices, state: str, element: Element, k: int, volts: Volts, found: dict[str, float]) -> float:
    assert isinstance(element, TwoPole)
    values, sheet = machine.values[element.id], machine.sheet
    if isinf(values["ohm"]):
        return 0.0
    drop = volts[element.start] - volts[element.end]
    ohm = values["ohm"]
    match element:
        case Switch():
            return drop / ohm if closed(sheet.in_position(element.closed_in, state), values["stuck"]) else 0.0
        case Load():
            return drop / ohm if sheet.in_position(element.on_in, state) else 0.0
        case Lamp():
            rated = values["rated_v"]
            floor = (rated * COLD_LAMP ** (1 / LAMP_POWER)) ** 2
            return float(drop / (ohm * ((drop * drop + floor) / rated**2) ** (LAMP_POWER / 2)))
        case Diode():
            return drop / 0.05 if values["shorted"] else (volts[element.start] - found.get(f"x{k}", 0.0)) / ohm
        case Fuse():
            return 0.0 if element.id in devices.blown else drop / (ohm * (1 + devices.heat.get(element.id, 0.0)))
    return drop / ohm
