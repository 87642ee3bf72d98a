"""Machines as they could be: for every hypothesis some dozens of variants, solved once a state and kept.

A hypothesis is a fault mode (or a pair of them, or no fault). Its variants share the same draws of every part's spread,
so that hypotheses are compared on equal machines. Severity is cut into strata of equal prior; a stratum that holds what
is left of the evidence is drawn anew with more variants, so that thinning never makes the engine sure.
"""

from collections import OrderedDict
from collections.abc import Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import cached_property
from itertools import repeat

import numpy as np
from numpy.typing import NDArray

from iron_probe.core.arrays import Bools, Floats
from iron_probe.core.circuit.elements import Conditions
from iron_probe.core.circuit.faults import DRAGGING, SHORT_MODES, SUPPLY_LEAK
from iron_probe.core.circuit.heavy_path import heavy_path
from iron_probe.core.circuit.network import Network, network_of
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.fault_mode import FaultMode, beside_it
from iron_probe.core.diagnose.fault_modes import fault_modes
from iron_probe.core.diagnose.prediction import Prediction, join
from iron_probe.core.diagnose.scope import Scope, states_of
from iron_probe.core.solve.operate import solve_state

STRATA = 8
"""Parts of equal prior into which the log range of a severity is cut."""
PER_STRATUM = 8
"""Variants of a stratum in the first draw: 64 a hypothesis."""
PER_FIXED = 24
"""Variants of a hypothesis without severity."""
REFINED = 32
"""Variants of a stratum drawn anew."""
SOUND_SHARE = 0.05
"""Prior of a machine without a fault beside all faults together: complaints that were never true, or are cured (common practice)."""
QUIET_SHARE = 0.02
"""How often a fault that nobody hears is brought in for how the machine starts, beside one that is heard (common practice)."""
QUIET_V = 0.5
"""A starter that gets so much less of 12 V turns audibly slower (common practice)."""
PAIR_STRATA = 4
"""Into how many strata the first severity of a pair is cut."""
PAIR_RANGE = 0.6
"""Share of the severity range that pairs are drawn from: a nearly open part hides any other in its path."""
BATCH = 4096
"""Variants solved at once."""
_SEED = 20_261


@dataclass(frozen=True, slots=True)
class Hypothesis:
    """What is wrong: no fault (empty), one mode, or a pair; `weight` is its prior beside the others."""

    modes: tuple[FaultMode, ...]
    weight: float

    @property
    def elements(self) -> tuple[str, ...]:
        """Elements at fault."""
        return tuple(m.element for m in self.modes)

    @property
    def comes(self) -> float:
        """Chance that the fault is one that comes and goes."""
        return max((m.comes for m in self.modes), default=0.0)

    @property
    def graded(self) -> bool:
        """Whether it has a severity."""
        return any(m.graded for m in self.modes)


def hypotheses_of(modes: Sequence[FaultMode]) -> list[Hypothesis]:
    """No fault, then every single mode."""
    total = sum(m.weight for m in modes)
    return [Hypothesis((), SOUND_SHARE * total), *(Hypothesis((m,), m.weight) for m in modes)]


