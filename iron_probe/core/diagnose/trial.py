"""A hidden fault worked to the end: the generator has its own seed and wider tolerances than the engine assumes."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from iron_probe.core.arrays import Floats
from iron_probe.core.bench.typed_value import Bound
from iron_probe.core.circuit.elements import Lamp
from iron_probe.core.circuit.network import Network
from iron_probe.core.diagnose.altered import charges, forced
from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.ensemble import Hypothesis
from iron_probe.core.diagnose.evidence import (
    BY_ITSELF,
    FORCED,
    FUNCTION_WORDS,
    LAMPS,
    OF_PART,
    WORDS,
    Instrument,
    Reading,
)
from iron_probe.core.diagnose.fault_mode import FaultMode
from iron_probe.core.diagnose.likelihood import OVER_OHM, predict
from iron_probe.core.diagnose.new_fuse import holds
from iron_probe.core.diagnose.posterior import Posterior
from iron_probe.core.diagnose.prediction import Prediction
from iron_probe.core.diagnose.scope import OFF_V, Scope, states_of
from iron_probe.core.diagnose.test_book import SMALL_LAMP_W
from iron_probe.core.diagnose.told_test import NextTest
from iron_probe.core.diagnose.unplugged import shown_alone
from iron_probe.core.errors import SolveError
from iron_probe.core.solve.operate import solve_state
from iron_probe.core.solve.solution import Solution, Symptom
from iron_probe.core.solve.symptom import SYMPTOMS, symptom_codes

WIDER = 1.5
"""How much wider parts spread in the generator than the engine assumes."""
METER_NOISE = 0.004
"""Noise of the simulated meter as a share of the reading, beside half a digit."""
ROUGH_V = 0.5
"""Ripple over this [V] brings a machine in (common practice)."""
MOST_TESTS = 30
"""A trial that has not ended by then is over."""

Choose = Callable[[Case, Posterior, Sequence[Reading]], NextTest | None]


@dataclass(frozen=True, slots=True, kw_only=True)
class Hidden:
    """A machine with a fault that only the meter knows: solved once a state."""

    network: Network
    faults: tuple[tuple[FaultMode, float], ...]
    machine: Floats
    solved: dict[str, Solution]
    values: Floats
    rng: np.random.Generator
    work: Scope = Scope.STARTING

    def take(self, test: Reading) -> Reading:
        """Make a test: what the instrument shows, noise and digits included."""
        solution = self.solved[test.state]
        if test.instrument is Instrument.EYES:
            return test.model_copy(update={"word": SYMPTOMS[int(symptom_codes(solution)[0])].value})
        if test.instrument is Instrument.CLAMP:
            amps = float(abs(solution.current(test.branch or "")[0])) * (1 + 0.02 * self.rng.standard_normal()) + self.rng.normal(0, 0.7)
            return test.model_copy(update={"value": float(round(amps)), "resolution": 1.0})
        if test.instrument in (Instrument.FUNCTION, *LAMPS):
            return _said(test, predict(test, self.network, Prediction.of(solution)))
        if test.instrument in (Instrument.OHMMETER, Instrument.AC_VOLTS, *BY_ITSELF):
            shown = float(shown_alone(self.network, test, self.values.__getitem__)[0]) * (1 + 2 * METER_NOISE * self.rng.standard_normal())
            if test.instrument is not Instrument.AC_VOLTS and shown > OVER_OHM:
                return test.model_copy(update={"value": OVER_OHM, "bound": Bound.AT_LEAST})
            return test.model_copy(update={"value": round(shown, 1 if shown > 9.95 else 2)})
        if test.instrument is Instrument.NEW_FUSE:
            return _said(test, holds(self.network, self._as_hypothesis, test.branch or "", test.state, 1))
        if test.instrument in FORCED:
            posts_v = forced(self.network, test, self.values)
            return _said(test, charges(posts_v, self.network.sheet.system_v))
        if test.instrument in OF_PART:
            shown = float(self.values[self.network.row[(test.branch or "").partition(".")[0], OF_PART[test.instrument]], 0])
            return test.model_copy(update={"value": round(shown * (1 + 0.2 * self.rng.standard_normal()), 2)})
        shown = (
            float(predict(test, self.network, Prediction.of(solution))[0])
            if test.instrument is Instrument.LOAD
            else float(solution.between(test.red or "", test.black or "")[0])
        )
        volts = shown * (1 + METER_NOISE * self.rng.standard_normal())
        return test.model_copy(update={"value": round(volts, 2), "resolution": 0.01})

    @property
    def _as_hypothesis(self) -> list[Hypothesis]:
        return [Hypothesis(tuple(m for m, _ in self.faults), 1.0)]

    def heard(self, state: str) -> Symptom:
        """What the machine does in a state."""
        return SYMPTOMS[int(symptom_codes(self.solved[state])[0])]


def _said(test: Reading, code: Floats) -> Reading:
    """A test answered with the word that a code (1,) stands for."""
    return test.model_copy(update={"word": WORDS[test.instrument][int(code[0])]})


def hide(
    network: Network, faults: Sequence[tuple[FaultMode, float]], machine: Floats, rng: np.random.Generator, work: Scope = Scope.STARTING
) -> Hidden:
    """A machine (parameters, 1) with these faults, each with its severity."""
    values = machine.copy()
    for mode, severity in faults:
        mode.apply(values, np.array([severity]))
    solved = {s: solve_state(network, s, values) for s in states_of(network.sheet, work)}
    return Hidden(network=network, faults=tuple(faults), machine=machine, solved=solved, values=values, rng=rng, work=work)


def repaired(hidden: Hidden, element: str) -> Hidden:
    """The same machine with one element made good."""
    left = [(m, s) for m, s in hidden.faults if m.element != element]
    return hide(hidden.network, left, hidden.machine, hidden.rng, hidden.work)


def complaint_of(hidden: Hidden) -> list[Reading]:
    """What is heard in each state that is not as a sound machine does it; empty when nobody would complain."""
    if hidden.work is Scope.CHARGING:
        return _charging_complaint(hidden)
    sound = {s: SYMPTOMS[int(symptom_codes(solve_state(hidden.network, s))[0])] for s in states_of(hidden.network.sheet, Scope.STARTING)}
    odd = [s for s in sound if hidden.heard(s) is not sound[s]]
    crank = hidden.network.sheet.cranking_state()
    first = [s for s in odd if s == crank] or odd[:1]
    return [Reading(instrument=Instrument.EYES, state=s, word=hidden.heard(s).value) for s in first]


def _charging_complaint(hidden: Hidden) -> list[Reading]:
    """Volts at the posts while running, and the charge lamp, when one of them or the ripple is off in any state; else nothing."""
    sheet, network = hidden.network.sheet, hidden.network
    fastest = sheet.running_states()[-1]
    lamps = [o.id for o in network.owners if isinstance(o, Lamp) and o.watts < SMALL_LAMP_W]
    looks = [Reading(instrument=Instrument.FUNCTION, branch=lamp, state=s, word="dead") for s in hidden.solved for lamp in lamps]
    sound = {s: solve_state(network, s) for s in hidden.solved}
    off = any(
        abs(float(hidden.solved[s].between(sheet.plus, sheet.minus)[0] - sound[s].between(sheet.plus, sheet.minus)[0]))
        > OFF_V * sheet.system_v / 12
        for s in sheet.running_states()
    )
    seen = {
        look: (hidden.take(look).word, FUNCTION_WORDS[int(predict(look, network, Prediction.of(sound[look.state]))[0])]) for look in looks
    }
    rough = any(hidden.values[network.row[g.element.id, "ripple_v"], 0] > ROUGH_V for g in network.generators)
    if not (off or rough or any(a != b for a, b in seen.values())):
        return []
    posts = Reading(red=sheet.plus, black=sheet.minus, state=fastest, value=0.0)
    return [hidden.take(posts), *(hidden.take(look) for look in looks if look.state == fastest)]


def hide_one(
    network: Network, modes: Sequence[FaultMode], rng: np.random.Generator, faults: int = 1, work: Scope = Scope.STARTING
) -> Hidden:
    """A hidden fault (or several) that somebody would complain of; modes are drawn by their weight, lasting faults only."""
    usable = [m for m in modes if m.comes < 1]
    weight = np.array([m.weight for m in usable])
    for _ in range(600):
        chosen = rng.choice(len(usable), size=faults, replace=False, p=weight / weight.sum())
        picked = [(usable[int(k)], float(usable[int(k)].severity(rng.random(1))[0])) for k in chosen]
        if len({m.element for m, _ in picked}) < faults:
            continue
        machine = network.machines(WIDER * rng.standard_normal((len(network.nominal), 1)))
        if faults > 1 and not all(complaint_of(hide(network, [one], machine, rng, work)) for one in picked):
            continue
        hidden = hide(network, picked, machine, rng, work)
        if complaint_of(hidden):
            return hidden
    raise SolveError(f"no fault of {network.sheet.title} shows")


@dataclass(frozen=True, slots=True, kw_only=True)
class TrialEnd:
    """How a trial ended: `named` element, its share, whether its own test agreed, tests and minutes taken, what was said of each step."""

    hidden: tuple[str, ...]
    named: str | None
    share: float
    found: bool
    tests: int
    minutes: float
    off_sheet: float
    unexplained: bool
    readings: tuple[Reading, ...]
    confidence: tuple[tuple[float, bool], ...]


def work(case: Case, hidden: Hidden, choose: Choose) -> TrialEnd:
    """Work a hidden fault by a way of choosing tests until an element is found or nothing more would tell."""
    readings = complaint_of(hidden)
    guilty = {m.element for m, _ in hidden.faults}
    minutes, confidence = 0.0, []
    posterior = case.posterior(readings)
    for _ in range(MOST_TESTS):
        if posterior.found:
            break
        test = choose(case, posterior, readings)
        if test is None:
            break
        readings = [*readings, hidden.take(test.reading)]
        minutes += test.minutes
        posterior = case.posterior(readings)
        if posterior.suspects:
            confidence.append((posterior.suspects[0].p, posterior.suspects[0].element in guilty))
    top = posterior.suspects[0] if posterior.suspects else None
    return TrialEnd(
        hidden=tuple(sorted(guilty)),
        named=top.element if top else None,
        share=top.p if top else 0.0,
        found=posterior.found is not None,
        tests=len(readings) - 1,
        minutes=minutes,
        off_sheet=posterior.off_sheet,
        unexplained=bool(posterior.unexplained) or posterior.off_sheet > 0.5,
        readings=tuple(readings),
        confidence=tuple(confidence),
    )
