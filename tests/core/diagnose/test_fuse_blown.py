"""What a dead short does to the fuse before it."""

import numpy as np
import pytest

from iron_probe.core.circuit.elements import Fuse
from iron_probe.core.circuit.faults import FUSE_WHOLE, SECOND_FUSE
from iron_probe.core.circuit.network import Network, network_of
from iron_probe.core.diagnose.fault_mode import FaultMode
from iron_probe.core.diagnose.fault_modes import fault_modes, find_mode
from iron_probe.core.diagnose.fuse_blown import EITHER_WAY, opens_share
from iron_probe.core.solve.operate import solve_state
from iron_probe.machines import load_sheet


@pytest.fixture(scope="module")
def motorcycle() -> Network:
    return network_of(load_sheet("patrol-motorcycle"))


def carried_a(network: Network, mode: FaultMode, share: float, fuse: str) -> float:
    """The most a fuse carries in any state with the short behind it [A], the fuse itself whole."""
    whole = network.row[fuse, "r_ohm"]
    values = mode.put_in(network.nominal, np.array([share]))
    values[whole] = network.nominal[whole]
    return max(abs(float(solve_state(network, s, values).current(fuse)[0])) for s in network.sheet.states)


def test_the_smaller_fuse_before_a_dead_short_is_open_and_a_leak_opens_none(motorcycle: Network) -> None:
    modes = fault_modes(motorcycle)
    assert find_mode(modes, "headlamp", "shorted").opened == "ign-fuse"  # 10 A, behind 30 A
    assert find_mode(modes, "key-feed", "shorted").opened == "main-fuse"
    assert find_mode(modes, "solenoid", "coil_shorted").opened == "ign-fuse"
    assert find_mode(modes, "head-wire", "leak_to_ground").opened is None
    assert find_mode(modes, "motor-lead", "open").blows is False


def test_where_both_can_be_a_fuse_is_open_with_the_harder_shorts_and_whole_with_the_milder() -> None:
    network = network_of(load_sheet("verge-tractor"))
    modes = fault_modes(network)
    split = [(find_mode(modes, m.element, m.name.removesuffix(FUSE_WHOLE)), m) for m in modes if m.name.endswith(FUSE_WHOLE)]
    assert split
    for blown, whole in split:
        assert blown.opened and whole.opened is None and blown.blows and whole.blows
        fuse = network.sheet.element(blown.opened)
        assert isinstance(fuse, Fuse)
        opens_a = fuse.rating_a * opens_share(fuse)
        assert carried_a(network, blown, blown.worst_share, fuse.id) > opens_a / EITHER_WAY
        assert carried_a(network, whole, whole.worst_share, fuse.id) < 1.25 * EITHER_WAY * opens_a  # drawn out between five


def test_a_short_weighs_the_same_in_one_piece_or_two() -> None:
    network = network_of(load_sheet("verge-tractor"))
    modes = fault_modes(network)
    wires = [e.id for e in network.sheet.elements if e.type == "wire" and not e.tags]
    weights = [sum(m.weight for m in modes if m.element == e and m.name.startswith("shorted") and m.blows) for e in wires]
    assert len(wires) > 3 and weights == pytest.approx([0.25] * len(wires))


def test_a_link_holds_what_opens_a_blade() -> None:
    fuses = {e.id: e for e in load_sheet("pool-car").elements if isinstance(e, Fuse)}
    assert opens_share(fuses["main-link"]) > opens_share(fuses["f5"])


def test_of_two_fuses_in_a_row_that_a_short_loads_nearly_alike_either_may_be_open() -> None:
    modes = fault_modes(network_of(load_sheet("harbour-launch")))
    first, second = (find_mode(modes, "crank-wire", name) for name in ("shorted", f"shorted{SECOND_FUSE}"))
    assert {first.opened, second.opened} == {"breaker", "engine-link"}
    one = [m for m in fault_modes(network_of(load_sheet("patrol-motorcycle"))) if m.element == "headlamp" and m.blows]
    assert {m.opened for m in one} == {"ign-fuse"}  # 10 A behind 30 A: no question which
