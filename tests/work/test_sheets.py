"""The circuit of a job, with the battery really fitted."""

from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.store import queries
from iron_probe.work.sheets import content_hash, fitted_sheet, sheet_of


def test_the_battery_really_fitted_counts_and_the_sheet_stays(yard: Engine) -> None:
    with Session(yard) as session:
        machine = queries.machines(session)[0]
        digest = queries.newest_version(session, machine.id).content_hash
        drawn = sheet_of(session, digest)
        assert content_hash(queries.sheet_text(session, digest)) == digest
        fitted = fitted_sheet(session, digest, {"ah": 33.0, "cca": 280.0})
        at_post = [b for b in fitted.batteries if drawn.plus in (b.start, b.end)]
        assert at_post and all((b.capacity_ah, b.cca_a) == (33.0, 280.0) for b in at_post)
        assert fitted.fingerprint != drawn.fingerprint
        assert fitted_sheet(session, digest, {}).fingerprint == drawn.fingerprint
