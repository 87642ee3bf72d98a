"""The yard's own name, as its reports are headed."""

from tests.conftest import Visitor


def test_reports_are_headed_with_the_yard_and_too_long_a_name_is_refused_and_kept(visitor: Visitor) -> None:
    assert "Cinder Quay fleet yard" in visitor.get("/jobs/101/report").text
    visitor.submit("/yard", name="South quay shed", address="Pier 2")
    assert "South quay shed" in visitor.get("/jobs/101/report").text and "Pier 2" in visitor.get("/yard").text
    long = visitor.submit("/yard", name="x" * 300, address="")
    assert visitor.last.status_code == 422 and "x" * 300 in long
    visitor.submit("/yard", name="", address="")
    assert "Name the yard" in visitor.get("/jobs/101/report").text
