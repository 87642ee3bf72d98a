"""A relay's socket: its pins as they lie, what each does in this machine, and the tests at them in order."""

from dataclasses import dataclass

from iron_probe.core.bench.control.steps import ControlStep, Wanted, ohms_step, volts_step
from iron_probe.core.bench.drop_board import good_machine
from iron_probe.core.circuit.elements import Conditions, Relay
from iron_probe.core.circuit.network import build_network
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.altered import bypass_element
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.limits import COMMANDED_RISE_SHARE
from iron_probe.core.phrase import Phrase
from iron_probe.core.solve.operate import solve_state
from iron_probe.core.solve.symptom import SYMPTOMS, symptom_codes

PLACES = {"30": (0.5, 0.9), "87": (0.5, 0.1), "87a": (0.5, 0.5), "86": (0.1, 0.5), "85": (0.9, 0.5)}
"""Where the pins lie in the socket seen from above, shares of its width and height (ISO 7588-1, from memory)."""
STUDS = {"in": (0.12, 0.35), "out": (0.88, 0.35), "coil +": (0.32, 0.85), "coil −": (0.68, 0.85)}
"""Where studs and coil terminals lie on a heavy relay or solenoid that stands alone (common practice)."""


@dataclass(frozen=True, slots=True)
class Pin:
    """A pin: its number, the point of the sheet, where it lies, what it does here."""

    number: str
    point: str
    x: float
    y: float
    role: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Socket:
    """A relay with its pins and steps; `commanded` is the point whose side the command comes on."""

    relay: Relay
    pins: tuple[Pin, ...]
    steps: tuple[ControlStep, ...]
    commanded: str


def commanding_state(sheet: Sheet, relay: Relay, at: Conditions) -> str:
    """The state in which the sound machine puts most volts on the coil."""
    coil = relay.coil

    def across(state: str) -> float:
        volts = good_machine(sheet, state, at).solution.volts[:, 0]
        row = good_machine(sheet, state, at).network.point_row
        return abs(float(volts[row[coil[0]]] - volts[row[coil[1]]]))

    return max(sheet.states, key=across)


def socket_of(sheet: Sheet, relay: Relay, at: Conditions) -> Socket:
    """Lay out a relay's socket and work out its tests for this machine."""
    on = commanding_state(sheet, relay, at)
    rest = next(iter(sheet.states))
    row = good_machine(sheet, on, at).network.point_row
    now, before = (good_machine(sheet, s, at).solution.volts[:, 0] for s in (on, rest))
    feed, ground = sorted(relay.coil, key=lambda p: -float(now[row[p]]))
    moves = max(relay.coil, key=lambda p: abs(float(now[row[p]] - before[row[p]])))
    fed = moves == feed
    roles = {
        relay.common: Phrase("feed, constant power")
        if abs(float(before[row[relay.common]])) > COMMANDED_RISE_SHARE * sheet.system_v
        else Phrase("feed, switched"),
        relay.make: Phrase("output to the load"),
        feed: Phrase("coil feed") + (Phrase(", the command") if fed else ""),
        ground: Phrase("coil ground") + ("" if fed else Phrase(", pulled down by the command")),
    }
    pins = []
    numbers = {
        relay.common: "30",
        relay.make: "87",
        **({relay.rest: "87a"} if relay.rest else {}),
        relay.coil[0]: "86",
        relay.coil[1]: "85",
    }
    if relay.heavy:
        numbers = {relay.common: "in", relay.make: "out", feed: Phrase("coil +"), ground: Phrase("coil −")}
    for point, number in numbers.items():
        x, y = (STUDS if relay.heavy else PLACES)[number]
        pins.append(Pin(number, point, x, y, roles.get(point, Phrase("rest contact"))))
    return Socket(relay=relay, pins=tuple(pins), steps=_steps(sheet, relay, at, on, rest, feed, ground), commanded=moves)


def _steps(sheet: Sheet, relay: Relay, at: Conditions, on: str, rest: str, feed: str, ground: str) -> tuple[ControlStep, ...]:
    plus, minus = sheet.plus, sheet.minus

    def step(title: str, red: str, black: str, state: str, proves: str, otherwise: str, drop: bool = False) -> ControlStep:
        return volts_step(sheet, at, title, (red, black), state, proves, otherwise, drop)

    contact = (relay.common, relay.make)
    jumper = Reading(instrument=Instrument.JUMPER, red=relay.common, black=relay.make, state=rest, word="nothing")
    network = build_network(sheet, at, [bypass_element(Instrument.JUMPER, *contact)])
    heard = SYMPTOMS[int(symptom_codes(solve_state(network, rest))[0])].value
    return (
        step(Phrase("Power at the feed"), relay.common, minus, rest, Phrase("the load side has power"), Phrase("dead: fuse, link or wire before the relay")),
        step(Phrase("Coil feed, commanded"), feed, minus, on, Phrase("the command reaches the coil"), Phrase("dead: key, interlock or module before it")),
        step(Phrase("Coil ground, commanded"), plus, ground, on, Phrase("the coil's other end is pulled to ground"), Phrase("dead: its ground wire, or the module does not pull down")),
        step(Phrase("Across the coil"), feed, ground, on, Phrase("the coil has all it needs: now it must click"), Phrase("low: drop in the command or the ground")),
        step(Phrase("Output, commanded"), relay.make, minus, on, Phrase("the contact closes and passes on"), Phrase("dead with the coil fed: coil or contact")),
        step(Phrase("Drop over the contact, commanded"), *contact, on, Phrase("the contact carries the load"), Phrase("more than a tenth of a volt: burnt contact"), drop=True),
        ControlStep(
            title=Phrase("Bridge feed to output"), reading=jumper, wanted=Wanted.WORD, expected=heard,
            proves=Phrase("the load side works: the fault is on the control side or in the relay"),
            otherwise=Phrase("nothing: load side, from the relay's output on; a jumper that borrows a dead feed proves nothing"),
        ),
        ohms_step(
            Phrase("Relay out: ohms of its coil"), relay.coil, rest, Wanted.OHMS, relay.coil_ohm, Phrase("the coil is whole"),
            Phrase("open or shorted coil; then listen for the click on a battery, and load the contact with a lamp"),
        ),
    )  # fmt: skip
