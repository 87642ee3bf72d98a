"""A few figures one after the other as a line: places in a small frame, y down."""

from collections.abc import Sequence

WIDTH, HEIGHT, EDGE = 150.0, 34.0, 5.0


def spark(values: Sequence[float]) -> tuple[tuple[float, float], ...]:
    """Places of figures, oldest left, evenly apart; the least lies at the bottom, and figures that are all the same in the middle."""
    if not values:
        return ()
    low, high = min(values), max(values)
    step = (WIDTH - 2 * EDGE) / max(len(values) - 1, 1)
    reach = HEIGHT - 2 * EDGE
    return tuple((EDGE + k * step, EDGE + reach * ((high - v) / (high - low) if high > low else 0.5)) for k, v in enumerate(values))
