"""Devices of a network as records: every one with its own numbers, as the controls of a state have it."""

import pytest

from iron_probe.core.circuit.elements import Alternator, Relay, Solenoid
from iron_probe.core.circuit.network import Network, build_network, network_of
from iron_probe.core.solve.device_tables import devices_of, full_output
from iron_probe.machines import load_sheet, sheet_ids


def test_a_generator_gives_more_the_faster_it_turns_up_to_its_rating() -> None:
    network = network_of(load_sheet("pool-car"))
    values = network.nominal[:, None]
    given = [float(full_output(network.generators[0], rpm, values)[0]) for rpm in (0.0, 800.0, 2000.0, 8000.0)]
    assert given == sorted(given) and given[0] == 0.0 and given[3] < 1.3 * network.generators[0].element.rated_a


def test_a_relay_has_one_winding_and_a_solenoid_two(minibus_network: Network) -> None:
    owners, windings = minibus_network.owners, devices_of(minibus_network, "crank").coils
    kinds = {type(owners[coil.winding]) for coil in windings}
    assert {Relay, Solenoid} <= kinds
    for coil in windings:
        assert (coil.other >= 0) == isinstance(owners[coil.winding], Solenoid)


def test_switches_stand_as_the_controls_have_them_and_are_worked_out_once(minibus_network: Network) -> None:
    rest, crank = devices_of(minibus_network, "rest"), devices_of(minibus_network, "crank")
    assert rest.switches.branch.tolist() == crank.switches.branch.tolist()
    assert (crank.switches.closed & ~rest.switches.closed).any()
    assert devices_of(minibus_network, "crank") is crank


@pytest.mark.parametrize(
    ("terminals", "ways"),
    [
        ({"l": "lamp", "ig": None, "woken_by": "lamp"}, (False, True)),
        ({"l": None, "ig": "lamp", "woken_by": "ignition"}, (True, False)),
        ({"l": None, "ig": None, "woken_by": "itself"}, (False, False)),
    ],
)
def test_what_wakes_an_alternator_is_what_its_design_and_its_terminals_say(
    terminals: dict[str, str | None], ways: tuple[bool, bool]
) -> None:
    sheet = load_sheet("estate-car")
    own = next(e for e in sheet.elements if isinstance(e, Alternator))
    at = own.l or own.ig or own.b
    changed = own.model_copy(update={key: at if value == "lamp" and key in "lig" else value for key, value in terminals.items()})
    network = build_network(sheet.model_copy(update={"elements": [changed if e is own else e for e in sheet.elements]}))
    made = devices_of(network, sheet.running_states()[0]).generators[0]
    assert (bool(made.by_ignition), bool(made.by_lamp)) == ways
    assert (made.self_excites_rpm == 0) == (terminals["woken_by"] == "itself")


def test_what_an_output_needs_stands_with_it() -> None:
    seen = 0
    for sheet_id in sheet_ids():
        network = network_of(load_sheet(sheet_id))
        devices = devices_of(network, next(iter(network.sheet.states)))
        asked = [output for unit in network.units for _, output, _ in unit.outputs]
        for record, output in zip(devices.outputs, asked, strict=True):
            mine = devices.needs[record.first : record.past]
            assert [network.points[p] for p in mine.point] == [need.point for need in output.needs]
            assert [bool(a) for a in mine.above] == [need.above_v is not None for need in output.needs]
            seen += len(mine)
    assert seen > 3
