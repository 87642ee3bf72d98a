"""From what is known of a job to the step it takes now: the trade's order, the best value inside a leg of it, and an end."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.evidence import BY_ITSELF, Instrument, Reading
from iron_probe.core.diagnose.told_test import NextTest
from iron_probe.core.guide.drain_steps import DrainFacts, drain_step
from iron_probe.core.guide.places import leg_of, posts_in, still_state, whole_ways
from iron_probe.core.guide.route import ROUTES, Concern, Leg, route
from iron_probe.core.guide.step import Act, Guide, GuideStep, How, Why
from iron_probe.core.solve.solution import Symptom

IT_CLICKS = (Symptom.CLICK, Symptom.CHATTER, Symptom.NO_TURN, Symptom.SLOW)
"""Symptoms with which the command has reached the starter, or nearly: it is not looked for first."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Facts:
    """What a guide goes by: readings that count since the last repair, and those `before` it; after a repair what is `owed`, whether all that was repeated `passed`, and
    whether nothing but a battery was `charged`, and all parts ever `mended`; the engine's `tests` and the `numbers` of the readings it holds, or that its word is `awaited`; what it found `at_fault` and `how`, and whether all is
    `sound`; the `last_one` that a fault of the drawing can still lie on, and the number of a reading that was `odd_once` with its place; whether whole ways come before its choice (`ways_first`), and the way that the drop work asks for while there is none (`next_way`); where a `drain`
    hunt stands; the fuse that blows and the state it blows in; what another bench `told`."""

    sheet: Sheet
    concern: Concern
    symptom: str
    readings: Sequence[Reading]
    closed: bool = False
    repaired: bool = False
    owed: Sequence[tuple[str, str, str]] = ()
    passed: bool = False
    charged: bool = False
    mended: Sequence[str] = ()
    tests: Sequence[NextTest] = ()
    numbers: Sequence[int] = ()
    awaited: bool = False
    before: Sequence[Reading] = ()
    at_fault: Sequence[str] = ()
    how: How = How.PART
    sound: bool = False
    last_one: str | None = None
    odd_once: tuple[int, Reading] | None = None
    ways_first: bool = False
    next_way: tuple[str, str] | None = None
    battery_tested: bool = False
    drain: DrainFacts | None = None
    blows: tuple[str, str] | None = None
    told: str = ""


def guide(known: Facts) -> Guide:
    """The route of a job and its step now."""
    step = _step(known)
    if step.act is Act.REPAIR and set(step.parts) <= set(known.mended):
        step = replace(step, why=Why.FOUND_AGAIN)
    needless = {Leg.COMMAND} if known.symptom in IT_CLICKS else set()
    if not known.sheet.running_states():
        needless.add(Leg.OUTPUT)
    done = legs_done(known) | _legs_read(known.sheet, known.concern, known.before)
    if known.mended or known.at_fault:
        done |= {Leg.PART}
    return Guide(concern=known.concern, route=route(known.concern, step.leg, done, needless), step=step)


def _step(known: Facts) -> GuideStep:
    if known.closed:
        return GuideStep(act=Act.CLOSED, leg=Leg.CLOSE, why=Why.ENDED)
    if known.at_fault:
        return GuideStep(act=Act.REPAIR, leg=Leg.REPAIR, why=Why.FOUND, parts=tuple(known.at_fault), how=known.how)
    if known.concern is Concern.DRAIN and known.drain is not None:
        first = None if known.repaired or known.drain.level else _first_things(known)
        return first or drain_step(known.drain, known.repaired)
    if known.repaired and (after := _after_repair(known)):
        return after
    if known.concern is Concern.FUSE and known.blows is None:
        return GuideStep(act=Act.FEEDS, leg=Leg.FEEDS, why=Why.NOT_SEEN, told=known.told)
    doubted = next((t for t in known.tests if t.again is not None), None)
    if doubted:  # what fits nothing is taken again before anything is built on it
        return _tested(known, doubted)
    return _first_things(known) or _whole_way(known) or _next_test(known)


def _after_repair(known: Facts) -> GuideStep | None:
    """What a repair still owes: the same probes in the same state, then what was complained of, and what was good is kept as the machine's baseline; then
    the job is at its end. None where something read since is still unexplained."""
    if known.owed:
        red, black, state = known.owed[0]
        reading = Reading(red=red, black=black, state=state, value=0.0)
        return GuideStep(act=Act.RETEST, leg=Leg.RETEST, why=Why.SAME_PROBES, reading=reading, owed=len(known.owed))
    tried, trial = _complaint(known)
    if trial and tried is None:
        return GuideStep(act=Act.TRY, leg=Leg.RETEST, why=Why.COMPLAINT_AGAIN, reading=trial)
    if not (known.sound or (known.passed and (not trial or tried))):
        return None
    for state, why in _baseline(known):
        if not any(_is_posts(r, known.sheet) and r.state == state for r in known.readings):
            return GuideStep(act=Act.MEASURE, leg=Leg.RETEST, why=why, reading=posts_in(known.sheet, state))
    return GuideStep(act=Act.CLOSE, leg=Leg.CLOSE, why=Why.PASSED)


def _complaint(known: Facts) -> tuple[bool | None, Reading | None]:
    """Whether what was complained of was tried since the repair and did not come (None while it was not tried), and the reading that tries it."""
    if known.concern is Concern.FUSE and known.blows:
        fuse, state = known.blows
        fitted = [r.word for r in known.readings if r.instrument is Instrument.NEW_FUSE and r.branch == fuse]
        reading = Reading(instrument=Instrument.NEW_FUSE, branch=fuse, state=state, word="holds")
        return (fitted[-1] == "holds" if fitted else None), reading
    crank = known.sheet.cranking_state()
    if known.concern is not Concern.STARTING or crank is None:
        return None, None
    heard = [r.did for r in known.readings if r.state == crank and r.did]
    reading = Reading(instrument=Instrument.EYES, state=crank, word=Symptom.CRANKS.value)
    return (heard[-1] is Symptom.CRANKS if heard else None), reading


