"""The machine as ngspice text, for the positions its devices are in; names are made here (n1, n2, ...)."""

from dataclasses import dataclass, field
from enum import StrEnum
from math import inf, isinf

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
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.rig.cell import FAST_S, SLOW_S, Cell
from iron_probe.rig.parts import Values, reach

DROOP_OHM = 0.004
"""How far a regulator lets its volts fall per ampere [Ω]."""
UNREGULATED_V, DEFAULT_V = 17.0, 13.7
"""Volts a 12 V machine climbs to with its regulator stuck on, and holds with its bus silent."""
COLD_LAMP, LAMP_POWER = 1 / 11, 0.52
"""Cold filament beside hot, and the power of the volts its resistance goes with."""
AT_STANDSTILL = 0.75
"""Share of a starter's current that its torque asks however slowly it turns; the rest grows with speed."""


class Regulating(StrEnum):
    """How an excited machine works: holding its volts, giving all its speed allows, or giving nothing because the volts stand above."""

    HOLDS = "holds"
    GIVES_ALL = "gives all"
    RESTS = "rests"


@dataclass(slots=True, kw_only=True)
class Devices:
    """Where everything that moves stands in a `state`: relays and solenoids pulled in, starters turning, modules alive and driving, machines excited,
    batteries taking charge, fuses blown; `regulating` how an excited machine works; `heat` the share by which a fuse's resistance has
    risen."""

    pulled: dict[str, bool] = field(default_factory=dict)
    turning: dict[str, bool] = field(default_factory=dict)
    state: str = ""
    alive: dict[str, bool] = field(default_factory=dict)
    driving: dict[tuple[str, str], bool] = field(default_factory=dict)
    excited: dict[str, bool] = field(default_factory=dict)
    regulating: dict[str, Regulating] = field(default_factory=dict)
    taking: dict[str, bool] = field(default_factory=dict)
    blown: set[str] = field(default_factory=set)
    heat: dict[str, float] = field(default_factory=dict)

    def standing(self) -> tuple[object, ...]:
        """All positions, to know them again."""
        return tuple(tuple(sorted(d.items())) for d in (self.pulled, self.turning, self.alive, self.driving, self.excited))


@dataclass(frozen=True, slots=True)
class Path:
    """A way between two points that the sheet does not have: a jumper, a lamp, a leak, a short; `volts` of a charger behind it."""

    a: str
    b: str
    ohm: float
    volts: float = 0.0


@dataclass(slots=True, kw_only=True)
class Machine:
    """The hardware: values of every element, its batteries, paths the drawing lacks, insulation of every point, elements taken out."""

    sheet: Sheet
    temp_degc: float
    values: dict[str, Values]
    cells: dict[str, Cell]
    paths: list[Path] = field(default_factory=list)
    damp: dict[str, tuple[float, float]] = field(default_factory=dict)
    out: set[str] = field(default_factory=set)


def netlist(machine: Machine, devices: Devices, state: str, attached: list[Path], after_s: float | None) -> list[str]:
    """Lines for an operating point in a state, `after_s` seconds into it; None: for a transient, where polarisation takes its time."""
    sheet = machine.sheet
    node = {p: "0" if p == sheet.minus else f"n{k}" for k, p in enumerate(sheet.points, start=1)}
    lines: list[str] = []
    for k, element in enumerate(sheet.elements):
        if element.id not in machine.out:
            lines += _element(machine, devices, state, element, k, node, after_s)
    for k, path in enumerate([*machine.paths, *attached]):
        if path.volts:
            lines += [f"VP{k} {node[path.a]} p{k} {path.volts:.9g}", f"RP{k} p{k} {node[path.b]} {path.ohm:.9g}"]
        else:
            lines.append(f"RP{k} {node[path.a]} {node[path.b]} {path.ohm:.9g}")
    for point, (down_ohm, up_ohm) in machine.damp.items():
        if node[point] != "0":
            lines.append(f"RD{node[point]} {node[point]} 0 {down_ohm:.6g}")
            if point != sheet.plus:
                lines.append(f"RU{node[point]} {node[point]} {node[sheet.plus]} {up_ohm:.6g}")
    return lines


def resistor(name: str, a: str, b: str, ohm: float) -> list[str]:
    """A resistor, or nothing when the way is parted."""
    return [] if isinf(ohm) or a == b else [f"R{name} {a} {b} {ohm:.12g}"]


