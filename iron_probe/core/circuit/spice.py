"""A solved operating state as a SPICE netlist, so that any simulator can check it.

Relays, solenoids, switches and module outputs stand as they settled, because their history decides; starter, lamps and
diodes are written as behaviour. Names are made here (n1, n2, ...); titles and ids go into comments only.
"""

from collections.abc import Callable

from iron_probe.core.arrays import Floats
from iron_probe.core.circuit.elements import STANDSTILL_SHARE, BranchKind, Lamp
from iron_probe.core.circuit.faults import LEAK, SUPPLY_LEAK
from iron_probe.core.circuit.network import branch_id
from iron_probe.core.errors import SolveError
from iron_probe.core.solve.equations import point_leaks
from iron_probe.core.solve.solution import Solution
from iron_probe.core.solve.stamp import COLD_FILAMENT_SHARE, FILAMENT_EXPONENT


def _battery(value: Callable[[str], float], ohm: float, into_a: float) -> tuple[float, float]:
    """Volts and resistance of a battery as its current has it: taking charge, giving little, or polarised by a heavy load."""
    if into_a > 0:
        return value("emf_v"), value("charge_ohm")
    if -into_a > value("heavy_a"):
        return value("emf_v") - value("lag_v"), ohm
    return value("emf_v"), ohm + value("lag_v") / value("heavy_a")


def netlist(solution: Solution, values: Floats, variant: int = 0) -> str:
    """SPICE text of one variant; `values` (parameters, V) are those that were solved.

    Raises SolveError for a state that chatters: it has no operating point.
    """
    net = solution.network
    if solution.chatter[variant]:
        raise SolveError(f"state {solution.state} never settles here (a relay chatters), so there is no operating point to export")
    node = {p: "0" if k == net.reference else f"n{k + 1}" for k, p in enumerate(net.points)}
    lines = [f"* Iron Probe, sheet {net.sheet.id}, state {solution.state}"]
    lines += [f"* node {node[p]} = {p}" for p in net.points]
    fed = net.closed_in(solution.state)
    for k, (owner, branch) in enumerate(zip(net.owners, net.branches, strict=True)):
        a, b = node[branch.start], node[branch.end]
        ohm = float(values[net.value[k], variant])
        lines.append(f"* {branch_id(owner, branch)}")

        def value(name: str, owner_id: str = owner.id) -> float:
            return float(values[net.row[owner_id, name], variant])

        if branch.kind is BranchKind.BATTERY:
            rest_v, own = _battery(value, ohm, float(solution.amps[k, variant]))
            lines += [f"V{k} x{k} {b} {rest_v:.12g}", f"R{k} x{k} {a} {own:.12g}"]
        elif branch.kind is BranchKind.SOURCE:
            lines.append(f"I{k} {a} {b} DC {float(solution.amps[k, variant]):.12g}")
        elif branch.kind is BranchKind.MOTOR:
            turns = solution.amps[k, variant] >= STANDSTILL_SHARE * value("load_a") and solution.turning[variant] > 0
            steep = value("back_v") / (1 - STANDSTILL_SHARE) if turns else 0.0
            lines += [f"R{k} {a} x{k} {ohm + steep / value('load_a'):.12g}", f"V{k} x{k} {b} {-STANDSTILL_SHARE * steep:.12g}"]
        elif isinstance(owner, Lamp):
            share = f"max(pow(abs(V({a},{b}))/{owner.volts:.12g},{FILAMENT_EXPONENT}),{COLD_FILAMENT_SHARE:.12g})"
            lines.append(f"B{k} {a} {b} I = V({a},{b})/({ohm:.12g}*{share})")
        elif branch.kind is BranchKind.DIODE and fed[k]:
            lines.append(f"B{k} {a} {b} I = max(0, (V({a},{b})-{value('forward_v'):.12g})/{ohm:.12g})")
        elif solution.closed[k, variant]:
            if branch.kind in (BranchKind.DRAW, BranchKind.DRIVE) and solution.amps[k, variant]:  # as they settled
                ohm = float((solution.volts[net.start[k], variant] - solution.volts[net.end[k], variant]) / solution.amps[k, variant])
            lines.append(f"R{k} {a} {b} {ohm:.12g}")
    leaks = point_leaks(len(net.points))
    for k, point in enumerate(net.points):
        if k == net.reference:
            continue
        leak = float(leaks[k]) + float(values[net.row[point, LEAK], variant])
        lines.append(f"RL{k} {node[point]} 0 {1 / leak:.12g}")
        feed = float(values[net.row[point, SUPPLY_LEAK], variant])
        if feed > 0 and k != net.plus:
            lines.append(f"RF{k} {node[point]} {node[net.sheet.plus]} {1 / feed:.12g}")
    lines += [
        ".options gmin=1e-15 reltol=1e-6 abstol=1e-9 vntol=1e-7 itl1=500",
        ".control",
        "set numdgt=12",
        "op",
        "print all",
        "quit",
        ".endc",
        ".end",
        "",
    ]
    return "\n".join(lines)
