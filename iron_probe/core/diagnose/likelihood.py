"""How likely a reading is on a given machine: instrument error, what the model leaves out, and slips of the pen."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.special import gamma, stdtr

from iron_probe.core.arrays import Bools, Floats
from iron_probe.core.bench.typed_value import Bound
from iron_probe.core.circuit.network import Network
from iron_probe.core.diagnose.evidence import (
    BRIDGES,
    BY_ITSELF,
    FORCED,
    LAMPS,
    WORDS,
    Instrument,
    Reading,
)
from iron_probe.core.diagnose.looks import LOOKED
from iron_probe.core.diagnose.new_fuse import HELD
from iron_probe.core.diagnose.prediction import Prediction
from iron_probe.core.errors import ReadingError
from iron_probe.core.limits import FLOATING_OHM
from iron_probe.core.solve.solution import Symptom, shown_v, swing
from iron_probe.core.solve.symptom import SYMPTOMS

METER_SHARE, CLAMP_SHARE = 0.006, 0.03
"""Instrument error as a share of the reading (typical hand meters; common practice)."""
CLAMP_FLOOR_A = 2.5
"""Zero error of a clamp [A] on a 400 A range (common practice)."""
MODEL_SHARE, MODEL_FLOOR_V = 0.035, 0.012
"""What the circuit sheet leaves out, as a share of the figure and at the least [V]; wider than the parts' spread alone so that a
thin set of variants is never taken for certainty."""
SOURCE_SHARE = 0.2
"""Volts near the source's are what the drops up to there leave of it: what the sheet leaves out is a share of those, and of so much of the
source itself for its charge and age (set on the rig)."""
NEAR_SOURCE = (1 + SOURCE_SHARE) / 2
"""Share of the source from which volts are nearer to it than to nothing, counted so."""
TAILS = 4
"""Degrees of freedom of the Student distribution: heavy tails."""
_STUDENT = float(gamma((TAILS + 1) / 2) / (np.sqrt(TAILS * np.pi) * gamma(TAILS / 2)))
"""What makes the Student density integrate to one."""
SLIP = 0.02
"""Chance that a reading is a slip: wrong point, wrong digit, bad contact."""
SLIP_DISTURBED, SLIP_TOLD = 0.25, 0.6
"""The same after something was touched, and for a figure somebody remembers."""

RESTLESS_SHARE = 0.25
"""Share of its swing by which a restless figure strays from the mean its positions' shares of time make: shares are drawn coarsely, and
a meter's own averaging is not known (common practice)."""
SWINGS_SHARE, SAID_RIGHTLY = 0.025, 0.95
"""A rattle that swings a figure by this share of system volts is seen, and how often it is then said, or rightly said not to be there
(common practice)."""
SAME_PIECE = 1e-6
"""Two points whose insulation differs by less than this share hang on one piece of wire."""
DAMP_A = 5e-5
"""What damp insulation of all that hangs at a point lets through, one sigma [A]: nothing at a cable, a tenth of a volt behind two
kilohms (common practice: megohms a wire, fewer where it is damp)."""
LOOSE_NOTHING, LOOSE_SCALE_V = 0.4, 0.3
"""How often a loose wire shows next to nothing, and how little that is [V]; by damp and by induction it may else show anything up to the
source (common practice)."""

LAMP_OHM = {Instrument.LAMP_SMALL: 48.0, Instrument.LAMP_MEDIUM: 12.0, Instrument.LAMP_LARGE: 3.0}
"""Hot resistance [Ω] of test lamps of 0.25, 1 and 4 A at 12 V."""
LAMP_LIMITS = (0.2, 0.7)
"""Shares of system voltage where a lamp begins to glow and counts as bright (common practice)."""
FUNCTION_LIMITS = (0.3, 0.72)
"""Shares of system voltage across a consumer where it stirs and where it works (common practice)."""
WARM_SHARE = 1.3
"""What a load draws may fall so far short of its nominal before it shows in what it does (common practice)."""
TESTER_SHARE, TESTER_FLOOR_OHM = 0.15, 2e-4
"""A conductance tester's resistance: share and floor [Ω] (common practice)."""
CAPACITY_SHARE = 0.12
"""What Peukert's exponent and the load leave open in a capacity (`core/bench/battery/capacity.py`)."""
OHM_FLOOR, OVER_OHM = 0.06, 20e6
"""What contact and lead zero leave open on ohms [Ω]; over the second a hand meter shows over range (common practice)."""
AC_FLOOR_V, AC_SHARE = 0.4, 0.05
"""What a dead phase still picks up [V], and what the speed leaves open in AC volts (common practice)."""
RIPPLE_SHARE, RIPPLE_FLOOR_V = 0.35, 0.04
"""Ripple hangs on load and speed: share and floor [V] (common practice)."""
WIDTHS = {
    Instrument.TESTER: (TESTER_SHARE, TESTER_FLOOR_OHM),
    Instrument.CAPACITY: (CAPACITY_SHARE, 1.0),
    Instrument.RIPPLE: (RIPPLE_SHARE, RIPPLE_FLOOR_V),
    Instrument.AC_VOLTS: (AC_SHARE, AC_FLOOR_V),
    **dict.fromkeys((Instrument.OHMMETER, *BY_ITSELF), (METER_SHARE + MODEL_SHARE, OHM_FLOOR)),
    Instrument.CLAMP: (CLAMP_SHARE + MODEL_SHARE, CLAMP_FLOOR_A),
}
"""Share and floor of each instrument's likelihood; all others are volts."""
WIDEST = {Instrument.CLAMP: 1000.0, Instrument.TESTER: 0.2, Instrument.CAPACITY: 500.0, Instrument.RIPPLE: 5.0}
"""Span [A, Ω, Ah] over which a slip may fall; volts: 2.2 times the system's."""
LOAD_OHM = 0.12
"""A load tester set for 100 A on a good 12 V battery [Ω]: a resistance, so that through a bad joint it pulls less."""

