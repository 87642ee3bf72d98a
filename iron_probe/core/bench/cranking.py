"""What a crank trace tells: inrush, mean current and volts, speed from the humps, evenness, gaps and hash, supply resistance."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from iron_probe.core.arrays import Floats, Singles
from iron_probe.core.errors import CaptureError
from iron_probe.core.limits import CRANKING_LEAST_A
from iron_probe.core.phrase import Phrase, together
from iron_probe.core.trace.layout import Role

WORK_HZ = 2000.0
"""Humps are worked on at this rate: sixty times the fastest of them."""
LAGS_S = (0.1, 1.0)
"""Time constants of a battery's polarisation, that the resistance of a trace must not be mixed with [s] (common practice)."""
FINE_HZ = 20_000.0
"""Gaps and hash are looked for at this rate at the most."""
CRANKING_SHARE = 0.12
"""Cranking is where the current exceeds this share of its usual high."""
LONGEST_GAP_S = 0.2
"""A shorter gap is a dropout inside one crank."""
LEAST_CRANK_S = 0.4
RPM = (40.0, 700.0)
"""Cranking speeds looked for [1/min]."""
HASH_WIDTHS, HASH_SHARE = 6.0, 0.02
"""A spike stands out by so many robust widths of the noise and by this share of the mean current."""
HASH_PER_S = 4.0
"""More spikes a second than this are hash: clean Gaussian noise makes one of six widths in hundreds of millions of samples."""
TRIMMED = 0.937
"""Root mean square of Gaussian noise once its largest 2 % are left out, as a share of the whole."""
GAP_SHARE, LEAST_GAP_S = 0.35, 0.0015
"""A dropout falls under this share of the valleys around it, for at least so long; shorter, it is hash."""
WEAK_SHARE, WEAK_WIDTHS = 0.06, 4.0
"""A hump is weak when short of the others by this share and by so many standard errors. With more than four cylinders compressions
overlap and a difference shows about twice as large, so twice the share is asked (measured, tests/outside/test_crank_traces.py)."""
CARRIED = 0.2
"""A flywheel carries this share of one hump's shortness over into others: less than that of the shortest is no weakness of its own
(measured on the rig's cranks)."""
LEAST_CYCLES = 3


