"""Nodal equations solved by removing one point at a time, for many variants of a circuit at once, in compiled code.

Removing a point from a net of conductances replaces its star by a mesh between its neighbours: c_pq += c_p c_q / Σc.
Every quantity stays positive and is only ever added to, so nothing cancels: a floating wire held by a nanosiemens
beside a cable of a thousand siemens keeps all its digits. Figures have a column for each variant.
"""

from typing import NamedTuple

import numpy as np

from iron_probe.core.arrays import Floats, Ints
from iron_probe.core.solve.compiled import compiled


class Steps(NamedTuple):
    """The order of removal, step by step: the `point` (steps,) removed, whose edges are the slots from `first` (steps + 1,) on; of every slot the
    `neighbour` (edges,) that is removed later; and from `mesh_first` (steps + 1,) on the `mesh` (pairs, 3) it leaves: the slots of two of its
    edges, and of the one between their neighbours."""

    point: Ints
    first: Ints
    neighbour: Ints
    mesh_first: Ints
    mesh: Ints


class Places(NamedTuple):
    """Where figures go, points numbered without the `reference`, which is one of the network's: of every point its `damp` (points,) [S] and the
    parameter row of its leak; `to_ground` (n, 2) branches and the point they join to the reference; `between` (n, 2) branches and their edge slot;
    `fed` (n, 2) parameter rows of a leak from the supply and its slot; `ends` (branches, 2) points of the network."""

    reference: int
    damp: Floats
    leak_row: Ints
    to_ground: Ints
    between: Ints
    fed: Ints
    ends: Ints


class System(NamedTuple):
    """The equations of a network: in which order its points are removed, how many slots for edges that takes, and where figures go."""

    steps: Steps
    edges: int
    places: Places


@compiled
def eliminate(steps: Steps, edge_s: Floats, ground_s: Floats) -> tuple[Floats, Floats]:
    """Remove all points of some variants: the conductance of each star (points, variants) [S], and the share of each ray in it (edges, variants).

    `edge_s` (edges, variants) [S] by slot, `ground_s` (points, variants) [S] to the reference; every point must have a way to the reference with
    conductance above zero. Both are worked on in place.
    """
    total, share = np.empty_like(ground_s), np.empty_like(edge_s)
    for k in range(len(steps.point)):
        star, own = total[steps.point[k]], ground_s[steps.point[k]]
        for v in range(len(own)):
            star[v] = own[v]
        for ray in range(steps.first[k], steps.first[k + 1]):
            whole = edge_s[ray]
            for v in range(len(own)):
                star[v] += whole[v]
        for ray in range(steps.first[k], steps.first[k + 1]):
            near, whole, part = ground_s[steps.neighbour[ray]], edge_s[ray], share[ray]
            for v in range(len(star)):
                part[v] = whole[v] / star[v]
                near[v] += part[v] * own[v]
        for m in range(steps.mesh_first[k], steps.mesh_first[k + 1]):
            part, other, between = share[steps.mesh[m, 0]], edge_s[steps.mesh[m, 1]], edge_s[steps.mesh[m, 2]]
            for v in range(len(star)):
                between[v] += part[v] * other[v]
    return total, share


@compiled
def to_volts(steps: Steps, total: Floats, share: Floats, injected_a: Floats) -> None:
    """Make of currents (points, variants) [A] injected into the points, in place, their voltages [V] against the reference."""
    for k in range(len(steps.point)):
        own = injected_a[steps.point[k]]
        for ray in range(steps.first[k], steps.first[k + 1]):
            near, part = injected_a[steps.neighbour[ray]], share[ray]
            for v in range(len(own)):
                near[v] += part[v] * own[v]
    for k in range(len(steps.point) - 1, -1, -1):
        own, star = injected_a[steps.point[k]], total[steps.point[k]]
        for v in range(len(own)):
            own[v] /= star[v]
        for ray in range(steps.first[k], steps.first[k + 1]):
            near, part = injected_a[steps.neighbour[ray]], share[ray]
            for v in range(len(own)):
                own[v] += part[v] * near[v]