NEVER_HEARD = 0.002
"""How often anything else is reported than what could be mistaken for it."""
_HEARD = {
    Symptom.NOTHING: {Symptom.NOTHING: 0.96, Symptom.CLICK: 0.02, Symptom.NO_TURN: 0.01},
    Symptom.CLICK: {Symptom.CLICK: 0.80, Symptom.NOTHING: 0.10, Symptom.NO_TURN: 0.05, Symptom.CHATTER: 0.03},
    Symptom.CHATTER: {Symptom.CHATTER: 0.84, Symptom.CLICK: 0.10, Symptom.NO_TURN: 0.03, Symptom.SLOW: 0.02},
    Symptom.NO_TURN: {Symptom.NO_TURN: 0.78, Symptom.CLICK: 0.12, Symptom.SLOW: 0.05, Symptom.CHATTER: 0.03},
    Symptom.SLOW: {Symptom.SLOW: 0.85, Symptom.CRANKS: 0.07, Symptom.NO_TURN: 0.03, Symptom.CHATTER: 0.02},
    Symptom.CRANKS: {Symptom.CRANKS: 0.92, Symptom.SLOW: 0.06},
}
HEARD = np.array([[_HEARD[predicted].get(heard, NEVER_HEARD) for heard in SYMPTOMS] for predicted in SYMPTOMS])
"""Chance of what is reported (columns) given what the machine does (rows): a light relay click is missed, slow is a judgement,
and at how few volts a starter still turns or a relay lets go no drawing says to a volt (common practice, no source)."""
HEARD /= HEARD.sum(axis=1, keepdims=True)


@dataclass(frozen=True, slots=True)
class Fit:
    """How a reading fits V variants: `log` (V,) log likelihood with slips allowed, `slip` (V,) chance that it was a slip, and how many figures that
    disagree it stands for."""

    log: Floats
    slip: Floats
    figures: int = 1


@dataclass(frozen=True, slots=True)
class Unsteady:
    """Where a voltmeter shows no one figure: `loose` (V,) a lead on a wire nothing joins, `reach_v` (V,) how far a rattle swings [V],
    `damp_v` (V,) what insulation nobody has measured may move the figure by [V]."""

    loose: Bools | None = None
    reach_v: Floats | None = None
    damp_v: Floats | float = 0.0


STEADY = Unsteady()
ALL = slice(None)