class Ensemble:
    """The variants of one sheet under given conditions; states are solved when first asked for and kept.

    `kept_bytes` bounds what refined strata may hold; the first draw is held whole. `modes` are the fault modes where they were worked out
    before.
    """

    def __init__(
        self, sheet: Sheet, at: Conditions | None = None, work: Scope = Scope.STARTING, kept_bytes: int = 192_000_000,
        modes: Sequence[FaultMode] | None = None,
    ) -> None:  # fmt: skip
        self.sheet, self.work = sheet, work
        self.states = states_of(sheet, work)
        self.conditions = Conditions() if at is None else at
        self.network: Network = network_of(sheet, self.conditions)
        self.modes = fault_modes(self.network, work) if modes is None else list(modes)
        self.hypotheses = hypotheses_of(self.modes)
        self.forced_v: dict[tuple[str, str, str], Floats] = {}
        """Volts at the posts of forced tests on the first draw, by instrument, branch and state (`shown.py`)."""
        self._first: dict[str, Prediction] = {}
        self._drawn: dict[tuple[int, int], Floats] = {}
        self._strata: OrderedDict[tuple[tuple[tuple[str, str], ...], int, str], Prediction] = OrderedDict()
        self._room = kept_bytes

    @cached_property
    def size(self) -> int:
        """Variants a hypothesis in the first draw."""
        return STRATA * PER_STRATUM

    @cached_property
    def weight(self) -> Floats:
        """Prior of each hypothesis (count,) beside the others."""
        return np.array([h.weight for h in self.hypotheses], dtype=float)

    @cached_property
    def comes(self) -> Floats:
        """Chance (count,) that each hypothesis' fault is one that comes and goes."""
        return np.array([h.comes for h in self.hypotheses])

    @cached_property
    def accusing(self) -> dict[str, NDArray[np.int64]]:
        """Numbers of the hypotheses that accuse each element, in the order the elements first occur."""
        found: dict[str, list[int]] = {}
        for number, h in enumerate(self.hypotheses):
            for element in h.elements:
                found.setdefault(element, []).append(number)
        return {element: np.array(numbers) for element, numbers in found.items()}

    @cached_property
    def accusing_first(self) -> dict[str, NDArray[np.int64]]:
        """Numbers of the hypotheses whose first fault lies on each element."""
        first = np.array([h.modes[0].element if h.modes else "" for h in self.hypotheses])
        return {element: np.flatnonzero(first == element) for element in self.accusing}

    @cached_property
    def single(self) -> NDArray[np.bool_]:
        """Which hypotheses (count,) are one fault that is always there: what pairs are made of."""
        return np.array([len(h.modes) == 1 and h.comes < 1 for h in self.hypotheses])

    @cached_property
    def also_beside(self) -> NDArray[np.int64]:
        """Numbers of the hypotheses whose fault a joint or a bridge beside the part has just so."""
        first = [h.modes[0] if h.modes else None for h in self.hypotheses]
        return np.array([k for k, m in enumerate(first) if m and beside_it(self.network, m.element, m.name)], dtype=np.int64)

    @cached_property
    def to_ground(self) -> NDArray[np.bool_]:
        """Which hypotheses (count,) are one way to ground."""
        return np.array([len(h.modes) == 1 and h.modes[0].name in SHORT_MODES for h in self.hypotheses])

    @cached_property
    def on_assumed(self) -> NDArray[np.bool_]:
        """Which hypotheses (count,) begin at a part that is only assumed."""
        assumed = {e.id for e in self.sheet.elements if e.assumed}
        return np.array([bool(h.modes) and h.modes[0].element in assumed for h in self.hypotheses])

    @cached_property
    def by_element(self) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
        """Numbers of the accusing hypotheses, those of one element side by side, and where each element's begin."""
        return np.concatenate(list(self.accusing.values())), np.cumsum([0, *(len(n) for n in self.accusing.values())])[:-1]

    @cached_property
    def quiet(self) -> Floats:
        """What the first draw (hypotheses, variants) loses, as a logarithm, where the machine does in every state what it does when sound, and cranks
        with the same volts: nobody complains of how it starts."""
        if self.work is not Scope.STARTING:
            return np.zeros(self._heard_as_sound.shape)
        alike = self._heard_as_sound.copy()
        shape, heavy = alike.shape, heavy_path(self.network)
        for state in self.states:
            shown = self.first(state)
            if heavy.cranked and self.sheet.state(state).cranking:
                load = self.network.find_branch(heavy.load)
                across = shown.volts[self.network.start[load]] - shown.volts[self.network.end[load]]
                alike &= np.abs(across.reshape(shape) - across[: self.size]) < QUIET_V * self.sheet.system_v / 12
        alike[0] = False  # that there is nothing wrong is a complaint of its own
        wears = {row for (_, name), row in self.network.row.items() if name == "capacity_ah"}
        alike[[any(e.row in wears for m in h.modes for e in m.effects) for h in self.hypotheses]] = (
            False  # it does not start the next morning
        )
        return np.where(alike, np.log(QUIET_SHARE), 0.0)

    @cached_property
    def _heard_as_sound(self) -> Bools:
        """Which variants (hypotheses, size) of the first draw do in every state what the same machine does when sound."""
        shape = (len(self.hypotheses), self.size)
        alike = np.ones(shape, dtype=bool)
        for state in self.states:
            heard = self.first(state).heard.reshape(shape)
            alike &= heard == heard[0]
        return alike

    @cached_property
    def turns_well(self) -> Bools:
        """Which variants (hypotheses, size) of the first draw are a starter that drags by its current alone: it turns the engine as a sound one does, and
        what starters draw differs by more than a worn bush asks for, so that nothing is wrong with it where nobody hears it turn slowly."""
        drags = np.array([len(h.modes) == 1 and h.modes[0].name == DRAGGING for h in self.hypotheses])
        return self._heard_as_sound & drags[:, None]

    def first(self, state: str) -> Prediction:
        """All hypotheses in one state."""
        if state not in self._first:
            self._hold_all(state, [self._part(state, values) for values in self._batches()])
        return self._first[state]

    def _part(self, state: str, values: Floats) -> Prediction:
        return Prediction.of(solve_state(self.network, state, values))

    def _hold_all(self, state: str, parts: Sequence[Prediction]) -> None:
        self._first[state] = join(parts).take(self._columns)

    def hold(self, state: str, prediction: Prediction) -> None:
        """Hold a state that was solved before, in place of solving it."""
        self._first[state] = prediction

    def prepare(self) -> "Ensemble":
        """Solve every state now, two at a time: array work lets another thread run. Gives itself back."""
        left = [state for state in self.states if state not in self._first]
        parts: list[list[Prediction]] = []
        with ThreadPoolExecutor(2) as pool:
            for values in self._batches() if left else ():
                parts.append(list(pool.map(self._part, left, repeat(values))))
            list(pool.map(self._hold_all, left, zip(*parts, strict=True)))
        return self

    @cached_property
    def _jobs(self) -> list[int]:
        """Hypotheses in the order they are solved: those that leak from the supply last, as they need the larger elimination plan."""
        parameters = self.network.parameters
        fed = [any(parameters[e.row][1] == SUPPLY_LEAK for m in h.modes for e in m.effects) for h in self.hypotheses]
        return sorted(range(len(fed)), key=lambda k: (fed[k], k))

    def _solved(self, number: int) -> int:
        """Variants really solved for a hypothesis: without severity only the spread of parts is left to sample."""
        h = self.hypotheses[number]
        return self.size if h.graded or not h.modes else PER_FIXED

    @cached_property
    def solved_variants(self) -> int:
        """Variants really solved in each state for the first draw."""
        return sum(self._solved(k) for k in self._jobs)

    @cached_property
    def _columns(self) -> NDArray[np.int64]:
        """Where each variant of the first draw stands among the solved ones; those of a fixed fault are used again and again."""
        starts = np.cumsum([0, *(self._solved(k) for k in self._jobs)])
        at = {k: int(start) for k, start in zip(self._jobs, starts, strict=False)}
        return np.concatenate([at[k] + np.arange(self.size) % self._solved(k) for k in range(len(self.hypotheses))])

    def _batches(self) -> Iterator[Floats]:
        """Parameters of all variants to be solved, in batches."""
        shares, machines = self._first_shares, self._first_machines
        batch: list[Floats] = []
        for k in self._jobs:
            count = self._solved(k)
            batch.append(_faulty(self.hypotheses[k], machines[:, :count], [shares[:count]]))
            if sum(b.shape[1] for b in batch) > BATCH - self.size:
                yield np.concatenate(batch, axis=1)
                batch = []
        if batch:
            yield np.concatenate(batch, axis=1)

    def strata_of(self, wanted: Sequence[tuple[Hypothesis, int]], state: str) -> list[Prediction]:
        """Strata of hypotheses drawn anew with more variants; those not kept yet are solved in one batch."""
        keys = [(tuple((m.element, m.name) for m in h.modes), s, state) for h, s in wanted]
        missing = [(key, h, s) for key, (h, s) in zip(keys, wanted, strict=True) if key not in self._strata]
        fresh = {}
        if missing:
            values = np.concatenate([self.values_of(h, s) for _, h, s in missing], axis=1)
            solved = Prediction.of(solve_state(self.network, state, values))
            for k, (key, _, _) in enumerate(missing):
                fresh[key] = solved.take(np.arange(k * REFINED, (k + 1) * REFINED))
        found = [fresh[key] if key in fresh else self._strata[key] for key in keys]
        for key, prediction in fresh.items():
            self._keep(key, prediction)
        return found

    def _keep(self, key: tuple[tuple[tuple[str, str], ...], int, str], prediction: Prediction) -> None:
        size = prediction.volts.nbytes + prediction.own_ohm.nbytes + prediction.amps.nbytes + prediction.away_v.nbytes
        self._strata[key] = prediction
        while len(self._strata) * size > self._room:
            self._strata.popitem(last=False)

    def _machines(self, count: int, draw: int) -> Floats:
        """`count` machines with every part drawn from its spread; the same for every hypothesis of a draw, and not to be written to."""
        if (count, draw) not in self._drawn:
            rng = np.random.default_rng((_SEED, draw))
            self._drawn[count, draw] = self.network.machines(rng.standard_normal((len(self.network.nominal), count)))
        return self._drawn[count, draw]

    def first_values(self) -> Floats:
        """Parameters (parameters, V) of the whole first draw, for tests that change the circuit."""
        return np.concatenate(list(self._batches()), axis=1)[:, self._columns]

    def first_row(self, row: int) -> Floats:
        """One parameter of the whole first draw, without building the others."""
        machines = self._first_machines
        found = machines[row][self._used_again]
        for k in self._changing.get(row, ()):
            count = self._solved(k)
            one = _faulty(self.hypotheses[k], machines[:, :count], [self._first_shares[:count]])[row]
            found[k] = one[np.arange(self.size) % count]
        return np.asarray(found.ravel())

    @cached_property
    def _first_machines(self) -> Floats:
        """Sound machines (parameters, size) that every hypothesis of the first draw is put into."""
        return self._machines(self.size, 0)

    @cached_property
    def _first_shares(self) -> Floats:
        return np.concatenate([_shares(s, PER_STRATUM) for s in range(STRATA)])

    @cached_property
    def _used_again(self) -> NDArray[np.int64]:
        """Which machine each variant (hypotheses, size) of the first draw is: those of a fixed fault are used again and again."""
        return np.arange(self.size) % np.array([self._solved(k) for k in range(len(self.hypotheses))])[:, None]

    @cached_property
    def _changing(self) -> dict[int, list[int]]:
        """Numbers of the hypotheses that change each parameter."""
        found: dict[int, list[int]] = {}
        for number, h in enumerate(self.hypotheses):
            for row in {e.row for m in h.modes for e in m.effects}:
                found.setdefault(row, []).append(number)
        return found

    def values_at(self, chosen: NDArray[np.int64]) -> Floats:
        """Parameters (parameters, chosen) of some variants of the first draw, by their number."""
        shares, machines = self._first_shares, self._first_machines
        columns = []
        for number in chosen:
            k, at = divmod(int(number), self.size)
            at %= self._solved(k)
            columns.append(_faulty(self.hypotheses[k], machines[:, at : at + 1], [shares[at : at + 1]]))
        return np.concatenate(columns, axis=1)

    def values_of(self, hypothesis: Hypothesis, stratum: int) -> Floats:
        """Parameters (parameters, REFINED) of a refined stratum, for tests that attach an instrument."""
        if len(hypothesis.modes) < 2:
            return _faulty(hypothesis, self._machines(REFINED, 1 + stratum), [_shares(stratum, REFINED)])
        return _faulty(hypothesis, self._machines(REFINED, 1 + stratum), pair_shares(stratum))


