"""What is worked out once: once even when two ask together, bounded, forgotten when told."""

import threading
from concurrent.futures import ThreadPoolExecutor

from iron_probe.core.kept import Kept


def test_two_that_ask_together_make_it_once() -> None:
    kept: Kept[str, int] = Kept("a test", 4)
    made, gate = [], threading.Barrier(4)

    def make() -> int:
        made.append(1)
        return 7

    def ask(_: int) -> int:
        gate.wait(5)
        return kept.get("key", make)

    with ThreadPoolExecutor(4) as pool:
        assert list(pool.map(ask, range(4))) == [7] * 4
    assert (len(made), kept.misses, kept.hits) == (1, 1, 3)


def test_the_least_used_goes_first() -> None:
    kept: Kept[int, int] = Kept("a test", 2)
    for key in (1, 2, 1, 3):
        kept.get(key, lambda key=key: key)  # type: ignore[misc]
    assert (kept.get(1, lambda: 99), kept.get(2, lambda: 99), kept.evicted) == (1, 99, 2)
    kept.forget(1)
    assert kept.get(1, lambda: 98) == 98
