"""A job's charging work put to the core: the output test, drops at output, what a commanded machine obeys, amps against sound ones."""

from collections.abc import Callable, Mapping, Sequence

from iron_probe.core.bench.charging import (
    TimedVolts,
    has_charging,
    judge_charge_drop,
    judge_commanded,
    judge_on_purpose,
    judge_output,
    looked_at_first,
    maker_of,
    subtract,
)
from iron_probe.core.bench.drop_board import good_machine
from iron_probe.core.bench.judged import Judged
from iron_probe.core.circuit.elements import Alternator, Conditions, Rectifier
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.evidence import Instrument
from iron_probe.core.errors import ReadingError
from iron_probe.core.job.fold import LoggedReading, newest_volts
from iron_probe.core.job.job import Job

Maker = Alternator | Rectifier
Newest = Callable[[str, str, str], LoggedReading | None]
"""The newest voltage across two points in a state."""


def output_verdict(job: Job, counting: Sequence[LoggedReading]) -> Judged | None:
    """The output test of the fastest running state in which the posts were read; None before any was. Where a module asks for other volts on
    purpose, they say nothing of the output."""
    sheet = job.sheet
    posts = {s: newest_volts(counting, {sheet.plus, sheet.minus}, s) for s in sheet.states}
    read = [s for s in reversed(sheet.running_states()) if posts[s]]
    latest = next((s for s in read if on_purpose(sheet, s) is None), None)
    if latest is None:
        return judge_on_purpose(amount(posts[read[0]]), on_purpose(sheet, read[0]) or 0.0, sheet.system_v) if read else None
    batteries = {b.id for b in sheet.batteries}
    into = [r for r in counting if r.reading.instrument is Instrument.CLAMP and r.reading.branch in batteries and r.reading.state == latest]
    rest = posts[next(iter(sheet.states))]
    commanded = any(isinstance(e, Alternator) and e.bus for e in sheet.elements)
    amps = amount(into[-1]) if into else None
    first = looked_at_first(maker_of(sheet)) if has_charging(sheet) else ""
    return judge_output(amount(posts[latest]), amps, amount(rest) if rest else None, job.temp_degc, sheet.system_v, commanded, first)


def on_purpose(sheet: Sheet, state: str) -> float | None:
    """Volts of 12 that a module asks for in a state on purpose; None where the machine is left to hold its own."""
    asked = (sheet.asked_v(e, state) for e in sheet.elements if isinstance(e, Alternator))
    return next((v for v in asked if v is not None), None)


def commanded_verdict(sheet: Sheet, maker: Maker, running: Sequence[str], newest: Newest) -> Judged | None:
    """Whether a commanded machine obeys its bus, in the fastest state with the posts read."""
    if not isinstance(maker, Alternator) or not maker.bus:
        return None
    left_alone = [s for s in running if on_purpose(sheet, s) is None]
    for state in reversed(left_alone or running):
        posts, bus = newest(sheet.plus, sheet.minus, state), newest(maker.bus, maker.case, state)
        if posts:
            return judge_commanded(amount(posts), amount(bus) if bus else None, sheet.system_v)
    return None


def both_ways(sheet: Sheet, counting: Sequence[LoggedReading], maker: Maker, running: Sequence[str]) -> str:
    """Loss both ways as output less battery, where no direct drop was read; or why it is not subtracted."""
    for state in reversed(running):
        here = [r for r in counting if r.reading.state == state and r.reading.instrument is Instrument.VOLTMETER]
        output = next((r for r in reversed(here) if {r.reading.red, r.reading.black} == {maker.b, maker.case}), None)
        posts = [r for r in here if {r.reading.red, r.reading.black} == {sheet.plus, sheet.minus}]
        if output is None or not posts or any({r.reading.red, r.reading.black} == {maker.b, sheet.plus} for r in here):
            continue
        before = next((r for r in reversed(posts) if r.at <= output.at), None)
        latest = posts[-1]
        try:
            beside = amount(before) if before is not None and before is not latest else None
            drop = subtract(
                TimedVolts(amount(output), output.at, beside),
                TimedVolts(amount(latest), latest.at, amount(latest) if beside is not None else None),
            )
            return f"{drop:.2f} V lost both ways, output less battery ({sheet.states[state].title.lower()}). A direct drop is better: stud to post."
        except ReadingError as error:
            return str(error)
    return ""


def output_share(sheet: Sheet, at: Conditions, maker: Maker, amps: Mapping[str, LoggedReading]) -> float | None:
    """Amps read from the output as a share of a sound machine's, in the fastest state they were read in."""
    for state in reversed(sheet.running_states()):
        if state in amps:
            return amount(amps[state]) / max(abs(good_machine(sheet, state, at).expected_amps(f"{maker.id}.output")[0]), 1e-6)
    return None


def amount(logged: LoggedReading | None) -> float:
    """The figure of a reading without its sign; 0 for none."""
    return abs(logged.reading.value or 0.0) if logged else 0.0


def drop_verdicts(
    sheet: Sheet, maker: Maker, running: Sequence[str], amps: Mapping[str, LoggedReading], newest: Newest
) -> tuple[tuple[str, Judged], ...]:
    """The drops on the way out and on the way back that were read at output, each by side and state, judged at the amps read beside them."""
    found = []
    for key, red, black in (("plus", maker.b, sheet.plus), ("case", maker.case, sheet.minus)):
        for state in running:
            taken = newest(red, black, state)
            if taken is not None:
                at_a = amount(amps[state]) if state in amps else None
                title = f"{key} side, {sheet.states[state].title.lower()}"
                found.append((title, judge_charge_drop(key, amount(taken), at_a, maker.rated_a, sheet.system_v)))
    return tuple(found)
