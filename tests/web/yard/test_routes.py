"""The Yard in the browser's hands: search, order, a deleted job brought back."""

from tests.conftest import Visitor


def test_a_search_finds_by_machine_and_keeps_what_was_typed(visitor: Visitor) -> None:
    found = visitor.get("/", params={"search": "van"}).text
    assert "Parcel van 11" in found and "Pool car 6" not in found and 'value="van"' in found
    assert visitor.get("/", params={"search": "\x00%_'"}).status_code == 200


def test_a_job_just_deleted_can_be_brought_back_from_the_yard(visitor: Visitor) -> None:
    visitor.submit("/jobs/102/delete")
    assert visitor.get("/jobs/102").status_code == 410
    assert "Bring job 102 back" in visitor.get("/", params={"deleted": 102}).text
    visitor.submit("/jobs/102/restore")
    assert visitor.get("/jobs/102").status_code == 200
