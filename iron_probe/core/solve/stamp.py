"""Each branch as a conductance and a source, for the positions its devices are in."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from iron_probe.core.arrays import Bools, Floats
from iron_probe.core.circuit.elements import STANDSTILL_SHARE, Alternator, BranchKind, FieldRegulator, Lamp, Rectifier
from iron_probe.core.circuit.network import Generator, Network
from iron_probe.core.circuit.stator_ways import brought
from iron_probe.core.solve.columns import columns, put_columns

FILAMENT_EXPONENT = 0.45
"""Filament resistance goes with voltage to this power (incandescent lamp handbooks, from memory)."""

COLD_FILAMENT_SHARE = 1 / 12
"""Cold filament resistance as a share of hot (common practice)."""


@dataclass(slots=True)
class DevicePositions:
    """Where every device of V variants stands; worked on by the iteration, never shared outside it.

    `coils` (coils, V) pulled in; `alive` (units, V) and whether it has `lived` in this state; `driving` (outputs, V); `motor_runs` (motors, V) turning, its back-EMF and torque both in a straight line with its speed;
    `diode_on` (diodes, V); `lamp_v` (lamps, V) voltage the filament was last taken at; `taking` (batteries, V) whether it takes charge, `straining` whether its load is heavy; `driven` (drives, V) whether an outside
    regulator has its feed, `duty` (drives, V) the share of the time it lets field current flow; of the generators
    (generators, V): `charging` excited, `limited` at the current its speed gives, `blocked` by its own diodes, `emf` and `limit` [V, A].
    """

    coils: Bools
    alive: Bools
    lived: Bools
    driving: Bools
    motor_runs: Bools
    diode_on: Bools
    lamp_v: Floats
    taking: Bools
    straining: Bools
    charging: Bools
    driven: Bools
    duty: Floats
    limited: Bools
    blocked: Bools
    emf: Floats
    limit: Floats

    def take(self, which: NDArray[np.int64]) -> "DevicePositions":
        """The positions of some variants, copied."""
        return DevicePositions(*(columns(getattr(self, name), which) for name in self.__slots__))

    def put(self, which: NDArray[np.int64], changed: "DevicePositions") -> None:
        """Write some variants' positions back."""
        for name in self.__slots__:
            put_columns(getattr(self, name), which, getattr(changed, name))


def full_output(generator: Generator, rpm: float, values: Floats) -> Floats:
    """Current (V,) [A] a generator can give at an engine speed, its field full."""
    element = generator.element
    turns = rpm * (values[generator.slip] if generator.slip is not None else 1.0)
    share = 1 - np.exp(-np.maximum(turns - element.cut_in_rpm, 0.0) / element.knee_rpm)
    for row in generator.windings:
        share = share * values[row]
    if isinstance(element, Rectifier) and any(generator.ways):
        share = share * brought(element, [np.sum(values[list(rows)], axis=0) for rows in generator.ways])
    return np.asarray(values[generator.rated_a] * share)


def _driven_by(network: Network, regulator: str) -> str:
    """The alternator whose field an outside regulator drives."""
    return next(g.element.id for g in network.generators if isinstance(g.element, Alternator) and g.element.regulator == regulator)


