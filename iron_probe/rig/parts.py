"""What each element of a sheet is in the rig: its values as built, with a spread of the rig's own, warm or cold.

A value of `inf` is a way that is parted; the netlist leaves it out. Spreads and constants are the rig's own (common practice).
"""

from math import exp, inf, sqrt

import numpy as np

from iron_probe.core.circuit import elements as kinds
from iron_probe.core.circuit.conductors import awg_area_mm2
from iron_probe.core.circuit.sheet import Sheet

Values = dict[str, float]
"""Values of one element by name: ohms end in `ohm`, amps in `a`, volts in `v`; `stuck` -1 never makes, +1 always; `thread_ohm` is what a
joint on a thread of copper adds under load and an ohmmeter does not see."""

COPPER_OHM_MM2_PER_M, PER_K = 0.0175, 0.0039
FUSE_V = 0.118
"""Cold resistance of a fuse is FUSE_V · rating^-1.2 [Ω] (blade fuse data sheets, from memory)."""
OIL_PER_K = {"petrol": 0.018, "diesel": 0.026, "gas": 0.018}
"""Rise of the torque to turn an engine per kelvin below 20 °C, so that -20 °C asks 1.7 and 2.0 times as much."""
HOT = 0.8
"""Share of its rated current a hot alternator gives at high speed."""
HOT_CUT_IN = 1.3
"""Speed at which a hot machine begins to charge, beside the cold one's."""
CHARGER_RATED_V = 12.0
"""Volts of a 12 V battery into which a fitted charger gives what stands on it."""
SET_V, SET_PER_K = 14.25, -0.007
"""Regulated volts at 20 °C and their change with temperature."""
SPREAD = {
    "design": 1.0,
    "ohm": 0.2, "coil_ohm": 0.06, "hold_ohm": 0.06, "pull_ohm": 0.06, "load_a": 0.12, "set_v": 0.008, "most_a": 0.1, "pull_a": 0.08,
    "drop_a": 0.15, "pull_mmf": 0.08, "drop_mmf": 0.15, "awake_ohm": 0.15, "asleep_ohm": 0.35, "field_ohm": 0.06,
}  # fmt: skip
"""One sigma of a sound part's value, as a share."""


def sound_machine(sheet: Sheet, temp_degc: float, rng: np.random.Generator | None) -> dict[str, Values]:
    """Values of every element of a sound machine; drawn from their spreads, or nominal without `rng`."""
    found: dict[str, Values] = {}
    for element in sheet.elements:
        values = _nominal(element, sheet, temp_degc)
        if rng is not None:
            values = {k: v * exp(_spread(k) * float(rng.standard_normal())) for k, v in values.items()}
        found[element.id] = values
    return found


def _spread(name: str) -> float:
    return SPREAD.get(name, 0.1 if name.endswith("ohm") else 0.0)


def conductor_ohm(element: kinds.Conductor, temp_degc: float) -> float:
    """Resistance of a cable or wire [Ω]."""
    if element.r_mohm is not None:
        return element.r_mohm / 1000
    area = element.mm2 or awg_area_mm2(element.awg or 0)
    metal = 1.62 if element.material == "aluminium" else 1.0
    return COPPER_OHM_MM2_PER_M * metal * (element.length_m or 0) / area * (1 + PER_K * (temp_degc - 20))


def oil_factor(sheet: Sheet, temp_degc: float) -> float:
    """Torque to turn the engine beside that at 20 °C."""
    return max(1 + OIL_PER_K[sheet.engine.fuel] * (20 - temp_degc), 0.75)


def _nominal(element: kinds.Element, sheet: Sheet, temp_degc: float) -> Values:
    """What the part is by its sheet."""
    warm = 1 + PER_K * (temp_degc - 20)
    match element:
        case kinds.Battery():
            return {}
        case kinds.Joint():
            return {"ohm": element.r_mohm / 1000, "thread_ohm": 0.0}
        case kinds.Conductor():
            return {"ohm": conductor_ohm(element, temp_degc), "thread_ohm": 0.0}
        case kinds.Fuse():
            own = FUSE_V * element.rating_a**-1.2
            ohm = element.r_mohm / 1000 if element.r_mohm is not None else own
            return {"ohm": ohm, "thread_ohm": 0.0, "rating_a": element.rating_a}
        case kinds.Switch():
            return {"ohm": element.r_mohm / 1000, "stuck": 0.0}
        case kinds.Load():
            return {"ohm": element.ohm if element.ohm is not None else element.volts**2 / (element.watts or 1)}
        case kinds.Lamp():
            return {"ohm": element.volts**2 / element.watts, "rated_v": element.volts}
        case kinds.Charger():
            blocks = element.volts / 12
            return {"full_v": element.full_v * blocks, "ohm": (element.full_v - CHARGER_RATED_V) * blocks / element.rated_a}
        case kinds.Diode():
            return {"forward_v": element.forward_v, "ohm": element.r_mohm / 1000, "shorted": 0.0}
        case kinds.Relay():
            return {
                "coil_ohm": element.coil_ohm * warm, "contact_ohm": element.contact_mohm / 1000, "stuck": 0.0,
                "pull_a": element.pull_in_v / element.coil_ohm, "drop_a": element.drop_out_v / element.coil_ohm,
            }  # fmt: skip
        case kinds.Solenoid() | kinds.Starter():
            return _starting(element, sheet, temp_degc)
        case kinds.Module():
            return _module(element)
        case _:
            return _charging(element, sheet, temp_degc)


