"""The machine one can hold: set a state, part a plug, put a lead on, and read. Devices move one after another, each in its own time."""

from collections.abc import Iterator
from copy import copy
from dataclasses import dataclass, fields, replace
from enum import StrEnum
from math import inf, isinf

import numpy as np

from iron_probe.core.circuit import elements as kinds
from iron_probe.rig.bridge import bridge_beside_sound
from iron_probe.rig.charging import ALONE_A, BLIND_V, output_of
from iron_probe.rig.errors import RigError
from iron_probe.rig.fuses import opens_after_s
from iron_probe.rig.machine import BroughtBy, Bypass, Comes, Devices, Machine, Regulating
from iron_probe.rig.netlist import AT_STANDSTILL, netlist
from iron_probe.rig.parts import Values
from iron_probe.rig.spice import Spice

RELAY_S, SOLENOID_S, LETS_GO_S, RUNS_UP_S, MODULE_S, WAKES_S, EXCITES_S = 0.008, 0.025, 0.015, 0.06, 0.012, 0.3, 0.15
"""How long a relay, a solenoid, a coil letting go, a starter, a module's driver, its waking and an alternator take [s]."""
STAYS_ALIVE = 0.8
"""Share of its waking volts down to which a module lives on."""
EXCITING_A, AWAKE_V, BUS_SHARE = 0.05, 4.0, 0.6
"""Current through the lamp that wakes a field [A], volts that wake a regulator, share of system volts a bus rests at."""
CHATTERS_AFTER, HUNTS_AFTER, MOST_MOVES = 6, 16, 120
"""Moves of one coil or module after which it is said to chatter, of a regulator after which it is left hunting; moves of all after which
the rig gives up."""
HELD_S = 3.0
"""How long a state has been held when one reads."""

WARMS, MOST_WARM = 0.5, 1.5
"""Rise of a fuse's resistance at its rating, and at the most, as a share of its cold one."""
LEAST_A = 1e-6
"""A battery current under this [A] is none."""

Key = tuple[str, ...]
"""A field of Devices and whose position in it; how it would work, for a regulator."""


class Heard(StrEnum):
    """What the machine does, to whoever stands beside it."""

    NOTHING = "nothing"
    CLICK = "click"
    CHATTER = "chatter"
    NO_TURN = "no_turn"
    SLOW = "slow"
    CRANKS = "cranks"


@dataclass(frozen=True, slots=True)
class Instant:
    """One solved instant: node volts by point, currents by branch, how long it lasted [s]."""

    volts: dict[str, float]
    amps: dict[str, float]
    lasted_s: float


@dataclass(frozen=True, slots=True)
class Shown:
    """What stands between two points: mean, least and greatest over a rattle; all alike when it is steady."""

    value: float
    least: float
    greatest: float