class Stamper:
    """Fixed tables of a network in one operating state, from which branch conductances and sources are filled in."""

    def __init__(self, network: Network, state: str) -> None:
        self.network = network
        kind = network.of_kind
        self.batteries = kind(BranchKind.BATTERY)
        self.switches = kind(BranchKind.SWITCH)
        self.contacts = kind(BranchKind.CONTACT)
        self.motors = kind(BranchKind.MOTOR)
        self.lamps = kind(BranchKind.LAMP)
        self.diodes = kind(BranchKind.DIODE)
        self.draws = kind(BranchKind.DRAW)
        rows = network.row
        owner = [o.id for o in network.owners]
        self.battery_emf = np.array([rows[owner[n], "emf_v"] for n in self.batteries], dtype=np.int64)
        self.switch_stuck = np.array([rows[owner[n], "stuck"] for n in self.switches], dtype=np.int64)
        self.switch_closed = network.closed_in(state)[self.switches]
        self.contact_stuck = np.array([rows[owner[n], "stuck"] for n in self.contacts], dtype=np.int64)
        coil_of = {coil.element: number for number, coil in enumerate(network.coils)}
        self.contact_coil = np.array([coil_of[owner[n]] for n in self.contacts], dtype=np.int64)
        self.contact_rest = np.array([network.branches[n].rest for n in self.contacts], dtype=bool)
        self.motor_load = np.array([rows[owner[n], "load_a"] for n in self.motors], dtype=np.int64)
        self.motor_back = np.array([rows[owner[n], "back_v"] for n in self.motors], dtype=np.int64)
        self.diode_fed = network.closed_in(state)[self.diodes]
        self.diode_forward = np.array([rows[owner[n], "forward_v"] for n in self.diodes], dtype=np.int64)
        self.lamp_rated = np.array([o.volts for o in network.owners if isinstance(o, Lamp)])
        self.battery_lag = np.array([rows[owner[n], "lag_v"] for n in self.batteries], dtype=np.int64)
        self.battery_heavy = np.array([rows[owner[n], "heavy_a"] for n in self.batteries], dtype=np.int64)
        self.battery_charge = np.array([rows[owner[n], "charge_ohm"] for n in self.batteries], dtype=np.int64)
        self.sources = np.array([g.branch for g in network.generators], dtype=np.int64)
        self.exciters, self.trios, self.drives = kind(BranchKind.EXCITER), kind(BranchKind.TRIO), kind(BranchKind.DRIVE)
        number_of = {owner[n]: k for k, n in enumerate(self.sources)}
        self.exciter_of = np.array([number_of[owner[n]] for n in self.exciters], dtype=np.int64)
        fed = [o for o in network.sheet.elements if isinstance(o, FieldRegulator)]
        self.drive_feed = np.array([network.point_row[o.feed] for o in fed], dtype=np.int64)
        self.drive_ground = np.array([network.point_row[o.ground] for o in fed], dtype=np.int64)
        self.drive_field = np.array([rows[_driven_by(network, o.id), "field_ohm"] for o in fed], dtype=np.int64)
        self.drive_of = {_driven_by(network, o.id): k for k, o in enumerate(fed)}
        self.drive_stuck = np.array([rows[owner[n], "stuck"] for n in self.drives], dtype=np.int64)
        self.rpm = network.sheet.state(state).rpm
        made = [g.element for g in network.generators]
        self.commanded_v = [network.sheet.asked_v(e, state) if isinstance(e, Alternator) else None for e in made]
        self.outputs = np.array([n for unit in network.units for n, _, _ in unit.outputs], dtype=np.int64)
        sheet = network.sheet
        self.awake = np.array([sheet.in_position(u.element.awake_in, state) for u in network.units], dtype=bool)
        self.output_allowed = np.array([sheet.in_position(o.on_in, state) for u in network.units for _, o, _ in u.outputs], dtype=bool)
        self.asleep_rows = [rows[u.element.id, "asleep_ohm"] for u in network.units]

    def at_rest(self, values: Floats) -> DevicePositions:
        """Every relay dropped out, every module still alive from before, motors standing, filaments warm."""
        variants = values.shape[1]
        net = self.network
        no, yes = np.zeros, np.ones
        return DevicePositions(
            coils=no((len(net.coils), variants), dtype=bool),
            alive=yes((len(net.units), variants), dtype=bool),
            lived=no((len(net.units), variants), dtype=bool),
            driving=no((len(self.outputs), variants), dtype=bool),
            motor_runs=no((len(self.motors), variants), dtype=bool),
            diode_on=no((len(self.diodes), variants), dtype=bool),
            lamp_v=np.repeat(self.lamp_rated[:, None], variants, axis=1),
            taking=no((len(self.batteries), variants), dtype=bool),
            straining=no((len(self.batteries), variants), dtype=bool),
            charging=no((len(self.sources), variants), dtype=bool),
            driven=no((len(self.drives), variants), dtype=bool),
            duty=yes((len(self.drives), variants)),
            limited=no((len(self.sources), variants), dtype=bool),
            blocked=no((len(self.sources), variants), dtype=bool),
            emf=np.array([values[g.set_v] for g in net.generators]).reshape(len(self.sources), variants),
            limit=np.array([full_output(g, self.rpm, values) for g in net.generators]).reshape(len(self.sources), variants),
        )

    def fill(self, values: Floats, where: DevicePositions) -> tuple[Floats, Floats]:
        """Conductance [S] and source current [A] of every branch (branches, V): current = conductance · drop + source."""
        net = self.network
        conductance = 1.0 / values[net.value]
        source = np.zeros_like(conductance)
        lag = values[self.battery_lag]
        light = 1.0 / (values[net.value[self.batteries]] + lag / values[self.battery_heavy])
        conductance[self.batteries] = np.where(
            where.taking, 1.0 / values[self.battery_charge], np.where(where.straining, conductance[self.batteries], light)
        )
        source[self.batteries] = -(values[self.battery_emf] - lag * where.straining) * conductance[self.batteries]
        stuck = values[self.switch_stuck]
        conductance[self.switches] *= (self.switch_closed[:, None] & (stuck >= 0)) | (stuck > 0)
        conductance[self.contacts] *= self._contacts_closed(values, where)
        steep = values[self.motor_back] / (1 - STANDSTILL_SHARE)
        turning = 1.0 / (values[net.value[self.motors]] + steep / values[self.motor_load])
        conductance[self.motors] = np.where(where.motor_runs, turning, conductance[self.motors])
        source[self.motors] = np.where(where.motor_runs, STANDSTILL_SHARE * steep * turning, 0.0)
        share = np.maximum((np.abs(where.lamp_v) / self.lamp_rated[:, None]) ** FILAMENT_EXPONENT, COLD_FILAMENT_SHARE)
        conductance[self.lamps] /= share
        conductance[self.diodes] *= where.diode_on
        source[self.diodes] = -values[self.diode_forward] * conductance[self.diodes]
        conductance[self.outputs] *= where.driving
        if len(self.sources):
            runs = where.charging & ~where.limited & ~where.blocked
            conductance[self.sources] *= runs
            source[self.sources] = np.where(
                runs, -where.emf * conductance[self.sources], np.where(where.charging & where.limited, -where.limit, 0.0)
            )
            conductance[self.exciters] *= ~where.charging[self.exciter_of]
            conductance[self.trios] *= where.charging[self.exciter_of]
            choked = values[self.drive_field] * (1 / where.duty - 1)
            stuck = values[self.drive_stuck]
            holds = (where.driven & (stuck >= 0)) | (stuck > 0)  # what is burnt through lets go with its feed off no more than with it on
            conductance[self.drives] = holds / (values[net.value[self.drives]] + choked)
        for number, (draw, unit) in enumerate(zip(self.draws, net.units, strict=True)):
            awake = self.awake[number] | (values[unit.wakeful] > 0)
            drawn = np.where(awake, conductance[draw], 1.0 / values[self.asleep_rows[number]])
            conductance[draw] = drawn * (values[unit.dead] == 0)
        return conductance, source

    def _contacts_closed(self, values: Floats, where: DevicePositions) -> Bools:
        stuck = values[self.contact_stuck]
        pulled = np.where(stuck > 0, True, np.where(stuck < 0, False, where.coils[self.contact_coil]))
        return pulled ^ self.contact_rest[:, None]
