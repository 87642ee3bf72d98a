"""Star-mesh elimination against dense linear algebra, and the laws every solution must keep."""

from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from iron_probe.core.arrays import Floats
from iron_probe.core.solve.elimination import Plan, plan_elimination
from iron_probe.core.solve.nodal import eliminate, own_resistances, to_volts

LEAK = 1e-9


@st.composite
def networks(draw: st.DrawFn) -> tuple[int, list[tuple[int, int]], np.ndarray, np.ndarray, np.ndarray]:
    points = draw(st.integers(2, 14))
    pairs = draw(st.lists(st.tuples(st.integers(0, points - 1), st.integers(0, points - 1)), min_size=1, max_size=30))
    pairs = sorted({(min(p), max(p)) for p in pairs if p[0] != p[1]})
    rng = np.random.default_rng(draw(st.integers(0, 2**32 - 1)))
    variants = draw(st.integers(1, 4))
    edge = 10 ** rng.uniform(-4, 4, (len(pairs), variants)) * (rng.random((len(pairs), variants)) > 0.2)
    ground = LEAK + (rng.random((points, variants)) < 0.4) * 10 ** rng.uniform(-2, 3, (points, variants))
    return points, pairs, edge, ground, rng.uniform(-5, 5, (points, variants))


def _slots(plan, pairs, edge):  # type: ignore[no-untyped-def]
    full = np.zeros((plan.edges, edge.shape[1]))
    for row, (a, b) in zip(edge, pairs, strict=True):
        full[plan.slot_of(a, b)] += row
    return full


def _volts(plan: Plan, edge: Floats, ground: Floats, injected: Floats) -> Floats:
    """Volts of some variants; what is given stays as it is."""
    found = injected.copy()
    to_volts(plan.steps, *eliminate(plan.steps, edge.copy(), ground.copy()), found)
    return found


def _dense(points, pairs, edge, ground, variant):  # type: ignore[no-untyped-def]
    matrix = np.diag(ground[:, variant]).copy()
    for row, (a, b) in zip(edge[:, variant], pairs, strict=True):
        matrix[[a, b], [a, b]] += row
        matrix[[a, b], [b, a]] -= row
    return matrix


@settings(max_examples=150, deadline=None)
@given(networks())
def test_kirchhoff_and_power_balance(net) -> None:  # type: ignore[no-untyped-def]
    points, pairs, edge, ground, injected = net
    injected = injected * (ground > 1e-3)  # currents are pushed only where there is a way back
    plan = plan_elimination(points, pairs)
    volts = _volts(plan, _slots(plan, pairs, edge), ground, injected)
    residual = injected - ground * volts
    spent = (ground * volts**2).sum(axis=0)
    for row, (a, b) in zip(edge, pairs, strict=True):
        flow = row * (volts[a] - volts[b])
        residual[a] -= flow
        residual[b] += flow
        spent += flow * (volts[a] - volts[b])
    scale = 1 + np.abs(volts).max() * edge.max(initial=0)
    assert np.abs(residual).max() <= max(1e-9, 1e-13 * scale)
    assert spent == pytest.approx((injected * volts).sum(axis=0), rel=1e-9, abs=1e-9)


@settings(max_examples=60, deadline=None)
@given(networks())
def test_agrees_with_dense_solve_and_inverse(net) -> None:  # type: ignore[no-untyped-def]
    points, pairs, edge, ground, injected = net
    ground = ground + 1e-3  # keeps the dense referee itself well conditioned
    plan = plan_elimination(points, pairs)
    slots = _slots(plan, pairs, edge)
    volts, own_ohm = _volts(plan, slots, ground, injected), own_resistances(plan.steps, *eliminate(plan.steps, slots.copy(), ground.copy()))
    for variant in range(edge.shape[1]):
        matrix = _dense(points, pairs, edge, ground, variant)
        assert volts[:, variant] == pytest.approx(np.linalg.solve(matrix, injected[:, variant]), rel=1e-6, abs=1e-6)
        dense = np.linalg.inv(matrix)
        assert own_ohm[:, variant] == pytest.approx(np.diag(dense), rel=1e-6)


@settings(max_examples=60, deadline=None)
@given(networks())
def test_superposition_and_reciprocity(net) -> None:  # type: ignore[no-untyped-def]
    points, pairs, edge, ground, injected = net
    ground = ground + 1e-3
    plan = plan_elimination(points, pairs)
    slots = _slots(plan, pairs, edge)
    other = injected[::-1]
    together = _volts(plan, slots, ground, injected + other)
    apart = _volts(plan, slots, ground, injected) + _volts(plan, slots, ground, other)
    assert together == pytest.approx(apart, rel=1e-9, abs=1e-9)
    unit = np.zeros_like(injected)
    unit[0] = 1
    from_first = _volts(plan, slots, ground, unit)[points - 1]
    assert from_first == pytest.approx(_volts(plan, slots, ground, unit[::-1])[0], rel=1e-9)


def test_bridge_in_closed_form() -> None:
    """Wheatstone bridge fed with 1 A at point 0, ground at the far corner: 10/20 over 30/40 Ω with 50 Ω across.

    The exact values come from the nodal equations by Cramer's rule in fractions.
    """
    pairs = [(0, 1), (0, 2), (1, 2)]
    plan = plan_elimination(3, pairs)
    edge = np.array([[1 / 10], [1 / 20], [1 / 50]])
    ground = np.array([[0.0], [1 / 30], [1 / 40]])
    volts = _volts(plan, _slots(plan, pairs, edge), ground, np.array([[1.0], [0.0], [0.0]]))
    a, b, c, d, e = Fraction(1, 10), Fraction(1, 20), Fraction(1, 50), Fraction(1, 30), Fraction(1, 40)
    # nodal equations by Cramer's rule, exactly
    m = [[a + b, -a, -b], [-a, a + c + d, -c], [-b, -c, b + c + e]]

    def det(q: list[list[Fraction]]) -> Fraction:
        return (
            q[0][0] * (q[1][1] * q[2][2] - q[1][2] * q[2][1])
            - q[0][1] * (q[1][0] * q[2][2] - q[1][2] * q[2][0])
            + q[0][2] * (q[1][0] * q[2][1] - q[1][1] * q[2][0])
        )

    for k in range(3):
        replaced = [[Fraction(1) if (j == k and i == 0) else Fraction(0) if j == k else m[i][j] for j in range(3)] for i in range(3)]
        assert volts[k, 0] == pytest.approx(float(det(replaced) / det(m)), rel=1e-12)


def test_a_floating_wire_keeps_its_digits() -> None:
    """A point held only by a nanosiemens beside 10 kS: its resistance to ground is 1e9 Ω to every digit kept."""
    plan = plan_elimination(3, [(0, 1)])
    ground = np.array([[LEAK / 2], [LEAK / 2], [1e4]])
    assert own_resistances(plan.steps, *eliminate(plan.steps, np.array([[1e4]]), ground))[:, 0] == pytest.approx(
        [1e9, 1e9, 1e-4], rel=1e-12
    )
