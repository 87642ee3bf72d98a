"""A hidden drain worked to the end: solved on the circuit asleep, read with a real meter's faults, away for a while in some."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

import numpy as np

from iron_probe.core.arrays import Floats
from iron_probe.core.bench.drain.amps_read import Interval, amps_of_drop, clamp_amps, fall_amps
from iron_probe.core.bench.drain.currents import TOTAL, Taken, Way, solve_currents
from iron_probe.core.bench.drain.feed_tree import FeedTree, feed_tree, usual_total_a
from iron_probe.core.bench.drain.limits import side_by_side
from iron_probe.core.bench.drain.suspects import DrainProbe, Finding, Method, find_drains, next_probes, probes
from iron_probe.core.bench.drain.validity import Checked, Moment, at_level, check_sweep
from iron_probe.core.circuit.elements import Alternator, Fuse, Module, Relay, Switch
from iron_probe.core.circuit.faults import LEAK
from iron_probe.core.circuit.network import Network
from iron_probe.core.errors import ReadingError, SolveError
from iron_probe.core.limits import METER_STEP_V
from iron_probe.core.solve.operate import solve_state

WIDER = 1.5
"""How much wider parts spread in the generator than the tree assumes."""
CLAMP_STEP_A, CLAMP_WANDER_A = 1e-3, 0.0015
"""Last digit of a low-current clamp, and where its zero wanders (common practice)."""
CLAMP_ERROR = 0.01
TOTAL_MINUTES, WAIT_MINUTES = 0.05, 20.0
MOST_PROBES = 70
LEAST_DRAIN_A, MOST_DRAIN_A = 0.06, 9.0


@dataclass(slots=True, kw_only=True)
class HiddenDrain:
    """A sleeping machine that draws too much: amps of its branches, and last of all the total, `with_drain` and `without`; `truth` the
    numbers of the consumers that carry it; `away` when [min] an intermittent drain is gone (start, end), or None; `share_left` of its
    battery's capacity."""

    network: Network
    tree: FeedTree
    with_drain: Floats
    without: Floats
    truth: tuple[int, ...]
    away: tuple[float, float] | None
    share_left: float
    rng: np.random.Generator
    minute: float = 0.0

    def present(self) -> bool:
        return self.away is None or not self.away[0] <= self.minute < self.away[1]

    def amps(self, where: str) -> float:
        """The true current at a place now [A]; the total stands behind the branches."""
        amps = self.with_drain if self.present() else self.without
        return abs(float(amps[-1] if where == TOTAL else amps[self.network.find_branch(where)]))


@dataclass(frozen=True, slots=True, kw_only=True)
class DrainOutcome:
    """How it ended: whether every culprit was named, and each at a place that no fuse parts further (`placed`), probes and minutes taken, zeros used that were read while the drain was away, and
    whether it was intermittent."""

    placed: bool
    named: bool
    closes: bool
    false_names: int
    probes: int
    minutes: float
    stale_zeros: int
    intermittent: bool
    total_a: float
    truth: tuple[str, ...]
    said: tuple[str, ...]


def culprits_of(network: Network, tree: FeedTree) -> list[tuple[str, dict[int, float], float]]:
    """Ways this machine can drain: (name, changed parameters by row, weight): modules awake, contacts stuck, leaks, diodes."""
    row = network.row
    found: list[tuple[str, dict[int, float], float]] = []
    passed = {s.element for s in tree.stretches}
    for element in network.sheet.elements:
        if isinstance(element, Module):
            found.append((f"{element.id} awake", {row[element.id, "wakeful"]: 1.0}, 2.0))
        elif isinstance(element, Relay) and element.id in passed and not element.heavy:
            found.append((f"{element.id} welded", {row[element.id, "stuck"]: 1.0}, 1.0))
        elif isinstance(element, Switch) and element.id in passed and element.role == "accessory":
            found.append((f"{element.id} stuck", {row[element.id, "stuck"]: 1.0}, 1.0))
        elif isinstance(element, Alternator):
            found.append((f"{element.id} diodes", {row[element.b, LEAK]: -1.0}, 0.7))
    for consumer in tree.consumers:
        if not consumer.listed:
            found.append((f"leak at {consumer.point}", {row[consumer.point, LEAK]: -1.0}, 0.15))
    return found


