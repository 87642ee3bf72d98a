"""Readings on the mower, and a mower with one fault hidden in it."""

import numpy as np

from iron_probe.core.circuit.network import Network
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.diagnose.fault_modes import find_mode
from iron_probe.core.solve.operate import solve_state


def volts(red: str, black: str, value: float, state: str = "crank", **more: object) -> Reading:
    return Reading.model_validate({"red": red, "black": black, "state": state, "value": value, **more})


def heard(word: str, state: str = "crank") -> Reading:
    return Reading(instrument=Instrument.EYES, state=state, word=word)


class Hidden:
    """A machine with one fault, read without noise."""

    def __init__(self, network: Network, ensemble: Ensemble, element: str, mode: str, severity: float = 1.0) -> None:
        values = network.nominal[:, None].copy()
        find_mode(ensemble.modes, element, mode).apply(values, np.array([severity]))
        self.solved = {s: solve_state(network, s, values) for s in network.sheet.states}

    def volts(self, red: str, black: str, state: str = "crank") -> Reading:
        return volts(red, black, round(float(self.solved[state].between(red, black)[0]), 2), state)
