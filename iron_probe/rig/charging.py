"""What charges, as ngspice text: alternators and their regulators, the stator and its regulator-rectifier."""

from collections.abc import Iterator

from iron_probe.core.circuit import elements as kinds
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.rig.bridge import THROUGH_OHM
from iron_probe.rig.machine import Devices, Machine, Regulating
from iron_probe.rig.parts import reach
from iron_probe.rig.site import Site, Way, metered, resistor

DROOP_OHM = 0.004
"""How far a regulator lets its volts fall per ampere [Ω]."""
UNREGULATED_V, DEFAULT_V = 17.0, 13.7
"""Volts a 12 V machine climbs to with its regulator stuck on, and holds with its bus silent."""
ALONE_V, ALONE_A = 1.0, 0.03
"""How far a 12 V machine swings over what it is asked to hold without a battery, and the battery current [A] under which there is none."""
INSIDE_OHM = 0.08
"""A field terminal that lies on a rail inside [Ω]."""
BLIND_V = 1.3
"""How far its own output must stand over its sense wire before a 12 V regulator no longer believes the wire."""


def charging_ways(at: Site, element: kinds.Alternator | kinds.FieldRegulator | kinds.Stator | kinds.Rectifier) -> Iterator[Way]:
    """The branches of an element that charges."""
    values = at.machine.values[element.id]
    match element:
        case kinds.Alternator():
            yield from _alternator(at, element)
        case kinds.FieldRegulator():
            yield from resistor(at, element, "coil", element.feed, element.ground, values["draw_ohm"])
            if _drives(at, element):
                ends = (element.feed, element.f) if element.drives == "feeds" else (element.f, element.ground)
                yield from resistor(at, element, "drive", *ends, values["ohm"])
        case kinds.Stator():
            for n, (a, b) in enumerate(element.windings(), start=1):
                yield from resistor(at, element, f"w{n}", a, b, values[f"w{n}_ohm"])
            yield from resistor(at, element, "earth", element.star or element.p1, element.case, values["earth_ohm"])
        case kinds.Rectifier():
            yield from resistor(at, element, "leak", element.b, element.case, values["leak_ohm"])
            yield from _diodes_through(at, element)
            if at.devices.excited.get(element.id, False):
                most_a, asked_v = output_of(at.machine, at.devices, element)
                yield from _source(at, element, f"{most_a:.9g}", f"{asked_v:.9g}")


def _diodes_through(at: Site, element: kinds.Rectifier) -> Iterator[Way]:
    """Diodes that block no more, from the output to a phase or from a phase to the housing: a way to minus at rest where there are two,
    or where the winding lies on ground."""
    values = at.machine.values[element.id]
    for n, pin in enumerate(ac_pins(at.machine.sheet, element), start=1):
        for rail, ends in (("p", (element.b, pin)), ("n", (pin, element.case))):
            if values[f"d{n}{rail}"] > 0:
                yield from resistor(at, element, f"d{n}{rail}", *ends, THROUGH_OHM)


def ac_pins(sheet: Sheet, element: kinds.Rectifier) -> tuple[str, ...]:
    """Its AC pins: its own, or the stator's where those are the same."""
    stator = sheet.element(element.stator)
    assert isinstance(stator, kinds.Stator)
    return element.ac or stator.phases()


def _drives(at: Site, regulator: kinds.FieldRegulator) -> bool:
    """Whether an outside regulator lets all the field current flow. While its machine holds its volts, the mean of what it lets flow is
    set with the output instead; a resting one lets none."""
    stuck = at.machine.values[regulator.id]["stuck"]
    driver = next(e for e in at.machine.sheet.elements if isinstance(e, kinds.Alternator) and e.regulator == regulator.id)
    mode = at.devices.regulating.get(driver.id, Regulating.GIVES_ALL) if at.devices.excited.get(driver.id, False) else Regulating.GIVES_ALL
    if mode is Regulating.HOLDS or stuck < 0:
        return False
    return stuck > 0 or (at.devices.alive.get(regulator.id, False) and mode is Regulating.GIVES_ALL)


