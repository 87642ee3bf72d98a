"""A meter asked through somebody else: the right answer to each question, none that comes too late, silence told as such."""

import pytest

from iron_probe.core.meters.measured import Measured
from iron_probe.instruments import relayed
from iron_probe.instruments.relayed import RelayedMeter
from iron_probe.instruments.scpi import GarbledError, SilentError


def held(*answers: tuple[int, str]) -> RelayedMeter:
    """One whose holder answers each question with all of these, by how many questions ago."""
    meter = RelayedMeter(lambda number, words: [meter.heard(number - ago, said) for ago, said in answers] and None)
    return meter


def test_a_figure_comes_back_and_over_range_is_none() -> None:
    assert held((0, "+1.261E+01")).read(Measured.DC_VOLTS) == pytest.approx(12.61)
    assert held((0, "9.9E37")).read(Measured.OHMS) is None


def test_an_answer_that_comes_too_late_is_nobodys() -> None:
    assert held((1, "11.1"), (0, "12.2")).read(Measured.DC_VOLTS) == pytest.approx(12.2)


def test_silence_and_garbage_are_told(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(relayed, "ANSWERS_WITHIN_MS", 0)
    monkeypatch.setattr(relayed, "ROUND_TRIP_S", 0.01)
    with pytest.raises(SilentError, match="serial port"):
        held().read(Measured.DC_VOLTS)
    with pytest.raises(GarbledError, match="no figure"):
        held((0, "hello")).read(Measured.DC_VOLTS)


def test_nobody_waits_for_whoever_has_left() -> None:
    meter = held()
    meter.leave()
    with pytest.raises(SilentError, match="has left"):
        meter.ask("*IDN?")
