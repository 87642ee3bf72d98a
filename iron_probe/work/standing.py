"""What everything that is worked out of a job's log hangs on, as one key."""

import json

from iron_probe.core.job.fold import JobLog
from iron_probe.core.job.job import Job


def standing(job: Job, log: JobLog) -> tuple[object, ...]:
    """The job and the version it is pinned to, what intake said and how it is to be worked, and the newest of its lines. Two of a database that was
    filled anew may share an id: the moment tells them apart."""
    return (
        job.id,
        job.created_at,
        job.pinned.version_id,
        job.sheet.fingerprint,
        job.symptom,
        job.school,
        job.method,
        job.conditions,
        job.cold_degc,
        json.dumps(job.experience, sort_keys=True),
        job.closed_at,
        log.seq,
    )
