"""Still states beside the rig: every shipped sheet, sound and with faults put into both machines, point by point."""

from collections import Counter, defaultdict
from collections.abc import Iterator
from dataclasses import dataclass
from math import inf

import numpy as np

from iron_probe.core.circuit.elements import Relay, Solenoid, Starter
from iron_probe.core.circuit.network import Network, network_of
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.fault_mode import FaultMode
from iron_probe.core.diagnose.fault_modes import fault_modes
from iron_probe.core.limits import CHARGES_V, FLOATING_OHM
from iron_probe.core.solve.operate import solve_state
from iron_probe.core.solve.symptom import SYMPTOMS, symptom_codes
from iron_probe.machines import load_sheet, sheet_ids
from iron_probe.rig.build import machine_of
from iron_probe.rig.machine import Machine
from iron_probe.rig.plant import Plant
from iron_probe.rig.spice import Spice

FAULTS = 30
SEED = 14_142
ROOM_SHARE, ROOM_V = 0.025, 0.12
"""Figures further apart than this share of system volts and so many volts are a difference."""
DEFAULTS_DIFFER_V = 0.2
"""Over what is said to charge [V of 12], so that the default voltages of both do not straddle it."""

RESISTIVE = {"high_resistance": "ohm", "contact_resistive": "contact_ohm", "contact_burnt": "contact_ohm"}
PARTED = {"open": ("ohm",), "hold_open": ("hold_ohm",), "pull_open": ("pull_ohm",)}
STUCK = {"contact_open": -1.0, "contact_welded": 1.0, "stuck_open": -1.0, "stuck_closed": 1.0}


@dataclass(frozen=True, slots=True)
class Difference:
    """One point of one state that the two do not agree on [V], and whether they agree on what is heard."""

    sheet: str
    state: str
    fault: str
    point: str
    rig_v: float
    engine_v: float


@dataclass(frozen=True, slots=True)
class Comparison:
    """What one sheet gave: points compared, how many differ, states heard alike and unlike."""

    points: int
    heard: int
    unlike: tuple[tuple[str, str, str, str], ...]
    differences: tuple[Difference, ...]


def put_alike(machine: Machine, mode: FaultMode, severity: float) -> bool:
    """Put the engine's fault into the rig's machine by hand; False where the two have no value in common."""
    values = machine.values[mode.element]
    element = machine.sheet.element(mode.element)
    if mode.name in RESISTIVE:
        values[RESISTIVE[mode.name]] += severity
    elif mode.name in PARTED and set(PARTED[mode.name]) <= values.keys():
        values.update(dict.fromkeys(PARTED[mode.name], inf))
    elif mode.name == "coil_open" and isinstance(element, Relay):
        values["coil_ohm"] = inf
    elif mode.name == "coil_open" and isinstance(element, Solenoid):
        values.update(hold_ohm=inf, pull_ohm=inf)
    elif mode.name in STUCK and "stuck" in values:
        values["stuck"] = STUCK[mode.name]
    elif mode.name == "dragging" and isinstance(element, Starter):
        values["load_a"] *= severity
    elif mode.name == "dead" and "dead" in values:
        values["dead"] = 1.0
    else:
        return False
    return True


def trials(network: Network, faults: int, rng: np.random.Generator) -> Iterator[tuple[FaultMode | None, float]]:
    """No fault, then faults that both machines can have, each element at most once."""
    yield None, 1.0
    modes = [m for m in fault_modes(network) if m.comes < 1]
    taken: set[str] = set()
    for k in rng.permutation(len(modes)):
        mode = modes[int(k)]
        if mode.element in taken or not put_alike(machine_of(network.sheet), mode, 1.0):
            continue
        taken.add(mode.element)
        yield mode, float(mode.severity(rng.random(1) * 0.6)[0])
        if len(taken) == faults:
            return


