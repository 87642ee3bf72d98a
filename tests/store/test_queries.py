"""The Yard's pages and search."""

import pytest
from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.store import queries
from iron_probe.store.queries import Sort


@pytest.mark.parametrize("sort", Sort)
def test_pages_follow_each_other_without_gap_or_double(yard: Engine, sort: Sort, monkeypatch: pytest.MonkeyPatch) -> None:
    with Session(yard) as session:
        whole = [r.number for r in queries.yard_page(session, sort)]
        monkeypatch.setattr(queries, "PAGE", 4)
        seen: list[int] = []
        after: tuple[object, ...] = ()
        while True:
            rows = queries.yard_page(session, sort, after)
            page = rows[:4]
            seen += [r.number for r in page]
            if len(rows) <= 4:
                break
            last = page[-1]
            after = {
                Sort.STATE: (last.closed, last.number), Sort.LAST: (last.last_at, last.number),
                Sort.MACHINE: (last.machine.lower(), last.number), Sort.NUMBER: (last.number,),
            }[sort]  # fmt: skip
        assert seen == whole and len(set(seen)) == len(seen)


def test_search_takes_a_part_of_the_name_a_number_and_no_wildcard(yard: Engine) -> None:
    with Session(yard) as session:
        rows = queries.yard_page(session, Sort.NUMBER)
        one = rows[3]
        assert one.number in [r.number for r in queries.yard_page(session, Sort.NUMBER, search=one.machine[2:6].upper())]
        assert one.number in [r.number for r in queries.yard_page(session, Sort.NUMBER, search=str(one.number))]
        assert not queries.yard_page(session, Sort.NUMBER, search="%")
        assert not queries.yard_page(session, Sort.NUMBER, search="'; drop table job")
