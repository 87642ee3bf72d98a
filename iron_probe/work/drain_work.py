"""A job's drain work put to the core: totals with their moments, what each sweep reading is worth, currents, suspects, the next probe."""

from dataclasses import dataclass
from datetime import datetime, timedelta
from uuid import UUID

from iron_probe.core.bench.drain.amps_read import Interval, amps_of_drop, clamp_amps, fall_amps, series_amps
from iron_probe.core.bench.drain.currents import TOTAL, Currents, Taken, Way, solve_currents
from iron_probe.core.bench.drain.feed_tree import FeedTree, feed_tree, usual_total_a
from iron_probe.core.bench.drain.limits import DrawLimit, LimitSchool, judge_total, limit_for, side_by_side
from iron_probe.core.bench.drain.suspects import DrainProbe, Finding, Method, find_drains, next_probes
from iron_probe.core.bench.drain.validity import Checked, Moment, at_level, check_sweep, fault_level
from iron_probe.core.bench.judged import Judged
from iron_probe.core.circuit.elements import Fuse
from iron_probe.core.circuit.fuse_boxes import Box, FuseEdit, boxes_of, edited
from iron_probe.core.circuit.network import SheetKey, build_network
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.errors import IronProbeError, ReadingError
from iron_probe.core.job.fold import JobLog, KeptLine
from iron_probe.core.job.job import Job
from iron_probe.core.job.lines import DrainLine, MarkLine
from iron_probe.core.kept import Kept
from iron_probe.core.limits import METER_STEP_V, NO_SLEEPER_A
from iron_probe.core.phrase import Phrase, together
from iron_probe.store.tables import now

ADDED_WITHIN_S = 600.0
"""Ground cables clamped within this time [s] of each other are added."""
METER_STEPS_V = (float(METER_STEP_V), 1e-5, 1e-6)
"""Last digits a meter may have on millivolts [V]."""


@dataclass(frozen=True, slots=True, kw_only=True)
class DrainSettings:
    """Settings of a job's drain work: whose limit, how to sweep, ground cables on the battery, the meter's last digit on millivolts."""

    school: LimitSchool
    method: Method
    ground_cables: int
    meter_step_v: float
    edits: tuple[FuseEdit, ...]

    @staticmethod
    def of(job: Job) -> "DrainSettings":
        """As kept on the job, or as they begin."""
        kept = job.drain
        step = kept.get("meter_step_v", METER_STEPS_V[0])
        return DrainSettings(
            school=LimitSchool(kept.get("school", LimitSchool.NOW)), method=Method(kept.get("method", Method.DROP)),
            ground_cables=int(kept.get("ground_cables", len(job.sheet.batteries) if side_by_side(job.sheet) else 1)), meter_step_v=step if step in METER_STEPS_V else METER_STEPS_V[0],
            edits=tuple(FuseEdit.model_validate(e) for e in kept.get("boxes", [])),
        )  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class DrainEntry:
    """A logged current with its number among the drain readings, its interval, whether it counts, and why not; `seq` its place in the log,
    None where an instrument sent it."""

    id: UUID
    seq: int | None
    number: int
    at: datetime
    line: DrainLine
    amps: Interval | None
    valid: bool
    why: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Mark:
    """A mark on the strip."""

    id: UUID
    seq: int | None
    at: datetime
    line: MarkLine


@dataclass(frozen=True, slots=True, kw_only=True)
class DrainWork:
    """Everything the drain screens show of a job."""

    job: Job
    sheet: Sheet
    tree: FeedTree
    boxes: tuple[Box, ...]
    settings: DrainSettings
    limit: DrawLimit
    usual_a: float
    entries: tuple[DrainEntry, ...]
    marks: tuple[Mark, ...]
    totals: tuple[DrainEntry, ...]
    present: DrainEntry | None
    booked_a: float
    level_a: float | None
    since: datetime | None
    until: datetime | None
    waited_minutes: float | None
    judged: Judged | None
    taken: tuple[Taken, ...]
    currents: Currents
    finding: Finding
    probes: tuple[DrainProbe, ...]

    @property
    def resweep(self) -> tuple[DrainEntry, ...]:
        """Readings that tell nothing, each place once, and not where a later one counts."""
        counted = {t.where for t in self.taken}
        found = {e.line.where: e for e in self.entries if not e.valid and e.line.where not in counted}
        return tuple(found.values())

    def newest(self, where: str) -> DrainEntry | None:
        """The newest reading of a place."""
        return next((e for e in reversed(self.entries) if e.line.where == where), None)

    @property
    def last(self) -> UUID | None:
        """The reading or mark that was put down last, to be taken back; what an instrument sent is none."""
        lines = (*((e.seq, e.id) for e in self.entries), *((m.seq, m.id) for m in self.marks))
        typed = [(seq, line) for seq, line in lines if seq is not None]
        return max(typed)[1] if typed else None

    @property
    def no_sleeper(self) -> bool:
        """Whether the total is more than anything asleep takes: its feed is parted before anything else."""
        return self.present is not None and self.present.amps is not None and self.present.amps.best >= NO_SLEEPER_A

    @property
    def found_a(self) -> float:
        """What the named ones draw, with what sleeps [A]."""
        return min(self.usual_a + sum(n.best_a for n in self.finding.named), max(self.currents.total.high, 0.0))


