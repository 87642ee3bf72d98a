"""What a test could show, as outcomes that can be told apart, and how much they say of who is at fault."""

from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from iron_probe.core.arrays import Floats
from iron_probe.core.diagnose.ensemble import PER_STRATUM, STRATA, Ensemble
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.diagnose.likelihood import (
    METER_SHARE,
    MODEL_FLOOR_V,
    MODEL_SHARE,
    NEAR_SOURCE,
    SWINGS_SHARE,
    left_out_v,
    loose,
    width_of,
)
from iron_probe.core.diagnose.shown import shown_first
from iron_probe.core.solve.solution import shown_v, swing

if TYPE_CHECKING:
    from iron_probe.core.diagnose.test_book import TestBook

OUTCOME_WIDTHS = 2.0
"""Width of one outcome, in widths of the likelihood."""
BLUR_WIDTHS = 1.5
"""How many spreads of sound machines one outcome spans at the least."""
LOOSE_FIFTHS, LOOSE_STEP, SWINGING_STEP = 2, -1_000_000, 1_000_000
"""How many of five loose wires show next to nothing; the outcome of all others, that no figure says more of; and that of a figure that
jumps about."""


def outcomes_of(ensemble: Ensemble, book: "TestBook", numbers: Sequence[int], chosen: NDArray[np.int64]) -> NDArray[np.int32]:
    """Outcome (tests, sample) each chosen variant would give in each test; all voltmeter tests of a state at once."""
    variants, back = np.unique(chosen, return_inverse=True)  # few are left once much was read
    outcomes = np.empty((len(numbers), len(variants)), dtype=np.int32)
    row_of = np.full(len(book.candidates), -1, dtype=np.int64)
    row_of[list(numbers)] = np.arange(len(numbers))
    for state in ensemble.states:
        first = ensemble.first(state)
        chatter = first.chatter[variants]
        number, red, black = book.leads[state]
        asked = row_of[number] >= 0
        if asked.any():
            number, red, black = number[asked], red[asked], black[asked]
            volts, own_ohm = first.volts[:, variants], first.own_ohm[:, variants]
            shown = shown_v(volts[red] - volts[black], own_ohm[red] + own_ohm[black])
            blur = book.blur[number].astype(np.float32)[:, None]
            steps = _volt_steps(shown, blur, ensemble.sheet.system_v)
            hanging = loose(own_ohm[red], own_ohm[black])
            rattling = np.flatnonzero(chatter)  # only there anything swings
            away_v = first.away_v[:, :, variants[rattling]]
            swings = np.zeros(shown.shape, dtype=bool)
            swings[:, rattling] = swing(away_v[:, red] - away_v[:, black]) > SWINGS_SHARE * ensemble.sheet.system_v
            loosely = np.where(hanging, np.where(variants % 5 < LOOSE_FIFTHS, 0, LOOSE_STEP), steps)
            outcomes[row_of[number]] = np.where(swings, SWINGING_STEP, loosely)
        number, branch = book.clamps[state]
        asked = row_of[number] >= 0
        if asked.any():
            number, branch = number[asked], branch[asked]
            steps = _stepped(first.amps[branch][:, variants], *width_of(Instrument.CLAMP), book.blur[number][:, None])
            outcomes[row_of[number]] = np.where(chatter, SWINGING_STEP, steps)
        for n in book.others[state]:
            if row_of[n] < 0:
                continue
            reading = book.candidates[n].reading
            outcomes[row_of[n]] = outcome_of(
                reading, shown_first(ensemble, reading, variants), float(book.blur[n]), ensemble.sheet.system_v
            )
    return outcomes[:, back]


def bits_beyond(
    ensemble: Ensemble, book: "TestBook", numbers: Sequence[int], outcomes: NDArray[np.int32], chosen: NDArray[np.int64],
    labels: NDArray[np.int64], read: Sequence[int],
) -> Floats:  # fmt: skip
    """Information [bit] (read, tests) that volts still give beside those that each of the tests `read` has given in the same state: by how far the
    two differ. What one model gets wrong at a place it gets wrong at the next, and a second figure of the same thing is not new."""
    readings, row = [book.candidates[n].reading for n in (*read, *numbers)], ensemble.network.point_row
    first = ensemble.first(readings[0].state)
    variants, back = np.unique(chosen, return_inverse=True)
    red, black = (np.array([row[p or ""] for p in points]) for points in ([r.red for r in readings], [r.black for r in readings]))
    volts = first.volts[red[:, None], variants] - first.volts[black[:, None], variants]
    shown = shown_v(volts, first.own_ohm[red[:, None], variants] + first.own_ohm[black[:, None], variants])[:, back]
    before, mine = shown[: len(read), None], shown[None, len(read) :]
    sign = np.where(np.std(mine - before, axis=2) <= np.std(mine + before, axis=2), 1, -1)[:, :, None]
    sound = np.array([book.sound[n] for n in (*read, *numbers)])
    blur = np.std(sound[None, len(read) :] - sign * sound[: len(read), None], axis=2)[:, :, None]
    apart = _stepped(mine - sign * before, *width_of(Instrument.VOLTMETER), blur)
    apart = np.where(np.isin(outcomes, (LOOSE_STEP, SWINGING_STEP)), outcomes, apart)
    return information_bits(apart.reshape(-1, len(labels)), labels).reshape(len(read), len(numbers))