def _baseline(known: Facts) -> list[tuple[str, Why]]:
    """The states in which the posts are read before a job is closed: cranking, and running where a battery was charged or renewed, as something emptied it."""
    crank, running = known.sheet.cranking_state(), known.sheet.running_states()
    wanted = [(crank, Why.BASELINE)] if known.concern is Concern.STARTING and crank else []
    return [*wanted, *([(running[-1], Why.WHY_FLAT)] if known.charged and running else [])]


def _is_posts(reading: Reading, sheet: Sheet) -> bool:
    return {reading.red, reading.black} == {sheet.plus, sheet.minus} and reading.value is not None


def _first_things(known: Facts) -> GuideStep | None:
    """The battery at rest, then its posts in the state that is complained of: a weak battery makes every later figure lie. Before a drain is hunted the
    machine must charge."""
    sheet, done = known.sheet, legs_done(known)
    if known.concern is Concern.FUSE:
        return None
    starting, running = known.concern is Concern.STARTING, next(iter(reversed(sheet.running_states())), None)
    under_load = Leg.POSTS if starting else Leg.OUTPUT
    loaded = sheet.cranking_state() if starting else running
    why = Why.CHARGES_FIRST if known.concern is Concern.DRAIN else Why.UNDER_LOAD
    for leg, state, reason in ((Leg.BATTERY, still_state(sheet), Why.SOURCE_FIRST), (under_load, loaded, why)):
        if leg not in done and state:
            return GuideStep(act=Act.MEASURE, leg=leg, why=reason, reading=posts_in(sheet, state))
    return None


def _whole_way(known: Facts) -> GuideStep | None:
    """The command where it does not click, else each way whole, before the engine chooses inside them; its own test of a part that leads goes first."""
    if not known.ways_first or known.concern is not Concern.STARTING or known.sound or (known.tests and known.tests[0].closing):
        return None
    ways, done = whole_ways(known.sheet), legs_done(known)
    for leg in (Leg.SUPPLY, Leg.GROUND) if known.symptom in IT_CLICKS else (Leg.COMMAND,):
        if leg in ways and leg not in done:
            return GuideStep(act=Act.MEASURE, leg=leg, why=Why.WHOLE_WAY, reading=ways[leg])
    return None


def _next_test(known: Facts) -> GuideStep:
    """The engine's test, or while there is none the next way of the drop work; an end where nothing is wrong or nothing more would tell. What was odd once
    is read again before a machine is called sound, and the last part left is tried before a hunt is given up."""
    sheet, crank, told = known.sheet, known.sheet.cranking_state(), "" if known.concern is Concern.FUSE else known.told
    if known.tests and not known.sound:
        return _tested(known, known.tests[0])
    if known.sound and known.odd_once:
        number, reading = known.odd_once
        leg = leg_of(sheet, known.concern, reading)
        return GuideStep(act=Act.MEASURE, leg=leg, why=Why.ODD_ONCE, reading=reading, again=number)
    if known.sound:
        return GuideStep(act=Act.CLOSE, leg=Leg.CLOSE, why=Why.NO_FAULT)
    if known.next_way and crank and known.concern is Concern.STARTING:
        reading = Reading(red=known.next_way[0], black=known.next_way[1], state=crank, value=0.0)
        return GuideStep(act=Act.MEASURE, leg=leg_of(sheet, known.concern, reading), why=Why.WHOLE_WAY, reading=reading)
    if known.awaited:
        return GuideStep(act=Act.LOOK, leg=Leg.PART, why=Why.AWAITED, told=told)
    if known.last_one and known.last_one not in known.mended:
        return GuideStep(act=Act.REPAIR, leg=Leg.REPAIR, why=Why.LAST_ONE, parts=(known.last_one,), how=How.TRIAL)
    return GuideStep(act=Act.LOOK, leg=Leg.PART, why=Why.NOTHING_LEFT, told=told)


def _tested(known: Facts, test: NextTest) -> GuideStep:
    alone = test.closing or test.reading.instrument in BY_ITSELF
    leg = Leg.PART if alone else leg_of(known.sheet, known.concern, test.reading)
    again = None if test.again is None else known.numbers[test.again - 1]
    return GuideStep(act=Act.MEASURE, leg=leg, why=Why.TELLS_MOST, reading=test.reading, test=test, again=again)


def _legs_read(sheet: Sheet, concern: Concern, readings: Sequence[Reading]) -> frozenset[Leg]:
    """Legs that readings belong to; one with both probes on a part itself, or of a part by itself, to the part."""
    done = set()
    for r in readings:
        if r.instrument is not Instrument.EYES and not r.conditioned:
            done.add(Leg.PART if r.on_part else leg_of(sheet, concern, r))
    return frozenset(done)


def legs_done(known: Facts) -> frozenset[Leg]:
    """Legs of the route that something was read for."""
    done = set(_legs_read(known.sheet, known.concern, known.readings))
    if known.battery_tested:
        done.add(Leg.BATTERY)
    if known.blows:
        done.add(Leg.FEEDS)
    if known.drain:
        done |= {leg for leg, read in ((Leg.TOTAL, known.drain.totals), (Leg.SPLIT, known.drain.split)) if read}
    if known.repaired:
        done.add(Leg.REPAIR)
        if not known.owed and (known.passed or known.closed):
            done.add(Leg.RETEST)
    return frozenset(done) & frozenset(ROUTES[known.concern])
