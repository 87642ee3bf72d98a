"""Accounts: who may sign in, with what password, how a sign-in is found again and ended, and the link by which somebody joins."""

import hashlib
import secrets
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import cache
from typing import Any
from uuid import UUID, uuid4

from pwdlib import PasswordHash
from sqlmodel import Session

from iron_probe.core.errors import IronProbeError
from iron_probe.core.people.passwords import COUNTED, password_refused, wait_after
from iron_probe.core.people.rights import Role
from iron_probe.store import people
from iron_probe.store.people import AccountEvent, JoinLink, Person, SignIn
from iron_probe.store.tables import now

LINK_LASTS = timedelta(hours=48)
"""How long a link to join may be used."""
LONGEST_NAME = 60
UNKNOWN = "This name and password do not go together"
"""Said of a name nobody has and of a wrong password alike: neither tells who works here."""


class AccountError(IronProbeError):
    """Something about an account that cannot be done; the text says why and what to do."""


@dataclass(frozen=True, slots=True)
class AtWork:
    """Somebody who is signed in, and the sign-in it is by; none where the demo took a person without one."""

    person: Person
    sign_in: UUID | None


@cache
def _hasher() -> PasswordHash:
    return PasswordHash.recommended()


@cache
def _nobodys_hash() -> str:
    """Checked where a name is nobody's, so that the answer takes as long."""
    return _hasher().hash(secrets.token_urlsafe(16))


def hashed(token: str) -> str:
    """What is kept of a token: whoever reads the database cannot sign in by it. Tokens are long and random, so a plain hash does."""
    return hashlib.sha256(token.encode()).hexdigest()


def add_person(session: Session, name: str, role: Role, by: str) -> tuple[Person, str]:
    """Somebody new, and the key of the link they join by; AccountError where the name cannot be taken."""
    _check_name(session, name)
    person = people.fresh_person(name, role)
    session.add(person)
    session.flush()  # the link names them
    people.note(session, f"made {role.value}", name, by=by)
    key = _link(session, person)
    session.commit()
    return session.get_one(Person, person.id), key


def link_for(session: Session, person: Person, by: str) -> str:
    """The key of a new link for somebody to set a password by, such as one who forgot it."""
    key = _link(session, person)
    people.note(session, "link made", person.name, by=by)
    session.commit()
    return key


def owner_key(session: Session) -> str:
    """The key of the link by which the yard's first lead joins; empty where somebody leads it already."""
    if people.any_lead(session):
        return ""
    key = _link(session, None)
    session.commit()
    return key


def _link(session: Session, person: Person | None) -> str:
    key = secrets.token_urlsafe(24)
    session.add(JoinLink(key_hash=hashed(key), person_id=person.id if person else None, until=now() + LINK_LASTS))
    return key


def _check_name(session: Session, name: str) -> None:
    if not name or len(name) > LONGEST_NAME:
        raise AccountError(f"Give a name of at most {LONGEST_NAME} characters")
    if people.person_named(session, name):
        raise AccountError(f"There is somebody called {name} already: add what tells them apart")


def who_joins(session: Session, key: str) -> tuple[bool, str]:
    """Whether a link may still be used, and whose it is; an empty name where it is the first lead's."""
    link = people.join_link(session, hashed(key))
    if link is None:
        return False, ""
    return True, session.get_one(Person, link.person_id).name if link.person_id else ""


def join(session: Session, key: str, name: str, password: str) -> Person:
    """Set a password by a link, once; the first lead gives a name with it. AccountError where link, name or password cannot be taken."""
    link = people.join_link(session, hashed(key))
    if link is None or (link.person_id is None and people.any_lead(session)):
        raise AccountError("This link was used, or is too old: ask whoever leads the yard for another")
    if link.person_id is None:
        _check_name(session, name)
    person = session.get_one(Person, link.person_id) if link.person_id else people.fresh_person(name, Role.LEAD)
    if why := password_refused(password, person.name):
        raise AccountError(why)
    person.password = _hasher().hash(password)
    link.used_at = now()
    session.add_all((person, link))
    people.end_sign_ins(session, person.id)
    people.note(session, "joined", person.name, by=person.name)
    session.commit()
    return session.get_one(Person, person.id)


def sign_in(session: Session, name: str, password: str, address: str, browser: str) -> str:
    """The token of a new sign-in; AccountError where name and password do not go together, or too many were tried."""
    _throttle(session, name, address)
    person = people.person_named(session, name)
    known = person.password if person and person.password and person.ended_at is None else _nobodys_hash()
    right, better = _hasher().verify_and_update(password, known)
    if not right or person is None or known == _nobodys_hash():
        people.note(session, "refused", name, address)
        session.commit()
        raise AccountError(UNKNOWN)
    if better:
        person.password = better
        session.add(person)
    return begin(session, person, address, browser)


