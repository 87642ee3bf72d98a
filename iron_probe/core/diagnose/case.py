"""A case: the readings of one epoch held against every hypothesis, and what is left of them.

The posterior is a function of the set of readings alone; order does not matter and undo is exact.
"""

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import replace
from functools import partial

import numpy as np
from numpy.typing import NDArray

from iron_probe.core.arrays import Bools, Floats
from iron_probe.core.diagnose.between import strata_between
from iron_probe.core.diagnose.coming import HeldReadings, Left, attempts_of, coming, read_while_away, shown_by_some, slipped, there_or_away
from iron_probe.core.diagnose.ensemble import (
    PAIR_STRATA,
    REFINED,
    STRATA,
    Ensemble,
    Hypothesis,
    cells_about,
    pair_shares,
)
from iron_probe.core.diagnose.evidence import IN_CIRCUIT, Reading
from iron_probe.core.diagnose.findings import STRUCK_OUT, complaints_left, contradicting, found_by, not_sound, struck_out
from iron_probe.core.diagnose.fits import HeldFit, HeldFits, log_sum
from iron_probe.core.diagnose.likelihood import Fit, fit_one
from iron_probe.core.diagnose.off_sheet import ANYWHERE_PRIOR, BESIDE_PRIOR, lying_anywhere, lying_beside, rests_on
from iron_probe.core.diagnose.pairs import likely_pairs
from iron_probe.core.diagnose.places import PlaceRead, places_of
from iron_probe.core.diagnose.posterior import Posterior, Suspect
from iron_probe.core.diagnose.prediction import Prediction, join
from iron_probe.core.diagnose.shown import UNSOLVED, Strata, shown_by

SURVIVORS, SURVIVING = 6, 2e-3
"""At most so many hypotheses are refined, and only those with at least this share."""
FRESH_FIXED = 4
"""A hypothesis without severity is drawn anew with so many strata's worth of machines; the sound machine with all."""
STRATUM_SHARE = 0.02
"""A stratum is drawn anew when it holds this share of its hypothesis."""
EXPLAINED = 2.0
"""Pairs are left aside while single faults explain the readings better than chance by this log ratio."""
PAIRS_REFINED = 3
"""So many pairs of two severities are drawn finely about those at which they explain most."""
FEW_SLIPS = 4
"""More readings than so many that single faults call slips are a log that contradicts itself, and no second fault."""
PAIR_FACTOR = 3.0
"""How much likelier a second fault is once there is one: what corrodes one joint corrodes its neighbour (common practice)."""
SHARPEN = 1.2
"""Power to which the evidence is taken: likelihoods are made too wide on purpose, and this gives back what trials on other
seeds show them to lose (docs/method/diagnosing.md)."""
SLIPPED_SHARE = 0.5
"""Share of what is not on the drawing while a reading is likelier a slip than a reading."""
PAIR_NAMED = 0.3
"""Share that pairs of faults must hold together for the leading one to be named."""
FLEETING_SHARE = 0.1
"""Share of a leading hypothesis in which its fault comes and goes, from which its sound half is drawn anew too."""


def _cells_of_best(rough: Floats) -> list[int]:
    """Strata about the severities at which a pair, drawn roughly (strata x variants), explains most."""
    stratum, at = divmod(int(rough.argmax()), REFINED)
    first, second = pair_shares(stratum)
    return cells_about(float(first[at]), float(second[at]))


