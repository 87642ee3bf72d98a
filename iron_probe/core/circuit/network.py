"""A sheet laid out as arrays: points, branches and parameters by number, ready for the solver."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from iron_probe.core.arrays import Floats, Ints
from iron_probe.core.circuit.elements import (
    Alternator,
    Branch,
    BranchKind,
    Charger,
    Conditions,
    Element,
    FieldRegulator,
    Load,
    Module,
    Output,
    Rectifier,
    Relay,
    Solenoid,
    Stator,
    Switch,
)
from iron_probe.core.circuit.faults import LEAK, SUPPLY_LEAK
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.circuit.stator_ways import stator_ways
from iron_probe.core.errors import SolveError, unknown_name
from iron_probe.core.kept import Kept

ASSUMED_SPREAD = 1.5
"""How much wider a part spreads that is only assumed: neither its size nor its length was looked at (chosen here)."""


@dataclass(frozen=True, slots=True)
class Coil:
    """A relay or solenoid as a device with two positions: branch numbers of its windings, whose currents add, and rows of its limits."""

    element: str
    windings: tuple[int, ...]
    pull_in: int
    drop_out: int


@dataclass(frozen=True, slots=True)
class Unit:
    """A control module as a device; `outputs` are (branch number, Output, stuck row)."""

    element: Module
    supply: int
    ground: int
    dead: int
    wakeful: int
    outputs: tuple[tuple[int, Output, int], ...]


@dataclass(frozen=True, slots=True)
class Generator:
    """An alternator or rectifier as a device: its output `branch`, row numbers of its parameters, and where it senses.

    `sense` and `ground` are points; `lamp`, `ignition`, `bus` those of its small wires or None; `field` the branch of an outside field;
    `exciter_ohm` the row of the lamp terminal's way to ground; `design` the row that says which machines of an unknown design the ignition alone wakes (from 1); `stuck` of whoever regulates: -1 dead, +1 full on; `deaf` the row of one that does not answer its bus; `ways` the rows of the ohms each phase of a stator passes on its way to the bridge.
    """

    element: Alternator | Rectifier
    branch: int
    sense: int
    ground: int
    lamp: int | None
    ignition: int | None
    bus: int | None
    deaf: int | None
    field: int | None
    field_ohm: int | None
    set_v: int
    most_v: int
    rated_a: int
    windings: tuple[int, ...]
    slip: int | None
    stuck: tuple[int, ...]
    design: int | None = None
    exciter_ohm: int | None = None
    ways: tuple[tuple[int, ...], ...] = ()


@dataclass(frozen=True, eq=False)
class Network:
    """The numbered circuit; compared by identity, so that what is worked out for it can be kept.
    `points[k]` is row k of a voltage array; the reference (battery minus) is row `reference`.

       `nominal` and `spread` have one entry a parameter; `row[(owner, name)]` finds it, the owner being an element or point id.
    """

    sheet: Sheet
    attached: tuple[Element, ...]
    points: tuple[str, ...]
    branches: tuple[Branch, ...]
    owners: tuple[Element, ...]
    parameters: tuple[tuple[str, str], ...]
    nominal: Floats
    spread: Floats

    @cached_property
    def reference(self) -> int:
        return self.points.index(self.sheet.minus)

    @cached_property
    def plus(self) -> int:
        return self.points.index(self.sheet.plus)

    @cached_property
    def row(self) -> dict[tuple[str, str], int]:
        return {key: number for number, key in enumerate(self.parameters)}

    @cached_property
    def point_row(self) -> dict[str, int]:
        return {name: number for number, name in enumerate(self.points)}

    @cached_property
    def branch_row(self) -> dict[str, int]:
        """Branch numbers by name: the element's id, with `.name` where it has several."""
        return {branch_id(o, b): n for n, (o, b) in enumerate(zip(self.owners, self.branches, strict=True))}

    @cached_property
    def start(self) -> Ints:
        return np.array([self.point_row[b.start] for b in self.branches])

    @cached_property
    def end(self) -> Ints:
        return np.array([self.point_row[b.end] for b in self.branches])

    @cached_property
    def value(self) -> Ints:
        return np.array([self.row[o.id, b.value] for o, b in zip(self.owners, self.branches, strict=True)])

    @cached_property
    def leak_rows(self) -> Ints:
        return np.array([self.row[p, LEAK] for p in self.points])

    @cached_property
    def supply_leak_rows(self) -> Ints:
        return np.array([self.row[p, SUPPLY_LEAK] for p in self.points])

    def of_kind(self, *kinds: BranchKind) -> Ints:
        """Numbers of the branches of these kinds."""
        return np.array([n for n, b in enumerate(self.branches) if b.kind in kinds], dtype=np.int64)

    @cached_property
    def coils(self) -> tuple[Coil, ...]:
        wound = {o.id: ("coil",) if isinstance(o, Relay) else ("hold", "pull") for o in self.owners if isinstance(o, Relay | Solenoid)}
        found = [
            Coil(own, tuple(self.branch_row[f"{own}.{w}"] for w in windings), self.row[own, "pull_in_a"], self.row[own, "drop_out_a"])
            for own, windings in wound.items()
        ]
        return tuple(found)

    @cached_property
    def units(self) -> tuple[Unit, ...]:
        found = []
        for element in (*self.sheet.elements, *self.attached):
            if isinstance(element, Module):
                outputs = tuple(
                    (self.branch_row[f"{element.id}.{o.name}"], o, self.row[element.id, f"{o.name}_stuck"]) for o in element.outputs
                )
                rows = self.row
                found.append(
                    Unit(
                        element,
                        self.point_row[element.supply],
                        self.point_row[element.ground],
                        rows[element.id, "dead"],
                        rows[element.id, "wakeful"],
                        outputs,
                    )
                )
        return tuple(found)

    @cached_property
    def generators(self) -> tuple[Generator, ...]:
        return tuple(self._generator(o) for o, b in zip(self.owners, self.branches, strict=True) if b.kind is BranchKind.SOURCE)

    def _generator(self, element: Element) -> Generator:
        row, at = self.row, self.point_row
        own = element.id
        if isinstance(element, Rectifier):
            stator = self.sheet.element(element.stator)
            single = isinstance(stator, Stator) and stator.joined == "single"  # fewer turns of it reach the battery's volts later
            return Generator(
                element=element, branch=self.branch_row[f"{own}.output"], sense=at[element.b], ground=at[element.case], lamp=None, ignition=None, bus=None, deaf=None,
                field=None, field_ohm=None, set_v=row[own, "set_v"], most_v=row[own, "most_v"],
                rated_a=row[own, "rated_a"], windings=(row[own, "bridge"], row[element.stator, "windings"]), slip=row[element.stator, "e1"] if single else None, stuck=(row[own, "stuck"],),
                ways=tuple(tuple(row[e, "r_ohm"] for e in way) for way in stator_ways(self.sheet, element)),
            )  # fmt: skip
        assert isinstance(element, Alternator)
        outside = self.sheet.element(element.regulator) if element.regulator else None
        sense, ground, set_v = at[element.s or element.b], at[element.case], row[own, "set_v"]
        stuck: tuple[int, ...] = (row[own, "stuck"],)
        if isinstance(outside, FieldRegulator):
            sense, ground, set_v, stuck = (
                at[outside.feed],
                at[outside.ground],
                row[outside.id, "set_v"],
                (row[own, "stuck"], row[outside.id, "stuck"]),
            )
        return Generator(
            element=element, branch=self.branch_row[f"{own}.output"], sense=sense, ground=ground,
            lamp=at[element.l] if element.l else None, ignition=at[element.ig] if element.ig else None,
            bus=at[element.bus] if element.bus else None, deaf=row[own, "deaf"] if element.bus else None,
            field=self.branch_row[f"{own}.field"] if element.f else None, field_ohm=row[own, "field_ohm"] if element.f else None,
            set_v=set_v, most_v=row[own, "most_v"], rated_a=row[own, "rated_a"], windings=(row[own, "windings"],), slip=row[own, "slip"], stuck=stuck,
            design=row.get((own, "design")), exciter_ohm=row.get((own, "l_ohm")),
        )  # fmt: skip

    def closed_in(self, state: str) -> NDArray[np.bool_]:
        """For every branch, whether the controls of that state would close it (true for all but switches, loads and chargers)."""
        closed = np.ones(len(self.branches), dtype=bool)
        for number, owner in enumerate(self.owners):
            if isinstance(owner, Switch):
                closed[number] = self.sheet.in_position(owner.closed_in, state)
            elif isinstance(owner, Load | Charger):
                closed[number] = self.sheet.in_position(owner.on_in, state)
        return closed

    def find_point(self, name: str) -> int:
        """Number of a point; SolveError when the sheet has none of that name."""
        if name not in self.point_row:
            raise SolveError(unknown_name("point", name, list(self.points)))
        return self.point_row[name]

    def find_branch(self, name: str) -> int:
        """Number of a branch by `element` or `element.part`; SolveError when there is none."""
        if name not in self.branch_row:
            raise SolveError(unknown_name("branch", name, list(self.branch_row)))
        return self.branch_row[name]

    def machines(self, draws: Floats) -> Floats:
        """Parameters (parameters, count) of machines whose parts lie `draws` (parameters, count) of their spreads from nominal, log-normal."""
        return self.nominal[:, None] * np.exp(self.spread[:, None] * draws)