@compiled
def own_resistances(steps: Steps, total: Floats, share: Floats) -> Floats:
    """Resistance (points, variants) [Ω] from every point to the reference, sources at rest.

    The recurrence of Takahashi, Fagan and Chen (1973) for the entries of an inverse inside the pattern of its factors.
    """
    own, mutual = np.empty_like(total), np.empty_like(share)
    for k in range(len(steps.point) - 1, -1, -1):
        mine, star = own[steps.point[k]], total[steps.point[k]]
        for v in range(len(mine)):
            mine[v] = 1 / star[v]
        for ray in range(steps.first[k], steps.first[k + 1]):
            near, part, both = own[steps.neighbour[ray]], share[ray], mutual[ray]
            for v in range(len(near)):
                both[v] = part[v] * near[v]
        for m in range(steps.mesh_first[k], steps.mesh_first[k + 1]):
            i, j, between = steps.mesh[m, 0], steps.mesh[m, 1], mutual[steps.mesh[m, 2]]
            one, other, part, far = mutual[i], mutual[j], share[i], share[j]
            for v in range(len(between)):
                one[v] += far[v] * between[v]
                other[v] += part[v] * between[v]
        for ray in range(steps.first[k], steps.first[k + 1]):
            part, both = share[ray], mutual[ray]
            for v in range(len(mine)):
                mine[v] += part[v] * both[v]
    return own


@compiled
def _gathered(system: System, values: Floats, conductance: Floats, which: Ints) -> tuple[Floats, Floats]:
    """Conductances of the edge slots (edges, which) and to ground (points, which) of some variants."""
    places = system.places
    ground, edge = np.empty((len(places.damp), len(which))), np.zeros((system.edges, len(which)))
    for k in range(len(places.damp)):
        for j in range(len(which)):
            ground[k, j] = places.damp[k]
        _add(ground[k], values[places.leak_row[k]], which)
    for n in range(len(places.to_ground)):
        _add(ground[places.to_ground[n, 1]], conductance[places.to_ground[n, 0]], which)
    for n in range(len(places.between)):
        _add(edge[places.between[n, 1]], conductance[places.between[n, 0]], which)
    for n in range(len(places.fed)):
        _add(edge[places.fed[n, 1]], values[places.fed[n, 0]], which)
    return edge, ground


@compiled
def _add(row: Floats, more: Floats, which: Ints) -> None:
    """Add the figures of some variants."""
    for j in range(len(which)):
        row[j] += more[which[j]]


@compiled
def _put(rows: Floats, reference: int, found: Floats, which: Ints) -> None:
    """Put the figures of some variants where they belong among all points and variants."""
    for k in range(len(found)):
        for j in range(len(which)):
            rows[k + (k >= reference), which[j]] = found[k, j]


@compiled
def solve_some(
    system: System,
    driving: Ints,
    which: Ints,
    values: Floats,
    conductance: Floats,
    source: Floats,
    volts: Floats,
    drop: Floats,
    flow: Floats,
) -> None:
    """Solve some variants: the voltages of points (points, V) against the reference, which stays at its 0 V, those across branches and their currents
    (branches, V), both from start to end, are filled in from what branches conduct [S] (branches, V) and the `driving` ones drive [A] (branches, V)."""
    places = system.places
    edge, ground = _gathered(system, values, conductance, which)
    total, share = eliminate(system.steps, edge, ground)
    found = np.zeros(ground.shape)
    for n in driving:
        start, end = places.ends[n, 0], places.ends[n, 1]
        for j in range(len(which)):
            if start != places.reference:
                found[start - (start > places.reference), j] -= source[n, which[j]]
            if end != places.reference:
                found[end - (end > places.reference), j] += source[n, which[j]]
    to_volts(system.steps, total, share, found)
    _put(volts, places.reference, found, which)
    for n in range(len(places.ends)):
        start, end = places.ends[n, 0], places.ends[n, 1]
        for v in which:
            drop[n, v] = volts[start, v] - volts[end, v]
            flow[n, v] = conductance[n, v] * drop[n, v] + source[n, v]


@compiled
def own_ohm(system: System, values: Floats, conductance: Floats) -> Floats:
    """Resistance (points, V) [Ω] from every point to the reference, sources at rest; 0 of the reference itself."""
    every, places = np.arange(values.shape[1]), system.places
    edge, ground = _gathered(system, values, conductance, every)
    total, share = eliminate(system.steps, edge, ground)
    ohm = np.zeros((len(places.damp) + 1, len(every)))
    _put(ohm, places.reference, own_resistances(system.steps, total, share), every)
    return ohm
