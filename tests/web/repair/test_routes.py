"""Verdicts after repairs."""

import html

from tests.conftest import Visitor


def test_a_verdict_under_another_fault_is_void_and_joint_cures_prove_none(working: Visitor) -> None:
    working.submit("/jobs/102/condemn", element="starter", reason="sounded tired")
    working.submit("/jobs/102/repairs", text="isolator replaced", elements="isolator")
    assert "that verdict is void" in working.get("/jobs/102/repair").text
    working.submit("/jobs/102/repairs", text="battery replaced too", elements="battery")
    report = html.unescape(working.get("/jobs/102/report").text)
    assert "none of them alone is proven" in report
    assert "void, as another fault was present" in report
