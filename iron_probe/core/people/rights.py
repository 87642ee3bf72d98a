"""Roles and rights: a viewer looks, a technician works, a lead also settles who works here and reads the audit."""

from enum import StrEnum


class Right(StrEnum):
    """What somebody may do."""

    LOOK = "look"
    WORK = "work"
    LEAD = "lead"


class Role(StrEnum):
    """What somebody is in the yard."""

    VIEWER = "viewer"
    TECHNICIAN = "technician"
    LEAD = "lead"

    def may(self, right: Right) -> bool:
        """Whether this role has a right."""
        return right in RIGHTS[self]


RIGHTS = {
    Role.VIEWER: frozenset({Right.LOOK}),
    Role.TECHNICIAN: frozenset({Right.LOOK, Right.WORK}),
    Role.LEAD: frozenset(Right),
}