def predict(reading: Reading, network: Network, prediction: Prediction, which: NDArray[np.int64] | slice = ALL) -> Floats:
    """What the instrument would show (V,) in V or A, for `which` variants; for words, the code of the word; ReadingError for one that
    cannot be predicted.

    Ohms are taken across one element with its plug off, see `case.py`; bridges change the circuit and are solved there too.
    """
    kind = reading.instrument
    if kind is Instrument.EYES:
        return prediction.heard[which].astype(float)
    if kind is Instrument.CLAMP:
        return prediction.amps[network.find_branch(reading.branch or ""), which].astype(float)
    if kind is Instrument.FUNCTION:
        number = network.find_branch(reading.branch or "")
        across = np.abs(prediction.volts[network.start[number], which] - prediction.volts[network.end[number], which]).astype(float)
        # an open load has volts, draws nothing and does nothing
        ran_v = np.abs(prediction.amps[number, which]).astype(float) * network.nominal[network.value[number]]
        return np.digitize(np.minimum(across, WARM_SHARE * ran_v) / network.sheet.system_v, FUNCTION_LIMITS).astype(float)
    red, black = network.find_point(reading.red or ""), network.find_point(reading.black or "")
    open_v = (prediction.volts[red, which] - prediction.volts[black, which]).astype(float)
    source_ohm = (prediction.own_ohm[red, which] + prediction.own_ohm[black, which]).astype(float)
    if kind is Instrument.VOLTMETER:
        return shown_v(open_v, source_ohm)
    if kind in LAMPS:
        lamp_ohm = LAMP_OHM[kind] * (network.sheet.system_v / 12) ** 2
        share = np.abs(open_v) / network.sheet.system_v * lamp_ohm / (lamp_ohm + source_ohm)
        return np.digitize(share, LAMP_LIMITS).astype(float)
    if kind is Instrument.LOAD:
        load_ohm = LOAD_OHM * network.sheet.volts_between(reading.red or "", reading.black or "") / 12
        return open_v * load_ohm / (load_ohm + source_ohm)
    raise ReadingError(f"a {kind.value} reading is not predicted from a solved state")


def unsteady(reading: Reading, network: Network, prediction: Prediction) -> Unsteady:
    """Where a voltmeter shows no one figure.

    On a wire that nothing joins by metal it may show anything from nothing to the source; over a rattle, anything between its positions.
    """
    if reading.instrument is not Instrument.VOLTMETER:
        return STEADY
    red, black = network.find_point(reading.red or ""), network.find_point(reading.black or "")
    red_ohm, black_ohm = prediction.own_ohm[red], prediction.own_ohm[black]
    reach = swing(prediction.away_v[:, red].astype(np.float64) - prediction.away_v[:, black])
    not_shared = np.abs(red_ohm.astype(np.float64) - black_ohm)  # one loose piece has its damp in common
    return Unsteady(loose(red_ohm, black_ohm), reach, np.minimum(DAMP_A * not_shared, network.sheet.system_v))


def loose(red_ohm: NDArray[Any], black_ohm: NDArray[Any]) -> Bools:
    """Whether a lead hangs on a loose wire (V,), from the resistances [Ω] behind both.

    Two points of one loose piece differ by nothing, whatever it is charged to: they have the same insulation in common.
    """
    limit = float(FLOATING_OHM)
    return np.asarray(((red_ohm > limit) | (black_ohm > limit)) & (np.abs(red_ohm - black_ohm) > SAME_PIECE * red_ohm))


def scale_of(reading: Reading, predicted: Floats, system_v: float) -> Floats:
    """Width (V,) of the likelihood [V or A] about what is predicted."""
    share, floor = width_of(reading.instrument)
    left = left_out_v(predicted, system_v) if reading.instrument is Instrument.VOLTMETER else share * predicted
    return np.sqrt(reading.resolution**2 / 12 + floor**2 + left**2)


def left_out_v(predicted: NDArray[Any], system_v: float) -> NDArray[Any]:
    """What meter and model leave open of a voltage, without its floor [V]."""
    size = np.abs(predicted)
    near = np.minimum(size, np.abs(size - system_v) + SOURCE_SHARE * system_v)
    return METER_SHARE * size + MODEL_SHARE * near


def width_of(instrument: Instrument) -> tuple[float, float]:
    """Error of a reading and of the model together: its share of the figure, and its floor in the instrument's unit."""
    return WIDTHS.get(instrument, (METER_SHARE + MODEL_SHARE, MODEL_FLOOR_V))


def slip_chance(reading: Reading) -> float:
    """Chance that the reading says nothing."""
    return SLIP_TOLD if reading.told else SLIP_DISTURBED if reading.disturbed else SLIP


