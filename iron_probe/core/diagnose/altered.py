"""Tests that alter the circuit: a bridge across two points, a lamp or field forced."""

import numpy as np
from numpy.typing import NDArray

from iron_probe.core.arrays import Floats
from iron_probe.core.circuit.elements import Alternator, Conductor, FieldRegulator
from iron_probe.core.circuit.network import build_network
from iron_probe.core.diagnose.ensemble import Ensemble, Prediction
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.errors import ReadingError
from iron_probe.core.limits import CHARGES_V
from iron_probe.core.solve.operate import solve_state

BRIDGE_MOHM = {Instrument.JUMPER: 5.0, Instrument.STRAP: 1.0}
"""Resistance [mΩ] of a fused jumper lead and of a heavy temporary strap with its clamps (common practice)."""


def bypass_element(instrument: Instrument, red: str, black: str) -> Conductor:
    """The bridge between two points, as an element to attach to the network."""
    return Conductor.model_validate(
        {"id": "bridge", "type": "cable", "title": "Bridge", "from": red, "to": black, "r_mohm": BRIDGE_MOHM[instrument]}
    )


def bridged(ensemble: Ensemble, reading: Reading, machines: Floats) -> tuple[Floats, NDArray[np.bool_]]:
    """What is heard (V,) with two points bridged, `machines` (parameters, V) solved again with the bridge in place; and which chatter."""
    bridge = bypass_element(reading.instrument, reading.red or "", reading.black or "")
    network = build_network(ensemble.sheet, ensemble.conditions, [bridge])
    values = np.repeat(network.nominal[:, None], machines.shape[1], axis=1)
    values[[network.row[key] for key in ensemble.network.parameters]] = machines
    parts = [Prediction.of(solve_state(network, reading.state, values[:, k : k + 4096])) for k in range(0, values.shape[1], 4096)]
    return np.concatenate([p.heard for p in parts]).astype(float), np.concatenate([p.chatter for p in parts])


SUBSTITUTE_OHM = 48.0
"""Hot resistance of the quarter-ampere test lamp that stands in for a charge lamp at 12 V [Ω]."""


def forced(ensemble: Ensemble, reading: Reading, machines: Floats) -> Floats:
    """Whether the machine charges (V,) 0 or 1 with a lamp in place of its own, or with its field forced; ReadingError when it has no such wire."""
    sheet = ensemble.sheet
    alternator = sheet.element((reading.branch or "").partition(".")[0])
    outside = sheet.element(alternator.regulator) if isinstance(alternator, Alternator) and alternator.regulator else None
    if reading.instrument is Instrument.SUBSTITUTE and isinstance(alternator, Alternator) and alternator.l:
        ends, ohm = (sheet.plus, alternator.l), SUBSTITUTE_OHM * (sheet.system_v / 12) ** 2
    elif (
        reading.instrument is Instrument.FULL_FIELD
        and isinstance(alternator, Alternator)
        and alternator.f
        and isinstance(outside, FieldRegulator)
    ):
        ends, ohm = ((sheet.plus, alternator.f) if outside.drives == "feeds" else (alternator.f, alternator.case)), 0.05
    else:
        raise ReadingError(f"{alternator.title} has no wire for a {reading.instrument.value.replace('_', ' ')} test")
    bridge = Conductor.model_validate(
        {"id": "bridge", "type": "cable", "title": "Bridge", "from": ends[0], "to": ends[1], "r_mohm": 1000 * ohm}
    )
    network = build_network(sheet, ensemble.conditions, [bridge])
    values = np.repeat(network.nominal[:, None], machines.shape[1], axis=1)
    values[[network.row[key] for key in ensemble.network.parameters]] = machines
    plus, minus = network.find_point(sheet.plus), network.find_point(sheet.minus)
    posts = [
        solved.volts[plus] - solved.volts[minus]
        for k in range(0, values.shape[1], 4096)
        for solved in [solve_state(network, reading.state, values[:, k : k + 4096])]
    ]
    return (np.concatenate(posts) > CHARGES_V * sheet.system_v / 12).astype(float)
