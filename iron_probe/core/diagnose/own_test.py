"""What proves an element: its own test, and power, ground and command at it."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import combinations

from iron_probe.core.circuit.elements import (
    Alternator,
    Battery,
    BranchKind,
    Element,
    FieldRegulator,
    Fuse,
    Module,
    Rectifier,
    Relay,
    Solenoid,
    Starter,
    Stator,
)
from iron_probe.core.circuit.faults import DIODE_MODES, DRAGGING, FED_ELSEWHERE, RESISTIVE_MODES, SHORT_MODES, WELDED_MODES
from iron_probe.core.circuit.heavy_path import heavy_path
from iron_probe.core.circuit.network import Network
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.evidence import BY_ITSELF, FORCED, LAMPS, OF_PART, Instrument, Reading
from iron_probe.core.diagnose.scope import CARRIES_A, Scope, states_of
from iron_probe.core.solve.operate import solve_as_drawn

NEARLY = 0.5
"""A state that draws this share of the most through a fuse shows what is behind it."""
ONLY_BY_ITSELF = SHORT_MODES | WELDED_MODES
"""Faults that only ohms of the part by itself prove."""
LEAST_OWN_CURRENT = 0.3
"""A clamp is a starter's own test from this share of its load current."""


def own_test(network: Network, element_id: str, reading: Reading) -> bool:
    """Whether a reading lies on the element alone: both leads on the ends of its working branch, its bypass, or what it draws.

    A coil or a module's own supply is no test of the element: they are its command and its feed (`proofs`).
    """
    element = network.sheet.element(element_id)
    if reading.conditioned:
        return False  # what was done to the machine shows in it too
    if reading.instrument in (*OF_PART, *BY_ITSELF):
        return (reading.branch or "").partition(".")[0] == element_id
    if isinstance(element, Stator):
        return reading.instrument in (Instrument.OHMMETER, Instrument.AC_VOLTS) and {reading.red, reading.black} <= set(element.points())
    if reading.instrument in FORCED:
        return _bypassed(network, element, reading)
    if reading.instrument is Instrument.CLAMP:
        branch = reading.branch or ""
        if not isinstance(element, Starter) or abs(reading.value or 0.0) < LEAST_OWN_CURRENT * element.load_a:
            return False  # no current proves nothing about what it does not flow through
        heavy = heavy_path(network)  # what the starter draws, all of the heavy path carries
        return branch in (*heavy.supply, *heavy.ground) or network.owners[network.find_branch(branch)].type == "battery"
    if isinstance(element, Battery) and network.sheet.state(reading.state).rpm:
        return False  # volts while it is charged say what charges it, and how much it takes
    helpers = (BranchKind.CONDUCTOR, BranchKind.DRAW) if isinstance(element, Relay | Solenoid | Module) else ()
    return any({b.start, b.end} == {reading.red, reading.black} for b in element.branches() if b.kind not in helpers)


def proves(network: Network, element_id: str, mode: str, reading: Reading) -> bool:
    """Whether a reading is one by which that fault of an element is found.

    A way to where none should be, or a contact that never opens, by ohms of the part by itself alone; a point fed from elsewhere by its own volts.
    """
    if mode == FED_ELSEWHERE:
        end = network.sheet.element(element_id).points()[-1]
        return reading.instrument is Instrument.VOLTMETER and {reading.red, reading.black} == {end, network.sheet.minus}
    return own_test(network, element_id, reading) and (mode not in ONLY_BY_ITSELF or reading.instrument in BY_ITSELF)


def _bypassed(network: Network, element: Element, reading: Reading) -> bool:
    """Whether a forced test goes around the element: a substitute lamp around the lamp circuit, a forced field around the regulator; with its field wire
    off an alternator that charges does so by itself."""
    maker = network.sheet.element((reading.branch or "").partition(".")[0])
    if not isinstance(maker, Alternator) or reading.word != "charges":
        return False
    if reading.instrument is Instrument.FIELD_OFF:
        return element.id == maker.id
    if reading.instrument is Instrument.FULL_FIELD:
        return element.id == maker.regulator
    return maker.l in element.points() and element.id != maker.id


@dataclass(frozen=True, slots=True)
class Taking:
    """What must be read with one of some `instruments`: across two points in either order, or on any of some branches; in the state of the own
    test, or in one of `states` where those are named."""

    points: frozenset[str] = frozenset()
    branches: frozenset[str] = frozenset()
    instruments: tuple[Instrument, ...] = (Instrument.VOLTMETER,)
    states: frozenset[str] = frozenset()

    def done_by(self, reading: Reading) -> bool:
        """Whether a reading is one of these."""
        if self.states and reading.state not in self.states:
            return False
        at = {reading.red, reading.black} == self.points if self.points else reading.branch in self.branches
        return at and reading.instrument in self.instruments


Ways = tuple[tuple[Taking, ...], ...]
"""Ways to prove one thing: any one of them does, once all its readings are taken."""