def hide_drain(network: Network, rng: np.random.Generator, faults: int = 1, intermittent: bool = False, worn: bool = False) -> HiddenDrain:
    """A drain (or two) over what the machine usually draws; leaks take 0.1 to 3 A. SolveError when the sheet has none to hide, or has
    two batteries side by side, whose total no one clamp reads."""
    if side_by_side(network.sheet):
        raise SolveError(f"{network.sheet.title} has two batteries side by side: part one before its drain is hunted.")
    tree = feed_tree(network)
    ways = culprits_of(network, tree)
    weight = np.array([w for _, _, w in ways])
    state = next(iter(network.sheet.states))
    usual = usual_total_a(tree)
    for _ in range(300):
        picked = rng.choice(len(ways), size=faults, replace=False, p=weight / weight.sum())
        sound = network.machines(WIDER * rng.standard_normal((len(network.nominal), 1)))
        faulty = sound.copy()
        for k in picked:
            for place, value in ways[int(k)][1].items():
                faulty[place] = value if value > 0 else rng.uniform(0.1, 3.0) / network.sheet.system_v
        amps = [solve_state(network, state, v).amps[:, 0] for v in (faulty, sound)]
        batteries = [n for n, o in enumerate(network.owners) if o.type == "battery"]
        totals = [
            sum(abs(float(a[n])) for n in batteries) / max(1, network.sheet.system_v // 12 if len(batteries) > 1 else 1) for a in amps
        ]
        if not LEAST_DRAIN_A < totals[0] - usual < MOST_DRAIN_A:
            continue
        truth = carriers_of(network, tree, amps[0], amps[1], totals)
        if len(truth) < faults:
            continue
        away = (float(rng.uniform(1, 12)), float(rng.uniform(18, 45))) if intermittent else None
        return HiddenDrain(
            network=network, tree=tree, with_drain=np.append(amps[0], totals[0]), without=np.append(amps[1], totals[1]),
            truth=truth, away=away, share_left=float(rng.uniform(0.15, 0.4)) if worn else 1.0, rng=rng,
        )  # fmt: skip
    raise SolveError(f"no drain of {network.sheet.title} shows")


def carriers_of(network: Network, tree: FeedTree, now: Floats, sound: Floats, totals: Sequence[float]) -> tuple[int, ...]:
    """Numbers of the consumers that carry the excess; a leak is what its stretch carries over its known consumers and stretches below."""
    excess = totals[0] - totals[1]
    gained: dict[int, float] = {}
    for k, c in enumerate(tree.consumers):
        if c.listed:
            n = network.find_branch(c.branch)
            gained[k] = abs(float(now[n])) - abs(float(sound[n]))
    seats = {c.point: k for k, c in enumerate(tree.consumers) if not c.listed}
    below: dict[str, float] = {}
    for k, c in enumerate(tree.consumers):
        below[c.point] = below.get(c.point, 0.0) + gained.get(k, 0.0)
    into: dict[str, float] = {}
    for s in reversed(tree.stretches):
        n = network.find_branch(s.branch)
        flow = abs(float(now[n])) - abs(float(sound[n]))
        left = flow - below.get(s.lower, 0.0) - into.get(s.lower, 0.0)
        seat = next((seats[w.lower] for w in reversed(tree.way_to(s.lower)) if w.lower in seats), seats[tree.root])
        gained[seat] = gained.get(seat, 0.0) + left
        into[s.upper] = into.get(s.upper, 0.0) + flow
    at_root = excess - into.get(tree.root, 0.0) - below.get(tree.root, 0.0)
    gained[seats[tree.root]] = gained.get(seats[tree.root], 0.0) + at_root
    return tuple(k for k, a in sorted(gained.items()) if a > max(0.12 * excess, 0.01))


@dataclass(slots=True)
class Sweep:
    """What a worker has: readings with their times, totals, and what they come to."""

    hidden: HiddenDrain
    limit_a: float
    readings: list[tuple[Taken, float]] = field(default_factory=list)
    totals: list[Moment] = field(default_factory=list)
    away_at: dict[int, bool] = field(default_factory=dict)
    minutes: float = 0.0

    def spend(self, minutes: float) -> None:
        self.minutes += minutes
        self.hidden.minute += minutes

    def total(self) -> float:
        """Read the clamp that stays on the total."""
        self.spend(TOTAL_MINUTES)
        shown = self._clamped(self.hidden.amps(TOTAL))
        self.totals.append(Moment(at_s=60 * self.minutes, total_a=shown))
        self._keep(TOTAL, Way.CLAMP, clamp_amps(shown, CLAMP_STEP_A))
        return shown

    def probe(self, probe: DrainProbe) -> None:
        """Make a probe, with the total before and after it."""
        if not self.totals or 60 * self.minutes - self.totals[-1].at_s > 1:
            self.total()
        self.spend(probe.minutes)
        h = self.hidden
        true = h.amps(probe.where)
        element = h.network.sheet.element(probe.where.partition(".")[0])
        if probe.way is Way.DROP and isinstance(element, Fuse):
            ohm = true and abs(float(h.network.nominal[h.network.row[element.id, "r_ohm"]])) * np.exp(0.12 * h.rng.standard_normal())
            shown = round(true * ohm / METER_STEP_V) * METER_STEP_V
            try:
                amps = amps_of_drop(shown, METER_STEP_V, element.rating_a, element.make)
            except ReadingError:
                return
        else:
            amps = clamp_amps(self._clamped(true), CLAMP_STEP_A) if probe.way is Way.CLAMP else self._fallen(true)
        self._keep(probe.where, probe.way, amps)
        self.total()

    def _keep(self, where: str, way: Way, amps: Interval) -> None:
        number = len(self.readings) + 1
        self.readings.append((Taken(number=number, where=where, way=way, amps=amps), 60 * self.minutes))
        self.away_at[number] = not self.hidden.present()

    def _clamped(self, true: float) -> float:
        rng = self.hidden.rng
        shown = true * (1 + CLAMP_ERROR * rng.standard_normal()) + rng.uniform(-1, 1) * CLAMP_WANDER_A
        return max(round(shown / CLAMP_STEP_A) * CLAMP_STEP_A, 0.0)

    def _fallen(self, true: float) -> Interval:
        """A fall of the total as a clamp shows it."""
        shown = round(true * (1 + CLAMP_ERROR * self.hidden.rng.standard_normal()) / CLAMP_STEP_A) * CLAMP_STEP_A
        return fall_amps(max(shown, 0.0), 0.0, CLAMP_STEP_A)

    def checked(self) -> list[Checked]:
        return check_sweep(self.readings, self.totals, self.limit_a, 0.0)

    def taken(self) -> list[Taken]:
        return at_level(self.checked(), self.totals, self.limit_a, 0.0)


ChooseProbe = Callable[[FeedTree, Sweep, Finding, Sequence[Taken]], DrainProbe | None]


def best_value(tree: FeedTree, sweep: Sweep, finding: Finding, taken: Sequence[Taken]) -> DrainProbe | None:
    """What tells most a minute."""
    found = next_probes(tree, solve_currents(tree, taken), finding, taken, split=False)
    return found[0] if found else None


def splits_first(tree: FeedTree, sweep: Sweep, finding: Finding, taken: Sequence[Taken]) -> DrainProbe | None:
    """Main cable, box, fuse, plug, as far as each tells."""
    found = next_probes(tree, solve_currents(tree, taken), finding, taken)
    return found[0] if found else None


def pull_in_order(tree: FeedTree, sweep: Sweep, finding: Finding, taken: Sequence[Taken]) -> DrainProbe | None:
    """Fuses pulled in box order; behind the first that takes the total down, its consumers one after the other."""
    done = {t.where for t in taken}
    offered = list(probes(tree, Method.PULL))
    hot = [t for t in taken if t.way is Way.PULL and t.amps.low > max(0.25 * finding.excess_a, 0.004)]
    for t in reversed(hot):
        inside = [p for p in offered if p.way in (Way.PULL, Way.PART) and p.where not in done and p.where != t.where]
        inside = [p for p in inside if tree.members(p.where) <= tree.behind[t.where]]
        if inside:
            return inside[0]
    fuses = [p for p in offered if p.way is Way.PULL and p.where not in done]
    cables = [p for p in offered if p.way is Way.CLAMP and p.where not in done]
    return fuses[0] if fuses else cables[0] if cables else None


def work_drain(hidden: HiddenDrain, choose: ChooseProbe, limit_a: float) -> DrainOutcome:
    """Work a hidden drain until the sum closes on what is named, or no probe tells more."""
    tree = hidden.tree
    sweep = Sweep(hidden, limit_a)
    sweep.total()
    made = 0
    while made < MOST_PROBES:
        if not hidden.present() and sweep.totals[-1].total_a <= limit_a:
            sweep.spend(WAIT_MINUTES)  # it went away: wait for it to come back
            sweep.total()
            continue
        taken = sweep.taken()
        finding = find_drains(tree, solve_currents(tree, taken))
        if finding.closes and all(n.where not in tree.behind or _undivided(tree, n.where) for n in finding.named):
            break
        probe = choose(tree, sweep, finding, taken)
        if probe is None:
            break
        sweep.probe(probe)
        made += 1
    taken = sweep.taken()
    finding = find_drains(tree, solve_currents(tree, taken))
    covered = [tree.members(n.where) for n in finding.named]
    stale = sum(1 for t in taken if t.where != TOTAL and t.amps.best < LEAST_DRAIN_A and sweep.away_at[t.number])
    return DrainOutcome(
        placed=all(any(k in tree.members(n.where) and not _inner_fuses(tree, n.where) for n in finding.named) for k in hidden.truth),
        named=bool(covered) and all(any(k in c for c in covered) for k in hidden.truth),
        closes=finding.closes,
        false_names=sum(1 for c in covered if not c & set(hidden.truth)),
        probes=made,
        minutes=sweep.minutes,
        stale_zeros=stale,
        intermittent=hidden.away is not None,
        total_a=next((t.amps.best for t in taken if t.where == TOTAL), 0.0),
        truth=tuple(tree.consumers[k].branch for k in hidden.truth),
        said=tuple(n.where for n in finding.named),
    )


def _inner_fuses(tree: FeedTree, where: str) -> bool:
    """Whether a fuse parts a place further."""
    return any(tree.behind[s.branch] < tree.behind.get(where, frozenset()) for s, _ in tree.fuses())


def _undivided(tree: FeedTree, where: str) -> bool:
    """Whether no probe parts a branch further: it holds one consumer that can be unplugged at most, and one fuse."""
    members = tree.behind[where]
    return not _inner_fuses(tree, where) and sum(tree.consumers[k].listed for k in members) == 0