class Case:
    """Readings against an ensemble. `absent` elements, which this machine does not have, are left out; `raised` multiplies priors; `unseen`
    (H,) hypotheses no test in the circuit tells from a sound machine (`TestBook.unseen`)."""

    def __init__(
        self, ensemble: Ensemble, absent: Sequence[str] = (), raised: dict[str, float] | None = None, fits: HeldFits | None = None,
        unseen: Bools | None = None,
    ) -> None:  # fmt: skip
        self.ensemble = ensemble
        self._unseen = np.zeros(len(ensemble.hypotheses), dtype=bool) if unseen is None else unseen
        self._raised = raised or {}
        self._absent = set(absent)
        self._fits = fits if fits is not None else HeldFits()

    def posterior(self, readings: Sequence[Reading]) -> Posterior:
        """What is left of every hypothesis after all readings; raises ReadingError for one that cannot be predicted."""
        read = self._hold(readings)
        ensemble, places, fits = self.ensemble, read.places, read.fits
        count, size = len(ensemble.hypotheses), ensemble.size
        prior = self._log_prior()
        base = log_sum(read.come.log, axis=1) - np.log(size)
        untested = self._untested(readings)
        wanted = self._strata_left(read, prior + base, untested)
        evidence = self._drawn_anew(read, base, wanted, untested)
        said = [k for k, place in enumerate(read.seen) if not place.assumed]
        anywhere = lying_anywhere(
            ensemble, [read.seen[k] for k in said], [read.seen_fits[k] for k in said]
        )  # it must explain every attempt
        within = np.exp(read.come.log - (base + np.log(size))[:, None])
        if self._unexplained(read, prior + evidence, anywhere, within):
            evidence = self._drawn_anew(read, base, list(dict.fromkeys([*wanted, *strata_between(ensemble, read, prior)])), untested)
        near = lying_beside(ensemble, places, fits, read.total + ensemble.quiet, evidence - base)
        pairs, pair_logs = self._pairs(read, prior, evidence, anywhere, within)
        undrawn = [[np.log(ANYWHERE_PRIOR) + SHARPEN * anywhere], np.log(BESIDE_PRIOR) + prior + SHARPEN * near]
        scores = np.concatenate([prior + SHARPEN * evidence, pair_logs, *undrawn])
        share = np.exp(scores - log_sum(scores))
        near = share[-count:, None] * within
        weights = share[:count, None] * within + near
        whole = max(float(weights.sum()), 1e-300)
        stands = complaints_left(read.seen, read.seen_fits)
        if not stands:
            well = share[:count] * (within * ensemble.turns_well).sum(axis=1)
            share[:count] -= well
            share[0] += well.sum()
        two = self._with_two(read, pairs, share[count : count + len(pairs)], 1 - float(share[-count - 1]))
        word = self._word(read, share, pairs, Left(weights / whole, near / whole, *two))
        return replace(word, stands=stands, untested=float(share[:count][untested].sum()))

    def _untested(self, readings: Sequence[Reading]) -> Bools:
        """Hypotheses (H,) that are a sound machine in all that was read: unseen in the circuit, and nothing read of their part outside it."""
        apart = {(r.branch or "").partition(".")[0] for r in readings if r.instrument not in IN_CIRCUIT}
        return self._unseen & np.array([not apart & set(h.elements) for h in self.ensemble.hypotheses])

    def _hold(self, readings: Sequence[Reading]) -> HeldReadings:
        """Hold all readings against the first draw."""
        places, seen = places_of(readings), places_of(readings, by_attempt=True)
        fits, seen_fits = [self._held(p) for p in places], [self._held(p) for p in seen]
        total, attempts = self._sum(fits), attempts_of(seen)
        faulty = [self._sum([seen_fits[k] for k in one]) for one in attempts]
        keys = [tuple(seen[k].key for k in one) for one in attempts]
        either = [self._fits.attempt(key, partial(there_or_away, f, f[0])) for key, f in zip(keys, faulty, strict=True)]
        come = coming(total, self.ensemble.comes, faulty, either, self.ensemble.quiet)
        return HeldReadings(places, fits, seen, seen_fits, attempts, total, come)

    def _sum(self, fits: Sequence[HeldFit]) -> Floats:
        """Log likelihood (hypotheses, variants) of some readings together."""
        shape = (len(self.ensemble.hypotheses), self.ensemble.size)
        if len(fits) == 1:
            return fits[0].fit.log.reshape(shape)
        total: Floats = np.zeros(shape)
        for held in fits:
            total += held.fit.log.reshape(shape)
        return total

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
                if key not in joined and place.reading.instrument not in UNSOLVED:  # most places of a state lack the same strata
                    joined[key] = join(self.ensemble.strata_of(mine, place.reading.state))
                return self._fresh_fit(place, mine, joined.get(key)).log.reshape(len(missing), REFINED)

            total += self._fits.strata(place.key, keys, make)
        return total

    def _fresh_fit(self, place: PlaceRead, some: Strata | None, solved: Prediction | None = None) -> Fit:
        """Fit of a place to the first draw, or to some strata as `solved` in its state."""
        shown = shown_by(self.ensemble, place.reading, some, solved)
        system_v = self.ensemble.sheet.system_v
        return fit_one(place.reading, place.values, shown.predicted, shown.chatter.astype(float), system_v, shown.hints, place.again)

    def _strata_left(self, read: HeldReadings, score: Floats, untested: Bools) -> list[tuple[int, int]]:
        """The strata (hypothesis, stratum) that hold what is left by a log `score` (H,): they are drawn anew."""
        total, hypotheses = read.come.log, self.ensemble.hypotheses
        share = np.exp(score - log_sum(score))
        leading = [int(k) for k in np.argsort(-share)[:SURVIVORS] if share[k] > SURVIVING and hypotheses[k].comes < 1 and not untested[k]]
        wanted: list[tuple[int, int]] = []
        for k in leading:
            if not hypotheses[k].graded:  # all its strata are alike: more machines of one kind
                wanted += [(k, s) for s in range(STRATA if k == 0 else FRESH_FIXED)]
                continue
            mass = np.exp(total[k] - log_sum(total[k])).reshape(STRATA, -1).sum(axis=1)
            best = np.argsort(-mass)[:2]
            wanted += [(k, int(s)) for s in best if mass[s] > STRATUM_SHARE]
        return wanted

    def _drawn_anew(self, read: HeldReadings, evidence: Floats, wanted: Sequence[tuple[int, int]], untested: Bools) -> Floats:
        """Log evidence (H,) with that of some strata drawn anew in place of the first draw's; what is untested has a sound machine's."""
        if not wanted or all(p.reading.alters for p in read.places):
            return evidence
        total = read.come.log
        fresh = self._fresh(read, wanted)
        per = log_sum(total.reshape(len(total), STRATA, -1), axis=2) - np.log(total.shape[1] // STRATA)
        rest = [f for p, f in zip(read.places, read.fits, strict=True) if p.reading.alters]
        bridged, quiet = self._sum(rest), self.ensemble.quiet
        for (k, s), log in zip(wanted, fresh, strict=True):
            beside = bridged[k].reshape(STRATA, -1)[s].mean()
            first, lost = (a[k].reshape(STRATA, -1)[s] for a in (total, quiet))
            per[k, s] = float(log_sum(log)) - np.log(REFINED) + beside + float(log_sum(first) - log_sum(first - lost))
        refined = evidence.copy()
        for k in {k for k, _ in wanted}:
            refined[k] = float(log_sum(per[k])) - np.log(STRATA)
        refined[untested] = refined[0]
        return refined

    def _fresh(self, read: HeldReadings, wanted: Sequence[tuple[int, int]]) -> Floats:
        """Log likelihood (strata, variants) of all readings that do not alter the circuit on strata drawn anew, by the number of their
        hypothesis. Where a fault that comes and goes weighs nothing beside one that is always there, its sound half is not drawn."""
        hypotheses, comes = self.ensemble.hypotheses, self.ensemble.comes
        some, plain = [(hypotheses[k], s) for k, s in wanted], [p for p in read.places if not p.reading.alters]
        leading = sorted({k for k, _ in wanted})
        held = np.exp(read.come.log[leading] - log_sum(read.come.log[leading], axis=1)[:, None])
        if float((read.come.fleeting[leading] * held).sum(axis=1).max()) < FLEETING_SHARE:
            return self._sum_of_fits(plain, some)
        strata = sorted({s for _, s in wanted})
        both = [*some, *((hypotheses[0], s) for s in strata)]  # together, so that what is not kept yet is solved in one batch
        steady, count = self._sum_of_fits(plain, both)[: len(some)], len(some)
        away = count + np.array([strata.index(s) for _, s in wanted])
        seen = [[read.seen[k] for k in one if not read.seen[k].reading.alters] for one in read.attempts]
        by_attempt = [self._sum_of_fits(one, both) for one in seen]
        either = [there_or_away(r[:count], r[away]) for r in by_attempt]
        return coming(steady, comes[[k for k, _ in wanted]], [r[:count] for r in by_attempt], either).log

    def _pairs(
        self, read: HeldReadings, prior: Floats, evidence: Floats, anywhere: float, within: Floats
    ) -> tuple[list[Hypothesis], Floats]:
        """When singles explain badly, or only by calling a reading a slip, pairs of those that each explain some of the readings."""
        places, fits = read.places, read.fits
        plain = [p for p in places if not p.reading.alters]
        if len(plain) < 3 or not self._unexplained(read, prior + evidence, anywhere, within):
            return [], np.zeros(0)
        hypotheses = self.ensemble.hypotheses
        chosen = likely_pairs(hypotheses, self.ensemble.single, np.array([f.per - f.sound for f in fits]), prior)
        wanted = [Hypothesis((hypotheses[a].modes[0], hypotheses[b].modes[0]), 1.0) for a, b in chosen]
        if not wanted:
            return [], np.zeros(0)
        rough = self._sum_of_fits(plain, [(h, s) for h in wanted for s in range(PAIR_STRATA)]).reshape(len(wanted), -1)
        logs = log_sum(rough, axis=1) - np.log(rough.shape[1])
        both = [k for k, (a, b) in enumerate(chosen) if hypotheses[a].graded and hypotheses[b].graded]
        for k in sorted(both, key=lambda k: -float(rough[k].max()))[:PAIRS_REFINED]:
            cells = _cells_of_best(rough[k])
            fine = self._sum_of_fits(plain, [(wanted[k], s) for s in cells])
            logs[k] = max(logs[k], float(log_sum(fine)) - np.log(STRATA**2 * REFINED))  # elsewhere the two explain next to nothing
        before = np.array([prior[a] + prior[b] for a, b in chosen])
        return wanted, before + np.log(PAIR_FACTOR) + SHARPEN * logs

    def _unexplained(self, read: HeldReadings, score: Floats, anywhere: float, within: Floats) -> bool:
        """Whether single faults by their log `score` (H,) explain the readings little better than something `anywhere`, or only by calling a few slips."""
        chance = np.log(ANYWHERE_PRIOR) + anywhere + EXPLAINED
        return float(log_sum(score)) <= chance or self._slipping(read, score, within)

    def _slipping(self, read: HeldReadings, score: Floats, within: Floats) -> bool:
        """Whether single faults, by their `score` and the weights of the variants `within` each, call a few readings slips that were read so twice: one
        look may be a slip, and is taken again before a second fault is thought of."""
        share = np.exp(score - log_sum(score))
        slips = slipped(read, Left(share[:, None] * within, np.zeros_like(within)), self.ensemble.accusing_first)
        return 0 < len(slips) <= FEW_SLIPS and all(place.again for place in slips)

    def _with_two(self, read: HeldReadings, pairs: Sequence[Hypothesis], held: Floats, drawn: float) -> tuple[float, tuple[float, ...]]:
        """What pairs hold together of all that is `drawn`, and with the leading one the chance by place that its reading was a slip; nothing where
        they hold too little to be named."""
        if held.sum() <= PAIR_NAMED:
            return 0.0, ()
        leading = pairs[int(np.argmax(held))]
        plain = [p for p in read.places if not p.reading.alters]
        rough = self._sum_of_fits(plain, [(leading, s) for s in range(PAIR_STRATA)])
        some = [(leading, s) for s in (*range(PAIR_STRATA), *_cells_of_best(rough.ravel()))]
        drawn_in = {p.reading.state: join(self.ensemble.strata_of(some, p.reading.state)) for p in read.places}
        fits = [self._fresh_fit(p, some, drawn_in[p.reading.state]) for p in read.places]
        total = np.sum([f.log for f in fits], axis=0)
        weights = np.exp(total - log_sum(total))
        return float(held.sum()) / drawn, tuple(float(weights @ f.slip) for f in fits)

    def _word(self, read: HeldReadings, share: Floats, pairs: Sequence[Hypothesis], left: Left) -> Posterior:
        """What the shares of the hypotheses, the pairs and what is not on the drawing mean for elements and readings."""
        ensemble, seen = self.ensemble, read.seen
        count = len(ensemble.hypotheses)
        suspects = _suspects([*ensemble.hypotheses, *pairs], share, (read.come.fleeting * (left.weights - left.near)).sum(axis=1))
        total = {s.element: s.p for s in suspects}
        slips, away = slipped(read, left, ensemble.accusing_first), read_while_away(read, left)
        there = [k for k in range(len(seen)) if k not in away]
        near, grounds = share[-count:], ensemble.to_ground
        off = float(share[-count - 1] + near[grounds].sum())
        to, kept = off, 1.0
        if slips and off < SLIPPED_SHARE:  # what is left stands only by calling a reading a slip: until it is taken again, half
            to = SLIPPED_SHARE
        drawn, set_aside = suspects, 0.0
        if to > off:
            kept = (1 - to) / (1 - off)
            suspects, near, off = _shrunk(suspects, kept), near * kept, to
            if all(place.again for place in slips) and shown_by_some(
                read, slips
            ):  # a second fault: what the first one's own test proves stands
                set_aside = 1 - kept
            else:
                drawn = suspects
        ground = _ranked(ensemble.accusing_first, np.where(grounds, near, 0.0))
        place = rests_on(read.places, read.fits, int(np.where(grounds, near, 0.0).argmax())) if ground else None
        unexplained = {n for place in slips for n in place.numbers}
        if off > SLIPPED_SHARE:
            unexplained |= set(not_sound(read.places, read.fits, ensemble.size))
        pair, pair_share = _leading_pair(pairs, share[count : count + len(pairs)] * kept)
        return Posterior(
            suspects=tuple(suspects),
            eliminated=struck_out(ensemble, read.places, read.fits, total, self._absent),
            no_fault=float(share[0]),
            off_sheet=off,
            unexplained=tuple(sorted(unexplained)),
            contradictory=tuple(contradicting([seen[k] for k in there] if away else read.places)),
            away=tuple(sorted({n for k in away for n in seen[k].numbers})),
            found=found_by(ensemble, drawn, [seen[k] for k in there], [read.seen_fits[k] for k in there]),
            beside=_ranked(ensemble.accusing_first, np.where(grounds, 0.0, near)),
            grounded=ground,
            rests_on=place.numbers[0] if place and not place.again else None,
            pair=pair,
            pair_share=pair_share,
            weights=left.weights.ravel(),
            set_aside=set_aside,
        )


def _suspects(hypotheses: Sequence[Hypothesis], share: Floats, fleeting: Floats) -> list[Suspect]:
    """Elements that are not struck out, the likeliest first. `fleeting` is what of each hypothesis' share, beginning with those of the
    ensemble, comes and goes."""
    by_mode: dict[str, dict[str, float]] = defaultdict(lambda: defaultdict(float))
    comes: dict[str, float] = defaultdict(float)
    for number, (h, p) in enumerate(zip(hypotheses, share, strict=False)):
        for mode in h.modes:
            by_mode[mode.element][mode.name] += float(p)
            comes[mode.element] += float(fleeting[number]) if number < len(fleeting) else 0.0
    found = []
    for element, modes in by_mode.items():
        p = sum(modes.values())
        if p >= STRUCK_OUT:
            named = tuple(sorted(((m, q) for m, q in modes.items() if q > 1e-4), key=lambda item: -item[1]))
            found.append(Suspect(element=element, p=min(p, 1.0), mode=named[0][0], modes=named, comes=min(comes[element] / p, 1.0)))
    return sorted(found, key=lambda s: (-s.p, s.element))


def _leading_pair(pairs: Sequence[Hypothesis], share: Floats) -> tuple[tuple[str, str] | None, float]:
    """The pair of elements that holds most, if all pairs hold enough for it to be named, and what it holds."""
    if share.sum() <= PAIR_NAMED:
        return None, 0.0
    first, second = pairs[int(np.argmax(share))].elements[:2]
    return (first, second), float(share.max())


def _ranked(numbers: Mapping[str, NDArray[np.int64]], near: Floats) -> tuple[tuple[str, float], ...]:
    """Elements by what lies beside them, the greatest first, without those that hold next to nothing; `numbers` are their hypotheses."""
    found = [(element, float(near[mine].sum())) for element, mine in numbers.items()]
    return tuple(sorted(((e, p) for e, p in found if p >= STRUCK_OUT), key=lambda item: -item[1]))


def _shrunk(suspects: Sequence[Suspect], kept: float) -> list[Suspect]:
    """The suspects with so much of their shares kept, all alike: what is not on the drawing holds the rest."""
    return [replace(s, p=s.p * kept, modes=tuple((m, q * kept) for m, q in s.modes)) for s in suspects]
