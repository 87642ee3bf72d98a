"""A case: the readings of one epoch held against every hypothesis, and what is left of them.

The posterior is a function of the set of readings alone; order does not matter and undo is exact.
"""

from collections import defaultdict
from collections.abc import Sequence

import numpy as np

from iron_probe.core.arrays import Floats
from iron_probe.core.circuit.elements import Fuse
from iron_probe.core.circuit.network import Network
from iron_probe.core.diagnose.altered import bridged, forced
from iron_probe.core.diagnose.ensemble import REFINED, STRATA, Ensemble, Hypothesis, Prediction, join
from iron_probe.core.diagnose.evidence import BRIDGES, BY_ITSELF, FORCED, Instrument, Reading
from iron_probe.core.diagnose.fits import HeldFit, HeldFits, log_sum
from iron_probe.core.diagnose.likelihood import STEADY, Fit, fit_one, predict, unsteady
from iron_probe.core.diagnose.off_sheet import ANYWHERE_PRIOR, BESIDE_PRIOR, lying_anywhere, lying_beside, on_itself
from iron_probe.core.diagnose.own_test import can_prove, own_test, unproven
from iron_probe.core.diagnose.places import PlaceRead, places_of
from iron_probe.core.diagnose.posterior import Posterior, Struck, Suspect
from iron_probe.core.diagnose.unplugged import ALONE, shown_alone
from iron_probe.core.solve.solution import Symptom

ALTERING = (*BRIDGES, *FORCED)
"""Readings that solve the circuit anew; they are not refined."""
SURVIVORS, SURVIVING = 6, 2e-3
"""At most so many hypotheses are refined, and only those with at least this share."""
FRESH_FIXED = 4
"""A hypothesis without severity is drawn anew with so many strata's worth of machines; the sound machine with all."""
STRATUM_SHARE = 0.02
"""A stratum is drawn anew when it holds this share of its hypothesis."""
EXPLAINED = 2.0
"""Pairs are left aside while single faults explain the readings better than chance by this log ratio."""
PAIR_PARTNERS = 7
"""Of the hypotheses that explain most, so many are paired when no single one explains all."""
PAIR_STRATA = (0, 2, 4, 6)
"""Strata of the first one's severity a pair is drawn from."""
PAIR_FACTOR = 3.0
"""How much likelier a second fault is once there is one: what corrodes one joint corrodes its neighbour (common practice)."""
SHARPEN = 1.25
"""Power to which the evidence is taken: likelihoods are made too wide on purpose, and this gives back what trials on other
seeds show them to lose (docs/method/diagnosing.md)."""
SLIPPED_SHARE = 0.5
"""Share of what is not on the drawing while a reading is likelier a slip than a reading."""
FOUND_SHARE = 0.85
"""Share an element must hold before its own test may call it found."""
FUSE_SHARE = 0.95
"""The same for an open fuse: what could have blown it must be out first."""
STRUCK_OUT = 0.003
"""An element below this share is struck out."""


UNTESTED_SHARE = 0.895
"""No element holds more before a test of its own: by elimination alone, what the drawing lacks cannot be told from it."""


