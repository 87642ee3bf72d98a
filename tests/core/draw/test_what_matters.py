"""What a machine needs to crank and to charge, as opening each part of it shows."""

from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.scope import Scope
from iron_probe.core.draw.what_matters import needed
from iron_probe.machines import load_sheet


def test_what_cranks_is_needed_and_what_shines_is_not(minibus: Sheet) -> None:
    found = needed(minibus, Scope.STARTING)
    assert {"clutch-switch", "start-relay", "relay-ground-wire", "starter", "battery"} <= found
    assert not found & {"headlamps", "reverse-lamp", "alternator", "tachograph-memory"}


def test_charging_needs_what_makes_it_and_its_way_back(minibus: Sheet) -> None:
    found = needed(minibus, Scope.CHARGING)
    assert {"alternator", "charge-cable", "alternator-mount"} <= found
    assert not found & {"clutch-switch", "headlamps"}


def test_of_a_machine_that_does_not_do_it_all_is_needed(minibus: Sheet) -> None:
    still = minibus.changed(states={name: s for name, s in minibus.states.items() if not s.cranking})
    assert needed(still, Scope.STARTING) == {e.id for e in minibus.elements}
    assert needed(load_sheet("training-kart"), Scope.CHARGING) == {e.id for e in load_sheet("training-kart").elements}
