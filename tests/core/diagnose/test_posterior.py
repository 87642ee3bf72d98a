"""What is left, asked for by element."""

import numpy as np
import pytest

from iron_probe.core.diagnose.posterior import Posterior, Suspect


def left_of(**more: object) -> Posterior:
    given: dict[str, object] = {
        "suspects": (Suspect(element="fuse", p=0.4, mode="open", modes=(("open", 0.4),)),), "eliminated": (), "no_fault": 0.0, "off_sheet": 0.6,
        "unexplained": (), "contradictory": (), "found": None, "pair": None, "weights": np.ones(1),
    }  # fmt: skip
    return Posterior(**{**given, **more})  # type: ignore[arg-type]


def test_an_element_that_is_no_suspect_holds_nothing() -> None:
    left = left_of()
    assert (left.share("fuse"), left.share("bolt")) == (0.4, 0.0)


@pytest.mark.parametrize(
    ("beside", "off_sheet", "unexplained", "found"),
    [
        (0.9, 0.0, (), "bolt"),
        (0.5, 0.45, (), "bolt"),  # beside it or anywhere off the drawing, and nowhere rather
        (0.4, 0.55, (), None),
        (0.6, 0.1, (), None),
        (0.9, 0.0, (3,), None),  # a reading is to be taken again first
    ],
)
def test_what_lies_beside_is_found_with_what_lies_anywhere(
    beside: float, off_sheet: float, unexplained: tuple[int, ...], found: str | None
) -> None:
    left = left_of(beside=(("bolt", beside),), off_sheet=off_sheet, unexplained=unexplained, suspects=())
    assert left.found_beside == found
    assert left.settled is (found is not None)