def _element(
    machine: Machine, devices: Devices, state: str, element: Element, k: int, node: dict[str, str], after_s: float | None
) -> list[str]:
    values = machine.values[element.id]
    sheet = machine.sheet
    match element:
        case Battery():
            return _battery(machine, devices, element, k, node, after_s)
        case Relay():
            pulled = closed(devices.pulled.get(element.id, False), values["stuck"])
            lines = resistor(f"{k}c", node[element.coil[0]], node[element.coil[1]], values["coil_ohm"])
            if pulled:
                return lines + resistor(f"{k}m", node[element.common], node[element.make], values["contact_ohm"])
            return lines + (resistor(f"{k}r", node[element.common], node[element.rest], values["contact_ohm"]) if element.rest else [])
        case Solenoid():
            lines = resistor(f"{k}h", node[element.s], node[element.case], values["hold_ohm"])
            lines += resistor(f"{k}p", node[element.s], node[element.m], values["pull_ohm"])
            pulled = closed(devices.pulled.get(element.id, False), values["stuck"])
            return lines + (resistor(f"{k}m", node[element.b], node[element.m], values["contact_ohm"]) if pulled else [])
        case Module():
            return _module(machine, devices, state, element, k, node)
        case Alternator() | FieldRegulator() | Stator() | Rectifier():
            return _charging(machine, devices, state, element, k, node)
        case _:
            return _two_pole(machine, devices, sheet, state, element, k, node)


def closed(pulled: bool, stuck: float) -> bool:
    """Whether a contact makes: as its coil says, or as it is stuck."""
    return pulled if stuck == 0 else stuck > 0


def motor_equivalent(values: Values) -> tuple[float, float]:
    """A turning starter as volts behind a resistance: torque asks AT_STANDSTILL of the load current and the rest with speed, back-EMF
    goes with speed, so both are one straight line."""
    if values["free"]:
        return values["ohm"] + 0.02, 0.85 * values["back_v"]
    steep = values["back_v"] / (1 - AT_STANDSTILL)
    return values["ohm"] + steep / values["load_a"], -steep * AT_STANDSTILL


def _two_pole(machine: Machine, devices: Devices, sheet: Sheet, state: str, element: Element, k: int, node: dict[str, str]) -> list[str]:
    assert isinstance(element, TwoPole)
    values, (a, b) = machine.values[element.id], (node[element.start], node[element.end])
    match element:
        case Starter():
            if isinf(values["ohm"]):
                return []
            if not devices.turning.get(element.id, False):
                return resistor(str(k), a, b, values["ohm"])
            ohm, volts = motor_equivalent(values)
            return [f"R{k} {a} x{k} {ohm:.12g}", f"V{k} x{k} {b} {volts:.12g}"]
        case Switch():
            made = closed(sheet.in_position(element.closed_in, state), values["stuck"])
            return resistor(str(k), a, b, values["ohm"]) if made else []
        case Load():
            return resistor(str(k), a, b, values["ohm"]) if sheet.in_position(element.on_in, state) else []
        case Lamp():
            if isinf(values["ohm"]):
                return []
            rated = values["rated_v"]
            floor = (rated * COLD_LAMP ** (1 / LAMP_POWER)) ** 2
            hot = f"pow((V({a},{b})*V({a},{b})+{floor:.9g})/{rated * rated:.9g},{LAMP_POWER / 2})"
            return [f"B{k} {a} {b} I=V({a},{b})/({values['ohm']:.9g}*{hot})"]
        case Diode():
            if values["shorted"]:
                return resistor(str(k), a, b, 0.05)
            if isinf(values["ohm"]):
                return []
            return [
                f"R{k} {a} x{k} {values['ohm']:.9g}", f"D{k} x{k} {b} m{k}", f".model m{k} D(Is=1e-7 N={values['forward_v'] / 0.417:.6g})",
            ]  # fmt: skip
        case Fuse():
            blown = element.id in devices.blown
            return [] if blown else resistor(str(k), a, b, values["ohm"] * (1 + devices.heat.get(element.id, 0.0)))
    return resistor(str(k), a, b, values["ohm"])


