"""The strip of volts and amps while the engine runs."""

import pytest

from iron_probe.core.draw.trend import frame, trend


def test_points_keep_their_order_and_their_place_between_the_ends() -> None:
    strip = trend([(60, 14.2), (0, 12.4), (120, 30.0)], [(60, 45)], (13.5, 14.7), 90, 12)
    assert strip is not None
    assert [x for x, _ in strip.volts] == [0, 0.5, 1]
    assert strip.volts[0][1] > strip.volts[1][1] > strip.volts[2][1] == 0  # beyond the scale stands at its end
    assert strip.amps == ((0.5, 0.5),)
    assert strip.band[0] < strip.volts[1][1] < strip.band[1]


@pytest.mark.parametrize(("volts", "amps"), [([], []), ([(5, 14.0)], []), ([(5, 14.0)], [(5, 20.0)])])
def test_one_moment_is_no_trend(volts: list[tuple[float, float]], amps: list[tuple[float, float]]) -> None:
    assert trend(volts, amps, (13.5, 14.7), 90, 12) is None


def test_24_v_is_drawn_on_the_same_scale() -> None:
    twelve = trend([(0, 12.4), (9, 14.2)], [], (13.5, 14.7), 90, 12)
    twenty_four = trend([(0, 24.8), (9, 28.4)], [], (27.0, 29.4), 90, 24)
    assert twelve is not None
    assert twenty_four is not None
    for a, b in zip(twelve.volts, twenty_four.volts, strict=True):
        assert a == pytest.approx(b)


def test_a_frame_yet_to_be_filled_is_that_of_the_trend() -> None:
    strip = trend([(0, 24.8), (9, 28.4)], [], (27.0, 29.4), 90, 24)
    empty = frame((27.0, 29.4), 90, 24)
    assert strip is not None and empty.band == strip.band and empty.most_a == strip.most_a
    assert strip.volts[1][1] == pytest.approx(1 - (28.4 - empty.low_v) / (empty.high_v - empty.low_v))
