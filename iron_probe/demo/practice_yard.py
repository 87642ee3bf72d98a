"""The sample yard's practice bay: a case begun, and one worked to its end by the stand-in's figures."""

import contextlib
from uuid import UUID, uuid5

from sqlmodel import Session

from iron_probe.bay.as_typed import asked_by, typed
from iron_probe.bay.case import Level, PracticeCase
from iron_probe.core.diagnose.evidence import Instrument
from iron_probe.core.job.fold import JobLog
from iron_probe.core.job.job import Job
from iron_probe.core.job.lines import AnyLine, ClosedLine, Ending, ReadingLine, RepairLine
from iron_probe.core.job.numbering import numbered
from iron_probe.demo.stage import AT_HAND
from iron_probe.store.tables import JobRow, now
from iron_probe.work import practice
from iron_probe.work.ensembles import make
from iron_probe.work.jobs import change_job, find_job, set_on
from iron_probe.work.logs import append, job_log

_NAMES = UUID("b7a6d8c0-3f0b-4a62-9a3b-7f0d1f2a9c55")
OPEN, DONE = (Level.ONE, "crew-minibus", 35), (Level.ONE, "green-mower", 9)
SAID = {
    OPEN: "It heaves itself round on the first start of the day. The battery is new, so that cannot be it.",
    DONE: "Dead to the key since it came back from the churchyard. Nobody has touched anything.",
}
PROBED = (
    ("bat.plus", "bat.minus", "rest"),
    ("bat.plus", "bat.minus", "crank"),
    ("sol.coil", "frame", "crank"),
    ("f1.out", "bat.minus", "run"),
    ("sol.in", "f1.out", "run"),
)
"""Where somebody put the leads on the mower, and in which state."""


def fill_practice(session: Session) -> None:
    """Both cases; neither where the machine to practise on cannot be had here."""
    with contextlib.suppress(practice.BayError):
        for asked in (OPEN, DONE):
            practice.begin(session, uuid5(_NAMES, asked[1]), asked, _story_of(asked), AT_HAND)
        _work(session, uuid5(_NAMES, DONE[1]))


def _story_of(asked: tuple[Level, str, int]) -> practice.Story:
    def story(case: PracticeCase, seen: tuple[str, str] | None) -> str:
        return SAID[asked]

    return story


def _work(session: Session, case_id: UUID) -> None:
    """Read, mend, try it, close; what the replay says is there when somebody looks."""
    job = find_job(session, session.get_one(JobRow, case_id).number)
    assert job is not None
    for red, black, state in PROBED:
        _read(session, job, {"instrument": Instrument.VOLTMETER.value, "red": red, "black": black, "state": state})
    append(
        session,
        job,
        AT_HAND,
        RepairLine(text="Fuse of the key circuit renewed, its holder cleaned", fitted="15 A blade", minutes=10, elements=["f1"]),
    )
    crank = str(job.sheet.cranking_state())
    _read(session, job, {"instrument": Instrument.EYES.value, "state": crank})
    _read(session, job, {"instrument": Instrument.VOLTMETER.value, "red": job.sheet.plus, "black": job.sheet.minus, "state": crank})
    append(session, job, AT_HAND, ClosedLine(ending=Ending.REPAIRED))
    change_job(session, job, set_on(closed_at=now()))
    practice.work_replay(session, job.id, make)


def _read(session: Session, job: Job, sent: dict[str, str]) -> None:
    with practice.hands_on():
        taken = practice.machine_now(session, job, job_log(session, job)).read(asked_by(sent))

    def settle(line: AnyLine, log: JobLog) -> AnyLine:
        assert isinstance(line, ReadingLine)
        return numbered(line, log, job.sheet, same_crank=False)

    shown = typed(taken)
    append(session, job, AT_HAND, ReadingLine(reading=taken, typed=shown.get("value") or shown["word"]), settle=settle)
