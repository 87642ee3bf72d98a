"""The control side as places to work at: each link of the chain, relay and module with its tests, in the order the command takes."""

from collections.abc import Iterable
from dataclasses import dataclass

from iron_probe.core.bench.control.pins import Socket, socket_of
from iron_probe.core.bench.control.steps import ControlStep, Wanted, level_wanted, ohms_step, volts_step
from iron_probe.core.bench.control.switch_table import state_with
from iron_probe.core.bench.drop_board import good_machine
from iron_probe.core.circuit.elements import Conditions, Element, Joint, Module, Relay, Solenoid, Switch
from iron_probe.core.circuit.network import SheetKey
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.kept import Kept
from iron_probe.core.limits import CONTACT_CLOSED_OHM, CONTACT_OPEN_OHM
from iron_probe.core.phrase import Phrase


@dataclass(frozen=True, slots=True, kw_only=True)
class Station:
    """A part of the control side: its tests in order, and its socket where it is a relay. A module has none of its own: its checks are judged beside it."""

    element: Element
    steps: tuple[ControlStep, ...] = ()
    socket: Socket | None = None


_stations: Kept[tuple[SheetKey, Conditions, tuple[str, ...]], tuple[Station, ...]] = Kept("stations", 128)


def stations_of(sheet: Sheet, chain: Iterable[Element], at: Conditions) -> tuple[Station, ...]:
    """The links of the chain in its order, then every relay and module it does not hold; worked out once for a circuit."""
    linked = tuple(chain)
    held = {e.id for e in linked}
    parts = (*linked, *(e for e in sheet.elements if isinstance(e, Relay | Module) and e.id not in held))
    return _stations.get((SheetKey(sheet), at, tuple(e.id for e in parts)), lambda: tuple(_station(sheet, e, at) for e in parts))


def _station(sheet: Sheet, element: Element, at: Conditions) -> Station:
    if isinstance(element, Relay):
        socket = socket_of(sheet, element, at)
        return Station(element=element, steps=socket.steps, socket=socket)
    if isinstance(element, Switch):
        return Station(element=element, steps=contact_steps(sheet, element, at))
    if isinstance(element, Solenoid):
        return Station(element=element, steps=_solenoid_steps(sheet, element, at))
    if isinstance(element, Joint):
        return Station(element=element, steps=_splice_steps(sheet, element, at))
    return Station(element=element)


def contact_steps(sheet: Sheet, switch: Switch, at: Conditions) -> tuple[ControlStep, ...]:
    """A contact with its plug on, then off: fed, passing on in each position of its first control, little lost in it, and its ohms by position."""
    control = next(iter(switch.closed_in), None)
    if control is None:
        return ()
    title = sheet.controls[control].title.lower()
    wanted = switch.closed_in[control]
    by_closed = sorted(sheet.controls[control].positions, key=lambda p: p not in wanted)  # that it makes is asked before that it opens
    placed = [(p, state) for p in by_closed if (state := state_with(sheet, control, p)) is not None]
    steps = [s for p, state in placed for s in _passes_on(sheet, switch, at, f"{title} {p}", state, p in wanted)]
    for position, state in placed:
        closed = position in wanted
        steps.append(
            ohms_step(
                Phrase("Plug off, {title} {position}: ohms across it", title=title, position=position),
                (switch.start, switch.end),
                state,
                Wanted.CLOSED if closed else Wanted.OPEN,
                float(CONTACT_CLOSED_OHM if closed else CONTACT_OPEN_OHM),
                Phrase("the contact makes by itself") if closed else Phrase("the contact opens by itself"),
                Phrase("the switch itself, or how it is set") if closed else Phrase("stuck, or bridged inside"),
            )
        )
    return tuple(steps)


def _passes_on(sheet: Sheet, switch: Switch, at: Conditions, said: str, state: str, closed: bool) -> list[ControlStep]:
    """Volts at the two ends of a contact in a position; where one of them hangs free there, a meter on it says nothing."""
    solved = good_machine(sheet, state, at).solution
    hangs = {p for p in (switch.start, switch.end) if solved.floating(p)[0]}

    def end(point: str, proves: str, otherwise: str) -> list[ControlStep]:
        title = f"{sheet.point(point).title}, {said}"
        return [] if point in hangs else [volts_step(sheet, at, title, (point, sheet.minus), state, proves, otherwise)]

    volts = {p: good_machine(sheet, state, at).expected(p, sheet.minus)[0] for p in (switch.start, switch.end)}
    levels = {p: level_wanted(v, sheet.system_v) for p, v in volts.items()}
    if not closed:  # dead behind a contact that has nothing before it proves nothing
        live = [p for p, level in levels.items() if level is Wanted.LIVE]
        hot = switch.end if switch.start in live else next(iter(live), None)
        return end(hot, Phrase("as it should be with the contact open"), Phrase("stuck, or fed from elsewhere")) if hot else []
    if levels[switch.start] is Wanted.DEAD:  # it passes a ground on, not a feed
        near, far = sorted(volts, key=lambda p: abs(volts[p]))
        here = end(near, Phrase("its way to ground is whole"), Phrase("live: the way to ground behind it is open"))
        there = end(far, Phrase("the contact passes the ground on"), Phrase("live with the other end dead: this contact"))
    else:
        here = end(switch.start, Phrase("power reaches it"), Phrase("dead: what lies before it"))
        there = end(switch.end, Phrase("the contact passes it on"), Phrase("dead with the other end live: this contact"))
    lost = (
        []
        if switch.end in hangs
        else [
            volts_step(
                sheet,
                at,
                Phrase("Drop over it, {said}", said=said),
                (switch.start, switch.end),
                state,
                Phrase("the contact loses nothing"),
                Phrase("burnt contact, or a loose plug"),
                drop=True,
            )
        ]
    )
    return [*here, *there, *lost]


def _solenoid_steps(sheet: Sheet, solenoid: Solenoid, at: Conditions) -> tuple[ControlStep, ...]:
    crank = sheet.cranking_state() or next(iter(sheet.states))
    return (
        volts_step(sheet, at, Phrase("Command at its stud"), (solenoid.s, solenoid.case), crank, Phrase("the command arrives: now it must pull in"), Phrase("dead: what lies before it, key to plug")),
        volts_step(sheet, at, Phrase("Heavy feed"), (solenoid.b, sheet.minus), crank, Phrase("the heavy side has power"), Phrase("dead or low: battery cable, posts")),
        volts_step(sheet, at, Phrase("Drop over its contact"), (solenoid.b, solenoid.m), crank, Phrase("the contact carries the starter"), Phrase("burnt contact disc"), drop=True),
    )  # fmt: skip


def _splice_steps(sheet: Sheet, splice: Joint, at: Conditions) -> tuple[ControlStep, ...]:
    crank = sheet.cranking_state() or next(iter(sheet.states))
    start, end = splice.points()[:2]
    return (
        volts_step(
            sheet,
            at,
            Phrase("Drop over the splice"),
            (start, end),
            crank,
            Phrase("the splice passes the command on"),
            Phrase("cut, or a poor splice"),
            drop=True,
        ),
    )
