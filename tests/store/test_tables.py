"""Moments are kept in UTC."""

from datetime import UTC

from sqlalchemy import Engine, text
from sqlmodel import Session

from iron_probe.store.tables import now


def test_now_is_of_this_second_and_has_its_zone(yard: Engine) -> None:
    with Session(yard) as session:
        there = session.execute(text("select now()")).scalar_one()
    assert now().tzinfo is UTC and abs((now() - there).total_seconds()) < 60
