"""From what is known of a job to the step it takes now: the trade's order, the best value inside a leg of it, and an end."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

from iron_probe.core.circuit.elements import Relay, Solenoid
from iron_probe.core.circuit.heavy_path import heavy_path
from iron_probe.core.circuit.network import SheetKey, network_of
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.diagnose.told_test import NextTest
from iron_probe.core.guide.route import ROUTES, Concern, Leg, route
from iron_probe.core.guide.step import Act, Guide, GuideStep, How, Why
from iron_probe.core.solve.solution import Symptom

IT_CLICKS = (Symptom.CLICK, Symptom.CHATTER, Symptom.NO_TURN, Symptom.SLOW)
"""Symptoms with which the command has reached the starter, or nearly: it is not looked for first."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Facts:
    """What a guide goes by: readings that count since the last repair; after a repair what is `owed` and whether all that was repeated `passed`;
    the engine's `tests` and the `numbers` of the readings it holds, what it found `at_fault` and `how`, and whether all is `sound`; the whole or half way that the drop work asks for `next_way`; what a drain or
    fuse bench `told`."""

    sheet: Sheet
    concern: Concern
    symptom: str
    readings: Sequence[Reading]
    closed: bool = False
    repaired: bool = False
    owed: Sequence[tuple[str, str, str]] = ()
    passed: bool = False
    tests: Sequence[NextTest] = ()
    numbers: Sequence[int] = ()
    at_fault: Sequence[str] = ()
    how: How = How.PART
    sound: bool = False
    next_way: tuple[str, str] | None = None
    battery_tested: bool = False
    told: str = ""


def guide(known: Facts) -> Guide:
    """The route of a job and its step now."""
    step = _step(known)
    needless = (Leg.COMMAND,) if known.symptom in IT_CLICKS else ()
    return Guide(concern=known.concern, route=route(known.concern, step.leg, legs_done(known), needless), step=step)


def _step(known: Facts) -> GuideStep:
    if known.closed:
        return GuideStep(act=Act.CLOSED, leg=Leg.CLOSE, why=Why.ENDED)
    if known.at_fault:
        return GuideStep(act=Act.REPAIR, leg=Leg.REPAIR, why=Why.FOUND, parts=tuple(known.at_fault), how=known.how)
    if known.repaired and (after := _after_repair(known)):
        return after
    if known.concern is Concern.DRAIN:
        return GuideStep(act=Act.WATCH, leg=Leg.SPLIT if known.told else Leg.TOTAL, why=Why.OTHER_WORK, told=known.told)
    if known.concern is Concern.FUSE:
        return GuideStep(act=Act.FEEDS, leg=Leg.FEEDS, why=Why.OTHER_WORK, told=known.told)
    doubted = next((t for t in known.tests if t.again is not None), None)
    if doubted:  # what fits nothing is taken again before anything is built on it
        return _tested(known, doubted)
    return _first_things(known) or _next_test(known)


def _after_repair(known: Facts) -> GuideStep | None:
    """What a repair still owes: the same probes in the same state, then what was complained of; then the job is at its end. None where something read
    since is still unexplained."""
    if known.owed:
        red, black, state = known.owed[0]
        reading = Reading(red=red, black=black, state=state, value=0.0)
        return GuideStep(act=Act.RETEST, leg=Leg.RETEST, why=Why.SAME_PROBES, reading=reading, owed=len(known.owed))
    crank = known.sheet.cranking_state()
    heard = [r.did for r in known.readings if r.state == crank and r.did]
    if known.concern is Concern.STARTING and crank and not heard:
        reading = Reading(instrument=Instrument.EYES, state=crank, word=Symptom.CRANKS.value)
        return GuideStep(act=Act.TRY, leg=Leg.RETEST, why=Why.COMPLAINT_AGAIN, reading=reading)
    well = known.passed and (known.concern is not Concern.STARTING or not heard or heard[-1] is Symptom.CRANKS)
    return GuideStep(act=Act.CLOSE, leg=Leg.CLOSE, why=Why.PASSED) if well or known.sound else None


def _first_things(known: Facts) -> GuideStep | None:
    """The battery at rest, then its posts in the state that is complained of: a weak battery makes every later figure lie."""
    sheet, done = known.sheet, legs_done(known)
    under_load = Leg.POSTS if known.concern is Concern.STARTING else Leg.OUTPUT
    loaded = sheet.cranking_state() if known.concern is Concern.STARTING else next(iter(reversed(sheet.running_states())), None)
    for leg, state, why in ((Leg.BATTERY, still_state(sheet), Why.SOURCE_FIRST), (under_load, loaded, Why.UNDER_LOAD)):
        if leg not in done and state:
            return GuideStep(act=Act.MEASURE, leg=leg, why=why, reading=Reading(red=sheet.plus, black=sheet.minus, state=state, value=0.0))
    return None


def _next_test(known: Facts) -> GuideStep:
    """The engine's test, or while there is none the next way of the drop work; an end where nothing is wrong or nothing more would tell."""
    sheet, crank = known.sheet, known.sheet.cranking_state()
    if known.tests and not known.sound:
        return _tested(known, known.tests[0])
    if known.sound:
        return GuideStep(act=Act.CLOSE, leg=Leg.CLOSE, why=Why.NO_FAULT)
    if known.next_way and crank and known.concern is Concern.STARTING:
        reading = Reading(red=known.next_way[0], black=known.next_way[1], state=crank, value=0.0)
        return GuideStep(act=Act.MEASURE, leg=leg_of(sheet, known.concern, reading), why=Why.WHOLE_WAY, reading=reading)
    return GuideStep(act=Act.LOOK, leg=Leg.PART, why=Why.NOTHING_LEFT, told=known.told)


def _tested(known: Facts, test: NextTest) -> GuideStep:
    leg = Leg.PART if test.closing else leg_of(known.sheet, known.concern, test.reading)
    again = None if test.again is None else known.numbers[test.again - 1]
    return GuideStep(act=Act.MEASURE, leg=leg, why=Why.TELLS_MOST, reading=test.reading, test=test, again=again)


def still_state(sheet: Sheet) -> str:
    """The first state in which nothing turns: a battery's volts at rest are read there."""
    return next((s for s, d in sheet.states.items() if not d.cranking and not d.rpm), next(iter(sheet.states)))


def legs_done(known: Facts) -> frozenset[Leg]:
    """Legs of the route that something was read for."""
    done = {leg_of(known.sheet, known.concern, r) for r in known.readings if r.instrument is not Instrument.EYES and not r.conditioned}
    if known.battery_tested:
        done.add(Leg.BATTERY)
    if known.repaired:
        done.add(Leg.REPAIR)
        if not known.owed and known.passed:
            done.add(Leg.RETEST)
    return frozenset(done) & frozenset(ROUTES[known.concern])


def leg_of(sheet: Sheet, concern: Concern, reading: Reading) -> Leg:
    """The leg of the route that a reading belongs to, by where it is taken and in which state."""
    state = sheet.state(reading.state)
    leads = {reading.red, reading.black}
    if leads == {sheet.plus, sheet.minus} or reading.instrument in (Instrument.TESTER, Instrument.CAPACITY, Instrument.LOAD):
        return Leg.POSTS if state.cranking else Leg.OUTPUT if state.rpm else Leg.BATTERY
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
