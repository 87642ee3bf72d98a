"""What a job comes to for who pays for it."""

from iron_probe.core.bench.retest import compare
from iron_probe.core.job.outcome import FIGURES, spared, told_figures
from iron_probe.machines import load_sheet


def test_the_figures_that_a_repair_moved_most_are_told_first_and_no_more_than_fit_a_page() -> None:
    small = compare("a", "b", "crank", 0.5, 0.1, 0.4)
    large = compare("c", "d", "crank", 2.5, 0.1, 0.4)
    good = [compare(f"p{k}", "m", "crank", 0.1, 0.1, 0.4) for k in range(3)]
    owed = compare("e", "f", "crank", 3.0, None, 0.4)
    assert told_figures([*good, small, owed, large])[:2] == (large, small)
    assert len(told_figures([*good, small, owed, large])) == FIGURES


def test_dear_parts_that_were_cleared_and_not_mended_are_spared() -> None:
    bus = load_sheet("crew-minibus")
    cleared = ["strap-block", "battery", "starter", "solenoid"]
    assert spared(bus, cleared, ["solenoid"]) == ("battery", "starter")