class Case:
    """Readings against an ensemble. `absent` elements, which this machine does not have, are left out; `raised` multiplies priors."""

    def __init__(
        self, ensemble: Ensemble, absent: Sequence[str] = (), raised: dict[str, float] | None = None, fits: HeldFits | None = None
    ) -> None:
        self.ensemble = ensemble
        self._raised = raised or {}
        self._absent = set(absent)
        self._fits = fits if fits is not None else HeldFits()

    def posterior(self, readings: Sequence[Reading]) -> Posterior:
        """What is left of every hypothesis after all readings; raises ReadingError for one that cannot be predicted."""
        places = places_of(readings)
        ensemble = self.ensemble
        count, size = len(ensemble.hypotheses), ensemble.size
        prior = self._log_prior()
        fits = [self._held(p) for p in places]
        total: Floats = np.zeros((count, size))
        for held in fits:
            total += held.fit.log.reshape(count, size)
        evidence = log_sum(total, axis=1) - np.log(size)
        base = evidence
        evidence = self._refine(places, prior, evidence, total)
        anywhere = lying_anywhere(places, fits, ensemble.sheet.system_v)
        near = lying_beside(ensemble, places, fits, total, evidence - base)
        pairs, pair_logs = self._pairs(places, fits, prior, evidence, anywhere)
        undrawn = [[np.log(ANYWHERE_PRIOR) + SHARPEN * anywhere], np.log(BESIDE_PRIOR) + prior + SHARPEN * near]
        scores = np.concatenate([prior + SHARPEN * evidence, pair_logs, *undrawn])
        share = np.exp(scores - log_sum(scores))
        within = np.exp(total - (base + np.log(size))[:, None])
        near = share[-count:, None] * within
        weights = share[:count, None] * within + near
        whole = max(float(weights.sum()), 1e-300)
        slipped = [
            p for p, f in zip(places, fits, strict=True) if not p.reading.told and self._slip(p, f, weights, near) > SLIPPED_SHARE * whole
        ]
        return self._word(places, fits, share, pairs, weights.ravel() / whole, slipped)

    def _slip(self, place: PlaceRead, held: HeldFit, weights: Floats, near: Floats) -> float:
        """How much of what is left (hypotheses, variants) takes a place's reading for a slip; the part of it that lies `near` reads sound on
        the part itself."""
        slip = held.fit.slip.reshape(weights.shape)
        found = float((slip * weights).sum())
        mine = self.ensemble.accusing_first.get(place.reading.itself or "")
        if mine is None:
            return found
        return found + float((near[mine] * (slip[0].mean() - slip[mine])).sum())

    def _log_prior(self) -> Floats:
        """Log prior of each hypothesis; minus infinity for one on an element this machine does not have."""
        weight, accusing = self.ensemble.weight.copy(), self.ensemble.accusing
        for element in accusing.keys() & (self._raised.keys() | self._absent):
            weight[accusing[element]] *= 0.0 if element in self._absent else self._raised[element]
        with np.errstate(divide="ignore"):
            return np.log(weight / weight.sum() * (1 - ANYWHERE_PRIOR - BESIDE_PRIOR))

    def _held(self, place: PlaceRead) -> HeldFit:
        """Fit of one place to the first draw."""

        def make() -> HeldFit:
            ensemble = self.ensemble
            fit = self._fresh_fit(place, None)
            per = log_sum(fit.log.reshape(len(ensemble.hypotheses), ensemble.size), axis=1) - np.log(ensemble.size)
            return HeldFit(fit, per)

        return self._fits.first(place.key, make)

    def _sum_of_fits(self, places: Sequence[PlaceRead], some: Sequence[tuple[Hypothesis, int]]) -> Floats:
        """Log likelihood (strata, variants) of all places together on strata drawn anew."""
        keys = [self._fits.number_of((tuple((m.element, m.name) for m in h.modes), s)) for h, s in some]
        total = np.zeros((len(some), REFINED))
        joined: dict[tuple[str, tuple[int, ...]], Prediction] = {}
        for place in places:

            def make(missing: list[int], place: PlaceRead = place) -> Floats:
                mine, key = [some[k] for k in missing], (place.reading.state, tuple(missing))
                if key not in joined and place.reading.instrument not in ALONE:  # most places of a state lack the same strata
                    joined[key] = join(self.ensemble.strata_of(mine, place.reading.state))
                return self._fresh_fit(place, mine, joined.get(key)).log.reshape(len(missing), REFINED)

            total += self._fits.strata(place.key, keys, make)
        return total

    def _fresh_fit(self, place: PlaceRead, some: Sequence[tuple[Hypothesis, int]] | None, solved: Prediction | None = None) -> Fit:
        """Fit of a place to the first draw, or to some strata as `solved` in its state."""
        reading, network = place.reading, self.ensemble.network
        hints = STEADY
        if reading.instrument in BRIDGES:
            predicted, chatter = bridged(self.ensemble, reading, self._values(some))
        elif reading.instrument in FORCED:
            predicted = forced(self.ensemble, reading, self._values(some))
            chatter = np.zeros(len(predicted), dtype=bool)
        elif reading.instrument in ALONE:
            predicted = shown_alone(network, reading, self.ensemble.first_row if some is None else self._values(some).__getitem__)
            chatter = np.zeros(len(predicted), dtype=bool)
        else:
            prediction = solved or self.ensemble.first(reading.state)
            predicted, chatter = predict(reading, network, prediction), prediction.chatter
            hints = unsteady(reading, network, prediction)
        fit = fit_one(reading, place.values, predicted, chatter.astype(float), network.sheet.system_v, hints)
        return self._come_and_go(fit, some)

    def _come_and_go(self, fit: Fit, some: Sequence[tuple[Hypothesis, int]] | None) -> Fit:
        """An intermittent fault is there in half the readings; in the others the machine is sound."""
        size = self.ensemble.size if some is None else REFINED
        owners = self.ensemble.hypotheses if some is None else [h for h, _ in some]
        mine = np.repeat([h.intermittent for h in owners], size)
        if not mine.any():
            return fit
        sound = fit.log[: self.ensemble.size] if some is None else None
        if sound is None:
            return fit
        other = np.tile(sound, len(owners))
        return Fit(np.where(mine, np.logaddexp(fit.log, other) - np.log(2), fit.log), fit.slip)

    def _values(self, some: Sequence[tuple[Hypothesis, int]] | None) -> Floats:
        if some is None:
            return self.ensemble.first_values()
        return np.concatenate([self.ensemble.values_of(h, s) for h, s in some], axis=1)

    def _refine(self, places: Sequence[PlaceRead], prior: Floats, evidence: Floats, total: Floats) -> Floats:
        """Draw the strata that hold what is left anew, and put their evidence in place of the first draw's."""
        plain = [p for p in places if p.reading.instrument not in ALTERING]
        if len(plain) < 1:
            return evidence
        score = prior + evidence
        share = np.exp(score - log_sum(score))
        hypotheses = self.ensemble.hypotheses
        leading = [int(k) for k in np.argsort(-share)[:SURVIVORS] if share[k] > SURVIVING and not hypotheses[k].intermittent]
        wanted: list[tuple[int, int]] = []
        for k in leading:
            if not hypotheses[k].graded:  # all its strata are alike: more machines of one kind
                wanted += [(k, s) for s in range(STRATA if k == 0 else FRESH_FIXED)]
                continue
            mass = np.exp(total[k] - log_sum(total[k])).reshape(STRATA, -1).sum(axis=1)
            best = np.argsort(-mass)[:2]
            wanted += [(k, int(s)) for s in best if mass[s] > STRATUM_SHARE]
        if not wanted:
            return evidence
        some = [(hypotheses[k], s) for k, s in wanted]
        rest = [p for p in places if p.reading.instrument in ALTERING]
        fresh = self._sum_of_fits(plain, some)
        per = log_sum(total.reshape(len(total), STRATA, -1), axis=2) - np.log(total.shape[1] // STRATA)
        bridged = np.sum([self._held(p).fit.log for p in rest], axis=0).reshape(total.shape) if rest else np.zeros(total.shape)
        for (k, s), log in zip(wanted, fresh, strict=True):
            beside = bridged[k].reshape(STRATA, -1)[s].mean()
            per[k, s] = float(log_sum(log)) - np.log(REFINED) + beside
        refined = evidence.copy()
        for k in leading:
            refined[k] = float(log_sum(per[k])) - np.log(STRATA)
        return refined

    def _pairs(
        self, places: Sequence[PlaceRead], fits: Sequence[HeldFit], prior: Floats, evidence: Floats, anywhere: float
    ) -> tuple[list[Hypothesis], Floats]:
        """When singles explain badly, pairs of those that each explain some of the readings."""
        plain = [p for p in places if p.reading.instrument not in (*ALTERING, *BY_ITSELF, Instrument.OHMMETER, Instrument.AC_VOLTS)]
        if len(plain) < 3 or float(log_sum(prior + evidence)) > np.log(ANYWHERE_PRIOR) + anywhere + EXPLAINED:
            return [], np.zeros(0)
        per = np.array([f.per - f.sound for f in fits])
        helps = np.maximum(per, 0).sum(axis=0) + 0.3 * prior
        order = [
            int(k)
            for k in np.argsort(-helps)
            if len(self.ensemble.hypotheses[k].modes) == 1 and not self.ensemble.hypotheses[k].intermittent
        ]
        leading = order[:PAIR_PARTNERS]
        pairs, logs = [], []
        chosen = [
            (a, b) for i, a in enumerate(leading) for b in leading[:i]
            if self.ensemble.hypotheses[a].elements != self.ensemble.hypotheses[b].elements
        ]  # fmt: skip
        wanted = [Hypothesis((self.ensemble.hypotheses[a].modes[0], self.ensemble.hypotheses[b].modes[0]), 1.0) for a, b in chosen]
        some = [(h, s) for h in wanted for s in PAIR_STRATA]
        if not some:
            return [], np.zeros(0)
        fresh = self._sum_of_fits(plain, some).reshape(len(wanted), -1)
        for (a, b), h, log in zip(chosen, wanted, fresh, strict=True):
            pairs.append(h)
            logs.append(prior[a] + prior[b] + np.log(PAIR_FACTOR) + SHARPEN * (float(log_sum(log)) - np.log(len(log))))
        return pairs, np.array(logs)

    def _word(
        self,
        places: Sequence[PlaceRead],
        fits: Sequence[HeldFit],
        share: Floats,
        pairs: Sequence[Hypothesis],
        weights: Floats,
        slipped: Sequence[PlaceRead],
    ) -> Posterior:
        ensemble = self.ensemble
        count = len(ensemble.hypotheses)
        everything = [*ensemble.hypotheses, *pairs]
        by_mode: dict[str, dict[str, float]] = defaultdict(lambda: defaultdict(float))
        for h, p in zip(everything, share[: len(everything)], strict=True):
            for mode in h.modes:
                by_mode[mode.element][mode.name] += float(p)
        total = {element: sum(m.values()) for element, m in by_mode.items()}
        suspects = []
        for element, p in sorted(total.items(), key=lambda item: (-item[1], item[0])):
            if p >= STRUCK_OUT:
                modes = tuple(sorted(((m, q) for m, q in by_mode[element].items() if q > 1e-4), key=lambda item: -item[1]))
                suspects.append(Suspect(element=element, p=min(p, 1.0), mode=modes[0][0], modes=modes))
        off = float(share[-count - 1])
        beside = {e: float(share[-count:][numbers].sum()) for e, numbers in ensemble.accusing_first.items()}
        if slipped and off < SLIPPED_SHARE:  # what is left stands only by calling a reading a slip: until it is taken again, half
            suspects, beside, off = _shrunk(suspects, beside, off, SLIPPED_SHARE)
        elif suspects and suspects[0].p > UNTESTED_SHARE and not self._tested(suspects[0].element, places):
            suspects, beside, off = _shrunk(suspects, beside, off, min(off + suspects[0].p - UNTESTED_SHARE, 1.0))
        top_pair = None
        if pairs:
            k = int(np.argmax(share[count : count + len(pairs)]))
            if share[count + k] > 0.3:
                top_pair = (pairs[k].elements[0], pairs[k].elements[1])
        unexplained: list[int] = []
        contradictory: list[int] = []
        for place in places:
            if place in slipped:
                unexplained += place.numbers
            if len(place.values) > 1 and place.values[-1] - place.values[0] > max(0.3, 0.15 * abs(place.values[-1])):
                contradictory += place.numbers
        if off > SLIPPED_SHARE:
            unexplained = sorted({*unexplained, *self._not_sound(places, fits)})
        return Posterior(
            suspects=tuple(suspects),
            eliminated=self._eliminated(places, fits, total),
            no_fault=float(share[0]),
            off_sheet=off,
            unexplained=tuple(sorted(unexplained)),
            contradictory=tuple(sorted(contradictory)),
            found=self._found(suspects, places, fits),
            beside=tuple(sorted(((e, p) for e, p in beside.items() if p >= STRUCK_OUT), key=lambda item: -item[1])),
            pair=top_pair,
            weights=weights,
        )

    def _tested(self, element: str, places: Sequence[PlaceRead]) -> bool:
        """Whether a test of the element's own was made, well enough to count."""
        network = self.ensemble.network
        return any(own_test(network, element, p.reading) and not p.reading.told and not p.reading.disturbed for p in places)

    def _not_sound(self, places: Sequence[PlaceRead], fits: Sequence[HeldFit]) -> list[int]:
        size = self.ensemble.size
        return [n for place, fit in zip(places, fits, strict=True) if float(fit.fit.slip[:size].mean()) > 0.5 for n in place.numbers]

    def _eliminated(self, places: Sequence[PlaceRead], fits: Sequence[HeldFit], total: dict[str, float]) -> tuple[Struck, ...]:
        """Struck-out elements, each with the reading that lowered it most against the best."""
        if not places:
            return ()
        ensemble = self.ensemble
        per = np.array([f.per for f in fits])
        order, starts = ensemble.by_element
        least_loss = np.maximum.reduceat((per - per.max(axis=1, keepdims=True))[:, order], starts, axis=1)
        struck = [
            Struck(element=element, by_reading=places[worst].numbers[-1])
            for element, worst in zip(ensemble.accusing, least_loss.argmin(axis=0), strict=True)
            if total.get(element, 0.0) < STRUCK_OUT and element not in self._absent
        ]
        return tuple(sorted(struck, key=lambda s: (s.by_reading, s.element)))

    def _found(self, suspects: Sequence[Suspect], places: Sequence[PlaceRead], fits: Sequence[HeldFit]) -> str | None:
        """The leading element, once a test of its own agrees: one that it predicts and a sound machine does not. Of a conductor it is one with
        both probes on the part itself, as a joint the drawing lacks may lie at its end."""
        network = self.ensemble.network
        if not suspects or suspects[0].p < share_to_find(network, suspects[0]):
            return None
        element, mode = suspects[0].element, suspects[0].mode
        readings = [p.reading for p in places]
        for place, fit in zip(places, fits, strict=True):
            reading = place.reading
            if not own_test(network, element, reading) or not can_prove(mode, reading) or reading.told or reading.disturbed:
                continue
            if on_itself(network, element, mode) and reading.instrument is Instrument.VOLTMETER and reading.itself != element:
                continue
            if reading.instrument not in BRIDGES and unproven(network, element, mode, reading.state, readings):
                continue
            size, ensemble = self.ensemble.size, self.ensemble
            mine = ensemble.accusing[element]
            log = fit.fit.log.reshape(-1, size)
            sound = fit.sound
            agrees = max(float(log[k].max()) for k in mine)
            if agrees - sound > np.log(8) or (reading.instrument in BRIDGES and reading.word == Symptom.CRANKS):
                return element
        return None


def share_to_find(network: Network, suspect: Suspect) -> float:
    """What an element must hold to be found: an open fuse more than others, as something has blown it."""
    blown = suspect.mode == "open" and isinstance(network.sheet.element(suspect.element), Fuse)
    return FUSE_SHARE if blown else FOUND_SHARE


def _shrunk(suspects: list[Suspect], beside: dict[str, float], off: float, to: float) -> tuple[list[Suspect], dict[str, float], float]:
    """The suspects and what lies beside them with so much taken off all alike that what is not on the drawing holds `to`, and that."""
    keep = (1 - to) / (1 - off)
    left = [Suspect(element=s.element, p=s.p * keep, mode=s.mode, modes=tuple((m, q * keep) for m, q in s.modes)) for s in suspects]
    return left, {e: p * keep for e, p in beside.items()}, to
