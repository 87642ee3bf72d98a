"""Accounts in the database: joining once, signing in, being throttled, ending sign-ins."""

from datetime import timedelta

import pytest
from sqlalchemy import Engine
from sqlmodel import Session, select

from iron_probe.core.people.rights import Role
from iron_probe.store import people as kept
from iron_probe.store.people import AccountEvent, Person, SignIn
from iron_probe.store.tables import now
from iron_probe.work.people import (
    AccountError,
    add_person,
    at_work,
    change_password,
    change_role,
    join,
    leave,
    of_line,
    owner_key,
    sign_in,
    who_joins,
)

WORDS = "four dry oak planks"


@pytest.fixture
def lead(yard: Engine) -> Person:
    with Session(yard) as session:
        person = join(session, owner_key(session), "Ida Reef", WORDS)
        session.refresh(person)
        session.expunge(person)
        return person


def test_the_first_lead_joins_once_by_a_link_and_no_second_one_is_made(yard: Engine) -> None:
    with Session(yard) as session:
        key, other = owner_key(session), owner_key(session)
        assert who_joins(session, key) == (True, "")
        with pytest.raises(AccountError, match="at least 12"):
            join(session, key, "Ida Reef", "short")
        session.rollback()
        assert join(session, key, "Ida Reef", WORDS).role is Role.LEAD
        for used in (key, other):
            with pytest.raises(AccountError, match="was used, or is too old"):
                join(session, used, "Somebody", WORDS)
            session.rollback()
        assert owner_key(session) == ""


def test_a_password_and_a_token_are_kept_as_hashes_alone(yard: Engine, lead: Person) -> None:
    with Session(yard) as session:
        token = sign_in(session, "ida reef", WORDS, "127.0.0.1", "a browser")
        found = at_work(session, token)
        assert found is not None and found.person.name == "Ida Reef"
        row = session.exec(select(SignIn)).one()
        assert token not in row.token_hash and lead.password.startswith("$argon2id$") and WORDS not in lead.password
        assert at_work(session, token + "x") is None and at_work(session, "") is None


def test_a_wrong_password_and_an_unknown_name_are_told_alike_and_cost_a_wait(yard: Engine, lead: Person) -> None:
    with Session(yard) as session:
        told = set()
        for name in ("Ida Reef", "Nobody", "Ida Reef", "Nobody", "Nobody"):
            with pytest.raises(AccountError) as refused:
                sign_in(session, name, "not the words", "10.0.0.7", "")
            told.add(str(refused.value))
        assert len(told) == 1
        with pytest.raises(AccountError, match="Too many wrong tries: wait"):
            sign_in(session, "Ida Reef", WORDS, "10.0.0.7", "")
        assert sign_in(session, "Ida Reef", WORDS, "10.0.0.8", "")  # from elsewhere the name has only two against it


def test_signing_in_forgives_what_was_wrong_before(yard: Engine, lead: Person) -> None:
    with Session(yard) as session:
        for _ in range(4):
            with pytest.raises(AccountError):
                sign_in(session, "Ida Reef", "not the words", "10.0.0.7", "")
        sign_in(session, "Ida Reef", WORDS, "10.0.0.7", "")
        assert kept.refused_since(session, now() - timedelta(hours=1), name="ida reef")[0] == 0


def test_a_sign_in_that_is_old_or_unused_is_none(yard: Engine, lead: Person) -> None:
    with Session(yard) as session:
        token = sign_in(session, "Ida Reef", WORDS, "", "")
        row = session.exec(select(SignIn)).one()
        for field, ago in (("used_at", kept.IDLE), ("made_at", kept.LASTS)):
            row.used_at = row.made_at = now()
            setattr(row, field, now() - ago - timedelta(minutes=1))
            session.add(row)
            session.commit()
            assert at_work(session, token) is None


def test_another_password_and_leaving_end_every_other_sign_in(yard: Engine, lead: Person) -> None:
    with Session(yard) as session:
        person, key = add_person(session, "Per Sound", Role.TECHNICIAN, lead.name)
        join(session, key, "", WORDS)
        here, there = (sign_in(session, "Per Sound", WORDS, "", "") for _ in range(2))
        mine = at_work(session, here)
        assert mine is not None
        with pytest.raises(AccountError, match="is another"):
            change_password(session, mine.person, "wrong words here", "five wet elm boards", mine.sign_in)
        change_password(session, session.get_one(Person, person.id), WORDS, "five wet elm boards", mine.sign_in)
        assert at_work(session, here) is not None and at_work(session, there) is None
        leave(session, session.get_one(Person, person.id), lead, back=False)
        assert at_work(session, here) is None
        with pytest.raises(AccountError, match="do not go together"):
            sign_in(session, "Per Sound", "five wet elm boards", "", "")


def test_nobody_takes_the_lead_from_themselves(yard: Engine, lead: Person) -> None:
    with Session(yard) as session:
        me = session.get_one(Person, lead.id)
        for act in (lambda: change_role(session, me, Role.VIEWER, lead), lambda: leave(session, me, lead, back=False)):
            with pytest.raises(AccountError, match="Another lead"):
                act()
        with pytest.raises(AccountError, match="already"):
            add_person(session, "IDA REEF", Role.VIEWER, lead.name)
        assert {e.what for e in session.exec(select(AccountEvent)).all()} == {"joined"}


def test_sample_people_stay_as_they_are(yard: Engine, lead: Person) -> None:
    with Session(yard) as session:
        sample = kept.samples(session)[0]
        for act in (lambda: change_role(session, sample, Role.VIEWER, lead), lambda: leave(session, sample, lead, back=False)):
            with pytest.raises(AccountError, match="Sample people stay"):
                act()


def test_a_line_of_a_log_says_what_it_is_about() -> None:
    assert of_line({"reading": {"red": "a", "black": "b"}, "typed": "0.3"}) == "a to b 0.3"
    assert of_line({"typed": {"volts": "12.8", "hours_since": "40"}}) == "volts 12.8, hours since 40"
    assert of_line({"element": "battery", "mark": "sound"}) == "battery" and of_line({}) == ""
