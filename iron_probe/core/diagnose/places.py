"""Readings grouped by the place they were taken at: what was read twice there is one reading read twice."""

from collections import defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from iron_probe.core.diagnose.evidence import Instrument, Reading

Key = tuple[str, ...]


@dataclass(frozen=True, slots=True, eq=False)
class PlaceRead:
    """Readings at one place, taken as one: the first in a fixed order, its values, their numbers, and all a fit hangs on as a `key`; `assumed` where nobody
    said it."""

    reading: Reading
    values: tuple[float, ...]
    numbers: tuple[int, ...]
    key: tuple[Key, float, tuple[float, ...], bool]
    assumed: bool = False

    @property
    def again(self) -> bool:
        """Whether more than one look said the same."""
        return len(self.numbers) > 1


def _each(readings: Sequence[Reading], by_attempt: bool) -> Iterator[tuple[int, Reading, bool]]:
    """Every reading with its number, whether it is assumed, and what was heard beside it as a reading of its own. Of a crank of which nothing is said, `by_attempt`, that it did
    what it did before: who reads a meter notes what is new, and so it is as good as told."""
    listened = {(r.state, r.crank) for r in readings if r.did}
    before: dict[str, str] = {}
    for number, r in enumerate(readings, start=1):
        yield number, r, False
        said = r.did.value if r.did else None
        if r.heard:
            yield number, Reading(instrument=Instrument.EYES, state=r.state, word=r.heard.value, crank=r.crank, told=r.told), False
        elif by_attempt and r.crank and (r.state, r.crank) not in listened and r.state in before and not (r.told or r.conditioned):
            listened.add((r.state, r.crank))
            yield number, Reading(instrument=Instrument.EYES, state=r.state, word=before[r.state], crank=r.crank, told=True), True
        if said:
            before[r.state] = said


def places_of(readings: Sequence[Reading], *, by_attempt: bool = False) -> list[PlaceRead]:
    """The places of some readings, numbered from 1 in their order; what cannot count alike (told, disturbed, out of range) stands apart, and
    `by_attempt` what was read at another crank."""
    grouped: dict[tuple[int, Key], list[tuple[Reading, int, bool]]] = defaultdict(list)
    for number, r, assumed in _each(readings, by_attempt):
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
            f"{r.parted} {r.jumpered} {r.aided}" if r.conditioned else "",
            "" if r.value is not None else r.word or "",
        )
        grouped[r.crank or 0 if by_attempt else 0, key].append((r, number, assumed))
    places = []
    for (_, place), found in sorted(grouped.items()):
        values = tuple(sorted(r.value for r, *_ in found if r.value is not None))
        first, _, assumed = found[0]
        held_by = (place, first.resolution, values, len(found) > 1)
        places.append(PlaceRead(first, values, tuple(n for _, n, _ in found), held_by, assumed))
    return places