@dataclass(frozen=True, slots=True, kw_only=True)
class Feature:
    """Something found, between two times [s]: its figure in `unit`, and what it means."""

    name: str
    start_s: float
    end_s: float
    value: float
    unit: str
    meaning: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Hump:
    """A cylinder by its place in the firing order from 1: its hump against the others, whether it is weak."""

    place: int
    name: str
    relative: float
    error: float
    weak: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class CrankTrace:
    """A crank, worked out. Volts, drop and resistance are None without their channel; `rpm` None when no humps stand out."""

    start_s: float
    end_s: float
    inrush_a: float
    mean_a: float
    mean_v: float | None
    least_v: float | None
    rest_v: float | None
    drop_v: float | None
    supply_ohm: float | None
    rpm: float | None
    first_hump_s: float | None
    humps: tuple[Hump, ...]
    dropouts: int
    hash_per_s: float
    features: tuple[Feature, ...]
    words: tuple[str, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class CrankedEngine:
    """What is known of the engine and its usual crank: the sound machine's amps and speed."""

    cylinders: int
    strokes: int = 4
    expected_a: float | None = None
    expected_rpm: float | None = None


def analyse(step_s: float, roles: Sequence[Role], data: Sequence[Singles], engine: CrankedEngine, start_s: float = 0.0) -> CrankTrace:
    """Work out a record of even samples; CaptureError when it holds no amps channel or no crank."""
    by_role = dict(zip(roles, data, strict=True))
    if Role.AMPS not in by_role:
        raise CaptureError("A crank trace needs a current channel: name one column as amps.")
    amps = by_role[Role.AMPS]
    coarse_s, coarse = _averaged(amps, step_s, WORK_HZ)
    first, last = _window(coarse, coarse_s)
    begin, end = start_s + first * coarse_s, start_s + last * coarse_s
    settle = first + _settled(coarse[first:last], coarse_s)
    steady = slice(settle, max(last - round(0.05 / coarse_s), settle + 2))
    mean_a = float(coarse[steady].mean())
    early = slice(round(first * coarse_s / step_s), round(min(first * coarse_s + 0.4, last * coarse_s) / step_s) + 1)
    peak_at = early.start + int(np.argmax(amps[early]))
    inrush = float(amps[peak_at])
    features = [
        Feature(name="cranking", start_s=begin, end_s=end, value=end - begin, unit="s", meaning=Phrase("the starter draws; all means below are taken after the inrush")),
        Feature(name="inrush", start_s=start_s + peak_at * step_s, end_s=start_s + peak_at * step_s, value=inrush, unit="A", meaning=Phrase("the motor still stands: battery and circuit alone limit it")),
        Feature(name=Phrase("mean current"), start_s=start_s + steady.start * coarse_s, end_s=start_s + steady.stop * coarse_s, value=mean_a, unit="A", meaning=Phrase("high with low speed: drag or a tight engine; low with full volts: resistance in the circuit")),
    ]  # fmt: skip
    mean_v = least_v = rest_v = supply = drop_v = None
    if Role.VOLTS in by_role:
        coarse_v = _averaged(by_role[Role.VOLTS], step_s, WORK_HZ)[1][: len(coarse)]
        mean_v, least_v = float(coarse_v[steady].mean()), float(coarse_v[first:last].min())
        rest_v = float(coarse_v[: max(first - 2, 1)].mean()) if first > 3 else None
        supply = _supply_ohm(coarse[: len(coarse_v)], coarse_v, first, last, coarse_s)
        at = start_s + (first + int(np.argmin(coarse_v[first:last]))) * coarse_s
        features.append(
            Feature(
                name=Phrase("least volts"), start_s=at, end_s=at, value=least_v, unit="V", meaning=Phrase("the deepest sag, at the inrush")
            )
        )
        features += _supply_feature(supply, begin, end)
    if Role.DROP in by_role:
        drop = _averaged(by_role[Role.DROP], step_s, WORK_HZ)[1]
        drop_v = float(drop[steady].mean())
        features.append(
            Feature(
                name=Phrase("drop while cranking"),
                start_s=start_s + steady.start * coarse_s,
                end_s=start_s + steady.stop * coarse_s,
                value=drop_v,
                unit="V",
                meaning=Phrase("lead to lead, only while the current flows"),
            )
        )
    rpm, first_hump, humps, more = _humps(coarse[steady], coarse_s, start_s + steady.start * coarse_s, engine)
    features += more
    fine_s, fine = _averaged(amps[round(steady.start * coarse_s / step_s) : round(steady.stop * coarse_s / step_s)], step_s, FINE_HZ)
    gaps, hash_per_s, found = _hash(fine, fine_s, start_s + steady.start * coarse_s, mean_a)
    features += found
    trace = CrankTrace(
        start_s=begin, end_s=end, inrush_a=inrush, mean_a=mean_a, mean_v=mean_v, least_v=least_v, rest_v=rest_v, drop_v=drop_v,
        supply_ohm=supply, rpm=rpm, first_hump_s=first_hump, humps=humps, dropouts=gaps, hash_per_s=hash_per_s, features=tuple(features), words=(),
    )  # fmt: skip
    return _worded(trace, engine)


def _supply_feature(supply_ohm: float | None, begin: float, end: float) -> list[Feature]:
    """The resistance the volts lose by, as a feature of the crank's beginning; none when it could not be told."""
    if supply_ohm is None:
        return []
    meaning = Phrase("ΔV/ΔI over the inrush: the battery's own, with all that lies between it and the voltage leads")
    return [
        Feature(name=Phrase("supply resistance"), start_s=begin, end_s=min(begin + 0.4, end), value=supply_ohm, unit="Ω", meaning=meaning)
    ]


def _averaged(data: Singles, step_s: float, most_hz: float) -> tuple[float, Floats]:
    """Step and block means at no more than `most_hz`."""
    every = max(int(1 / step_s / most_hz), 1)
    whole = len(data) // every * every
    return step_s * every, data[:whole].reshape(-1, every).mean(axis=1, dtype=np.float64)


def _window(amps: Floats, step_s: float) -> tuple[int, int]:
    """First and last sample of the longest crank."""
    high = float(np.percentile(amps, 99))
    over = amps > max(CRANKING_LEAST_A, CRANKING_SHARE * high)
    joined = ndimage.binary_closing(np.pad(over, 1), np.ones(max(round(LONGEST_GAP_S / step_s), 1)))[1:-1] | over
    labels, count = ndimage.label(joined)
    runs = ndimage.find_objects(labels) if count else []
    longest = max((run[0] for run in runs), key=lambda s: s.stop - s.start, default=slice(0, 0))
    if (longest.stop - longest.start) * step_s < LEAST_CRANK_S:
        raise CaptureError(
            f"No crank is found: the current never stays above {max(CRANKING_LEAST_A, CRANKING_SHARE * high):.0f} A for {LEAST_CRANK_S} s (highest {amps.max():.0f} A). Check the clamp's scale and which column is amps."
        )
    return int(longest.start), int(longest.stop)


def _settled(amps: Floats, step_s: float) -> int:
    """Samples until the inrush is over: where the smoothed current first comes within a quarter of its later median."""
    later = float(np.median(amps[len(amps) // 3 :]))
    smooth = ndimage.uniform_filter1d(amps, max(round(0.08 / step_s), 1))
    after = max(round(0.15 / step_s), int(np.argmax(smooth)))
    within = np.flatnonzero(smooth[after:] < 1.25 * later)
    return min(after + (int(within[0]) if len(within) else 0) + round(0.1 / step_s), max(len(amps) - round(0.2 / step_s), 0))


def _supply_ohm(amps: Floats, volts: Floats, first: int, last: int, step_s: float) -> float | None:
    """What volts lose at once per ampere over the crank, inrush included, beside what polarisation takes more slowly; None when the
    current hardly changes."""
    part = slice(max(first - 20, 0), last)
    i, v = amps[part], volts[part]
    if np.ptp(i) < 30:
        return None
    lags = [_slowed(i, step_s / tau_s) for tau_s in LAGS_S]
    slope = float(np.linalg.lstsq(np.column_stack([i, *lags, np.ones(len(i))]), v, rcond=None)[0][0])
    return -slope if slope < 0 else None


def named_humps(trace: CrankTrace, cylinders: int, strokes: int, trigger_s: float, firing_order: Sequence[int]) -> tuple[Hump, ...]:
    """The humps named by cylinder: cylinder 1 is on top of its compression at `trigger_s`, the others follow in `firing_order`.

    CaptureError when the order is not one of all cylinders, or the trace has no humps.
    """
    if sorted(firing_order) != list(range(1, cylinders + 1)) or firing_order[0] != 1:
        raise CaptureError(
            f"A firing order of {cylinders} cylinders names each once and begins with 1, such as {'-'.join(map(str, range(1, cylinders + 1)))}."
        )
    if not trace.humps or trace.rpm is None or trace.first_hump_s is None:
        raise CaptureError("No humps stand out in this trace, so none can be named.")
    period = 60 / trace.rpm / (cylinders / (2 if strokes == 4 else 1))
    first = round((trigger_s - trace.first_hump_s) / period)
    return tuple(
        replace(h, name=Phrase("cylinder {cylinders}", cylinders=firing_order[(h.place - 1 - first) % cylinders])) for h in trace.humps
    )


def _humps(
    amps: Floats, step_s: float, begin: float, engine: CrankedEngine
) -> tuple[float | None, float | None, tuple[Hump, ...], list[Feature]]:
    """Speed from the mean time between humps, when the first judged one is, and each cylinder's hump against the others."""
    per_turn = engine.cylinders / (2 if engine.strokes == 4 else 1)
    low, high = RPM[0] / 60 * per_turn, RPM[1] / 60 * per_turn
    span = len(amps) * step_s
    if span < 3 / low and span < 0.5:
        return None, None, (), []
    flat = amps - ndimage.uniform_filter1d(amps, max(round(1.0 / low / step_s), 3))
    from scipy import signal  # noqa: PLC0415  its import takes as long as all the rest together, and only a trace needs it

    freq, power = signal.periodogram(flat, fs=1 / step_s, window="hann", nfft=max(4 * len(flat), 1024))
    inside = (freq >= low) & (freq <= min(high, 0.2 / step_s))
    if not inside.any() or power[inside].max() < 20 * np.median(power[inside]):
        return None, None, (), []
    hump_hz = _fundamental(freq, power, inside)
    smooth = ndimage.gaussian_filter1d(amps, 0.08 / hump_hz / step_s)
    band = signal.butter(2, (0.6 * hump_hz, min(1.5 * hump_hz, 0.45 / step_s)), "bandpass", fs=1 / step_s, output="sos")
    wave = signal.sosfiltfilt(band, flat)
    peaks = signal.find_peaks(wave, distance=max(round(0.6 / hump_hz / step_s), 1))[0]
    peaks = peaks[(peaks > 0.4 / hump_hz / step_s) & (peaks < len(amps) - 0.4 / hump_hz / step_s)]
    if len(peaks) < 3:
        return None, None, (), []
    exact = np.array([_vertex(wave, p) for p in peaks])
    period = float(np.polyfit(np.arange(len(exact)), exact, 1)[0]) * step_s
    rpm = 60 / period / per_turn
    feature = Feature(
        name="speed",
        start_s=begin + exact[0] * step_s,
        end_s=begin + exact[-1] * step_s,
        value=rpm,
        unit="rpm",
        meaning=Phrase("{peaks} humps, {per_turn:g} a turn: one hump, one compression", peaks=len(peaks), per_turn=per_turn),
    )
    return rpm, begin + float(exact[1]) * step_s, _evenness(smooth, peaks, engine), [feature]


def _fundamental(freq: Floats, power: Floats, inside: NDArray[np.bool_]) -> float:
    """The strongest frequency in reach: the humps; an uneven engine adds slower ones, a square wave faster."""
    return float(freq[inside][np.argmax(power[inside])])


def _vertex(wave: Floats, at: int) -> float:
    """Where between samples a peak lies: the vertex of the parabola through it and its neighbours."""
    if not 0 < at < len(wave) - 1:
        return float(at)
    a, b, c = wave[at - 1 : at + 2]
    bend = a - 2 * b + c
    return at + (0.5 * (a - c) / bend if bend else 0.0)


def _evenness(smooth: Floats, peaks: NDArray[np.int64], engine: CrankedEngine) -> tuple[Hump, ...]:
    """Each cylinder's hump over the valleys beside it, relative to the mean of the others, with its standard error."""
    count = engine.cylinders
    if count < 2 or len(peaks) < LEAST_CYCLES * count + 1:
        return ()
    half = int(np.median(np.diff(peaks)) // 2)
    valleys = np.array([smooth[a:b].min() for a, b in pairwise(peaks)])
    tops = np.array([smooth[max(p - half // 2, 0) : p + half // 2 + 1].max() for p in peaks[1:-1]])
    heights = tops - (valleys[:-1] + valleys[1:]) / 2
    whole = len(heights) // count * count
    table = heights[:whole].reshape(-1, count)
    means = table.mean(axis=0)
    errors = table.std(axis=0, ddof=1) / np.sqrt(len(table))
    typical = float(np.median(means))
    if typical <= 0:
        return ()
    short = WEAK_SHARE * (2 if count > 4 else 1)
    relative, error = means / typical, np.hypot(errors, np.median(errors)) / typical
    short = max(short, CARRIED * float(1 - relative.min()))
    return tuple(
        Hump(place=k + 1, name=Phrase("hump {k}", k=k + 1), relative=float(relative[k]), error=float(error[k]),
             weak=bool(1 - relative[k] > short and 1 - relative[k] > WEAK_WIDTHS * error[k]))
        for k in range(count)
    )  # fmt: skip


def _hash(amps: Floats, step_s: float, begin: float, mean_a: float) -> tuple[int, float, list[Feature]]:
    """Dropouts, and spikes a second that stand out of the noise."""
    every = max(round(0.002 / step_s), 1)
    around = ndimage.percentile_filter(amps[::every], 10, 401)  # the valleys between humps, which are deep on a light engine
    local = np.repeat(around, every)[: len(amps)]
    local = np.append(local, np.full(len(amps) - len(local), local[-1]))
    runs = [run[0] for run in ndimage.find_objects(ndimage.label(amps < GAP_SHARE * local)[0])]
    gaps = [run for run in runs if (run.stop - run.start) * step_s >= LEAST_GAP_S]
    features = [
        Feature(
            name="dropout",
            start_s=begin + run.start * step_s,
            end_s=begin + run.stop * step_s,
            value=float(amps[run].min()),
            unit="A",
            meaning=Phrase("the current is gone for a moment: a brush off its commutator, a loose joint or the solenoid letting go"),
        )
        for run in gaps[:20]
    ]
    rest = amps - ndimage.median_filter(amps, max(round(0.003 / step_s) | 1, 5))
    size = np.abs(rest)
    core = size[size <= np.percentile(size, 98)]  # without the spikes; a median would fall between the steps of a coarse converter
    width = float(np.sqrt(np.mean(core**2))) / TRIMMED
    spikes = np.abs(rest) > max(HASH_WIDTHS * width, HASH_SHARE * abs(mean_a))
    joined = ndimage.binary_closing(spikes, np.ones(max(round(0.001 / step_s), 1)))
    count = int(ndimage.label(joined)[1])
    rate = count / max(len(amps) * step_s, 1e-9)
    if rate > HASH_PER_S:
        features.append(
            Feature(
                name="hash",
                start_s=begin,
                end_s=begin + len(amps) * step_s,
                value=rate,
                unit="spikes/s",
                meaning=Phrase(
                    "spikes beyond {hash_widths:g} widths of the noise and {hash_share:.0f} % of the current: brushes or commutator",
                    hash_widths=HASH_WIDTHS,
                    hash_share=100 * HASH_SHARE,
                ),
            )
        )
    return len(gaps), rate, features


def _speed_word(rpm: float, expected_rpm: float, mean_a: float, expected_a: float) -> Phrase:
    figures = {"rpm": rpm, "expected_rpm": expected_rpm, "mean_a": mean_a, "expected_a": expected_a}
    if rpm >= 0.75 * expected_rpm:
        return Phrase("{rpm:.0f} rpm at {mean_a:.0f} A: turns as it should ({expected_rpm:.0f} rpm, {expected_a:.0f} A).", **figures)
    if mean_a > 1.25 * expected_a:
        return Phrase("Slow ({rpm:.0f} of {expected_rpm:.0f} rpm) with high current ({mean_a:.0f} of {expected_a:.0f} A): the starter drags or the engine is tight.", **figures)  # fmt: skip
    if mean_a < 0.85 * expected_a:
        return Phrase("Slow ({rpm:.0f} of {expected_rpm:.0f} rpm) with low current ({mean_a:.0f} of {expected_a:.0f} A): resistance in the circuit, or brushes.", **figures)  # fmt: skip
    return Phrase("Slow ({rpm:.0f} of {expected_rpm:.0f} rpm) at ordinary current: see volts at the posts and both drops.", **figures)


def _worded(trace: CrankTrace, engine: CrankedEngine) -> CrankTrace:
    words = []
    if engine.expected_a is not None and trace.rpm is not None and engine.expected_rpm is not None:
        words.append(_speed_word(trace.rpm, engine.expected_rpm, trace.mean_a, engine.expected_a))
    if weak := [h for h in trace.humps if h.weak]:
        words.append(
            Phrase("Low compression: ")
            + together([Phrase("{name} {relative:.0f} % of the others", name=h.name, relative=100 * h.relative) for h in weak])
            + "."
        )
    elif trace.humps:
        words.append(
            Phrase("Humps even within {humps:.0f} %: no cylinder stands out.", humps=100 * max(abs(h.relative - 1) for h in trace.humps))
        )
    if trace.dropouts:
        words.append(Phrase("Dropouts: {count}. A brush, a loose joint or the solenoid.", count=trace.dropouts))
    if trace.hash_per_s > HASH_PER_S:
        words.append(Phrase("Hash: {hash_per_s:.0f} spikes a second: brushes or commutator.", hash_per_s=trace.hash_per_s))
    return replace(trace, words=tuple(words))


def _slowed(data: Floats, steps: float) -> Floats:
    """First-order lag of even samples, `steps` of them in a time constant's inverse: a running sum, weighted back."""
    from scipy import signal  # noqa: PLC0415  its import takes as long as all the rest together, and only a trace needs it

    keep = float(np.exp(-steps))
    return np.asarray(signal.lfilter([1 - keep], [1, -keep], data), dtype=np.float64)
