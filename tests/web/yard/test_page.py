"""The Yard's pages, whatever the address says."""

import pytest
from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.store.queries import Sort
from iron_probe.web.yard import page
from iron_probe.web.yard.page import yard_page


@pytest.mark.parametrize("sort", [*Sort, "nonsense"])
def test_the_cursor_of_a_page_leads_to_the_next(yard: Engine, sort: str, monkeypatch: pytest.MonkeyPatch) -> None:
    with Session(yard) as session:
        whole = [r.number for r in yard_page(session, sort, "", "", 0).rows]
        monkeypatch.setattr(page, "PAGE", 5)
        first = yard_page(session, sort, "", "", 0)
        second = yard_page(session, sort, first.after, "", 0)
        assert [r.number for r in (*first.rows, *second.rows)] == whole[:10]
        assert first.first and not second.first


@pytest.mark.parametrize("after", ["!!!", "e30=", "WzFd", "W251bGwsIDFd", "a" * 5000])
def test_a_broken_cursor_begins_at_the_top(yard: Engine, after: str) -> None:
    with Session(yard) as session:
        assert yard_page(session, "state", after, "", 0).rows