def compare(sheet_id: str, faults: int, spice: Spice) -> Comparison:
    """Both machines through every state."""
    sheet = load_sheet(sheet_id)
    network, rng = network_of(sheet), np.random.default_rng((SEED, sheet_ids().index(sheet_id)))
    points = heard = 0
    unlike, found = [], []
    for mode, severity in trials(network, faults, rng):
        machine, values = machine_of(sheet), network.nominal[:, None].copy()
        name = f"{mode.element} {mode.name}" if mode else "sound"
        if mode:
            put_alike(machine, mode, severity)
            mode.apply(values, np.array([severity]))
        plant = Plant(machine, spice)
        for state in sheet.states:
            plant.go(state)
            solved = solve_state(network, state, values)
            ours = SYMPTOMS[int(symptom_codes(solved)[0])].value
            heard += 1
            if ours != plant.heard().value:
                unlike.append((state, name, plant.heard().value, ours))
                continue
            if solved.chatter[0]:
                continue
            does = [
                sheet.states[state].rpm > 0 and _charges(v, sheet)
                for v in (plant.between(sheet.plus, sheet.minus).value, float(solved.between(sheet.plus, sheet.minus)[0]))
            ]
            if does[0] != does[1]:
                theirs, mine = ("charges" if d else "does not charge" for d in does)
                unlike.append((state, name, theirs, mine))
                continue
            for k, point in enumerate(network.points):
                if solved.own_ohm[k, 0] > FLOATING_OHM:
                    continue
                points += 1
                rig_v, engine_v = plant.instants[0].volts[point], float(solved.volts[k, 0])
                if abs(rig_v - engine_v) > ROOM_V * sheet.system_v / 12 + ROOM_SHARE * abs(engine_v):
                    found.append(Difference(sheet_id, state, name, point, rig_v, engine_v))
    return Comparison(points, heard, tuple(unlike), tuple(found))


def _charges(posts_v: float, sheet: Sheet) -> bool:
    """Whether the posts stand where a running machine holds them."""
    return posts_v > (float(CHARGES_V) + DEFAULTS_DIFFER_V) * sheet.system_v / 12


def table() -> str:
    """Compare and word it, the differences by what lies at the point."""
    with Spice() as spice:
        by_sheet = {i: compare(i, FAULTS, spice) for i in sheet_ids()}
    lines = [
        f"## Still states: every shipped sheet, sound and with {FAULTS} faults, beside the rig",
        "",
        f"A difference is more than {ROOM_SHARE:.1%} and {ROOM_V} V (12 V systems) between two machines built alike, at a point joined by metal.",
        "",
        "| sheet | points compared | apart | states | heard otherwise |",
        "| --- | ---: | ---: | ---: | ---: |",
    ]
    for i, c in by_sheet.items():
        lines.append(f"| {i} | {c.points:,} | {len(c.differences)} | {c.heard} | {len(c.unlike)} |")
    devices: dict[str, Counter[str]] = defaultdict(Counter)
    for i, c in by_sheet.items():
        sheet = load_sheet(i)
        for d in c.differences:
            types = sorted({e.type for e in sheet.elements if d.point in e.points()} - {"wire", "cable", "joint", "plug", "ground", "fuse"})
            devices[" and ".join(types) or "a way"][f"{d.fault.split()[-1]}"] += 1
    lines += ["", "| at the point lies | apart | most often with |", "| --- | ---: | --- |"]
    for device, faults in sorted(devices.items(), key=lambda item: -sum(item[1].values())):
        lines.append(f"| {device} | {sum(faults.values())} | {', '.join(f'{f} {n}' for f, n in faults.most_common(3))} |")
    said = Counter(f"rig {r}, engine {o} ({f.split()[-1]})" for c in by_sheet.values() for _, f, r, o in c.unlike)
    lines += ["", "Heard otherwise: " + "; ".join(f"{what} {n}" for what, n in said.most_common(12)) + ".", ""]
    return "\n".join(lines)
