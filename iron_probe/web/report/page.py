"""What the report says of a job: the finding by how it was come by, what it spared, and the record behind it. Every sentence hangs on a value of this job."""

from collections.abc import Sequence
from dataclasses import dataclass

from iron_probe.core.bench.drop_board import DropBoard
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.draw.before_after import BeforeAfter, before_after
from iron_probe.core.guide.route import Concern
from iron_probe.core.guide.step import Act, Guide
from iron_probe.core.job.fold import JobLog, LoggedReading
from iron_probe.core.job.job import Job
from iron_probe.core.job.lines import ClosedLine
from iron_probe.core.job.outcome import spared, told_figures
from iron_probe.core.job.step import JobStep
from iron_probe.web import fault_words, finding_words, guide_words, words
from iron_probe.web.language import _, worded
from iron_probe.work.drain_work import DrainWork, drain_word
from iron_probe.work.drop_work import Work
from iron_probe.work.guide_work import concern_of
from iron_probe.work.word import Verdicts

LEADS = 0.3
"""From this share on a part that leads is named in the report of an open job."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Figure:
    """A figure of the customer's page: where, in which state, before and after in words, and both as lengths on one scale."""

    title: str
    state: str
    before: str
    after: str
    drawn: BeforeAfter


@dataclass(frozen=True, slots=True, kw_only=True)
class ReportPage:
    """The whole context of the report, as both its pages show it."""

    job: Job
    work: Work
    guide: Guide
    yard: str
    address: str
    found: tuple[str, ...]
    figures: tuple[Figure, ...]
    spared: tuple[str, ...]
    watch: tuple[str, ...]
    ending: str
    word: Verdicts | None
    cleared: tuple[tuple[str, str], ...]
    counted: tuple[LoggedReading, ...]
    apart: tuple[LoggedReading, ...]
    older: int
    judged: dict[int, object]
    first: DropBoard | None


def figures_of(work: Work, drains: Sequence[DrainWork]) -> tuple[Figure, ...]:
    """The figures of the customer's page: what it drew asleep before and after, where a drain was hunted in several epochs, and volts."""
    points, states = work.sheet.points, work.sheet.states
    volts = tuple(
        Figure(
            title=f"{points[c.red].title} {_('to')} {points[c.black].title}",
            state=states[c.state].title.lower(),
            before=words.volts(c.before_v),
            after=words.volts(c.after_v),
            drawn=before_after(c.before_v, c.after_v or 0.0, c.most_v),
        )
        for c in told_figures(work.compared)
    )
    drawn = [d for d in drains if d.present and d.present.amps]
    return (*(_slept(drawn[0], drawn[-1]) if len(drawn) > 1 else ()), *volts)


def _slept(first: DrainWork, last: DrainWork) -> tuple[Figure, ...]:
    """What the machine drew asleep, before the first repair and after the last."""
    before = first.level_a if first.level_a is not None else first.present.amps.best if first.present and first.present.amps else 0.0
    after = last.present.amps.best if last.present and last.present.amps else 0.0
    drawn = before_after(before, after, last.limit.limit_a)
    return (Figure(title=_("Drawn from the battery"), state=_("asleep"), before=words.amps(before), after=words.amps(after), drawn=drawn),)


