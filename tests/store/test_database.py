"""Connecting, looking without a transaction, and knowing a full disk."""

import pytest
from sqlalchemy import Engine, text
from sqlalchemy.exc import DBAPIError

from iron_probe.store import database
from iron_probe.store.database import connect, is_disk_full, looking


class FullError(Exception):
    sqlstate = "53100"


class OtherError(Exception):
    sqlstate = "23505"


def test_a_full_disk_is_known_by_its_code() -> None:
    assert is_disk_full(DBAPIError("insert", {}, FullError()))
    assert not is_disk_full(DBAPIError("insert", {}, OtherError()))


def test_a_statement_that_takes_too_long_is_given_up(yard: Engine) -> None:
    own = connect(yard.url.render_as_string(hide_password=False), 200)
    try:
        with own.connect() as connection:
            connection.execute(text("select pg_sleep(20)"))
    except DBAPIError as error:
        assert "timeout" in str(error)
    else:
        raise AssertionError("it waited")
    finally:
        own.dispose()


def test_a_connection_that_was_lost_meanwhile_is_replaced(yard: Engine, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(database, "TRUSTED_S", 0.0)
    own = connect(yard.url.render_as_string(hide_password=False))
    try:
        with own.connect() as connection:
            backend = connection.execute(text("select pg_backend_pid()")).scalar_one()
        with yard.connect() as other:
            assert other.execute(text("select pg_terminate_backend(:backend, 5000)"), {"backend": backend}).scalar_one()
        with own.connect() as connection:
            assert connection.execute(text("select pg_backend_pid()")).scalar_one() != backend
    finally:
        own.dispose()


def test_who_only_looks_leaves_no_transaction_open(yard: Engine) -> None:
    seen = text("select count(*) from pg_stat_activity where pid = :backend and state like 'idle in transaction%'")
    for engine, open_ones in ((yard, 1), (looking(yard), 0)):
        with engine.connect() as connection, yard.connect() as other:
            backend = connection.execute(text("select pg_backend_pid()")).scalar_one()
            assert other.execute(seen, {"backend": backend}).scalar_one() == open_ones
