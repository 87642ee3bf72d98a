"""Machines as they could be: draws that repeat, hypotheses by element."""

import numpy as np
import pytest

from iron_probe.core.arrays import Floats
from iron_probe.core.circuit.faults import DRAGGING
from iron_probe.core.diagnose.ensemble import QUIET_SHARE, STRATA, Ensemble, hypotheses_of
from iron_probe.core.diagnose.scope import Scope


def test_hypotheses_are_no_fault_and_then_every_mode(ensemble: Ensemble) -> None:
    found = hypotheses_of(ensemble.modes)
    assert found[0].elements == () and not found[0].graded
    assert [h.modes[0].name for h in found[1:]] == [m.name for m in ensemble.modes]
    assert ensemble.weight[1:] == pytest.approx([m.weight for m in ensemble.modes])


def test_every_hypothesis_accuses_its_element_and_those_of_one_lie_side_by_side(ensemble: Ensemble) -> None:
    order, starts = ensemble.by_element
    assert sorted(order) == list(range(1, len(ensemble.hypotheses)))
    for element, group in zip(ensemble.accusing, np.split(order, starts[1:]), strict=True):
        assert {ensemble.hypotheses[k].elements[0] for k in group} == {element}
        assert list(ensemble.accusing_first[element]) == list(group)


def test_two_draws_of_one_sheet_are_the_same_machines(ensemble: Ensemble) -> None:
    again = Ensemble(ensemble.sheet)
    state = ensemble.states[0]
    assert np.array_equal(again.first(state).volts, ensemble.first(state).volts)


def test_one_parameter_alone_is_the_same_as_among_all(ensemble: Ensemble) -> None:
    row = ensemble.network.row[ensemble.network.parameters[3]]
    assert ensemble.first_row(row) == pytest.approx(ensemble.first_values()[row])


def test_refined_strata_lie_within_their_part_of_the_range(ensemble: Ensemble) -> None:
    graded = next(h for h in ensemble.hypotheses if h.graded and len(h.modes[0].effects) == 1)
    row = graded.modes[0].effects[0].row
    low, high = (ensemble.values_of(graded, s)[row] for s in (0, STRATA - 1))
    assert low.max() < high.min()
    assert len(ensemble.strata_of([(graded, 0), (graded, 1)], ensemble.states[0])) == 2


def test_faults_nobody_hears_weigh_less_beforehand_and_those_that_wear_the_battery_do_not(ensemble: Ensemble) -> None:
    def lost(element: str, mode: str) -> Floats:
        number = next(k for k, h in enumerate(ensemble.hypotheses) if h.modes and (h.modes[0].element, h.modes[0].name) == (element, mode))
        return ensemble.quiet[number]

    assert not ensemble.quiet[0].any()
    assert not lost("frame-bolt", "open").any()  # it does not crank
    assert np.median(lost("charge-wire", "open")) == pytest.approx(np.log(QUIET_SHARE))  # it cranks as ever
    weak = lost("frame-bolt", "high_resistance")
    assert weak[0] < 0 and not weak[-1]  # the least loss is not heard, the worst is
    assert not lost("battery", "low_capacity").any()
    assert not Ensemble(ensemble.sheet, work=Scope.CHARGING).quiet.any()


def test_a_starter_that_draws_more_and_turns_as_ever_is_no_fault(ensemble: Ensemble) -> None:
    number = next(k for k, h in enumerate(ensemble.hypotheses) if h.modes and h.modes[0].name == DRAGGING)
    well = ensemble.turns_well
    assert well[number, 0] and not well[number, -1]  # the least is not heard, the worst is
    assert not np.delete(well, number, axis=0).any()
