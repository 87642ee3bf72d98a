"""A solver that never answers is ended, and said to have ended."""

import pytest

from iron_probe.bay import watched
from iron_probe.bay.watched import WatchedSpice
from iron_probe.rig.errors import RigError

DIVIDER = ["V1 n1 0 12", "R1 n1 n2 1k", "R2 n2 0 1k"]


def test_what_answers_in_its_time_is_let_be(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(watched, "HANGS_S", 30.0)
    with WatchedSpice() as spice:
        assert spice.operating_point(DIVIDER)["n2"] == pytest.approx(6.0)


def test_what_never_answers_is_ended(monkeypatch: pytest.MonkeyPatch) -> None:
    with WatchedSpice() as spice:
        monkeypatch.setattr(watched, "HANGS_S", 0.2)
        with pytest.raises(RigError, match="ended by itself"):
            spice.trace(DIVIDER, ["V(n2)"], 1e-9, 1e3)