def _battery(machine: Machine, devices: Devices, element: Battery, k: int, node: dict[str, str], after_s: float | None) -> list[str]:
    cell, (minus, plus) = machine.cells[element.id], (node[element.start], node[element.end])
    if cell.apart:
        return resistor(str(k), plus, minus, 50_000.0)
    emf, ohm = cell.rest_v(element, machine.temp_degc), cell.ohm(element, machine.temp_degc)
    if devices.taking.get(element.id, False):  # what it takes grows faster than the volts do: nothing at rest volts, gassing above
        over, amps = max(14.3 * element.volts / 12 - emf, 0.3), cell.takes_a(element, machine.temp_degc)
        x = f"max(V(x{k},{minus}),0)/{over:.9g}"
        gives = f"min(V(x{k},{minus}),0)/{ohm:.9g}"
        return [f"V{k} {plus} x{k} {emf:.12g}", f"B{k} x{k} {minus} I={amps:.9g}*(0.4*{x}+0.6*({x})*({x}))+{gives}"]
    if after_s is None:
        return [*_lagging(cell, element, k, minus, emf), f"V{k} x{k} y{k} 0", f"R{k} {plus} x{k} {ohm:.12g}"]
    lag_v, lag_a = cell.lag(element, after_s)
    polarised = f"B{k} y{k} {minus} V={emf:.12g}+{lag_v:.9g}*asinh(I(V{k})/{lag_a:.9g})"
    return [polarised, f"V{k} x{k} y{k} 0", f"R{k} {plus} x{k} {ohm:.12g}"]


def _lagging(cell: Cell, element: Battery, k: int, minus: str, emf: float) -> list[str]:
    """Rest volts with the two lags as low passes of their own; none can be charged up at the first instant."""
    fast_v, slow_v, lag_a = cell.lags(element)
    lines = [f"B{k} y{k} {minus} V={emf:.12g}+V(qf{k})+V(qs{k})"]
    for name, volts, tau_s in ((f"qf{k}", fast_v, FAST_S), (f"qs{k}", slow_v, SLOW_S)):
        lines += [
            f"B{name} i{name} 0 V={volts:.9g}*asinh(I(V{k})/{lag_a:.9g})",
            f"R{name} i{name} {name} 1",
            f"C{name} {name} 0 {tau_s:g} ic=0",
        ]
    return lines


def _module(machine: Machine, devices: Devices, state: str, element: Module, k: int, node: dict[str, str]) -> list[str]:
    values, sheet = machine.values[element.id], machine.sheet
    supply, ground = node[element.supply], node[element.ground]
    lines: list[str] = []
    if not values["dead"]:
        awake = sheet.in_position(element.awake_in, state) or bool(values["wakeful"])
        lines += resistor(f"{k}s", supply, ground, values["awake_ohm" if awake else "asleep_ohm"])
    for n, output in enumerate(element.outputs):
        if closed(devices.driving.get((element.id, output.name), False), values[f"{output.name}_stuck"]):
            ends = (node[output.point], ground) if output.to == "ground" else (supply, node[output.point])
            lines += resistor(f"{k}o{n}", *ends, values[f"{output.name}_ohm"])
    for n, pull in enumerate(element.pulls):
        ends = (node[pull.point], ground) if pull.to == "ground" else (supply, node[pull.point])
        lines += resistor(f"{k}i{n}", *ends, values[f"in{n}_ohm"])
    return lines


def _charging(machine: Machine, devices: Devices, state: str, element: Element, k: int, node: dict[str, str]) -> list[str]:
    values, rpm = machine.values[element.id], machine.sheet.state(state).rpm
    match element:
        case Alternator():
            return _alternator(machine, devices, element, k, node, rpm)
        case FieldRegulator():
            feed, ground, f = node[element.feed], node[element.ground], node[element.f]
            lines = resistor(f"{k}d", feed, ground, values["draw_ohm"])
            driver = next(e for e in machine.sheet.elements if isinstance(e, Alternator) and e.regulator == element.id)
            asleep = not devices.alive.get(element.id, False)
            if values["stuck"] < 0 or ((asleep or rests(devices, driver)) and not values["stuck"]):
                return lines
            if devices.excited.get(driver.id) and devices.regulating.get(driver.id) is Regulating.HOLDS:
                return lines  # its mean hold on the field is set with the output it makes
            return lines + resistor(str(k), *((feed, f) if element.drives == "feeds" else (f, ground)), values["ohm"])
        case Stator():
            phases = [node[element.p1], node[element.p2], node[element.p3]]
            star = node[element.star] if element.star else None
            lines = []
            for n, p in enumerate(phases):
                lines += resistor(f"{k}w{n}", p, star or phases[(n + 1) % 3], values[f"w{n + 1}_ohm"])
            return lines + resistor(f"{k}e", star or phases[0], node[element.case], values["earth_ohm"])
        case Rectifier():
            b, case = node[element.b], node[element.case]
            lines = resistor(f"{k}l", b, case, values["leak_ohm"])
            if not devices.excited.get(element.id, False) or values["stuck"] < 0:
                return lines
            most, asked = output_of(machine, devices, element)
            return [*lines, *_source(k, case, b, devices.regulating.get(element.id), f"{most:.9g}", f"{asked:.9g}")]
    return []


