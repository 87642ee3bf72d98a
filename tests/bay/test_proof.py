"""What counts as a proof of a part: read at itself, and under load."""

import pytest

from iron_probe.bay.proof import LEAST_LOAD_A, carried_a, under_load
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.machines import load_sheet


def test_the_plus_clamp_is_under_load_while_it_cranks_and_not_at_rest(minibus: Sheet) -> None:
    crank = minibus.cranking_state() or ""
    rest = next(iter(minibus.states))
    assert under_load(minibus, "plus-clamp", crank) and not under_load(minibus, "plus-clamp", rest)
    assert carried_a(minibus, crank)["plus-clamp"] > 100 * carried_a(minibus, rest)["plus-clamp"]


def test_what_never_carries_anything_to_speak_of_needs_no_load() -> None:
    van = load_sheet("parcel-van")
    most = {e.id: max(carried_a(van, s).get(e.id, 0.0) for s in van.states) for e in van.elements}
    light = [e for e, a in most.items() if a < LEAST_LOAD_A]
    assert light and all(under_load(van, e, s) for e in light for s in van.states)


@pytest.mark.parametrize("part", ["plus-clamp"])
def test_currents_are_those_of_the_sound_machine(minibus: Sheet, part: str) -> None:
    assert carried_a(minibus, minibus.cranking_state() or "")[part] == pytest.approx(minibus.element("starter").load_a, rel=0.3)  # type: ignore[union-attr]