def branch_id(owner: Element, branch: Branch) -> str:
    """Name of a branch: the element's id, with the branch's own name where an element has several."""
    return f"{owner.id}.{branch.name}" if branch.name else owner.id


def build_network(sheet: Sheet, at: Conditions | None = None, attached: Sequence[Element] = ()) -> Network:
    """Number a sheet's points, branches and parameters under the given conditions.

    `attached` elements are instruments that draw current: a test lamp, a load tester, a jumper.
    """
    conditions = replace(Conditions() if at is None else at, fuel=sheet.engine.fuel)
    elements = [*sheet.elements, *attached]
    branches = [(element, branch) for element in elements for branch in element.branches()]
    rows = [(element, parameter) for element in elements for parameter in element.parameters(conditions)]
    names = [(owner.id, parameter.name) for owner, parameter in rows]
    nominal = [parameter.nominal for _, parameter in rows]
    spread = [parameter.spread * (ASSUMED_SPREAD if owner.assumed else 1.0) for owner, parameter in rows]
    for name in (LEAK, SUPPLY_LEAK):
        names += [(point, name) for point in sheet.points]
        nominal += [0.0] * len(sheet.points)
        spread += [0.0] * len(sheet.points)
    return Network(
        sheet=sheet,
        attached=tuple(attached),
        points=tuple(sheet.points),
        branches=tuple(branch for _, branch in branches),
        owners=tuple(element for element, _ in branches),
        parameters=tuple(names),
        nominal=np.array(nominal),
        spread=np.array(spread),
    )


@dataclass(frozen=True, slots=True)
class SheetKey:
    """A sheet as a key of what is kept: two are equal when their content is."""

    sheet: Sheet

    def __hash__(self) -> int:
        return hash(self.sheet.fingerprint)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, SheetKey) and other.sheet.fingerprint == self.sheet.fingerprint


_networks: Kept[tuple[SheetKey, Conditions], Network] = Kept("networks", 256)


def network_of(sheet: Sheet, at: Conditions | None = None) -> Network:
    """The network of a sheet under given conditions, built once and kept."""
    conditions = Conditions() if at is None else at
    return _networks.get((SheetKey(sheet), conditions), lambda: build_network(sheet, conditions))