class Plant:
    """A machine with its fault in it; a fuse that has `blown` stays so until a new one is joined. `rng` decides what comes and goes (without one it is always there). RigError when ngspice has one."""

    def __init__(self, machine: Machine, spice: Spice, rng: np.random.Generator | None = None) -> None:
        self.machine, self.spice, self.rng = machine, spice, rng
        self.state = next(iter(machine.sheet.states))
        self.attached: list[Bypass] = []
        self.devices = Devices(state=self.state)
        self.chatters: str | None = None
        self.instants: list[Instant] = []
        self._last: dict[str, float] = {}
        self._kept: dict[tuple[object, ...], tuple[Devices, str | None, list[Instant]]] = {}
        self._held: str | None = None
        self.blown: set[str] = set()

    def go(self, state: str) -> None:
        """Bring a state about with the controls just moved, and wait until everything has moved that will. What comes and goes is there
        or away for as long as the state is held."""
        if state != self._held:
            self._held = state
            for one in self.machine.comes:
                self._let_come(one, self.rng is None or self.rng.random() < one.chance)
        self.state = state
        away = tuple(self.machine.values[one.element][one.value] for one in self.machine.comes)
        key = (state, tuple(self.attached), frozenset(self.machine.out), away, frozenset(self.blown))
        if key not in self._kept:
            self._settle()
            self._kept[key] = (self.devices, self.chatters, self.instants)
        self.devices, self.chatters, self.instants = self._kept[key]
        self.blown |= {fuse for fuse, blown in self.devices.blown.items() if blown}

    def let_go(self) -> None:
        """Let go of what is held: the same state brought about again is another attempt."""
        self._held = None

    def attach(self, bypass: Bypass) -> None:
        """Put a lead, lamp, jumper or charger on."""
        self.attached = [*self.attached, bypass]
        self._go_on()

    def detach(self) -> None:
        """Take all of them off."""
        self.attached = []
        self._go_on()

    def part(self, element: str) -> None:
        """Take an element out: a plug parted, a relay or fuse pulled. A relay in the hand has let go."""
        self.machine.out.add(self.machine.sheet.element(element).id)
        self.devices.pulled.pop(element, None)
        self._go_on()

    def join(self, element: str) -> None:
        """Put it back; for a fuse that has blown, a new one."""
        self.machine.out.discard(element)
        self.blown.discard(element)
        self.devices.blown.pop(element, None)
        self._go_on()

    def _go_on(self) -> None:
        """What a hand does in a state that is held: every device goes on from where it stands. A machine that runs keeps itself excited
        without its lamp; brought about anew it would not wake."""
        self._settle(replace(self.devices, **{f.name: copy(getattr(self.devices, f.name)) for f in fields(self.devices)}))
        self.blown |= {fuse for fuse, blown in self.devices.blown.items() if blown}

    def bring(self, by: BroughtBy, element: str | None = None) -> None:
        """Move a part, warm or wet it (all of them without `element`), or let the time pass: what that brings on is there now, and what
        it has brought on before is away."""
        for one in self.machine.comes:
            if one.by is by and element in (None, one.element):
                self._let_come(one, self.machine.values[one.element][one.value] != one.there)
        self.go(self.state)

    def _let_come(self, one: Comes, there: bool) -> None:
        self.machine.values[one.element][one.value] = one.there if there else one.away

    def changed(self) -> None:
        """The hardware is not what it was: nothing that was solved holds, and every fuse is whole."""
        self._kept.clear()
        self.blown.clear()
        self.go(self.state)

    def between(self, red: str, black: str, load_ohm: float = 10e6) -> Shown:
        """Volts a meter of that input shows from red to black; its load does not move any device."""
        if self.chatters is None:
            found = self._solve(self.devices, [*self.attached, Bypass(red, black, load_ohm)], HELD_S)
            volts = found.volts[red] - found.volts[black]
            return Shown(volts, volts, volts)
        return self._over_time([m.volts[red] - m.volts[black] for m in self.instants])

    def amps(self, branch: str) -> Shown:
        """Current through a branch of the sheet (`element` or `element.part`)."""
        return self._over_time([m.amps.get(branch, 0.0) for m in self.instants])

    def _over_time(self, values: list[float]) -> Shown:
        weight = [m.lasted_s for m in self.instants]
        mean = sum(v * w for v, w in zip(values, weight, strict=True)) / sum(weight)
        return Shown(mean, min(values), max(values))

    def speed(self) -> float:
        """Starter speed as a share of this engine's normal speed."""
        best = 0.0
        for e in self.machine.sheet.elements:
            if isinstance(e, kinds.Starter) and self.devices.turning.get(e.id) and self.chatters is None:
                values = self.machine.values[e.id]
                if values["free"]:
                    return 1.6
                best = max(best, (self.amps(e.id).value / values["load_a"] - AT_STANDSTILL) / (1 - AT_STANDSTILL))
        return best

    def heard(self) -> Heard:
        """What it does."""
        if self.chatters is not None:
            return Heard.CHATTER
        starters = [e for e in self.machine.sheet.elements if isinstance(e, kinds.Starter)]
        if (speed := self.speed()) > 0:
            return Heard.CRANKS if speed >= max(s.slow_below for s in starters) else Heard.SLOW
        if any(abs(self.amps(s.id).value) > 0.25 * s.load_a for s in starters):
            return Heard.NO_TURN
        return Heard.CLICK if any(self.devices.pulled.values()) else Heard.NOTHING

    def works(self, consumer: str) -> float:
        """Share of its rated volts a lamp or load has."""
        element = self.machine.sheet.element(consumer)
        assert isinstance(element, kinds.Lamp | kinds.Load)
        values = [abs(m.volts[element.start] - m.volts[element.end]) for m in self.instants]
        return self._over_time(values).value / element.volts if not isinf(self.machine.values[consumer]["ohm"]) else 0.0

    def _solve(self, devices: Devices, attached: list[Bypass], after_s: float) -> Instant:
        circuit = netlist(self.machine, devices, attached, after_s)
        start = [f".nodeset V({circuit.node[p]})={v:.6g}" for p, v in self._last.items() if circuit.node[p] != "0"]
        found = self.spice.operating_point([*circuit.lines, *start])
        self._last = circuit.volts(found)
        return Instant(self._last, circuit.amps(found), 0.0)

    def _settle(self, standing: Devices | None = None) -> None:
        """Devices where they are `standing`, or at rest with the controls just moved; then whoever is due first moves, until nobody wants to
        or one rattles."""
        self.devices = devices = standing or Devices(state=self.state, blown=dict.fromkeys(self.blown, True))
        for e in self.machine.sheet.elements:
            if isinstance(e, kinds.Rectifier):
                devices.rectified[e.id] = self._rectified(e)[0]
        waiting: dict[Key, float] = {}
        moves: dict[Key, int] = {}
        past: list[Instant] = []
        self.chatters, self.instants = None, []
        after_s = 0.05
        for _ in range(MOST_MOVES):
            found = self._solve(devices, self.attached, after_s)
            wants = dict(self._wants(found))
            waiting = {key: min(waiting.get(key, inf), delay) for key, delay in wants.items()}
            if not waiting or min(waiting.values()) > HELD_S:
                if after_s < HELD_S:  # held a while: plates polarise, fuses warm, and a coil may let go after all
                    after_s = HELD_S
                    self._warm(found)
                    continue
                self.instants = [Instant(found.volts, found.amps, 1.0)]
                return
            soonest = min(waiting.values())
            past.append(Instant(found.volts, found.amps, max(soonest, 1e-4)))
            due = [key for key, left in waiting.items() if left <= soonest]
            waiting = {key: left - soonest for key, left in waiting.items() if key not in due}
            for key in due:
                self._move(devices, key)
                moves[key] = moves.get(key, 0) + 1
                rattles = key[0] in ("pulled", "alive")
                if moves[key] >= (CHATTERS_AFTER if rattles else HUNTS_AFTER):
                    self.chatters = key[1] if rattles else None
                    self.instants = past[-8:]
                    return
        raise RigError(f"{self.machine.sheet.id}, {self.state}: never settles and is no rattle either")

    def _rectified(self, rectifier: kinds.Rectifier) -> tuple[float, float]:
        """Amps and ripple of a bridge at this state's speed beside those of a sound one; 1 while the engine stands."""
        return bridge_beside_sound(self.machine, rectifier, self.machine.sheet.state(self.state).rpm, self.spice)

    def ripple_v(self, charger: str) -> float:
        """Peak-to-peak ripple at the battery that an alternator or rectifier makes in this state."""
        element, own = self.machine.sheet.element(charger), self.machine.values[charger]["ripple_v"]
        return own * (self._rectified(element)[1] if isinstance(element, kinds.Rectifier) else 1.0)

    def _warm(self, found: Instant) -> None:
        for e in self.machine.sheet.elements:
            if isinstance(e, kinds.Fuse):
                share = found.amps.get(e.id, 0.0) / self.machine.values[e.id]["rating_a"]
                self.devices.heat[e.id] = min(WARMS * share * share, MOST_WARM)

    def _move(self, devices: Devices, key: Key) -> None:
        """Let one device move: its position turns round, or it is the way a regulator now works."""
        field, name = key[0], key[1]
        if field == "regulating":
            devices.regulating[name] = Regulating(key[2])
        else:
            held: dict[str, bool] = getattr(devices, field)
            held[name] = not held.get(name, False)
            if field == "alive" and held[name]:
                devices.lived.add(name)

    def _wants(self, found: Instant) -> Iterator[tuple[Key, float]]:
        """Every device that wants to move, and how long until it does [s]."""
        devices, machine = self.devices, self.machine
        for e in machine.sheet.elements:
            if e.id in machine.out:
                continue
            values = machine.values[e.id]
            match e:
                case kinds.Relay() | kinds.Solenoid():
                    yield from self._coil(e, values, found)
                case kinds.Starter():
                    yield from self._motor(e, values, found)
                case kinds.Module():
                    yield from self._module(e, values, found)
                case kinds.FieldRegulator():
                    awake = found.volts[e.feed] - found.volts[e.ground] > AWAKE_V
                    if awake != devices.alive.get(e.id, False):
                        yield ("alive", e.id), MODULE_S
                case kinds.Alternator() | kinds.Rectifier():
                    yield from self._field(e, values, found)
                case kinds.Battery():
                    into = found.amps.get(e.id, 0.0)
                    if not machine.blocks[e.id].apart and abs(into) > LEAST_A and (into > 0) != devices.taking.get(e.id, False):
                        yield ("taking", e.id), 0.0
                case kinds.Fuse() if not devices.blown.get(e.id, False):
                    opens_s = opens_after_s(abs(found.amps.get(e.id, 0.0)) / values["rating_a"], e.make)
                    if opens_s < inf:
                        yield ("blown", e.id), opens_s

    def _coil(self, e: kinds.Relay | kinds.Solenoid, values: Values, found: Instant) -> Iterator[tuple[Key, float]]:
        pulled = self.devices.pulled.get(e.id, False)
        if isinstance(e, kinds.Relay):
            pull, hold, drive = values["pull_a"], values["drop_a"], abs(found.amps.get(f"{e.id}.coil", 0.0))
        else:
            pull, hold = values["pull_mmf"], values["drop_mmf"]
            drive = abs(found.amps.get(f"{e.id}.hold", 0.0) + found.amps.get(f"{e.id}.pull", 0.0))
        if not pulled and drive >= pull:
            yield ("pulled", e.id), SOLENOID_S if isinstance(e, kinds.Solenoid) or e.heavy else RELAY_S
        elif pulled and drive <= hold:
            yield ("pulled", e.id), LETS_GO_S

    def _motor(self, e: kinds.Starter, values: Values, found: Instant) -> Iterator[tuple[Key, float]]:
        amps = found.amps.get(e.id, 0.0)
        asked = values["load_a"] * (0.2 if values["free"] else 1.0)
        if not self.devices.turning.get(e.id, False):
            if amps >= asked:
                yield ("turning", e.id), RUNS_UP_S
        elif amps < AT_STANDSTILL * asked:
            yield ("turning", e.id), 0.0

    def _module(self, e: kinds.Module, values: Values, found: Instant) -> Iterator[tuple[Key, float]]:
        devices, sheet = self.devices, self.machine.sheet
        supply = found.volts[e.supply] - found.volts[e.ground]
        alive = devices.alive.get(e.id, False)
        lives = supply >= e.alive_above_v * (STAYS_ALIVE if alive else 1.0) and not values["dead"]
        lives = lives and (alive or not e.latches or e.id not in devices.lived)
        if lives != alive:
            yield ("alive", e.id), MODULE_S if alive or not devices.alive else WAKES_S
        for output in e.outputs:
            on = alive and sheet.in_position(output.on_in, self.state)
            for need in output.needs:
                seen = found.volts[need.point] - found.volts[e.ground]
                on = on and (seen >= need.above_v if need.above_v is not None else seen <= (need.below_v or 0.0))
            if on != devices.driving.get(f"{e.id}.{output.name}", False):
                yield ("driving", f"{e.id}.{output.name}"), MODULE_S

    def _field(self, e: kinds.Alternator | kinds.Rectifier, values: Values, found: Instant) -> Iterator[tuple[Key, float]]:
        devices, rpm = self.devices, self.machine.sheet.state(self.state).rpm
        on = devices.excited.get(e.id, False)
        able = rpm * values.get("slip", 1.0) >= e.cut_in_rpm and values["stuck"] >= 0
        if isinstance(e, kinds.Alternator) and able and not on:
            volts, case = found.volts, found.volts[e.case]
            by_lamp = bool(e.l) and found.amps.get(f"{e.id}.exciter", 0.0) > EXCITING_A
            by_ignition = bool(e.ig) and volts[e.ig or ""] - case > AWAKE_V
            if e.f:
                able = abs(found.amps.get(f"{e.id}.field", 0.0)) > 0.3
            elif e.woken_by == "ignition" or (e.ig and (not e.l or (e.woken_by is None and values["design"] >= 1))):
                able = by_ignition
            elif e.ig or e.l:
                able = by_lamp or (by_ignition and e.woken_by != "lamp") or rpm >= (e.self_excites_rpm or inf)
        if able != on:
            yield ("excited", e.id), EXCITES_S
        if on and able:
            yield from self._output(e, found)
        if isinstance(e, kinds.Alternator) and e.bus:
            silent = found.volts[e.bus] - found.volts[e.case] < BUS_SHARE * self.machine.sheet.system_v or bool(values["deaf"])
            if silent != devices.silent.get(e.id, False):
                yield ("silent", e.id), MODULE_S

    def _output(self, e: kinds.Alternator | kinds.Rectifier, found: Instant) -> Iterator[tuple[Key, float]]:
        """How its regulator wants it to work; at once, a regulator being quicker than any relay."""
        alone = all(abs(found.amps.get(b.id, 0.0)) < ALONE_A for b in self.machine.sheet.batteries)
        if alone != self.devices.alone.get(e.id, False):
            yield ("alone", e.id), MODULE_S
        most, asked = output_of(self.machine, self.devices, e)
        gives, volts, case = -found.amps.get(f"{e.id}.output", 0.0), found.volts, found.volts[e.case]
        mode = self.devices.regulating.get(e.id, Regulating.HOLDS)
        sensed = volts[e.b] - case
        if isinstance(e, kinds.Alternator) and e.s:
            blind = volts[e.b] - volts[e.s] > BLIND_V * e.volts / 12
            if blind != self.devices.blind.get(e.id, False):
                yield ("blind", e.id), 0.0
            sensed = volts[e.b] - case - BLIND_V * e.volts / 12 if blind else volts[e.s] - case
        if isinstance(e, kinds.Alternator) and e.regulator:
            outside = self.machine.sheet.element(e.regulator)
            assert isinstance(outside, kinds.FieldRegulator)
            sensed = volts[outside.feed] - volts[outside.ground]
            driven = abs(found.amps.get(f"{e.id}.field", 0.0)) * self.machine.values[e.id]["field_ohm"] / asked
            most *= min(driven, 1.0) if mode is Regulating.GIVES_ALL else 1.0
        wants = mode
        if mode is Regulating.HOLDS:
            wants = Regulating.GIVES_ALL if gives > most * 1.0001 else Regulating.RESTS if gives < -1e-6 else mode
        elif mode is Regulating.GIVES_ALL:
            wants = Regulating.HOLDS if sensed > asked + 1e-4 else mode
        elif sensed < asked - 1e-3:
            wants = Regulating.HOLDS
        if wants is not mode:
            yield ("regulating", e.id, wants.value), 0.0
