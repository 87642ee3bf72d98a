"""What codes noted by hand, a relay tried by itself and bus levels lean toward: they shift likelihoods and prove nothing."""

from iron_probe.core.bench.bus import BusLevel, BusStretch, bus_line, read_levels, suspect_stretches
from iron_probe.core.bench.control.module_checks import LEAN, LowLine, find_check, judge_check, lean_of
from iron_probe.core.bench.judged import Verdict
from iron_probe.core.bench.typed_value import parse_quantity
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.job.fold import JobLog
from iron_probe.core.job.lines import CodeLine

CODE_LEAN = {True: 2.5, False: 1.5}
"""How much an active and a stored code raise the parts they name (common practice: a code names a circuit, not a part)."""


def leanings(log: JobLog, sheet: Sheet) -> dict[str, float]:
    """How much codes, checks of relays and bus levels shift the likelihood of elements; checks of a module are readings on its sheet."""
    known = {e.id for e in sheet.elements}
    shifts: dict[str, float] = {}
    for _, code in log.lines(CodeLine):
        for element in set(code.elements) & known:
            shifts[element] = max(shifts.get(element, 1.0), CODE_LEAN[code.active])
    for element, verdicts in _checked(log, sheet).items():
        if element in known:
            shifts[element] = shifts.get(element, 1.0) * lean_of(verdicts)
    for element in {e for stretch in stretches_of(log, sheet) for e in stretch.elements} & known:
        shifts[element] = shifts.get(element, 1.0) * LEAN[Verdict.BAD]
    return shifts


def _checked(log: JobLog, sheet: Sheet) -> dict[str, list[Verdict]]:
    """What the checks made in this epoch say of each relay: of a check made again the newest."""
    newest: dict[tuple[str, str], Verdict] = {}
    for kept, line in log.tests("check"):
        check = find_check(line.test)
        if kept.epoch == log.epoch and check.of == "relay":
            low = LowLine(line.typed.get("low_line", LowLine.TWO.value))
            newest[line.subject, line.test] = judge_check(check, line.typed["value"], float(sheet.system_v), low)[1].verdict
    found: dict[str, list[Verdict]] = {}
    for (element, _), verdict in newest.items():
        found.setdefault(element, []).append(verdict)
    return found


def levels_of(log: JobLog, sheet: Sheet) -> tuple[dict[str, str], list[BusLevel]]:
    """The one-wire levels typed last in this epoch, as typed and judged; empty when there are none."""
    line = bus_line(sheet)
    kept = log.newest_test("bus")
    if line is None or kept is None:
        return {}, []
    typed = dict(kept[1].typed)
    return typed, read_levels(line, typed, parse_quantity(typed["supply"], "V").value)


def stretches_of(log: JobLog, sheet: Sheet) -> list[BusStretch]:
    """Where the one-wire line is most likely at fault, by its levels; codes are weighed on their own."""
    line = bus_line(sheet)
    levels = levels_of(log, sheet)[1]
    return suspect_stretches(line, levels, []) if line and levels else []
