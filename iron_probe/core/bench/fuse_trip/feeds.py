"""What a fuse feeds, what of it is live when it blows, plugs that halve it, and which leg of a main fuse leaves these functions dead."""

from collections.abc import Sequence
from dataclasses import dataclass

from iron_probe.core.bench.drain.feed_tree import FeedTree, Stretch
from iron_probe.core.bench.judged import Judged, Verdict
from iron_probe.core.circuit.elements import Battery, BranchKind, Conductor, Fuse, Joint, Lamp
from iron_probe.core.circuit.network import Network, branch_id
from iron_probe.core.errors import ReadingError
from iron_probe.core.limits import FUSE_OPENS, POINT_LIVE_SHARE
from iron_probe.core.phrase import Phrase, Sentences
from iron_probe.core.solve.operate import solve_state
from iron_probe.core.solve.stamp import COLD_FILAMENT_SHARE


class Cleared(Sentences):
    """What shows that something behind a fuse cannot be the short."""

    STATES = Phrase("live while it holds, or dead while it blows")
    CLAMP = Phrase("its clamp stayed near zero as the fuse opened")
    ELSEWHERE = Phrase("the current ran away through another branch")


@dataclass(frozen=True, slots=True, kw_only=True)
class Behind:
    """Something behind a fuse that may lie on ground: a `branch` of `element`, fed at `point`; `load` where it is no way to another but uses what
    it gets: a lamp, motor, coil or module."""

    branch: str
    element: str
    point: str
    load: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class Clamped:
    """What clamps showed as the fuse opened: branches that stayed `quiet`, and the one that `ran_away` if one did."""

    quiet: tuple[str, ...] = ()
    ran_away: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Feeds:
    """Everything behind a fuse: `consumers` (element id, its amps when on), what is still `suspect` of the short and what is `cleared` with the
    reason, and the plugs that halve what is left, best first."""

    fuse: Fuse
    consumers: tuple[tuple[str, float], ...]
    suspect: tuple[Behind, ...]
    cleared: tuple[tuple[Behind, Cleared], ...]
    halving: tuple[Stretch, ...]

    @property
    def behind(self) -> tuple[Behind, ...]:
        """All of it, ways first."""
        return tuple(sorted([*self.suspect, *(b for b, _ in self.cleared)], key=lambda b: (b.load, b.branch)))


def find_fuse(tree: FeedTree, fuse_id: str) -> tuple[Stretch, Fuse]:
    """A fuse of the tree by its id; ReadingError names those there are."""
    found = next(((s, f) for s, f in tree.fuses() if f.id == fuse_id), None)
    if found is None:
        raise ReadingError(f"“{fuse_id[:40]}” is no fuse on this sheet; there are {', '.join(f.id for _, f in tree.fuses())}.")
    return found


def feeds_of(
    tree: FeedTree,
    network: Network,
    fuse_id: str,
    blows_in: Sequence[str] = (),
    holds_in: Sequence[str] = (),
    clamped: Clamped | None = None,
) -> Feeds:
    """Read it off the drawing; `blows_in` and `holds_in` are operating states in which the fuse was seen to blow and to hold.

    What is dead whenever it blows, or live whenever it holds, cannot be the short; nor what hangs behind a clamp that stayed quiet as it
    opened, or beside the one whose current ran away.
    """
    clamped = clamped or Clamped()
    stretch, fuse = find_fuse(tree, fuse_id)
    members = tree.behind[stretch.branch]
    consumers = tuple((tree.consumers[k].element, tree.consumers[k].awake_a) for k in sorted(members) if tree.consumers[k].listed)
    blow = [_live(network, s) for s in blows_in]
    hold = [_live(network, s) for s in holds_in]
    quiet = {name for branch in clamped.quiet for name in _from(tree, network, branch)}
    away = _from(tree, network, clamped.ran_away) if clamped.ran_away else None

    def cleared_by(place: Behind) -> Cleared | None:
        if any(place.point not in live for live in blow) or any(place.point in live for live in hold):
            return Cleared.STATES
        if place.branch in quiet:
            return Cleared.CLAMP
        return Cleared.ELSEWHERE if away is not None and place.branch not in away else None

    every = _behind(tree, network, stretch)
    cleared = {p: why for p in every if (why := cleared_by(p)) is not None}
    left = {p.branch for p in every if p not in cleared}
    plugs = [s for s in _below(tree, stretch) if tree.element(s.branch).type == "plug"]

    def halves(plug: Stretch) -> float:
        return abs(len(left & _from(tree, network, plug.branch)) - len(left) / 2)

    return Feeds(
        fuse=fuse, consumers=consumers, suspect=tuple(p for p in every if p not in cleared), cleared=tuple(cleared.items()),
        halving=tuple(sorted((p for p in plugs if 0 < len(left & _from(tree, network, p.branch)) < len(left)), key=halves)),
    )  # fmt: skip


