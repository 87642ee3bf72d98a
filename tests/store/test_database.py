"""Connecting, and knowing a full disk."""

from sqlalchemy import Engine, text
from sqlalchemy.exc import DBAPIError

from iron_probe.store.database import connect, is_disk_full


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
