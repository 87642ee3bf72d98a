"""What is left, asked for by element."""

import pytest

from iron_probe.core.diagnose.posterior import Suspect
from tests.left import left_of

FUSE = (Suspect(element="fuse", p=0.4, mode="open", modes=(("open", 0.4),)),)


def test_an_element_that_is_no_suspect_holds_nothing() -> None:
    left = left_of(suspects=FUSE)
    assert (left.share("fuse"), left.share("bolt")) == (0.4, 0.0)


def test_what_leads_is_weighed_without_what_is_set_aside() -> None:
    assert left_of(suspects=FUSE).lead == pytest.approx(0.4)
    assert left_of(suspects=FUSE, set_aside=0.5).lead == pytest.approx(0.8)
    assert left_of().lead == 0


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
    left = left_of(beside=(("bolt", beside),), off_sheet=off_sheet, unexplained=unexplained)
    assert left.found_beside == found
    assert left.settled is (found is not None)


@pytest.mark.parametrize(("no_fault", "untested", "stands", "sound"), [
    (0.8, 0.0, (), True), (0.7, 0.0, (), False), (0.7, 0.15, (), True), (0.7, 0.15, ("crank",), False), (0.1, 0.15, (), False),
])  # fmt: skip
def test_a_sound_machine_is_measured_against_what_the_readings_could_tell(
    no_fault: float, untested: float, stands: tuple[str, ...], sound: bool
) -> None:
    assert left_of(no_fault=no_fault, untested=untested, stands=stands).sound is sound
