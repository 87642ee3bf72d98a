"""A machine with a fault that only the meter knows: whatever the page asks for is read on it."""

import numpy as np

from iron_probe.core.bench.typed_value import Bound
from iron_probe.core.circuit.elements import Conditions
from iron_probe.core.circuit.network import network_of
from iron_probe.core.diagnose.evidence import FUNCTION_WORDS, LAMP_WORDS, LAMPS, UNIT, Instrument, Reading
from iron_probe.core.diagnose.fault_modes import fault_modes, find_mode
from iron_probe.core.diagnose.scope import Scope
from iron_probe.core.diagnose.trial import Hidden, hide
from iron_probe.core.solve.solution import Symptom
from iron_probe.machines import load_sheet


def hidden_machine(sheet_id: str, element: str, mode: str, severity: float, work: Scope, temp_degc: float = 20.0) -> Hidden:
    """That machine with that fault; read without noise to speak of."""
    network = network_of(load_sheet(sheet_id), Conditions(temp_degc=temp_degc))
    fault = find_mode(fault_modes(network), element, mode)
    return hide(network, [(fault, severity)], network.nominal[:, None], np.random.default_rng(4), work)


def shown(hidden: Hidden, instrument: str, state: str, red: str, black: str, branch: str) -> tuple[str, bool]:
    """What its instrument shows, as one types it, and whether that is a word to choose."""
    kind = Instrument(instrument)
    empty: dict[str, object] = {"value": 0.0} if kind in UNIT else {"word": Symptom.NOTHING.value}
    if kind in LAMPS:
        empty = {"word": LAMP_WORDS[0]}
    elif kind is Instrument.FUNCTION:
        empty = {"word": FUNCTION_WORDS[0]}
    asked = Reading.model_validate(
        {"instrument": kind, "state": state, "red": red or None, "black": black or None, "branch": branch or None} | empty
    )
    read = hidden.take(asked)
    if read.value is None:
        return read.word or "", True
    return "OL" if read.bound is Bound.AT_LEAST else f"{read.value:.2f}", False