def proofs(network: Network, element_id: str, mode: str) -> tuple[Ways, ...]:
    """What must be known, in the state of its own test, before an element is condemned for that fault: power, ground and command.

    A part that does not answer has them proven at its own pins. A fuse is not condemned before a lamp across it, with what it feeds
    switched on, has said that nothing behind it is shorted, and a new one has held: what blew it comes first, drawn or not. A battery that
    sags is not judged before a clamp has said that the starter does not draw too much, nor a starter that drags before the posts have
    said that the battery holds. A drop across a conductor under load needs none.
    """
    sheet = network.sheet
    element = sheet.element(element_id)

    def across(a: str, b: str) -> Ways:
        whole = (Taking(points=frozenset((a, b))),)
        if sheet.minus in (a, b):
            return (whole,)
        return (whole, (Taking(points=frozenset((a, sheet.minus))), Taking(points=frozenset((b, sheet.minus)))))

    if isinstance(element, Battery | Starter):
        heavy = heavy_path(network)
        batteries = {o.id for o in network.owners if o.type == "battery"}
        clamp: Ways = ((Taking(branches=frozenset((*heavy.supply, *heavy.ground, *batteries)), instruments=(Instrument.CLAMP,)),),)
        if isinstance(element, Battery):
            return (clamp,)
        return (across(sheet.plus, sheet.minus), clamp) if mode == DRAGGING else (across(sheet.plus, sheet.minus),)
    if isinstance(element, Alternator | Rectifier | FieldRegulator):
        return _charging_proofs(sheet, element, mode, across)
    if mode in RESISTIVE_MODES or mode in ONLY_BY_ITSELF or mode == FED_ELSEWHERE:
        return ()
    if isinstance(element, Fuse):
        lamp = Taking(points=frozenset(element.points()), instruments=LAMPS, states=_loading(network, element.id))
        renewed = Taking(branches=frozenset((element.id,)), instruments=(Instrument.NEW_FUSE,), states=frozenset(sheet.states))
        return (((lamp,),), ((renewed,),))
    if isinstance(element, Relay):
        return (across(*element.coil),)
    if isinstance(element, Solenoid):
        return (across(element.s, element.case),)
    if isinstance(element, Module):
        needs = dict.fromkeys(n.point for o in element.outputs for n in o.needs)
        return (across(element.supply, element.ground), *(across(point, element.ground) for point in needs))
    return ()


@lru_cache(maxsize=1024)
def _loading(network: Network, fuse: str) -> frozenset[str]:
    """The states in which a sound machine draws most through a fuse, or nearly: of starting work, and of charging work with the engine running
    if that will do; all where it draws nothing."""
    drawn = {s: abs(float(solve_as_drawn(network, s).current(fuse)[0])) for s in network.sheet.states}
    found: set[str] = set()
    for states in (states_of(network.sheet, work) for work in Scope):
        most = max((drawn[s] for s in states), default=0.0)
        loading = {s for s in states if drawn[s] >= max(NEARLY * most, CARRIES_A)}
        found |= loading & set(network.sheet.running_states()) or loading
    return frozenset(found or drawn)


def _charging_proofs(
    sheet: Sheet, element: Alternator | Rectifier | FieldRegulator, mode: str, across: Callable[[str, str], Ways]
) -> tuple[Ways, ...]:
    """An alternator is condemned for no or low output only with its small wires, its case and its output cable read; a regulator with
    its feed and its ground; full on, with where it senses, and of an alternator and its outside regulator with the field wire off; a diode by its ripple, which a stator's winding on its core makes too: that is read with the
    plug off before a rectifier is bought. One that gives nothing is condemned only with the AC of its stator read, the plug off."""
    if mode in DIODE_MODES:
        return (_stator_insulated(sheet, element),) if isinstance(element, Rectifier) else ()
    if isinstance(element, FieldRegulator):
        feed = across(element.feed, element.ground)
        return (feed, *_field_off(sheet, element)) if mode == "full_on" else (feed,)
    if isinstance(element, Rectifier):
        output = across(element.b, element.case)
        return (output, _stator_makes(sheet, element)) if mode == "no_output" else (output,)
    wires = [p for p in (element.ig, element.l, element.s, element.f, element.bus) if p]
    if mode != "full_on":
        return tuple(across(p, element.case) for p in wires)
    if element.regulator:
        return _field_off(sheet, element)
    return (across(element.s, element.case),) if element.s else ()


def _field_off(sheet: Sheet, element: Alternator | FieldRegulator) -> tuple[Ways, ...]:
    """The field wire off, the engine running: it stops where the regulator keeps it on, and charges where the alternator does."""
    makers = frozenset(e.id for e in sheet.elements if isinstance(e, Alternator) and e.regulator and element.id in (e.id, e.regulator))
    running = frozenset(sheet.running_states())
    return (((Taking(branches=makers, instruments=(Instrument.FIELD_OFF,), states=running),),),)


def _stator_makes(sheet: Sheet, rectifier: Rectifier) -> Ways:
    """AC volts of any pair of a rectifier's stator, the engine running."""
    stator = sheet.element(rectifier.stator)
    assert isinstance(stator, Stator)
    running = frozenset(sheet.running_states())
    pairs = combinations(stator.phases(), 2)
    return tuple((Taking(points=frozenset(pair), instruments=(Instrument.AC_VOLTS,), states=running),) for pair in pairs)


def _stator_insulated(sheet: Sheet, rectifier: Rectifier) -> Ways:
    """Ohms from a winding of a rectifier's stator to its core, whatever state the machine is in: the plug is off."""
    stator = sheet.element(rectifier.stator)
    assert isinstance(stator, Stator)
    core = frozenset((stator.p1, stator.case))
    return ((Taking(points=core, instruments=(Instrument.OHMMETER,), states=frozenset(sheet.states)),),)


def unproven(network: Network, element_id: str, mode: str, state: str, readings: Sequence[Reading]) -> list[Taking]:
    """Readings that still lack to prove it in that state, of each proof those of the way that lacks least; none when all is proven.

    A battery at rest needs no clamp: nothing is drawn there.
    """
    here = [r for r in readings if r.state == state]

    def done(taking: Taking) -> bool:
        return any(taking.done_by(r) for r in (readings if taking.states else here))

    if isinstance(network.sheet.element(element_id), Battery) and not network.sheet.state(state).cranking:
        return []
    lacking: list[Taking] = []
    for ways in proofs(network, element_id, mode):
        left = [[t for t in way if not done(t)] for way in ways]
        lacking += sorted(left, key=len)[0]
    return lacking
