"""Where on a machine each leg of a route is worked: its places, by what is looked for there, and the readings that take a whole way at once."""

from dataclasses import dataclass
from functools import lru_cache

from iron_probe.core.circuit.elements import Relay, Solenoid
from iron_probe.core.circuit.heavy_path import heavy_path
from iron_probe.core.circuit.network import SheetKey, network_of
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.guide.route import ROUTES, Concern, Leg


def still_state(sheet: Sheet) -> str:
    """The first state in which nothing turns: a battery's volts at rest are read there."""
    return next((s for s, d in sheet.states.items() if not d.cranking and not d.rpm), next(iter(sheet.states)))


def posts_in(sheet: Sheet, state: str) -> Reading:
    """Volts at the battery's posts in a state, to be taken."""
    return Reading(red=sheet.plus, black=sheet.minus, state=state, value=0.0)


def leg_of(sheet: Sheet, concern: Concern, reading: Reading) -> Leg:
    """The leg of the concern's route that a reading belongs to, by where it is taken and in which state."""
    if concern is Concern.FUSE:
        return Leg.HALVES
    state = sheet.state(reading.state)
    leads = {reading.red, reading.black}
    whole = (Instrument.TESTER, Instrument.CAPACITY, Instrument.LOAD, Instrument.CLAMP)
    if leads == {sheet.plus, sheet.minus} or reading.instrument in whole:
        at_posts = Leg.POSTS if state.cranking else Leg.OUTPUT if state.rpm else Leg.BATTERY
        return at_posts if at_posts in ROUTES[concern] else Leg.BATTERY
    at = _places(SheetKey(sheet))
    if concern is Concern.CHARGING:
        if leads & at.small:
            return Leg.WIRES
        return Leg.WAYS if leads & at.output or leads <= at.supply | at.ground or leads & {sheet.plus, sheet.minus} else Leg.PART
    if leads <= at.supply:
        return Leg.SUPPLY
    if leads <= at.ground:
        return Leg.GROUND
    return Leg.COMMAND if leads & at.command or leads <= at.aside else Leg.PART


def whole_ways(sheet: Sheet) -> dict[Leg, Reading]:
    """The readings, to be taken while it is cranked, that clear or accuse a leg of starting work whole: what the key commands at the starter, and the
    drop of the way to it and of the way back. Empty on a machine that has nothing to crank."""
    crank, network = sheet.cranking_state(), network_of(sheet)
    path = heavy_path(network)
    if crank is None or not path.cranked:
        return {}
    ends = {
        Leg.SUPPLY: (path.supply_points[0], path.supply_points[-1]),
        Leg.GROUND: (path.ground_points[0], path.ground_points[-1]),
    }
    switched = {name.partition(".")[0] for name in path.supply}
    closes = next((e for e in reversed(sheet.elements) if e.id in switched and isinstance(e, Relay | Solenoid)), None)
    if closes is not None:
        ends[Leg.COMMAND] = (closes.s, closes.case) if isinstance(closes, Solenoid) else closes.coil
    return {leg: Reading(red=red, black=black, state=crank, value=0.0) for leg, (red, black) in ends.items()}


@dataclass(frozen=True, slots=True)
class _Places:
    """Points of a sheet by what is looked for there: along the heavy path, where the starter is commanded, aside of both, and at what charges."""

    supply: frozenset[str]
    ground: frozenset[str]
    command: frozenset[str]
    aside: frozenset[str]
    output: frozenset[str]
    small: frozenset[str]


@lru_cache(maxsize=256)
def _places(key: SheetKey) -> _Places:
    sheet, network = key.sheet, network_of(key.sheet)
    heavy = heavy_path(network)
    supply, ground = frozenset(heavy.supply_points), frozenset(heavy.ground_points)
    commanded = [(e.s,) if isinstance(e, Solenoid) else e.coil for e in sheet.elements if isinstance(e, Relay | Solenoid)]
    output = frozenset(p for g in network.generators for p in (g.element.b, g.element.case))
    return _Places(
        supply=supply,
        ground=ground,
        command=frozenset(p for points in commanded for p in points),
        aside=frozenset(sheet.points) - supply - ground,
        output=output,
        small=frozenset(p for g in network.generators for p in g.element.points()) - output,
    )
