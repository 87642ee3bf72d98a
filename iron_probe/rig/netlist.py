"""The machine as ngspice text, for the positions its devices are in, branch by branch; names are made here (n1, n2, ...)."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from math import isinf

from iron_probe.core.circuit import elements as kinds
from iron_probe.rig.block import FAST_S, SLOW_S
from iron_probe.rig.charging import charging_ways
from iron_probe.rig.machine import Bypass, Devices, Machine, closed
from iron_probe.rig.parts import Values
from iron_probe.rig.site import Site, Way, metered, resistor

COLD_LAMP, LAMP_POWER = 1 / 11, 0.52
"""Cold filament beside hot, and the power of the volts its resistance goes with."""
AT_STANDSTILL = 0.75
"""Share of a starter's current that its torque asks however slowly it turns; the rest grows with speed."""
THREAD_A = 0.5
"""Current from which a thread of copper is hot and no way any more [A]."""
CUT_OFF_OHM, SHORTED_DIODE_OHM, SPINS_FREE_OHM = 50_000.0, 0.05, 0.02
"""A battery whose protection has opened, a diode gone through, and what a starter that turns only itself adds [Ω]."""


@dataclass(frozen=True, slots=True)
class Netlist:
    """Lines for ngspice, and the branches they hold, so that volts can be told as currents."""

    lines: list[str]
    ways: tuple[Way, ...]
    node: dict[str, str]

    def amps(self, found: dict[str, float]) -> dict[str, float]:
        """Current of every branch that is joined [A], from its start to its end; a battery's is what flows into its plus post."""
        return {way.branch: way.amps(found) for way in self.ways}

    def volts(self, found: dict[str, float]) -> dict[str, float]:
        """Volts of every point against battery minus [V]."""
        return {point: 0.0 if node == "0" else found.get(node, 0.0) for point, node in self.node.items()}


def netlist(machine: Machine, devices: Devices, attached: Sequence[Bypass], after_s: float | None) -> Netlist:
    """An operating point `after_s` seconds into a state; with None a transient, where polarisation takes its time."""
    sheet = machine.sheet
    node = {p: "0" if p == sheet.minus else f"n{k}" for k, p in enumerate(sheet.points, start=1)}
    ways: list[Way] = []
    for k, element in enumerate(sheet.elements):
        if element.id not in machine.out:
            ways += _element(Site(machine, devices, node, k, after_s), element)
    lines = [line for way in ways for line in way.lines]
    for k, bypass in enumerate([*machine.bypasses, *attached]):
        lines += [f"VP{k} {node[bypass.a]} p{k} {bypass.volts:.9g}", f"RP{k} p{k} {node[bypass.b]} {bypass.ohm:.9g}"]
    for point, (down_ohm, up_ohm) in machine.damp.items():
        if point != sheet.minus:
            lines.append(f"RD{node[point]} {node[point]} 0 {down_ohm:.6g}")
        if point not in (sheet.minus, sheet.plus):
            lines.append(f"RU{node[point]} {node[point]} {node[sheet.plus]} {up_ohm:.6g}")
    return Netlist(lines, tuple(ways), node)


def _element(at: Site, element: kinds.Element) -> Iterator[Way]:
    """The branches of an element as they are joined now."""
    values = at.machine.values[element.id]
    match element:
        case kinds.Battery():
            yield from _battery(at, element)
        case kinds.Relay():
            yield from resistor(at, element, "coil", *element.coil, values["coil_ohm"])
            pulled = closed(at.devices.pulled.get(element.id, False), values["stuck"])
            if pulled or element.rest:
                part, end = ("contact", element.make) if pulled else ("rest", element.rest or "")
                yield from resistor(at, element, part, element.common, end, values["contact_ohm"])
        case kinds.Solenoid():
            yield from resistor(at, element, "hold", element.s, element.case, values["hold_ohm"])
            yield from resistor(at, element, "pull", element.s, element.m, values["pull_ohm"])
            if closed(at.devices.pulled.get(element.id, False), values["stuck"]):
                yield from resistor(at, element, "contact", element.b, element.m, values["contact_ohm"])
        case kinds.Module():
            yield from _module(at, element)
        case kinds.Alternator() | kinds.FieldRegulator() | kinds.Stator() | kinds.Rectifier():
            yield from charging_ways(at, element)
        case _:
            yield from _two_pole(at, element)


def motor_equivalent(values: Values) -> tuple[float, float]:
    """A turning starter as volts behind a resistance: torque asks AT_STANDSTILL of the load current and the rest with speed, back-EMF
    goes with speed, so both are one straight line."""
    if values["free"]:
        return values["ohm"] + SPINS_FREE_OHM, 0.85 * values["back_v"]
    steep = values["back_v"] / (1 - AT_STANDSTILL)
    return values["ohm"] + steep / values["load_a"], -steep * AT_STANDSTILL


