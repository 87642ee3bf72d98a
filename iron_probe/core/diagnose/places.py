"""Readings grouped by the place they were taken at: what was read twice there is one reading read twice."""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass

from iron_probe.core.diagnose.evidence import Reading

Key = tuple[str, ...]


@dataclass(frozen=True, slots=True, eq=False)
class PlaceRead:
    """Readings at one place, taken as one: the first in a fixed order, its values, their numbers, and all a fit hangs on as a `key`."""

    reading: Reading
    values: tuple[float, ...]
    numbers: tuple[int, ...]
    key: tuple[Key, float, tuple[float, ...]]


def places_of(readings: Sequence[Reading]) -> list[PlaceRead]:
    """The places of some readings, numbered from 1 in their order; what cannot count alike (told, disturbed, out of range) stands apart."""
    grouped: dict[Key, list[tuple[Reading, int]]] = defaultdict(list)
    for number, r in enumerate(readings, start=1):
        key = (
            r.instrument.value,
            r.red or "",
            r.black or "",
            r.branch or "",
            r.state,
            r.bound.value,
            str(r.told),
            str(r.disturbed),
            str(r.unsteady),
            "" if r.value is not None else r.word or "",
        )
        grouped[key].append((r, number))
    places = []
    for place, found in sorted(grouped.items()):
        values = tuple(sorted(r.value for r, _ in found if r.value is not None))
        places.append(PlaceRead(found[0][0], values, tuple(n for _, n in found), (place, found[0][0].resolution, values)))
    return places