def finding_of(
    job: Job, log: JobLog, step: JobStep, word: Verdicts | None, board: DropBoard | None, drain: DrainWork | None
) -> tuple[str, ...]:
    """What was found before the first repair, most telling first; of an open job what is to be done."""
    sheet, left = job.sheet, word.posterior if word else None
    concern = concern_of(job, log)
    if left and left.found:
        mode = left.suspects[0].mode
        return (_("%s %s; its own test agrees.") % (sheet.element(left.found).title, fault_words.plainly(mode)),)
    if left and left.found_beside:
        return (_("A bad joint at or beside the %s, which the drawing does not show.") % finding_words.found_beside(left, sheet),)
    if word and word.way:
        way = finding_words.way(word.way, sheet)
        return (_("%s has a bad place: one of them, and no test on its points tells which.") % (way[0].upper() + way[1:]),)
    if concern is Concern.DRAIN:
        return _of_drain(drain, step)
    culprits = board.culprits() if board and concern is Concern.STARTING else []
    if board and culprits:
        return tuple(
            _("%s lost %s while cranking, where %s is allowed.")
            % (sheet.element(board.element_of(j)).title, words.volts(j.reading.drop_v), words.volts(j.allowance_v))
            for j in culprits
        )
    if left and left.sound:
        return (_("Nothing wrong in what was tested%s.") % finding_words.untested(left),)
    if left and left.pair:
        return (_("Two faults at once explain it best: %s") % finding_words.two_at_once(left, sheet),)
    return _not_found(step, word, sheet)


def _of_drain(drain: DrainWork | None, step: JobStep) -> tuple[str, ...]:
    if drain and drain.level_a is not None and drain.finding.named:
        named = "; ".join(f"{n.title} {worded(n.why)}, {words.amps(n.best_a)}" for n in drain.finding.named)
        return (_("Asleep it drew %s, where %s are allowed: %s.") % (words.amps(drain.level_a), words.amps(drain.limit.limit_a), named),)
    told = drain_word(drain) if drain else ""
    return (told,) if told else (guide_words.unproven(step),)


def _not_found(step: JobStep, word: Verdicts | None, sheet: Sheet) -> tuple[str, ...]:
    """An end without a part, or what is to be done next and what leads."""
    leading = [s for s in word.posterior.suspects[:3] if s.p > LEADS] if word and step.act not in (Act.CLOSE, Act.CLOSED) else []
    named = "; ".join(f"{sheet.element(s.element).title.lower()} {words.percent(s.p)}" for s in leading)
    return (guide_words.unproven(step), *([_("Leading, not found: %s.") % named] if named else []))


def watch_of(word: Verdicts | None, drain: DrainWork | None, step: JobStep) -> tuple[str, ...]:
    """What the customer is to look out for."""
    said = []
    if word and word.posterior.sound:
        said.append(
            _(
                "If it comes again: note what it does, how warm and how wet it is, and what is switched on, and do not switch off before it was read."
            )
        )
    if word and word.posterior.untested >= finding_words.LISTED:
        said.append(_("What the battery holds was not measured by hours under load."))
    if word and any(s.fleeting for s in word.posterior.suspects[:1]):
        said.append(_("The fault came and went: if it does anything like it again, bring it while it does."))
    if drain and drain.level_a is None and drain.present:
        said.append(_("The drain was away while it was looked for: note after how many hours it is flat, and what was used before."))
    if step.act is not Act.CLOSED:
        said.append(_("The job is still open."))
    return tuple(said)


def ending_of(job: Job, log: JobLog) -> str:
    """As what a job was closed; empty while it is open, or was closed without a word."""
    closed = [line.ending for _, line in log.lines(ClosedLine)]
    return guide_words.ENDING[closed[-1]] if job.closed_at and closed else ""


def spared_of(job: Job, word: Verdicts | None, board: DropBoard | None, mended: Sequence[str]) -> tuple[str, ...]:
    """Titles of dear parts that readings cleared."""
    struck = [s.element for s in word.posterior.eliminated if word.numbers[s.by_reading - 1]] if word else []
    within = [e for e, _ in cleared_by(board)] if board else []
    return tuple(job.sheet.element(e).title for e in spared(job.sheet, [*struck, *within], mended))


def cleared_by(board: DropBoard) -> tuple[tuple[str, str], ...]:
    """Elements within their share under load, each with the number of the reading that says so."""
    found: dict[str, str] = {}
    for side in board.sides:
        for j in board.judged:
            if j.side == side.name and j.verdict == "within":
                for element in side.elements[j.first : j.last]:
                    found.setdefault(element, str(j.reading.number))
    return tuple(found.items())