def begin(session: Session, person: Person, address: str, browser: str) -> str:
    """A new sign-in of somebody who has shown who they are: its token."""
    token = secrets.token_urlsafe(32)
    session.add(SignIn(id=uuid4(), token_hash=hashed(token), person_id=person.id, browser=browser[:120]))
    people.note(session, "signed in", person.name, address, by=person.name)
    session.commit()
    return token


def _throttle(session: Session, name: str, address: str) -> None:
    for mine in ({"name": name}, {"address": address}):
        wrong, last = people.refused_since(session, now() - COUNTED, **mine)
        left = (last + wait_after(wrong) - now()) if last else timedelta(0)
        if left > timedelta(0):
            raise AccountError(f"Too many wrong tries: wait {left.total_seconds():.0f} seconds, then try again")


def at_work(session: Session, token: str) -> AtWork | None:
    """Who is signed in by a token; None where nobody is any more."""
    found = people.sign_in_of(session, hashed(token)) if token else None
    if found is None:
        return None
    person, row = found
    if row.used_at < now() - people.USED_EVERY:
        row.used_at = now()
        session.add(row)
        session.commit()
        session.refresh(person)  # whoever asked takes it out of the session, which the commit emptied
    return AtWork(person, row.id)


def sign_out(session: Session, sign_in_id: UUID, by: Person) -> None:
    """End one sign-in of one's own."""
    row = session.get(SignIn, sign_in_id)
    if row is None or row.person_id != by.id:
        raise AccountError("This sign-in is not yours, or ended already")
    row.ended_at = now()
    session.add(row)
    people.note(session, "signed out", by.name, by=by.name)
    session.commit()


def change_password(session: Session, person: Person, old: str, new: str, keep: UUID | None) -> None:
    """Set another password and end every other sign-in; AccountError where the old one is wrong or the new one cannot be taken."""
    _throttle(session, person.name, "")
    if not person.password or not _hasher().verify(old, person.password):
        people.note(session, "refused", person.name)
        session.commit()
        raise AccountError("The password you have now is another")
    if why := password_refused(new, person.name):
        raise AccountError(why)
    person.password = _hasher().hash(new)
    session.add(person)
    people.end_sign_ins(session, person.id, but=keep)
    people.note(session, "password changed", person.name, by=person.name)
    session.commit()


def change_role(session: Session, person: Person, role: Role, by: Person) -> None:
    """Give somebody another role; AccountError where it is one's own, or a sample person's."""
    _may_change(person, by)
    person.role = role
    session.add(person)
    people.note(session, f"made {role.value}", person.name, by=by.name)
    session.commit()


def leave(session: Session, person: Person, by: Person, *, back: bool) -> None:
    """Somebody left the yard, or is back: signed out everywhere meanwhile, named in every log they wrote."""
    _may_change(person, by)
    person.ended_at = None if back else now()
    session.add(person)
    people.end_sign_ins(session, person.id)
    people.note(session, "came back" if back else "left", person.name, by=by.name)
    session.commit()


def _may_change(person: Person, by: Person) -> None:
    if person.sample:
        raise AccountError("Sample people stay as they are: begin a yard of your own with accounts (./run --accounts)")
    if person.id == by.id:
        raise AccountError("Another lead must do this: so the yard always has one")


@dataclass(frozen=True, slots=True)
class Done:
    """A line of the audit: when, who, on which job (0: on an account), what kind, and what of it."""

    at: datetime
    by: str
    job: int
    what: str
    of: str


def account_line(event: AccountEvent) -> Done:
    """What was done to an account, as a line of the audit."""
    return Done(event.at, event.by or event.name, 0, event.what, f"{event.name} {f'from {event.address}' if event.address else ''}".strip())


SAYS = ("typed", "text", "subject", "element", "item", "ending", "entry")
"""Where a line of a log says what it is about, the plainest first."""


def of_line(payload: dict[str, Any]) -> str:
    """What a line of a log is about, in its own words."""
    reading = payload.get("reading") or {}
    where = " to ".join(filter(None, (reading.get("red"), reading.get("black")))) or reading.get("branch") or ""
    said = next((payload[k] for k in SAYS if payload.get(k)), "")
    said = ", ".join(f"{k.replace('_', ' ')} {v}" for k, v in said.items()) if isinstance(said, dict) else str(said)
    return " ".join(filter(None, (where, said)))[:160]
