"""What was worked out once and is kept: bounded, the least used going first, with a count of how often it served."""

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Generic, TypeVar

K = TypeVar("K", bound=Hashable)
V = TypeVar("V")


class Kept(Generic[K, V]):
    """At most `most` values by key. Keys say all that a value hangs on: content hashes and conditions, never which object it was.

    Two threads that ask for the same key at once make it once.
    """

    every: "list[Kept[Hashable, object]]" = []
    """All of them, for the measure of how well they serve."""

    def __init__(self, name: str, most: int) -> None:
        self.name, self.most = name, most
        self.hits = self.misses = self.evicted = 0
        self._values: OrderedDict[K, V] = OrderedDict()
        self._making: dict[K, threading.Lock] = {}
        self._guard = threading.Lock()
        Kept.every.append(self)  # type: ignore[arg-type]

    def __len__(self) -> int:
        return len(self._values)

    def get(self, key: K, make: Callable[[], V]) -> V:
        """The value of a key, made now if it is not there."""
        with self._guard:
            if key in self._values:
                self.hits += 1
                self._values.move_to_end(key)
                return self._values[key]
            making = self._making.setdefault(key, threading.Lock())
        with making:
            with self._guard:
                if key in self._values:
                    self.hits += 1
                    return self._values[key]
            value = make()
            with self._guard:
                self.misses += 1
                self._values[key] = value
                self._making.pop(key, None)
                while len(self._values) > self.most:
                    self._values.popitem(last=False)
                    self.evicted += 1
            return value

    def forget(self, key: K) -> None:
        """Let a value go."""
        with self._guard:
            self._values.pop(key, None)

    def clear(self) -> None:
        """Let all go."""
        with self._guard:
            self._values.clear()