def pair_shares(stratum: int) -> list[Floats]:
    """Shares of both severity ranges in a stratum of a pair: the first PAIR_STRATA cut the first fault's range and have all of the second's; after them
    come the cells of both ranges, each cut in STRATA."""
    even, mixed = _shares(0, REFINED) * STRATA, _reversed_digits(REFINED)
    if stratum < PAIR_STRATA:
        return [PAIR_RANGE * (stratum + even) / PAIR_STRATA, PAIR_RANGE * mixed]
    first, second = divmod(stratum - PAIR_STRATA, STRATA)
    return [PAIR_RANGE * (first + even) / STRATA, PAIR_RANGE * (second + mixed) / STRATA]


def cells_about(first: float, second: float) -> list[int]:
    """Strata of a pair that are the four cells about two severities, each a share of its fault's whole range."""
    at = [min(max(round(s / PAIR_RANGE * STRATA), 1), STRATA - 1) for s in (first, second)]
    return [PAIR_STRATA + a * STRATA + b for a in (at[0] - 1, at[0]) for b in (at[1] - 1, at[1])]


def _shares(stratum: int, count: int) -> Floats:
    """Evenly spaced shares of the severity range inside one stratum."""
    return (stratum + (np.arange(count) + 0.5) / count) / STRATA


def _faulty(hypothesis: Hypothesis, machines: Floats, shares: Sequence[Floats]) -> Floats:
    """Machines with the faults in them, each at its own shares of its severity range."""
    values = machines.copy()
    for mode, mine in zip(hypothesis.modes, shares, strict=False):
        mode.apply(values, mode.severity(mine))
    return values


def _reversed_digits(count: int) -> Floats:
    """Shares 0..1 spread evenly in every part of the row, so that beside even ones all mixtures occur: van der Corput's sequence in base 2."""
    places = np.arange(count)
    return np.sum([((places >> k) & 1) / 2 ** (k + 1) for k in range(16)], axis=0) + 0.5 / count