_trees: Kept[tuple[SheetKey, tuple[FuseEdit, ...], float], tuple[Sheet, FeedTree]] = Kept("feed trees", 128)


def tree_of(job: Job) -> tuple[Sheet, FeedTree]:
    """The job's sheet with its fuses as corrected, and the sleeping circuit as a tree."""
    edits = DrainSettings.of(job).edits

    def grow() -> tuple[Sheet, FeedTree]:
        sheet = edited(job.sheet, edits)
        return sheet, feed_tree(build_network(sheet, job.conditions))

    return _trees.get((SheetKey(job.sheet), edits, job.temp_degc), grow)


def interval_of(line: DrainLine, tree: FeedTree, temp_degc: float, booked_a: float = 0.0) -> Interval:
    """The current a line stands for; ReadingError when the fuse could not have held it, or nothing lies there any more."""
    if line.way is Way.DROP:
        fuse = tree.element(line.where)
        if not isinstance(fuse, Fuse):
            raise ReadingError(f"{fuse.title} is no fuse: millivolts are read across fuses.")
        return amps_of_drop(line.value, line.resolution, fuse.rating_a, fuse.make, temp_degc)
    if line.way is Way.CLAMP and line.where in tree.two_way:
        raise ReadingError(
            f"Another battery feeds {tree.element(line.where).title} from its far end, so a clamp there tells nothing of what draws. Part that battery "
            "and read the total, or clamp a cable that leads to no battery."
        )
    if line.way in (Way.PULL, Way.PART):
        return fall_amps(line.before_a or 0.0, line.value, line.resolution)
    read = clamp_amps if line.way is Way.CLAMP else series_amps
    if line.where != TOTAL:
        return read(line.value, line.resolution)
    if line.value < 0:
        return read(line.value, line.resolution).turned
    return read(max(line.value - booked_a, 0.0), line.resolution)


def check_place(tree: FeedTree, where: str) -> None:
    """ReadingError when the machine has no such place to read a current at."""
    if where != TOTAL and where not in tree.behind and all(c.branch != where for c in tree.consumers):
        raise ReadingError(
            f"“{where[:40]}” is no fuse, cable, plug or consumer of this sheet. A fuse pulled without its number is no evidence."
        )


def marks_of(log: JobLog, epoch: int) -> tuple[Mark, ...]:
    """What was done to the machine while it slept, in an epoch."""
    return tuple(
        Mark(id=k.id, seq=k.seq, at=k.at - timedelta(minutes=line.ago_minutes), line=line)
        for k, line in log.lines(MarkLine)
        if k.epoch == epoch
    )


def newest_total(job: Job, log: JobLog) -> tuple[float, datetime] | None:
    """The newest total of the sleeping machine since the last repair [A], and when it was read; None where none was."""
    whole = [(k, line) for k, line in log.lines(DrainLine) if k.epoch == log.epoch and line.where == TOTAL and not line.part_of]
    if not whole:
        return None
    kept, line = max(whole, key=lambda w: w[0].at)
    amps = interval_of(line, tree_of(job)[1], job.temp_degc, _booked(marks_of(log, log.epoch), kept.at))
    return max(amps.best, 0.0), kept.at


