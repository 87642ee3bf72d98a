"""Tests that alter the circuit: a bridge across two points, a lamp or field forced, a field wire off, and what else was done to the machine."""

from collections.abc import Iterator, Sequence

import numpy as np
from numpy.typing import NDArray

from iron_probe.core.arrays import Floats
from iron_probe.core.circuit.elements import Alternator, Battery, Charger, Conditions, Conductor, Element, FieldRegulator
from iron_probe.core.circuit.faults import OPEN_OHM
from iron_probe.core.circuit.network import Network, build_network
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.ensemble import BATCH
from iron_probe.core.diagnose.evidence import Aid, Instrument, Reading
from iron_probe.core.diagnose.prediction import Prediction, join
from iron_probe.core.errors import ReadingError
from iron_probe.core.limits import CHARGES_V
from iron_probe.core.solve.operate import solve_state
from iron_probe.core.solve.solution import Solution

BRIDGE_MOHM = {Instrument.JUMPER: 5.0, Instrument.STRAP: 1.0}
"""Resistance [mΩ] of a fused jumper lead and of a heavy temporary strap with its clamps (common practice)."""


def bypass_element(instrument: Instrument, red: str, black: str) -> Conductor:
    """The bridge between two points, as an element to attach to the network."""
    return _lead(red, black, BRIDGE_MOHM[instrument] / 1000)


def bridged(drawn: Network, reading: Reading, machines: Floats) -> tuple[Floats, NDArray[np.bool_]]:
    """What is heard (V,) with two points bridged, `machines` (parameters, V) solved again with the bridge in place; and which chatter."""
    bridge = bypass_element(reading.instrument, reading.red or "", reading.black or "")
    network, values = _with(drawn, machines, [bridge])
    shown = join([Prediction.of(solved) for solved in _solutions(network, reading.state, values)])
    return shown.heard.astype(float), shown.chatter


def conditioned(drawn: Network, reading: Reading, machines: Floats) -> tuple[Network, Prediction]:
    """`machines` (parameters, V) solved with what was done to them before a reading: a part out, a jumper left, a charger or booster on the posts."""
    beside: list[Element] = []
    if reading.jumpered:
        beside.append(bypass_element(Instrument.JUMPER, *reading.jumpered))
    if reading.aided:
        beside.append(_aid(reading.aided, drawn.sheet))
    network, values = _with(drawn, machines, beside) if beside else (drawn, machines.copy())
    if reading.parted:
        owned = [n for n, owner in enumerate(network.owners) if owner.id == reading.parted]
        values[[int(network.value[n]) for n in owned]] = OPEN_OHM
    return network, join([Prediction.of(solved) for solved in _solutions(network, reading.state, values)])


def _aid(aid: Aid, sheet: Sheet) -> Element:
    """What stands on the posts beside the machine's own battery."""
    ends = {"title": aid.value, "from": sheet.minus, "to": sheet.plus, "volts": int(sheet.system_v)}
    if aid is Aid.CHARGER:
        return Charger.model_validate({"id": "aid", "type": "charger", "rated_a": CHARGER_A, **ends})
    return Battery.model_validate({"id": "aid", "type": "battery", "capacity_ah": BOOSTER_AH, "cca_a": BOOSTER_CCA_A, **ends})


CHARGER_A = 10.0
"""What a workshop charger on the posts gives [A] (common practice)."""
BOOSTER_AH, BOOSTER_CCA_A = 60.0, 300.0
"""A booster battery, weaker by its leads than its plate says [Ah, A] (common practice)."""
FIELD_LEAD_OHM = 0.05
"""A lead that forces a field, with its clips [Ω] (common practice)."""
SUBSTITUTE_OHM = 48.0
"""Hot resistance of the quarter-ampere test lamp that stands in for a charge lamp at 12 V [Ω]."""


def forced(drawn: Network, reading: Reading, machines: Floats) -> Floats:
    """Volts (V,) at the posts of `machines` (parameters, V) with a lamp in place of their own, the field forced, or the field wire off;
    ReadingError when there is no such wire."""
    sheet = drawn.sheet
    lead, parted = _what_is_done(sheet, reading)
    network, values = _with(drawn, machines, [lead]) if lead else (drawn, machines.copy())
    if parted:
        values[_wires_at(network, *parted)] = OPEN_OHM
    plus, minus = network.find_point(sheet.plus), network.find_point(sheet.minus)
    return np.concatenate([solved.volts[plus] - solved.volts[minus] for solved in _solutions(network, reading.state, values)])


def charges(posts_v: Floats, system_v: float) -> Floats:
    """What is said of a forced test, 0 or 1 (V,), from the volts at the posts."""
    return (posts_v > CHARGES_V * system_v / 12).astype(float)


def _what_is_done(sheet: Sheet, reading: Reading) -> tuple[Conductor | None, tuple[str, str] | None]:
    """The lead that a forced test puts in, or the terminal it takes the wire off, as point and the element that keeps it."""
    alternator = sheet.element((reading.branch or "").partition(".")[0])
    if isinstance(alternator, Alternator):
        if reading.instrument is Instrument.SUBSTITUTE and alternator.l:
            return _lead(sheet.plus, alternator.l, SUBSTITUTE_OHM * (sheet.system_v / 12) ** 2), None
        outside = sheet.element(alternator.regulator) if alternator.regulator else None
        if alternator.f and isinstance(outside, FieldRegulator):
            if reading.instrument is Instrument.FIELD_OFF:
                return None, (alternator.f, alternator.id)
            if reading.instrument is Instrument.FULL_FIELD:
                ends = (sheet.plus, alternator.f) if outside.drives == "feeds" else (alternator.f, alternator.case)
                return _lead(*ends, FIELD_LEAD_OHM), None
    raise ReadingError(f"{alternator.title} has no wire for a {reading.instrument.value.replace('_', ' ')} test")


def _solutions(network: Network, state: str, values: Floats) -> Iterator[Solution]:
    """Machines (parameters, V) solved in a state, so many at a time as memory is held for."""
    for start in range(0, values.shape[1], BATCH):
        yield solve_state(network, state, values[:, start : start + BATCH])


def _with(drawn: Network, machines: Floats, beside: Sequence[Element]) -> tuple[Network, Floats]:
    """The circuit with some elements more, and the values (parameters, V) of the same machines there."""
    network = build_network(drawn.sheet, Conditions(), beside)
    values = np.repeat(network.nominal[:, None], machines.shape[1], axis=1)
    values[[network.row[key] for key in drawn.parameters]] = machines
    return network, values


def _lead(start: str, end: str, ohm: float) -> Conductor:
    return Conductor.model_validate({"id": "bridge", "type": "cable", "title": "Bridge", "from": start, "to": end, "r_mohm": 1000 * ohm})


def _wires_at(network: Network, point: str, kept: str) -> list[int]:
    """Rows of the resistances of all that meets a point but one element."""
    return [
        int(network.value[n])
        for n, (owner, branch) in enumerate(zip(network.owners, network.branches, strict=True))
        if owner.id != kept and point in (branch.start, branch.end)
    ]
