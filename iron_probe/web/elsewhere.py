"""What a job comes to that is not worked by cranking: a drain, a fuse that blows, a charging system."""

from iron_probe.machines import load_sheet
from iron_probe.store.job_log import DrainLine, JobLog
from iron_probe.store.tables import Job
from iron_probe.web.charge_page import output_verdict
from iron_probe.web.drain_work import drain_word, drain_work
from iron_probe.web.words import ELSEWHERE


def elsewhere(job: Job, log: JobLog) -> tuple[str, str, str]:
    """Stage, page and word of such a job; empty for any other."""
    if log.lines(DrainLine):
        return "drain", "/drain", drain_word(drain_work(job, log))
    blown = log.tests("trip")
    sheet = load_sheet(job.sheet_id)
    counting = log.counting(log.epoch)
    if blown and not counting:
        fuse = next((e.title for e in sheet.elements if e.id == blown[-1][1].subject), blown[-1][1].subject)
        return "fuse", "/fuse", f"{fuse} blows: its branches, and what halves it."
    if not any(sheet.states[r.reading.state].cranking for r in counting) and (judged := output_verdict(job, sheet, counting)) is not None:
        return "charge", "/charge", f"{judged.text} {judged.next_step}".strip()
    if not counting and job.symptom in ELSEWHERE:
        text, path = ELSEWHERE[job.symptom]
        return path[1:], path, f"{text.capitalize()}: begin there."
    return "", "", ""
