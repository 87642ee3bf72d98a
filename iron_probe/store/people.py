"""Tables of who works in the yard, where they are signed in, and what was done to accounts; and the questions asked of them."""

from collections.abc import Sequence
from datetime import datetime, timedelta
from uuid import UUID, uuid4

from sqlalchemy import BigInteger, Column, Enum, Identity, Index, func
from sqlmodel import Field, Session, SQLModel, col, select

from iron_probe.core.people.rights import Role
from iron_probe.store.tables import JobRow, LogEntry, moment, now

USED_EVERY = timedelta(minutes=5)
"""How exactly it is kept when a sign-in was last used: not every page is written down."""
LASTS, IDLE = timedelta(days=30), timedelta(days=7)
"""How long a sign-in lasts, and how long without being used."""


class Person(SQLModel, table=True):
    """Somebody who works in the yard. `name` is what stands in a log; `password` is argon2's hash, empty until a first one is set; a `sample`
    person belongs to the demo. One who left is `ended_at`, never deleted: the log names them."""

    id: UUID = Field(primary_key=True)
    number: int = Field(default=None, sa_column=Column(BigInteger, Identity(start=1), nullable=False, unique=True))
    name: str = Field(unique=True)
    role: Role = Field(
        sa_column=Column(Enum(Role, native_enum=False, length=20, values_callable=lambda roles: [r.value for r in roles]), nullable=False)
    )
    password: str = ""
    sample: bool = False
    made_at: datetime = Field(default_factory=now, sa_column=moment())
    ended_at: datetime | None = Field(default=None, sa_column=moment(needed=False))


class SignIn(SQLModel, table=True):
    """A browser that somebody signed in with; `token_hash` is of what its cookie holds."""

    __tablename__ = "sign_in"

    id: UUID = Field(primary_key=True)
    token_hash: str = Field(unique=True)
    person_id: UUID = Field(foreign_key="person.id", index=True)
    browser: str = ""
    made_at: datetime = Field(default_factory=now, sa_column=moment())
    used_at: datetime = Field(default_factory=now, sa_column=moment())
    ended_at: datetime | None = Field(default=None, sa_column=moment(needed=False))


class JoinLink(SQLModel, table=True):
    """A link by which somebody sets a password, once; `person_id` is empty for the yard's first lead."""

    __tablename__ = "join_link"

    key_hash: str = Field(primary_key=True)
    person_id: UUID | None = Field(default=None, foreign_key="person.id")
    until: datetime = Field(sa_column=moment())
    used_at: datetime | None = Field(default=None, sa_column=moment(needed=False))


class AccountEvent(SQLModel, table=True):
    """What was done to accounts: signed in, refused, a role changed. `name` is as it was typed, `address` where from."""

    __tablename__ = "account_event"
    __table_args__ = (Index("account_event_name", "what", "name", "at"), Index("account_event_address", "what", "address", "at"))

    seq: int = Field(default=None, sa_column=Column(BigInteger, Identity(), primary_key=True))
    at: datetime = Field(default_factory=now, sa_column=moment())
    what: str
    name: str = ""
    address: str = ""
    by: str = Field(default="", sa_column_kwargs={"server_default": ""})


def people(session: Session) -> Sequence[Person]:
    """Everybody, those who left last."""
    return session.exec(select(Person).order_by(col(Person.ended_at).is_not(None), col(Person.number)).limit(500)).all()


def person_named(session: Session, name: str) -> Person | None:
    """The person of a name, written large or small."""
    return session.exec(select(Person).where(func.lower(Person.name) == name.lower())).first()


def person_numbered(session: Session, number: int) -> Person | None:
    """The person of a number."""
    return session.exec(select(Person).where(col(Person.number) == number)).first() if 0 < number < 2**62 else None


def samples(session: Session) -> Sequence[Person]:
    """The demo's people, its lead first."""
    return session.exec(select(Person).where(col(Person.sample), col(Person.ended_at).is_(None)).order_by(col(Person.number))).all()


