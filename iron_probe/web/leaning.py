"""What codes noted by hand and module checks lean toward: they shift likelihoods and prove nothing."""

from iron_probe.core.bench.control.module_checks import LEAN, LowLine, find_check, judge_check
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.store.job_log import CodeLine, JobLog

CODE_LEAN = {True: 2.5, False: 1.5}
"""How much an active and a stored code raise the parts they name (common practice: a code names a circuit, not a part)."""


def leanings(log: JobLog, sheet: Sheet) -> dict[str, float]:
    """How much codes and module checks shift the likelihood of elements."""
    known = {e.id for e in sheet.elements}
    shifts: dict[str, float] = {}
    for _, code in log.lines(CodeLine):
        for element in set(code.elements) & known:
            shifts[element] = max(shifts.get(element, 1.0), CODE_LEAN[code.active])
    for kept, line in log.tests("check"):
        check = find_check(line.test)
        if kept.epoch == log.epoch and line.subject in known and not check.on_circuit:
            low = LowLine(line.typed.get("low_line", LowLine.TWO.value))
            _, judged = judge_check(check, line.typed["value"], float(sheet.system_v), low)
            shifts[line.subject] = shifts.get(line.subject, 1.0) * LEAN[judged.verdict]
    return shifts