def drain_work(job: Job, log: JobLog, epoch: int | None = None) -> DrainWork:
    """Put a job's drain readings of an epoch, the present one where none is named, to the core."""
    epoch = log.epoch if epoch is None else epoch
    settings = DrainSettings.of(job)
    sheet, tree = tree_of(job)
    usual_a = usual_total_a(tree)
    limit = limit_for(sheet, usual_a, settings.school)
    marks = marks_of(log, epoch)
    raw = [(number, k, line) for number, (k, line) in enumerate(log.lines(DrainLine), start=1) if k.epoch == epoch]
    raw.sort(key=lambda r: r[1].at)  # one noted later may have been read before
    read: list[tuple[int, KeptLine, DrainLine, Interval | None, str]] = []
    for number, kept, line in raw:
        try:
            check_place(tree, line.where)
            read.append((number, kept, line, interval_of(line, tree, job.temp_degc, _booked(marks, kept.at)), ""))
        except IronProbeError as error:
            read.append((number, kept, line, None, str(error)))
    totals = [
        Moment(at_s=kept.at.timestamp(), total_a=amps.best)
        for _, kept, line, amps, _ in read
        if amps is not None and line.where == TOTAL and not line.part_of and amps.high > 0
    ]
    beside = side_by_side(sheet)
    sweep = [
        (Taken(number=number, where=line.where, way=line.way, amps=amps, part_of=line.part_of), kept.at.timestamp())
        for number, kept, line, amps, _ in read
        if amps is not None and not (line.part_of and beside)  # one of two batteries may feed the other: its share bounds nothing
    ]
    added = _added(read, settings.ground_cables)
    sweep += added
    totals += [Moment(at_s=at, total_a=t.amps.best) for t, at in added]
    since = max((m.at for m in marks if m.line.what in ("latched", "locked", "opened")), default=None)
    settled = None if since is None else since.timestamp() + 60 * sheet.sleep_minutes
    checked = {c.taken.number: c for c in check_sweep(sweep, totals, limit.limit_a, settled)}
    entries = tuple(_entry(*row, checked) for row in read)
    taken = _newest_each(at_level(list(checked.values()), totals, limit.limit_a, settled))
    currents = solve_currents(tree, taken)
    finding = find_drains(tree, currents)
    of_total = tuple(e for e in entries if e.line.where == TOTAL and e.amps is not None)
    waited = None if since is None else (now() - since).total_seconds() / 60
    present = of_total[-1] if of_total else None
    judged = None
    if present is not None and present.amps is not None:
        then = None if since is None else (present.at - since).total_seconds() / 60
        judged = judge_total(present.amps.best, limit, then, sheet)
    return DrainWork(
        job=job, sheet=sheet, tree=tree, boxes=boxes_of(sheet, settings.edits), settings=settings, limit=limit, usual_a=usual_a,
        entries=entries, marks=marks, totals=of_total, present=present, booked_a=_booked(marks, now()),
        level_a=fault_level(totals, limit.limit_a, settled), since=since,
        until=None if since is None else since + timedelta(minutes=sheet.sleep_minutes), waited_minutes=waited, judged=judged,
        taken=tuple(taken), currents=currents, finding=finding, probes=tuple(next_probes(tree, currents, finding, taken, settings.method, meter_step_v=settings.meter_step_v)),
    )  # fmt: skip


def _added(read: list[tuple[int, KeptLine, DrainLine, Interval | None, str]], cables: int) -> list[tuple[Taken, float]]:
    """Totals from several ground cables clamped one after the other: their sum, under the number and at the time of the last."""
    found: list[tuple[Taken, float]] = []
    run: list[tuple[float, Interval]] = []
    for number, kept, line, amps, _ in read:
        if amps is None or line.where != TOTAL or not line.part_of:
            continue
        at = kept.at.timestamp()
        run = [(t, a) for t, a in run if at - t < ADDED_WITHIN_S] + [(at, amps)]
        if len(run) == cables:
            parts = [a for _, a in run]
            whole = Interval(low=sum(a.low for a in parts), best=sum(a.best for a in parts), high=sum(a.high for a in parts))
            found.append((Taken(number=number, where=TOTAL, way=line.way, amps=whole), at))
            run = []
    return found


def _entry(number: int, kept: KeptLine, line: DrainLine, amps: Interval | None, why: str, checked: dict[int, Checked]) -> DrainEntry:
    found = checked.get(number)
    return DrainEntry(
        id=kept.id, seq=kept.seq, number=number, at=kept.at, line=line, amps=amps, valid=found is not None and found.valid,
        why=why if found is None else found.why,
    )  # fmt: skip


def _booked(marks: tuple[Mark, ...], at: datetime) -> float:
    """Amps of loads switched on on purpose at a moment [A]."""
    booked = 0.0
    for mark in marks:
        if mark.at <= at:
            booked = booked + mark.line.amps if mark.line.what == "booked" else 0.0 if mark.line.what == "unbooked" else booked
    return booked


def _newest_each(taken: list[Taken]) -> list[Taken]:
    """One reading a place and way: a repeat stands for the one before it."""
    kept = {(t.where, t.way): t for t in sorted(taken, key=lambda t: t.number)}
    return list(kept.values())


def drain_word(work: DrainWork) -> str:
    """What the drain work comes to so far, in a sentence or two; empty when no total was read."""
    if work.present is None or work.judged is None:
        return ""
    if work.level_a is None:
        return work.judged.text
    level_ma = 1000 * work.level_a
    if not work.finding.named:
        return Phrase("Drain of {level_ma:.0f} mA, not placed yet.", level_ma=level_ma)
    named = together(
        [Phrase("{title}: {why}, {draw_ma:.0f} mA", title=n.title, why=n.why, draw_ma=1000 * n.best_a) for n in work.finding.named], "; "
    )
    told = Phrase("Drain of {level_ma:.0f} mA: {named}.", level_ma=level_ma, named=named)
    left_ma = 1000 * max(work.currents.total.best - work.found_a, 0.0)
    if work.finding.closes:
        return told + Phrase(" The sum closes.")
    return told + Phrase(" {left_ma:.0f} mA are still to place.", left_ma=left_ma) if left_ma >= 0.5 else told
