"""Behaviour in operating states: what relays, starter, lamps and modules do, and what instruments then read."""

import numpy as np
import pytest

from iron_probe.core.circuit.elements import Conditions, Lamp
from iron_probe.core.circuit.network import Network, build_network
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.errors import SolveError
from iron_probe.core.solve.equations import point_leaks
from iron_probe.core.solve.operate import solve_state
from iron_probe.core.solve.solution import Solution, Symptom, swing
from iron_probe.core.solve.symptom import SYMPTOMS, symptom_codes


def crank(network: Network, **extra_ohm: float) -> Solution:
    values = network.nominal[:, None].copy()
    for element, ohm in extra_ohm.items():
        values[network.row[element.replace("_", "-"), "r_ohm"], 0] += ohm
    return solve_state(network, "crank", values)


def symptom(solution: Solution) -> Symptom:
    return SYMPTOMS[symptom_codes(solution)[0]]


def test_good_machine_cranks_and_its_drops_add_up(minibus_network: Network) -> None:
    solved = crank(minibus_network)
    assert symptom(solved) is Symptom.CRANKS
    parts = solved.between("bat.plus", "front.stud") + solved.between("front.stud", "starter.B")
    assert parts == pytest.approx(solved.between("bat.plus", "starter.B"), abs=1e-6)
    assert solved.between("bat.plus", "bat.minus")[0] > 11


@pytest.mark.parametrize(
    ("fault", "heard"),
    [
        ({"strap_block": 0.018}, Symptom.SLOW),
        ({"strap_block": 0.06}, Symptom.CHATTER),
        ({"strap_block": 10.0}, Symptom.CLICK),
        ({"crank_wire": 1e9}, Symptom.NOTHING),
        ({"f4": 1e9}, Symptom.CLICK),
        ({"isolator": 1e9}, Symptom.NOTHING),
    ],
)
def test_what_is_heard_follows_from_the_circuit(minibus_network: Network, fault: dict[str, float], heard: Symptom) -> None:
    assert symptom(crank(minibus_network, **fault)) is heard


def test_chatter_names_the_device_that_moves(minibus_network: Network) -> None:
    solved = crank(minibus_network, strap_block=0.06)
    assert solved.chatter[0]
    assert minibus_network.coils[solved.chattering[0]].element in ("solenoid", "start-relay")
    assert crank(minibus_network).chattering[0] == -1


def test_open_path_reads_full_voltage_across_the_break_only_while_commanded(minibus_network: Network) -> None:
    values = minibus_network.nominal[:, None].copy()
    values[minibus_network.row["strap-block", "r_ohm"], 0] = 1e9
    at_rest, cranking = (solve_state(minibus_network, s, values) for s in ("rest", "crank"))
    assert abs(at_rest.between("block", "strap.block")[0]) < 0.3
    assert cranking.between("block", "strap.block")[0] > 10


def test_floating_wire_reads_as_a_ghost_and_is_flagged(minibus_network: Network) -> None:
    solved = solve_state(minibus_network, "rest")
    assert solved.floating("clutch.in")[0]
    assert not solved.floating("front.stud")[0]
    # battery plus to a free wire: the meter's 10 MΩ against a gigaohm of insulation leaves a ghost, not 12.6 V
    assert 0 < solved.between("bat.plus", "clutch.in")[0] < 0.5


def test_scalar_equals_batch(minibus_network: Network) -> None:
    values = np.repeat(minibus_network.nominal[:, None], 5, axis=1)
    values[minibus_network.row["feed-cable", "r_ohm"]] = [1e-4, 1e-3, 1e-2, 1e-1, 1e6]
    together = solve_state(minibus_network, "crank", values)
    for k in range(5):
        alone = solve_state(minibus_network, "crank", values[:, [k]])
        assert alone.volts[:, 0] == pytest.approx(together.volts[:, k], abs=1e-9)
        assert alone.amps[:, 0] == pytest.approx(together.amps[:, k], abs=1e-6)


def test_cold_asks_for_more_and_gives_less(minibus: Sheet) -> None:
    warm, cold = (solve_state(build_network(minibus, Conditions(temp_degc=t)), "crank") for t in (20, -18))
    assert abs(cold.current("starter")[0]) > abs(warm.current("starter")[0])
    assert cold.between("bat.plus", "bat.minus")[0] < warm.between("bat.plus", "bat.minus")[0]
    assert cold.turning[0] < warm.turning[0]


def test_a_test_lamp_loads_what_a_meter_does_not(minibus: Sheet) -> None:
    """12 V through 200 Ω of corrosion, a memory asleep behind it: the meter sees nearly all of it, a 3 W lamp next to nothing."""
    lamp = Lamp.model_validate({"id": "lamp", "type": "lamp", "title": "lamp", "from": "front.stud", "to": "bat.minus", "watts": 3})
    for attached, least, most in (((), 10.5, 12.7), ((lamp,), 0.0, 1.5)):
        network = build_network(minibus, attached=attached)
        values = network.nominal[:, None].copy()
        values[network.row["feed-lug", "r_ohm"], 0] = 200.0
        assert least < solve_state(network, "rest", values).between("front.stud", "bat.minus")[0] < most


def test_power_balances_in_every_state(minibus: Sheet, minibus_network: Network) -> None:
    for state in minibus.states:
        solved = solve_state(minibus_network, state)
        drop = solved.volts[minibus_network.start] - solved.volts[minibus_network.end]
        leaked = (point_leaks(len(solved.volts))[:, None] * solved.volts**2).sum()
        assert (drop * solved.amps).sum() + leaked == pytest.approx(0, abs=1e-9 * abs(solved.amps).max() + 1e-8)


def test_unknown_names_are_refused_with_a_hint(minibus_network: Network) -> None:
    with pytest.raises(SolveError, match="no state is called “cranking”; did you mean crank"):
        solve_state(minibus_network, "cranking")
    with pytest.raises(SolveError, match=r"no point is called “starter\.b”"):
        solve_state(minibus_network, "rest").between("starter.b", "bat.minus")


def test_a_rattle_lies_between_its_positions_and_every_machine_has_shares_of_its_own(minibus_network: Network) -> None:
    """Half of the battery, the mean of a solve and of nothing, is out of reach."""
    values = np.repeat(minibus_network.nominal[:, None], 40, axis=1)
    values[minibus_network.row["strap-block", "r_ohm"]] += 0.06
    values[minibus_network.row["battery", "emf_v"]] *= np.linspace(0.995, 1.005, 40)
    solved = solve_state(minibus_network, "crank", values)
    assert solved.chatter.all()
    posts = solved.between("bat.plus", "bat.minus")
    swings = swing(solved.away_v[:, minibus_network.plus] - solved.away_v[:, minibus_network.reference])
    assert (posts > 10.5).all() and (posts < 12.7).all()
    assert swings.min() > 0.1 and swings.max() < 1.5
    assert np.ptp(posts) > 0.3 * swings.min()
