"""What a kind of work is about: the elements without which the machine would not do it, found by solving the sound machine with each branch open in turn."""

import numpy as np

from iron_probe.core.circuit.elements import BranchKind, Starter
from iron_probe.core.circuit.faults import OPEN_OHM
from iron_probe.core.circuit.network import network_of
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.scope import CHARGING_ELEMENTS, Scope
from iron_probe.core.solve.operate import solve_state

LESS = 0.9
"""A machine that cranks or charges with less than this share of what it did is held to need what is open."""


def needed(sheet: Sheet, work: Scope) -> frozenset[str]:
    """Elements whose open circuit would stop or slow the crank, or cut what charges; all of a machine that does neither."""
    network = network_of(sheet)
    everything = frozenset(e.id for e in sheet.elements)
    state = sheet.cranking_state() if work is Scope.STARTING else next(iter(sheet.running_states()), None)
    if state is None or (work is Scope.STARTING and not any(isinstance(e, Starter) for e in sheet.elements)):
        return everything
    count = len(network.branches)
    values = np.repeat(network.nominal[:, None], count + 1, axis=1)  # the last stays sound
    values[network.value, np.arange(count)] = OPEN_OHM
    solved = solve_state(network, state, values)
    charged_a = np.abs(solved.amps[network.of_kind(BranchKind.SOURCE)]).sum(axis=0)
    does = solved.turning if work is Scope.STARTING else charged_a
    if does[-1] <= 0:
        return everything
    stops = {network.owners[n].id for n in np.flatnonzero(does[:-1] < LESS * does[-1])}
    return frozenset(stops | {e.id for e in sheet.elements if work is Scope.CHARGING and isinstance(e, CHARGING_ELEMENTS)})
