"""A circuit numbered into arrays."""

import numpy as np
import pytest

from iron_probe.core.circuit.elements import Conditions
from iron_probe.core.circuit.network import ASSUMED_SPREAD, Network, SheetKey, branch_id, build_network, network_of
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.errors import SolveError


def test_every_name_has_its_number(minibus_network: Network) -> None:
    for number, (owner, branch) in enumerate(zip(minibus_network.owners, minibus_network.branches, strict=True)):
        assert minibus_network.find_branch(branch_id(owner, branch)) == number
    assert [minibus_network.find_point(p) for p in minibus_network.points] == list(range(len(minibus_network.points)))
    for find in (minibus_network.find_point, minibus_network.find_branch):
        with pytest.raises(SolveError, match="nowhere"):
            find("nowhere")


def test_machines_spread_about_nominal_by_each_parts_own_spread(minibus_network: Network) -> None:
    draws = np.zeros((len(minibus_network.nominal), 3))
    draws[:, 1], draws[:, 2] = 1.0, -1.0
    machines = minibus_network.machines(draws)
    assert machines[:, 0] == pytest.approx(minibus_network.nominal)
    assert machines[:, 1] * machines[:, 2] == pytest.approx(minibus_network.nominal**2)
    fixed = minibus_network.spread == 0
    assert (machines[fixed, 1] == minibus_network.nominal[fixed]).all()


def test_what_is_only_assumed_spreads_wider(minibus: Sheet, minibus_network: Network) -> None:
    first = minibus.elements[0]
    one = minibus.changed(elements=[first.model_copy(update={"assumed": True}), *minibus.elements[1:]])
    spreads = minibus_network.spread > 0
    ratio = (build_network(one).spread[spreads] / minibus_network.spread[spreads]).round(6)
    owners = [owner for (owner, _), some in zip(minibus_network.parameters, spreads, strict=True) if some]
    assert {owner for owner, r in zip(owners, ratio, strict=True) if r > 1} == {first.id} and set(ratio) == {1.0, ASSUMED_SPREAD}


def test_a_network_is_built_once_for_a_content_and_conditions(minibus: Sheet) -> None:
    copy = Sheet.model_validate(minibus.model_dump(by_alias=True))
    assert SheetKey(copy) == SheetKey(minibus) and network_of(copy) is network_of(minibus)
    assert network_of(minibus, Conditions(temp_degc=-10)) is not network_of(minibus)
    assert build_network(minibus) is not network_of(minibus)


def test_the_controls_of_a_state_close_its_switches(minibus_network: Network) -> None:
    rest, crank = minibus_network.closed_in("rest"), minibus_network.closed_in("crank")
    assert (crank & ~rest).any()
