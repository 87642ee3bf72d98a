"""The tests of other screens as they are judged now: what the report tells beside the readings."""

from dataclasses import dataclass
from uuid import UUID

from sqlmodel import Session

from iron_probe.core.bench.battery.card import BatteryCard
from iron_probe.core.bench.bus import bus_line, read_levels
from iron_probe.core.bench.control.module_checks import LowLine, find_check, judge_check
from iron_probe.core.bench.drain.feed_tree import FeedTree
from iron_probe.core.bench.fuse_trip.capture import Trip
from iron_probe.core.bench.fuse_trip.feeds import find_fuse
from iron_probe.core.bench.fuse_trip.time_current import Multiples, multiples_for
from iron_probe.core.bench.judged import Judged
from iron_probe.core.bench.stator import judge_unplugged
from iron_probe.core.bench.typed_value import parse_quantity
from iron_probe.core.circuit.elements import Stator
from iron_probe.core.job.fold import JobLog
from iron_probe.core.job.job import Job
from iron_probe.core.job.lines import TestLine
from iron_probe.store import captures
from iron_probe.work.drain_work import tree_of
from iron_probe.work.fuse_work import blowing_of, judge_ohms


@dataclass(frozen=True, slots=True, kw_only=True)
class ToldTest:
    """A test with what it says: `title` of the part and `what` was tested, what was `typed`, and the verdict, a fuse's capture, its
    time to blow, or words kept with it; `after` the repair it was made after, 0 for none."""

    title: str
    what: str
    after: int
    typed: str = ""
    judged: Judged | None = None
    trip: Trip | None = None
    blew: Multiples | None = None
    words: str = ""


def told_tests(session: Session, job: Job, log: JobLog) -> list[ToldTest]:
    """Battery tests, module checks, stator, bus, fuse and crank traces of a job, each judged as its own screen judges it."""
    told: list[ToldTest] = []
    cards = {b.id: BatteryCard(sheet=job.sheet, battery=b, temp_degc=job.temp_degc) for b in job.sheet.batteries}
    for kept, line in log.tests("battery"):
        card = cards.get(line.subject) or next(iter(cards.values()))  # a card knows the charge from the tests before
        told.append(ToldTest(title=card.battery.title, what=line.test, judged=card.add(line.test, line.typed).judged, after=kept.epoch))
    for kept, line in log.tests("check"):
        check, low = find_check(line.test), LowLine(line.typed.get("low_line", LowLine.TWO.value))
        judged = judge_check(check, line.typed["value"], float(job.sheet.system_v), low)[1]
        title = job.sheet.element(line.subject).title
        told.append(ToldTest(title=title, what=check.title, typed=line.typed["value"], judged=judged, after=kept.epoch))
    for kept, line in log.tests("stator"):
        stator = job.sheet.element(line.subject)
        parts = judge_unplugged(stator, line.typed)[1] if isinstance(stator, Stator) else []
        told += [ToldTest(title=stator.title, what=what, judged=judged, after=kept.epoch) for what, judged in parts]
    for kept, line in log.tests("bus"):
        bus = bus_line(job.sheet)
        levels = read_levels(bus, line.typed, parse_quantity(line.typed["supply"], "V").value) if bus else []
        told += [ToldTest(title=job.sheet.point(v.point).title, what="bus level", judged=v.judged, after=kept.epoch) for v in levels]
    fuses = log.tests("trip")
    tree = tree_of(job)[1] if fuses else None
    told += [t for kept, line in fuses if tree and (t := _fuse_test(session, job, tree, line, kept.epoch))]
    for kept, line in log.tests("capture"):
        told.append(ToldTest(title="Crank trace", what=line.typed.get("file", ""), words=line.typed.get("words", ""), after=kept.epoch))
    return told


def _fuse_test(session: Session, job: Job, tree: FeedTree, line: TestLine, after: int) -> ToldTest | None:
    if all(f.id != line.subject for _, f in tree.fuses()):
        return ToldTest(title=line.subject, what=line.test, words="this fuse was taken off the boxes again", after=after)
    fuse = find_fuse(tree, line.subject)[1]
    if line.test == "ohms":
        return ToldTest(title=fuse.title, what="ohms to ground", judged=judge_ohms(tree, fuse.id, line.typed), after=after)
    if line.test == "time":
        seconds = line.typed["seconds"]
        return ToldTest(
            title=fuse.title, what="time to blow", typed=f"{seconds} s", blew=multiples_for(float(seconds), fuse.make), after=after
        )
    row = captures.find_capture(session, job, UUID(line.typed["capture"])) if line.test == "capture" else None
    if row is None or row.status != "ready":  # one that is still being read says nothing yet
        return None
    blowing = blowing_of(session, row, fuse)
    return ToldTest(title=fuse.title, what="capture", trip=blowing.trip, words=blowing.wrong, after=after)
