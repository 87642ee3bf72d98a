"""Bridges as elements: a jumper across two points, or a temporary strap."""

from iron_probe.core.circuit.elements import Conductor
from iron_probe.core.diagnose.evidence import Instrument

BRIDGE_MOHM = {Instrument.JUMPER: 5.0, Instrument.STRAP: 1.0}
"""Resistance [mΩ] of a fused jumper lead and of a heavy temporary strap with its clamps (common practice)."""


def bypass_element(instrument: Instrument, red: str, black: str) -> Conductor:
    """The bridge between two points, as an element to attach to the network."""
    return Conductor.model_validate(
        {"id": "bridge", "type": "cable", "title": "Bridge", "from": red, "to": black, "r_mohm": BRIDGE_MOHM[instrument]}
    )
