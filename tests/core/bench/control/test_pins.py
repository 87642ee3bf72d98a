"""A relay's socket, pin by pin."""

import pytest

from iron_probe.core.bench.control.pins import socket_of
from iron_probe.core.circuit.elements import Conditions, Relay
from iron_probe.core.diagnose.evidence import Instrument
from iron_probe.machines import load_sheet, sheet_ids


@pytest.mark.parametrize("sheet_id", sheet_ids())
def test_every_relay_has_its_pins_and_its_steps_read_good_on_a_good_machine(sheet_id: str) -> None:
    sheet = load_sheet(sheet_id)
    for relay in (e for e in sheet.elements if isinstance(e, Relay)):
        socket = socket_of(sheet, relay, Conditions())
        assert {p.point for p in socket.pins} == {relay.common, relay.make, *relay.coil, *([relay.rest] if relay.rest else [])}
        assert socket.commanded in relay.coil
        by = {s.title: s.expected for s in socket.steps}
        assert isinstance(by["Across the coil"], float)
        assert abs(by["Across the coil"]) > relay.pull_in_v
        assert isinstance(by["Drop over the contact, commanded"], float)
        assert abs(by["Drop over the contact, commanded"]) < 0.3


def test_a_bridge_of_the_start_relay_spins_a_good_machine() -> None:
    sheet = load_sheet("crew-minibus")
    relay = next(e for e in sheet.elements if e.id == "start-relay")
    assert isinstance(relay, Relay)
    steps = socket_of(sheet, relay, Conditions()).steps
    assert next(s.expected for s in steps if s.reading.instrument is Instrument.JUMPER) == "cranks"