def fit_one(
    reading: Reading, values: Sequence[float], predicted: Floats, chatter: Floats, system_v: float, hints: Unsteady = STEADY,
    again: bool = False,
) -> Fit:  # fmt: skip
    """Likelihood of one place's reading; several `values` taken there are one reading read several times, as is a word said `again`.

    Values that agree are taken as their mean; of values that do not, each must be explained, or be a slip. `hints` tell where
    the figure is not one.
    """
    slip = slip_chance(reading)
    if reading.value is None:
        return _fit_word(reading, predicted, slip * slip if again else slip)
    reach = np.zeros(predicted.shape) if hints.reach_v is None else hints.reach_v
    steady = np.hypot(scale_of(reading, predicted, system_v), hints.damp_v)
    scale = np.hypot(steady, np.where(chatter > 0, _restless(reading, reach, predicted), 0.0))
    ordered = sorted(values)
    together = ordered[-1] - ordered[0] <= 6 * float(np.median(scale_of(reading, np.array([np.mean(ordered)]), system_v)))
    groups = [float(np.mean(ordered))] if together else ordered
    if together and len(ordered) > 1:
        slip = slip * slip  # a hand that slips seldom slips alike twice; a third look says no more
    wide = WIDEST.get(reading.instrument, 2.2 * system_v)
    swings = None
    if reading.unsteady is not None:
        swings = reach > SWINGS_SHARE * system_v if reading.instrument is Instrument.VOLTMETER else chatter > 0
    astray = 1.0 if reading.bound is not Bound.EXACT else 1.0 / wide
    log, slipped = np.zeros(predicted.shape), np.ones(predicted.shape)
    for value in groups:
        inside = _density(reading, value, predicted, scale)
        if hints.loose is not None and hints.loose.any():
            inside = np.where(hints.loose, _loose_density(reading, value, system_v), inside)
        if swings is not None:
            inside = inside * np.where(swings == reading.unsteady, SAID_RIGHTLY, 1 - SAID_RIGHTLY)
        total = (1 - slip) * inside + slip * astray
        log, slipped = log + np.log(total), np.minimum(slipped, slip * astray / total)
    return Fit(log, slipped, len(groups))


def _restless(reading: Reading, reach: Floats, predicted: Floats) -> Floats:
    """Width of what a meter shows of a machine that rattles beside what its shares of time say, in the reading's unit."""
    return RESTLESS_SHARE * (np.abs(predicted) + CLAMP_FLOOR_A if reading.instrument is Instrument.CLAMP else reach)


def _density(reading: Reading, value: float, predicted: Floats, scale: Floats) -> Floats:
    if reading.instrument is Instrument.CLAMP:
        predicted = np.abs(predicted)
        value = abs(value)
    z = (value - predicted) / scale
    if reading.bound is Bound.AT_LEAST:
        return stdtr(TAILS, -z)
    if reading.bound is Bound.AT_MOST:
        return stdtr(TAILS, (abs(value) - predicted) / scale) - stdtr(TAILS, (-abs(value) - predicted) / scale)
    return _STUDENT * (1 + z * z / TAILS) ** (-(TAILS + 1) / 2) / scale


def _loose_density(reading: Reading, value: float, system_v: float) -> float:
    """Chance density [1/V] of a figure on a loose wire: often next to nothing, else anything up to the source."""
    size = abs(value)
    if reading.bound is not Bound.EXACT:
        return LOOSE_NOTHING if reading.bound is Bound.AT_MOST else 1 - LOOSE_NOTHING
    nothing = LOOSE_NOTHING * float(np.exp(-size / LOOSE_SCALE_V)) / LOOSE_SCALE_V
    return nothing + (1 - LOOSE_NOTHING) / (1.1 * system_v) * (size < 1.1 * system_v)


ANSWERED = np.array([[0.96, 0.04], [0.04, 0.96]])
"""Chance of what is said of a forced test (it does not charge, it does; columns) given what it does (rows; common practice)."""
HEARD_FROM = np.array([[0.97, 0.03], [0.1, 0.9]])
"""Chance that a module is silent or answers (columns) while it is without power or dead, and while it lives (rows): its bus, or the tool, may be at
fault where it is silent (common practice)."""
LIT = np.array([[0.93, 0.06, 0.01], [0.1, 0.8, 0.1], [0.01, 0.06, 0.93]])
"""Chance of what is said of a lamp (off, dim, bright) or a function (dead, weak, works; columns) given how it is (rows; common practice)."""
CHANCES: dict[Instrument, Floats] = {
    **dict.fromkeys((Instrument.EYES, *BRIDGES), HEARD),
    **dict.fromkeys((Instrument.FUNCTION, *LAMPS), LIT),
    **dict.fromkeys(FORCED, ANSWERED),
    Instrument.LOOKS: LOOKED,
    Instrument.ANSWERS: HEARD_FROM,
    Instrument.NEW_FUSE: HELD,
}
"""Chance of what each instrument is answered with (columns, by WORDS) given what is so (rows)."""


def _fit_word(reading: Reading, predicted: Floats, slip: float) -> Fit:
    chances, said = CHANCES[reading.instrument], WORDS[reading.instrument].index(reading.word or "")
    inside: Floats = chances[predicted.astype(np.int64), said]
    astray = 1 / chances.shape[1]
    total = (1 - slip) * inside + slip * astray
    meant = np.where(inside > 2 * NEVER_HEARD, (1 - slip) * inside, 0.0)  # what nobody would mistake for it is as good as a slip
    return Fit(np.log(total), 1 - meant / total)
