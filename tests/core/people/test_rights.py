"""Roles and what each may do."""

from iron_probe.core.people.rights import Right, Role


def test_each_role_may_what_the_one_before_it_may_and_more() -> None:
    may = [{right for right in Right if role.may(right)} for role in (Role.VIEWER, Role.TECHNICIAN, Role.LEAD)]
    assert may == [{Right.LOOK}, {Right.LOOK, Right.WORK}, {Right.LOOK, Right.WORK, Right.LEAD}]