def _starting(element: kinds.Solenoid | kinds.Starter, sheet: Sheet, temp_degc: float) -> Values:
    """Turns of the two windings of a solenoid are alike, so their ampere turns add up as their currents do."""
    warm = 1 + PER_K * (temp_degc - 20)
    if isinstance(element, kinds.Starter):
        ohm = element.stall_mohm / 1000
        return {
            "ohm": ohm * warm, "load_a": element.load_a * oil_factor(sheet, temp_degc),
            "back_v": element.load_v - element.load_a * ohm, "free": 0.0,
        }  # fmt: skip
    motor_ohm = min((e.stall_mohm / 1000 for e in sheet.elements if isinstance(e, kinds.Starter)), default=0.02)
    return {
        "hold_ohm": element.hold_ohm * warm, "pull_ohm": element.pull_ohm * warm, "contact_ohm": element.contact_mohm / 1000,
        "pull_mmf": element.pull_in_v * (1 / element.hold_ohm + 1 / (element.pull_ohm + motor_ohm)),
        "drop_mmf": element.drop_out_v / element.hold_ohm, "stuck": 0.0,
    }  # fmt: skip


def _module(element: kinds.Module) -> Values:
    found = {
        "awake_ohm": element.volts / element.draw_a, "asleep_ohm": element.volts / element.asleep_a, "dead": 0.0, "wakeful": 0.0,
    }  # fmt: skip
    found |= {f"feed{n}_ohm": element.volts / feed.draw_a for n, feed in enumerate(element.feeds)}
    for output in element.outputs:
        found |= {f"{output.name}_ohm": output.r_ohm, f"{output.name}_stuck": 0.0}
    return found | {f"in{n}_ohm": pull.ohm for n, pull in enumerate(element.pulls)}


def _charging(element: kinds.Element, sheet: Sheet, temp_degc: float) -> Values:
    blocks = sheet.system_v / 12
    set_v = (SET_V + SET_PER_K * (temp_degc - 20)) * blocks
    match element:
        case kinds.Alternator():
            return {
                "design": 1.0, "set_v": set_v, "most_a": element.rated_a * HOT, "windings": 1.0, "slip": 1.0, "stuck": 0.0, "deaf": 0.0,
                "ignition_ohm": 50.0 * blocks, "exciter_ohm": 5.0, "trio_ohm": 1.0, "sense_ohm": 8000.0, "bus_ohm": 30000.0,
                "field_ohm": element.field_ohm * blocks, "leak_ohm": inf, "ripple_v": 0.1 * blocks,
            }  # fmt: skip
        case kinds.FieldRegulator():
            return {"set_v": set_v, "ohm": 0.2, "draw_ohm": 120.0 * blocks, "stuck": 0.0}
        case kinds.Stator():
            return stator_values(element)
        case kinds.Rectifier():
            stator = sheet.element(element.stator)
            assert isinstance(stator, kinds.Stator)
            return bridge_values(stator) | {
                "set_v": set_v + 0.1 * blocks, "most_a": element.rated_a, "stuck": 0.0, "leak_ohm": inf, "ripple_v": 0.2 * blocks,
            }  # fmt: skip
    raise TypeError(f"the rig knows no {element.type}")


def stator_values(stator: kinds.Stator) -> Values:
    """Windings by ohms and by share of their turns; ohms to the core."""
    numbers = range(1, len(stator.windings()) + 1)
    ohms = {f"w{k}_ohm": stator.phase_mohm / 1000 for k in numbers}
    return ohms | {f"e{k}": 1.0 for k in numbers} | {"earth_ohm": 0.01 if stator.star_grounded else inf, "pair_v": stator.pair_v_per_krpm}


def bridge_values(stator: kinds.Stator) -> Values:
    """The diodes behind a stator, to plus (`d1p`) and from minus (`d1n`), phase by phase: 0 sound, -1 open, +1 gone through."""
    return {f"d{k}{rail}": 0.0 for k in range(1, len(stator.phases()) + 1) for rail in "pn"}


def reach(cut_in_rpm: float, rpm: float) -> float:
    """Share of its greatest current a machine gives at a speed: its volts must first reach the battery's, then its own reactance
    limits it (synchronous machine behind a bridge; any machines handbook). Hot it reaches them later by HOT_CUT_IN."""
    return sqrt(1 - (HOT_CUT_IN * cut_in_rpm / rpm) ** 2) if rpm > HOT_CUT_IN * cut_in_rpm else 0.0
