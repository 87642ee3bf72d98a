"""Two bars and a mark on one scale."""

import pytest

from iron_probe.core.draw.before_after import ROOM, before_after


def test_the_greatest_nearly_fills_the_scale_and_the_others_keep_their_proportion() -> None:
    drawn = before_after(2.0, -0.1, 0.4)
    assert drawn.before == pytest.approx(1 / ROOM)
    assert drawn.after == pytest.approx(drawn.before / 20) and drawn.most == pytest.approx(drawn.before / 5)
    assert before_after(0.0, 0.0, 0.0).before == 0.0
