"""Readings on one part by itself, that no solved state shows: ohms with its plug off, a stator's AC volts, a parameter shown by a tester."""

from collections.abc import Callable

import numpy as np

from iron_probe.core.arrays import Floats
from iron_probe.core.circuit.elements import BranchKind, Rectifier, Stator
from iron_probe.core.circuit.faults import BARE
from iron_probe.core.circuit.network import Network
from iron_probe.core.circuit.stator_ways import uneven_ripple
from iron_probe.core.diagnose.evidence import BY_ITSELF, OF_PART, Instrument, Reading
from iron_probe.core.errors import ReadingError

MOST_OHM = 50e6
"""What an ohmmeter calls over range [Ω]."""
SHORTED_DIODE_V = 0.1
"""A diode under this forward voltage blocks no more."""
PARTED_OHM = 1e6
"""A winding over this no longer passes its volts to the meter."""

RowOf = Callable[[int], Floats]
"""Values (V,) of a parameter by its row."""
ALONE = (*OF_PART, *BY_ITSELF, Instrument.OHMMETER, Instrument.AC_VOLTS)
"""Instruments whose reading hangs on one part's parameters alone."""


def shown_alone(network: Network, reading: Reading, rows: RowOf) -> Floats:
    """What the instrument shows (V,) on machines whose parameters `rows` gives; ReadingError where no part lies."""
    if reading.instrument in OF_PART:
        shown = rows(network.row[(reading.branch or "").partition(".")[0], OF_PART[reading.instrument]])
        return shown * _unevenness(network, reading, rows) if reading.instrument is Instrument.RIPPLE else shown
    if reading.instrument is Instrument.PART_OHM:
        return _branch_ohm(network, network.find_branch(reading.branch or ""), reading.state, rows)
    if reading.instrument is Instrument.BARE_OHM:
        return np.minimum(1 / np.maximum(rows(network.row[reading.branch or "", BARE]), 1 / MOST_OHM), MOST_OHM)
    stator = next((o for o in network.sheet.elements if isinstance(o, Stator) and {reading.red, reading.black} <= set(o.points())), None)
    if reading.instrument is Instrument.AC_VOLTS:
        if stator is None or not {reading.red, reading.black} <= set(stator.phases()):
            raise ReadingError("AC volts are taken between two phases of a stator with its plug off")
        return _pair_ac_v(network, stator, reading, rows)
    if stator:
        return _stator_ohm(network, stator, reading, rows)
    ends = {reading.red, reading.black}
    number = next((n for n, b in enumerate(network.branches) if {b.start, b.end} == ends), None)
    if number is None:
        raise ReadingError(
            f"ohms are taken across one element with its plug off; no element lies between {reading.red} and {reading.black}"
        )
    return _branch_ohm(network, number, reading.state, rows)


def _unevenness(network: Network, reading: Reading, rows: RowOf) -> Floats | float:
    """Times by which a stator or its wires raise the ripple of the bridge behind them."""
    generator = next((g for g in network.generators if g.element.id == reading.branch and isinstance(g.element, Rectifier)), None)
    if generator is None or not isinstance(generator.element, Rectifier):
        return 1.0
    uneven = rows(network.row[generator.element.stator, "uneven"])
    if not any(generator.ways):
        return uneven
    return uneven * uneven_ripple(generator.element, [np.sum([rows(row) for row in way], axis=0) for way in generator.ways])


def _branch_ohm(network: Network, number: int, state: str, rows: RowOf) -> Floats:
    """Ohms across one branch; switches stand as the state's controls put them, and a diode is read against its way."""
    owner, branch = network.owners[number], network.branches[number]
    ohm = rows(int(network.value[number]))
    if branch.kind is BranchKind.DIODE:
        ohm = np.where(np.abs(rows(network.row[owner.id, "forward_v"])) < SHORTED_DIODE_V, ohm, MOST_OHM)
    if (owner.id, "stuck") in network.row and branch.kind in ("switch", "contact"):
        stuck = rows(network.row[owner.id, "stuck"])
        makes = network.closed_in(state)[number] if branch.kind == "switch" else branch.rest
        ohm = np.where((makes & (stuck >= 0)) | (stuck > 0), ohm, MOST_OHM)
    return np.minimum(ohm, MOST_OHM)


def _stator_ohm(network: Network, stator: Stator, reading: Reading, rows: RowOf) -> Floats:
    """Ohms between two ends of a stator's windings, star or delta: its own little net, solved for each machine."""
    points = stator.points()
    siemens = {b: 1 / rows(network.row[stator.id, b.value]) for b in stator.branches()}
    count = len(next(iter(siemens.values())))
    net = np.zeros((count, len(points), len(points)))
    for branch, value in siemens.items():
        i, j = points.index(branch.start), points.index(branch.end)
        net[:, i, i] += value
        net[:, j, j] += value
        net[:, i, j] -= value
        net[:, j, i] -= value
    red, black = points.index(reading.red or ""), points.index(reading.black or "")
    left = [k for k in range(len(points)) if k != black]
    kept = net[:, left][:, :, left] + 1e-12 * np.eye(len(left))
    current = np.zeros((count, len(left), 1))
    current[:, left.index(red)] = 1.0
    return np.minimum(np.linalg.solve(kept, current)[:, left.index(red), 0], MOST_OHM)


def _pair_ac_v(network: Network, stator: Stator, reading: Reading, rows: RowOf) -> Floats:
    """AC volts rms between two phases without load at the state's engine speed.

    In star the difference of two phases; in delta one winding, less what a current round the three windings loses in it; a single winding
    its own.
    """
    phases, count = stator.phases(), len(stator.windings())
    turn = np.exp(-2j * np.pi / 3)
    volts = [rows(network.row[stator.id, f"e{k + 1}"]) * turn**k for k in range(count)]
    ohms = [rows(network.row[stator.id, f"w{k + 1}_ohm"]) for k in range(count)]
    i, j = (phases.index(p or "") for p in (reading.red, reading.black))
    if stator.joined == "delta":
        k = i if (i + 1) % 3 == j else j
        share = np.abs(volts[k] - sum(volts) / sum(ohms) * ohms[k])
    elif stator.joined == "single":
        share = np.abs(volts[0]) * (ohms[0] < PARTED_OHM)
    else:
        share = np.abs(volts[i] - volts[j]) / np.sqrt(3) * ((ohms[i] < PARTED_OHM) & (ohms[j] < PARTED_OHM))
    return np.asarray(share * stator.pair_v_per_krpm * network.sheet.state(reading.state).rpm / 1000)
