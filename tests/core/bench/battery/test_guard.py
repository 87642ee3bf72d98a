"""What condemns a battery, and what does not."""

import pytest

from iron_probe.core.bench.battery.guard import MadeTest, why_not_condemned
from iron_probe.core.bench.judged import Verdict


@pytest.mark.parametrize(
    ("tests", "why"),
    [
        ([("rest", Verdict.BAD, 0.2)], "One deep discharge condemns nothing".lower()),
        ([("rest", Verdict.GOOD, 0.9), ("crank", Verdict.BAD, 0.9)], "no test that judges it"),
        ([("rest", Verdict.GOOD, 0.9), ("load", Verdict.BAD, 0.9)], None),
        ([("load", Verdict.BAD, 0.3)], "one deep discharge condemns nothing"),
        ([("capacity", Verdict.BAD, None)], "no test that judges it"),
        ([("capacity", Verdict.BAD, 0.33)], "one deep discharge condemns nothing"),
        ([("capacity", Verdict.BAD, 0.9)], None),
        ([("accepted", Verdict.BAD, None)], None),
    ],
)
def test_what_condemns(tests: list[tuple[str, Verdict, float]], why: str | None) -> None:
    told = why_not_condemned([MadeTest(kind=k, verdict=v, charge=c) for k, v, c in tests])
    assert told is None if why is None else told is not None and why in told.lower()


def test_a_lost_cell_condemns_by_itself() -> None:
    assert why_not_condemned([MadeTest(kind="rest", verdict=Verdict.BAD, charge=None, cell_lost=True)]) is None