def _behind(tree: FeedTree, network: Network, stretch: Stretch) -> list[Behind]:
    """All that is fed through a stretch: the ways behind it, then what hangs on them and goes on to no other fed point, loads, coils and motors,
    each once."""
    below = _below(tree, stretch)
    points, fed = {stretch.lower, *(s.lower for s in below)}, {tree.root, *(s.lower for s in tree.stretches)}
    loads: dict[tuple[str, str], Behind] = {}
    for owner, branch in zip(network.owners, network.branches, strict=True):
        way = isinstance(owner, Conductor | Joint | Fuse | Battery) or branch.kind in (BranchKind.SWITCH, BranchKind.CONTACT)
        ends = [p for p in (branch.start, branch.end) if p in points]
        if (way and owner.type != "load") or len(ends) != 1 or ({branch.start, branch.end} - set(ends)) & fed:
            continue
        loads.setdefault((owner.id, ends[0]), Behind(branch=branch_id(owner, branch), element=owner.id, point=ends[0], load=True))
    return [*(Behind(branch=s.branch, element=s.element, point=s.lower, load=False) for s in below), *loads.values()]


def _from(tree: FeedTree, network: Network, branch: str) -> set[str]:
    """A branch and everything behind it, by branch."""
    stretch = next((s for s in tree.stretches if s.branch == branch), None)
    return {branch} if stretch is None else {branch, *(p.branch for p in _behind(tree, network, stretch))}


def _below(tree: FeedTree, stretch: Stretch) -> list[Stretch]:
    reached, found = {stretch.lower}, []
    for s in tree.stretches:
        if s.upper in reached:
            reached.add(s.lower)
            found.append(s)
    return found


def _live(network: Network, state: str) -> set[str]:
    """Points that carry voltage in a state of the sound machine."""
    solved = solve_state(network, state)
    return {p for p, v in zip(network.points, solved.volts[:, 0], strict=True) if v > POINT_LIVE_SHARE * network.sheet.system_v}


@dataclass(frozen=True, slots=True, kw_only=True)
class Leg:
    """A fuse or link that could leave the dead functions dead: how many of them it feeds, and how many that still work."""

    fuse: Fuse
    dead_behind: int
    working_behind: int


def legs_of(tree: FeedTree, dead: Sequence[str], working: Sequence[str]) -> list[Leg]:
    """Which open fuse leaves these elements dead and those working: those that feed all dead ones and no working one first.

    After a reversed battery this names the legs of a main fuse to look at; ReadingError when no dead function is named.
    """
    if not dead:
        raise ReadingError("Name at least one function that is dead: the legs are told by what they leave dead.")
    found = []
    for stretch, fuse in tree.fuses():
        behind = {tree.consumers[k].element for k in tree.behind[stretch.branch]}
        hits, spared = len(behind & set(dead)), len(behind & set(working))
        if hits:
            found.append(Leg(fuse=fuse, dead_behind=hits, working_behind=spared))
    return sorted(found, key=lambda leg: (leg.working_behind, -leg.dead_behind, -leg.fuse.rating_a))


def judge_ohms_to_ground(tree: FeedTree, fuse_id: str, ohms: float, unplugged: bool) -> Judged:
    """Ohms from the fuse's output to ground with the fuse out, loads unplugged or not: under what would blow it, it is a short.

    With loads on, cold lamps alone read low: what they make together is said beside it.
    """
    stretch, fuse = find_fuse(tree, fuse_id)
    least = tree.sheet.system_v / (FUSE_OPENS * fuse.rating_a)
    limit = Phrase(
        "{least:.2g} Ω would blow {rating_a:g} A ({system_v} V ÷ 1.35 × rating)",
        least=least,
        rating_a=fuse.rating_a,
        system_v=tree.sheet.system_v,
    )
    source = Phrase("ISO 8820-3 (from memory); cold lamps a twelfth of hot: common practice")
    loads = [tree.consumers[k] for k in tree.behind[stretch.branch] if tree.consumers[k].listed]
    cold = sum(c.awake_a / (COLD_FILAMENT_SHARE if isinstance(tree.sheet.element(c.element), Lamp) else 1) for c in loads)
    expected = tree.sheet.system_v / cold if cold else float("inf")
    if unplugged:
        if ohms < 10 * least:
            return Judged(verdict=Verdict.BAD, text=Phrase("{ohms:.3g} Ω with everything unplugged: the loom itself lies on ground.", ohms=ohms), limit=limit, source=source,
                          next_step=Phrase("Part the loom's own plugs one by one until it goes; look where it is rubbed: arch, hinge, bracket."))  # fmt: skip
        return Judged(
            verdict=Verdict.GOOD,
            text=Phrase("{ohms:.3g} Ω: the loom is clear at rest. Move it, then it is in what was unplugged.", ohms=ohms),
            limit=limit,
            source=source,
        )
    if ohms < min(least, 0.6 * expected):
        return Judged(verdict=Verdict.BAD, text=Phrase("{ohms:.3g} Ω, under the {expected:.2g} Ω all its loads make cold.", ohms=ohms, expected=expected), limit=limit, source=source,
                      next_step=Phrase("Unplug the loads and read again."))  # fmt: skip
    return Judged(verdict=Verdict.OPEN, text=Phrase("{ohms:.3g} Ω; its loads together make about {expected:.2g} Ω cold.", ohms=ohms, expected=expected), limit=limit, source=source,
                  next_step=Phrase("Unplug the loads to read the loom alone."))  # fmt: skip


STAND_INS = (
    ("breaker", Phrase("Resettable breaker of the same rating: clicks while the short is there, resets when a plug parts it")),
    (
        "lamp",
        Phrase("Headlamp bulb across the slot: bright while the short is there, dims when it goes; it holds the current to a few amperes"),
    ),
)
"""What may stand in for the fuse while hunting; never a bigger fuse, never a wire."""
