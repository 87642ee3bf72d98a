"""The yard itself: how its reports are headed, its mark, whether its experience counts."""

from sqlmodel import Session

from iron_probe.store.tables import YardRow


def own_yard(session: Session) -> YardRow:
    """The yard as its reports are headed; nameless until somebody names it."""
    return session.get(YardRow, 1) or YardRow()


def keep_yard(session: Session, name: str, address: str, *, experience: bool = False) -> None:
    """Name the yard, and say whether its experience counts; its mark stays."""
    session.merge(YardRow(name=name, address=address, experience=experience, mark=own_yard(session).mark))
    session.commit()


def keep_mark(session: Session, mark: bytes | None) -> None:
    """Keep the yard's mark, a JPEG; None takes it away."""
    row = session.get(YardRow, 1) or YardRow()
    row.mark = mark
    session.merge(row)
    session.commit()