def rough_outcomes(ensemble: Ensemble, book: "TestBook") -> NDArray[np.int16]:
    """Outcome (tests, hypotheses x STRATA) of every test on one variant of each stratum: what a first ranking of all tests needs, worked out
    once. What cannot be counted in 16 bits stands at their end."""
    middles = np.arange(STRATA) * PER_STRATUM + PER_STRATUM // 2
    chosen = (np.arange(len(ensemble.hypotheses))[:, None] * ensemble.size + middles).ravel()
    limits = np.iinfo(np.int16)
    found = np.empty((len(book.candidates), len(chosen)), dtype=np.int32)
    halves = [
        [k for k, c in enumerate(book.candidates) if c.reading.state in states] for states in (ensemble.states[::2], ensemble.states[1::2])
    ]
    with ThreadPoolExecutor(2) as pool:  # array work lets another thread run
        for numbers, outcomes in zip(halves, pool.map(lambda half: outcomes_of(ensemble, book, half, chosen), halves), strict=True):
            found[numbers] = outcomes
    return np.clip(found, limits.min, limits.max).astype(np.int16)


def _stepped(predicted: NDArray[Any], share: float, floor: float, blur: NDArray[Any] | float) -> NDArray[np.int32]:
    """Number of the step each value falls in: steps as wide as the likelihood there, or as sound machines differ."""
    wide = np.hypot(floor, BLUR_WIDTHS * blur)
    return np.floor(np.arcsinh(predicted * (share / wide)) * (1 / share / OUTCOME_WIDTHS) + 0.5).astype(np.int32)


def _volt_steps(predicted: NDArray[Any], blur: NDArray[Any] | float, system_v: float) -> NDArray[np.int32]:
    """The same of volts, whose likelihood is narrow again near the source: where its width falls and rises, one after the other."""
    share, falls = METER_SHARE + MODEL_SHARE, MODEL_SHARE - METER_SHARE
    wide = np.hypot(MODEL_FLOOR_V, BLUR_WIDTHS * blur)
    turn, source = (np.arcsinh(float(left_out_v(np.array(v), system_v)) / wide) for v in (NEAR_SOURCE * system_v, system_v))
    size = np.abs(predicted)
    along = np.arcsinh(left_out_v(predicted, system_v) / wide)
    at_source = turn / share + (turn - source) / falls
    far = np.where(size < system_v, turn / share + (turn - along) / falls, at_source + (along - source) / share)
    steps = np.where(size < NEAR_SOURCE * system_v, along / share, far)
    return np.floor(np.sign(predicted) * steps / OUTCOME_WIDTHS + 0.5).astype(np.int32)


def outcome_of(reading: Reading, predicted: Floats, blur: float, system_v: float) -> NDArray[np.int32]:
    """Which outcome each variant would give: steps as wide as the reading is blurred, finer near zero.

    `blur` is how much sound machines differ among themselves in this reading: what they differ by accuses nobody, and
    where few variants are left it must not tell one from another.
    """
    if reading.value is None:
        return predicted.astype(np.int32)
    if reading.instrument is Instrument.VOLTMETER:
        return _volt_steps(predicted, blur, system_v)
    return _stepped(predicted, *width_of(reading.instrument), blur)


def information_bits(outcomes: NDArray[np.signedinteger[Any]], labels: NDArray[np.int64]) -> Floats:
    """Mutual information [bit] (tests,) between the outcome of each test (tests, sample) and the labels (sample,), all samples alike."""
    bits = np.zeros(len(outcomes))
    low, high = outcomes.min(axis=1), outcomes.max(axis=1)
    varying = np.flatnonzero(high > low)  # a test that always shows the same tells nothing
    if not len(varying):
        return bits
    kinds = np.unique(labels, return_inverse=True)[1]
    groups = int(kinds.max()) + 1
    shifted = outcomes[varying].astype(np.int32) - low[varying, None]
    joint = np.sort(shifted * groups + kinds.astype(np.int32), axis=1)
    counts = np.bincount(kinds) / len(labels)
    bits[varying] = np.maximum(_entropies(joint // groups) - (counts * np.log2(counts)).sum() - _entropies(joint), 0.0)
    return bits


def _entropies(ordered: NDArray[np.int32]) -> Floats:
    """Entropy [bit] (tests,) of the values of each row, sorted."""
    tests, sample = ordered.shape
    starts = np.ones((tests, sample), dtype=bool)
    starts[:, 1:] = ordered[:, 1:] != ordered[:, :-1]
    first = np.flatnonzero(starts)
    share = np.diff(np.r_[first, tests * sample]) / sample
    return np.asarray(np.bincount(first // sample, weights=-share * np.log2(share), minlength=tests), dtype=np.float64)


def halving_bits(good: NDArray[np.bool_], labels: NDArray[np.int64]) -> Floats:
    """Information [bit] (tests,) of a plain good or bad (tests, sample), every suspect left (sample,) counted alike."""
    kinds = np.unique(labels, return_inverse=True)[1]
    which = np.eye(int(kinds.max()) + 1)[kinds]
    share = good.astype(float) @ (which / which.sum(axis=0))

    def entropy(p: Floats) -> Floats:
        inside = np.clip(p, 1e-12, 1 - 1e-12)
        return -inside * np.log2(inside) - (1 - inside) * np.log2(1 - inside)

    return entropy(share.mean(axis=1)) - entropy(share).mean(axis=1)