def _two_pole(at: Site, element: kinds.Element) -> Iterator[Way]:
    assert isinstance(element, kinds.TwoPole)
    values, k = at.machine.values[element.id], at.k
    a, b = at.node[element.start], at.node[element.end]
    ohm, sheet = values["ohm"], at.machine.sheet
    match element:
        case kinds.Starter() if at.devices.turning.get(element.id, False) and not isinf(ohm):
            own, volts = motor_equivalent(values)
            yield metered(element.id, f"V{k}", f"R{k} {a} x{k} {own:.12g}", f"V{k} x{k} {b} {volts:.12g}")
            return
        case kinds.Lamp() if not isinf(ohm):
            rated = values["rated_v"]
            floor = (rated * COLD_LAMP ** (1 / LAMP_POWER)) ** 2
            hot = f"pow((V(x{k},{b})*V(x{k},{b})+{floor:.9g})/{rated * rated:.9g},{LAMP_POWER / 2})"
            yield metered(element.id, f"V{k}", f"V{k} {a} x{k} 0", f"B{k} x{k} {b} I=V(x{k},{b})/({ohm:.9g}*{hot})")
            return
        case kinds.Charger():
            if sheet.in_position(element.on_in, at.devices.state) and not isinf(ohm):
                held = (
                    f"V{k} {a} w{k} 0",
                    f"B{k} x{k} w{k} V={values['full_v']:.9g}",
                    f"D{k} x{k} y{k} charger{k}",
                    f"R{k} y{k} {b} {ohm:.9g}",
                )
                yield metered(element.id, f"V{k}", *held, f".model charger{k} D(Is=1e-6 N=0.05)")
            return
        case kinds.Diode() if not values["shorted"] and not isinf(ohm):
            model = f".model m{k} D(Is=1e-7 N={values['forward_v'] / 0.417:.6g})"
            yield metered(element.id, f"V{k}", f"V{k} {a} w{k} 0", f"R{k} w{k} x{k} {ohm:.9g}", f"D{k} x{k} {b} m{k}", model)
            return
        case kinds.Diode() if values["shorted"]:
            ohm = SHORTED_DIODE_OHM
        case kinds.Fuse():
            ohm *= 1 + at.devices.heat.get(element.id, 0.0)
    off = (
        (isinstance(element, kinds.Switch) and not closed(sheet.in_position(element.closed_in, at.devices.state), values["stuck"]))
        or (isinstance(element, kinds.Load) and not sheet.in_position(element.on_in, at.devices.state))
        or at.devices.blown.get(element.id, False)
    )
    if off:
        return
    if thread_ohm := values.get("thread_ohm", 0.0):
        square = f"(I(V{k})*I(V{k}))"
        warms = f"B{k} x{k} {b} V=I(V{k})*({ohm:.9g}+{thread_ohm:.9g}*{square}/({square}+{THREAD_A**2:.6g}))"
        yield metered(element.id, f"V{k}", f"V{k} {a} x{k} 0", warms)
        return
    yield from resistor(at, element, "", element.start, element.end, ohm)


def _battery(at: Site, element: kinds.Battery) -> Iterator[Way]:
    """Volts behind a resistance while it gives; while it takes, a current that grows faster than the volts do."""
    block, k, temp_degc = at.machine.blocks[element.id], at.k, at.machine.temp_degc
    minus, plus = at.node[element.start], at.node[element.end]
    if block.apart:
        yield from resistor(at, element, "", element.end, element.start, CUT_OFF_OHM)
        return
    emf, ohm = block.rest_v(element, temp_degc), block.ohm(element, temp_degc)
    if at.devices.taking.get(element.id, False):
        over, amps = max(14.3 * element.volts / 12 - emf, 0.3), block.takes_a(element, temp_degc)
        x = f"max(V(x{k},{minus}),0)/{over:.9g}"
        gives = f"min(V(x{k},{minus}),0)/{ohm:.9g}"
        taken = f"B{k} x{k} {minus} I={amps:.9g}*(0.4*{x}+0.6*({x})*({x}))+{gives}"
        yield metered(element.id, f"V{k}", f"V{k} {plus} x{k} {emf:.12g}", taken)
        return
    fast_v, slow_v, lag_a = block.lags(element)
    growth = f"asinh(I(V{k})/{lag_a:.9g})"
    if at.after_s is None:  # each lag a low pass of its own, empty at the first instant
        behind = [f"B{k} y{k} {minus} V={emf:.12g}+V(f{k})+V(s{k})"]
        for name, volts, tau_s in ((f"f{k}", fast_v, FAST_S), (f"s{k}", slow_v, SLOW_S)):
            behind += [f"B{name} i{name} 0 V={volts:.9g}*{growth}", f"R{name} i{name} {name} 1", f"C{name} {name} 0 {tau_s:g} ic=0"]
    else:
        behind = [f"B{k} y{k} {minus} V={emf:.12g}+{block.lag_v(element, at.after_s):.9g}*{growth}"]
    yield metered(element.id, f"V{k}", *behind, f"V{k} x{k} y{k} 0", f"R{k} {plus} x{k} {ohm:.12g}")


def _module(at: Site, element: kinds.Module) -> Iterator[Way]:
    values = at.machine.values[element.id]

    def ends(point: str, to: str, supply: str | None = None) -> tuple[str, str]:
        return (point, element.ground) if to == "ground" else (supply or element.supply, point)

    if not values["dead"]:
        awake = at.machine.sheet.in_position(element.awake_in, at.devices.state) or bool(values["wakeful"])
        yield from resistor(at, element, "supply", element.supply, element.ground, values["awake_ohm" if awake else "asleep_ohm"])
    for output in element.outputs:
        if closed(at.devices.driving.get(f"{element.id}.{output.name}", False), values[f"{output.name}_stuck"]):
            yield from resistor(at, element, output.name, *ends(output.point, output.to, output.fed_by), values[f"{output.name}_ohm"])
    for n, feed in enumerate(element.feeds):
        yield from resistor(at, element, f"feed{n}", feed.point, element.ground, values[f"feed{n}_ohm"])
    for n, pull in enumerate(element.pulls):
        yield from resistor(at, element, f"in{n}", *ends(pull.point, pull.to), values[f"in{n}_ohm"])