def _alternator(at: Site, element: kinds.Alternator) -> Iterator[Way]:
    values, node, k = at.machine.values[element.id], at.node, at.k
    on = at.devices.excited.get(element.id, False)
    yield from resistor(at, element, "leak", element.b, element.case, values["leak_ohm"])
    for part, point in (("ignition", element.ig), ("sense", element.s), ("bus", element.bus)):
        if point:
            yield from resistor(at, element, part, point, element.case, values[f"{part}_ohm"])
    if element.l:
        part, end = ("trio", element.b) if on else ("exciter", element.case)
        yield from resistor(at, element, part, element.l, end, values[f"{part}_ohm"])
    far = element.b if element.field_end == "b" else element.case
    if element.f:
        yield from resistor(at, element, "field", element.f, far, values["field_ohm"])
        if values["stuck"] > 0:  # its terminal lies on the other rail inside: what its regulator does no longer matters
            yield from resistor(at, element, "inside", element.f, element.case if far == element.b else element.b, INSIDE_OHM)
    if not on:
        return
    most_a, asked_v = output_of(at.machine, at.devices, element)
    b, case = node[element.b], node[element.case]
    if not element.f:
        blind = at.devices.blind.get(element.id, False)
        sensed = f"V({b},{node[element.s]})" if element.s and not blind else f"{BLIND_V * element.volts / 12 if blind else 0:.9g}"
        yield from _source(at, element, f"{most_a:.9g}", f"{asked_v:.9g}+{sensed}")
        return
    outside = at.machine.sheet.element(element.regulator or "")
    assert isinstance(outside, kinds.FieldRegulator)
    f, feed, ground = node[element.f], node[outside.feed], node[outside.ground]
    full = f"tanh(1.6*abs(V({f},{node[far]}))/{at.machine.values[outside.id]['set_v']:.9g})/0.9217"
    most_v = UNREGULATED_V * element.volts / 12  # more than that no field makes, however far off the regulator senses
    yield from _source(at, element, f"{most_a:.9g}*{full}", f"min({asked_v:.9g}+V({b},{case})-V({feed},{ground}),{most_v:.9g})")
    if at.devices.regulating.get(element.id) is Regulating.HOLDS:  # the field current that makes just this output, through its driver
        start, end = (feed, f) if outside.drives == "feeds" else (f, ground)
        share = f"max(-I(VA{k}),0)/{max(most_a, 1e-3):.9g}"
        drive = f"B{k}h h{k} {end} I={asked_v / values['field_ohm']:.9g}*{share}"
        yield metered(f"{outside.id}.drive", f"VH{k}", f"VH{k} {start} h{k} 0", drive)


def output_of(machine: Machine, devices: Devices, element: kinds.Alternator | kinds.Rectifier) -> tuple[float, float]:
    """The most a machine gives at its speed [A], its field full, and the volts it is asked to hold."""
    values, volts = machine.values[element.id], element.volts / 12
    turns = machine.sheet.state(devices.state).rpm * values.get("slip", 1.0)
    if isinstance(element, kinds.Rectifier):
        share, regulator = devices.rectified.get(element.id, 1.0), values
    else:
        share, regulator = values["windings"], machine.values[element.regulator] if element.regulator else values
    asked = regulator["set_v"]
    if devices.silent.get(element.id, False):
        asked = DEFAULT_V * volts
    elif isinstance(element, kinds.Alternator):
        commanded = machine.sheet.asked_v(element, devices.state)
        asked = asked if commanded is None else commanded * volts
    if devices.alone.get(element.id, False):
        asked += ALONE_V * volts
    if values["stuck"] > 0 or regulator["stuck"] > 0:
        asked = UNREGULATED_V * volts
    return values["most_a"] * share * reach(element.cut_in_rpm, turns), asked


def _source(at: Site, element: kinds.Alternator | kinds.Rectifier, most: str, asked: str) -> Iterator[Way]:
    """An output into B+, from the case: volts that are held, all it can give, or nothing. As a branch it runs from B+ to the case, so the
    ammeter lies that way round."""
    k, b, case = at.k, at.node[element.b], at.node[element.case]
    mode = at.devices.regulating.get(element.id, Regulating.HOLDS)
    if mode is Regulating.GIVES_ALL:
        yield metered(f"{element.id}.output", f"VA{k}", f"VA{k} {b} y{k} 0", f"B{k} {case} y{k} I={most}")
    elif mode is Regulating.HOLDS:
        held = (f"VA{k} {b} z{k} 0", f"RA{k} z{k} y{k} {DROOP_OHM}", f"B{k} y{k} {case} V={asked}")
        yield metered(f"{element.id}.output", f"VA{k}", *held)