def sign_in_of(session: Session, token_hash: str) -> tuple[Person, SignIn] | None:
    """Who is signed in by a token, while that lasts."""
    at = now()
    found = session.exec(
        select(Person, SignIn).join(SignIn, col(SignIn.person_id) == col(Person.id)).where(
            col(SignIn.token_hash) == token_hash, col(SignIn.ended_at).is_(None), col(Person.ended_at).is_(None),
            col(SignIn.made_at) > at - LASTS, col(SignIn.used_at) > at - IDLE,
        )
    ).first()  # fmt: skip
    return (found[0], found[1]) if found else None


def sign_ins_of(session: Session, person_id: UUID) -> Sequence[SignIn]:
    """Where somebody is signed in, newest first."""
    query = select(SignIn).where(col(SignIn.person_id) == person_id, col(SignIn.ended_at).is_(None), col(SignIn.used_at) > now() - IDLE)
    return session.exec(query.order_by(col(SignIn.made_at).desc()).limit(100)).all()


def end_sign_ins(session: Session, person_id: UUID, but: UUID | None = None) -> None:
    """End all of somebody's sign-ins, but one."""
    for row in session.exec(select(SignIn).where(col(SignIn.person_id) == person_id, col(SignIn.ended_at).is_(None))).all():
        if row.id != but:
            row.ended_at = now()
            session.add(row)


def refused_since(session: Session, since: datetime, *, name: str = "", address: str = "") -> tuple[int, datetime | None]:
    """How often a sign-in was refused to a name, or to an address, since the last that was not, and when last."""
    mine = func.lower(AccountEvent.name) == name.lower() if name else col(AccountEvent.address) == address
    last_in = session.exec(select(func.max(AccountEvent.at)).where(mine, col(AccountEvent.what) == "signed in")).one()
    count, last = session.exec(
        select(func.count(), func.max(AccountEvent.at)).where(
            mine, col(AccountEvent.what) == "refused", col(AccountEvent.at) > max(since, last_in or since)
        )
    ).one()
    return count, last


def note(session: Session, what: str, name: str = "", address: str = "", by: str = "") -> None:
    """Write down what was done to accounts."""
    session.add(AccountEvent(what=what, name=name[:80], address=address[:60], by=by[:80]))


def join_link(session: Session, key_hash: str) -> JoinLink | None:
    """A link that may still be used, held until the transaction ends."""
    query = select(JoinLink).where(col(JoinLink.key_hash) == key_hash, col(JoinLink.used_at).is_(None), col(JoinLink.until) > now())
    return session.exec(query.with_for_update()).first()


def any_lead(session: Session) -> bool:
    """Whether somebody with a password leads the yard."""
    query = select(func.count()).select_from(Person).where(
        col(Person.role) == Role.LEAD, col(Person.password) != "", col(Person.ended_at).is_(None)
    )  # fmt: skip
    return session.exec(query).one() > 0


def account_events(session: Session, before: int | None, most: int) -> Sequence[AccountEvent]:
    """What was done to accounts, newest first."""
    query = select(AccountEvent).order_by(col(AccountEvent.seq).desc()).limit(most)
    return session.exec(query.where(col(AccountEvent.seq) < before) if before else query).all()


def lines_of_all(session: Session, who: str, before: int | None, most: int) -> Sequence[tuple[LogEntry, int]]:
    """Lines of every job's log with the job's number, newest first; of one person where one is named."""
    query = (
        select(LogEntry, JobRow.number).join(JobRow, col(JobRow.id) == col(LogEntry.job_id)).order_by(col(LogEntry.seq).desc()).limit(most)
    )
    if who:
        query = query.where(col(LogEntry.by) == who)
    if before:
        query = query.where(col(LogEntry.seq) < before)
    return [(line, number) for line, number in session.exec(query).all()]


def fresh_person(name: str, role: Role, *, sample: bool = False) -> Person:
    """A person not kept yet."""
    return Person(id=uuid4(), name=name, role=role, sample=sample)