def _alternator(machine: Machine, devices: Devices, element: Alternator, k: int, node: dict[str, str], rpm: float) -> list[str]:
    values = machine.values[element.id]
    b, case = node[element.b], node[element.case]
    on = devices.excited.get(element.id, False)
    lines = resistor(f"{k}l", b, case, values.get("leak_ohm", inf))
    if element.ig:
        lines += resistor(f"{k}g", node[element.ig], case, values["ig_ohm"])
    if element.s:
        lines += resistor(f"{k}t", node[element.s], case, values["sense_ohm"])
    if element.bus:
        lines += resistor(f"{k}b", node[element.bus], case, values["bus_ohm"])
    if element.l:
        lines += resistor(f"{k}x", node[element.l], b if on else case, values["trio_ohm" if on else "exciter_ohm"])
    if element.f:
        lines += resistor(f"{k}f", node[element.f], b if element.field_end == "b" else case, values["field_ohm"])
    if not on:
        return lines
    most, asked = output_of(machine, devices, element, rpm)
    mode = devices.regulating.get(element.id)
    if not element.f:
        blind = devices.driving.get((element.id, "blind"), False)
        sensed = f"V({b},{node[element.s]})" if element.s and not blind else "0"
        offset = BLIND_V * element.volts / 12 if blind else 0.0
        return [*lines, *_source(k, case, b, mode, f"{most:.9g}", f"{asked + offset:.9g}+{sensed}")]
    end = b if element.field_end == "b" else case
    outside = machine.sheet.element(element.regulator or "")
    assert isinstance(outside, FieldRegulator)
    f, feed, ground = node[element.f], node[outside.feed], node[outside.ground]
    full = f"tanh(1.6*abs(V({f},{end}))/{machine.values[outside.id]['set_v']:.9g})/0.9217"
    lines += _source(k, case, b, mode, f"{most:.9g}*{full}", f"{asked:.9g}+V({b},{case})-V({feed},{ground})")
    if mode is Regulating.HOLDS:  # the field current that makes just this output, through whoever drives it
        a, z = (feed, f) if outside.drives == "feeds" else (f, ground)
        lines.append(f"B{k}h {a} {z} I={asked / values['field_ohm']:.9g}*max(I(VA{k}),0)/{max(most, 1e-3):.9g}")
    return lines


BLIND_V = 1.3
"""How far its own output must stand over its sense wire before a 12 V regulator no longer believes the wire."""


def rests(devices: Devices, alternator: Alternator) -> bool:
    """Whether a machine gives nothing because the volts stand above its set point."""
    return devices.excited.get(alternator.id, False) and devices.regulating.get(alternator.id) is Regulating.RESTS


def output_of(machine: Machine, devices: Devices, element: Alternator | Rectifier, rpm: float | None = None) -> tuple[float, float]:
    """The most a machine gives at its speed [A], its field full, and the volts it is asked to hold."""
    values, sheet = machine.values[element.id], machine.sheet
    turns = (sheet.state(devices.state).rpm if rpm is None else rpm) * values.get("slip", 1.0)
    blocks = element.volts / 12
    share = values["share"] * machine.values[element.stator]["share"] if isinstance(element, Rectifier) else values["windings"]
    regulator = machine.values[element.regulator] if isinstance(element, Alternator) and element.regulator else values
    asked = regulator["set_v"]
    if isinstance(element, Alternator) and element.bus and devices.driving.get((element.id, "silent"), False):
        asked = DEFAULT_V * blocks
    if values["stuck"] > 0 or regulator["stuck"] > 0:
        asked = UNREGULATED_V * blocks
    return values["most_a"] * share * reach(element.cut_in_rpm, turns), asked


def _source(k: int, case: str, b: str, mode: Regulating | None, most: str, asked: str) -> list[str]:
    """An output into `b`, through an ammeter: volts that are held, all it can give, or nothing."""
    if mode is Regulating.RESTS:
        return []
    if mode is Regulating.GIVES_ALL:
        return [f"B{k} {case} y{k} I={most}", f"VA{k} y{k} {b} 0"]
    return [f"B{k} y{k} {case} V={asked}", f"VA{k} y{k} z{k} 0", f"RA{k} z{k} {b} {DROOP_OHM}"]
