"""A blown fuse put to the core: what was said of it, what that means, and a capture of it blowing."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from uuid import UUID

import numpy as np
from numpy.typing import NDArray
from sqlmodel import Session

from iron_probe.core.bench.drain.feed_tree import FeedTree
from iron_probe.core.bench.fuse_trip.capture import BranchWord, Trip, read_trip
from iron_probe.core.bench.fuse_trip.feeds import Clamped, Feeds, Leg, feeds_of, find_fuse, judge_ohms_to_ground, legs_of
from iron_probe.core.bench.fuse_trip.time_current import BLADES, NOT_KNOWN, Multiples, multiples_for
from iron_probe.core.bench.judged import Judged
from iron_probe.core.bench.typed_value import parse_quantity
from iron_probe.core.circuit.elements import Fuse
from iron_probe.core.circuit.network import build_network
from iron_probe.core.errors import CaptureError, IronProbeError, ReadingError
from iron_probe.core.job.fold import JobLog
from iron_probe.core.job.job import Job
from iron_probe.core.trace.layout import Layout, Role
from iron_probe.store import captures
from iron_probe.store.tables import Capture
from iron_probe.work.drain_work import tree_of


@dataclass(frozen=True, slots=True)
class FuseSeen:
    """Of a fuse: the states it was seen to blow in, and those it holds in."""

    fuse: str
    blows: tuple[str, ...]
    holds: tuple[str, ...]


def seen_of(log: JobLog) -> FuseSeen | None:
    """What was last said of a fuse that blows; None where nothing was."""
    seen = next((line for _, line in reversed(log.tests("trip")) if line.test == "seen"), None)
    if seen is None:
        return None
    blows, holds = (tuple(s for s in seen.typed.get(k, "").split(",") if s) for k in ("blows", "holds"))
    return FuseSeen(seen.subject, blows, holds)


SAID = ("blows", "holds", "dead", "working")
Series = tuple[str, str, NDArray[np.float32]]


@dataclass(frozen=True, slots=True, kw_only=True)
class Blowing:
    """A capture of a fuse blowing: its row, what was read from it or why it cannot be, its columns (name, unit, samples), and round which
    branch of the circuit each clamp was, by the name of its column."""

    row: Capture
    trip: Trip | None
    columns: tuple[Series, ...]
    round_what: Mapping[str, str] = field(default_factory=dict)
    wrong: str = ""

    @property
    def clamped(self) -> Clamped:
        """What the clamps showed, of those whose place on the circuit was named."""
        read = [(self.round_what[b.title], b.word) for b in self.trip.branches if self.round_what.get(b.title)] if self.trip else []
        return Clamped(
            quiet=tuple(branch for branch, word in read if word is BranchWord.CLEARED),
            ran_away=next((branch for branch, word in read if word is BranchWord.RAN_AWAY), ""),
        )


@dataclass(frozen=True, slots=True, kw_only=True)
class FuseWork:
    """A fuse with what it feeds, what was said of it (state or element ids by what was said), and what follows; `ohms` and `timed` name the
    tests they rest on, to be withdrawn."""

    tree: FeedTree
    feeds: Feeds
    said: dict[str, list[str]]
    ohms: tuple[tuple[UUID, Judged], ...]
    timed: UUID | None
    times: Multiples | None
    time_untold: str
    legs: tuple[Leg, ...]
    captures: tuple[Capture, ...]
    blowing: Blowing | None

    @property
    def others(self) -> tuple[str, ...]:
        """Consumers that are not behind this fuse."""
        mine = {e for e, _ in self.feeds.consumers}
        listed = (c.element for c in self.tree.consumers if c.listed)
        return tuple(e for e in dict.fromkeys(listed) if e not in mine)


def fuse_work(session: Session, job: Job, log: JobLog, fuse: str = "") -> FuseWork:
    """The work on a fuse of this epoch; without one named, on the fuse last worked on, else the first."""
    sheet, tree = tree_of(job)
    if not tree.fuses():
        raise ReadingError(f"{sheet.title} has no fuse on its sheet")
    known = [f.id for _, f in tree.fuses()]
    last = next((line.subject for _, line in reversed(log.tests("trip")) if line.subject in known), known[0])
    asked = find_fuse(tree, fuse or last)[1]
    chosen = asked.id
    seen = next((t for _, t in reversed(_kept(log, chosen, "seen"))), {})
    said = {k: [s for s in seen.get(k, "").split(",") if s] for k in SAID}
    blows, holds = ([s for s in said[k] if s in sheet.states] for k in ("blows", "holds"))
    timed = _kept(log, chosen, "time")
    rows = tuple(r for r in captures.captures_of(session, job) if r.status == "ready")
    brought = next(((r, t) for _, t in reversed(_kept(log, chosen, "capture")) for r in rows if str(r.id) == t["capture"]), None)
    blowing = None if brought is None else replace(blowing_of(session, brought[0], asked), round_what=clamps_of(brought[1]))
    feeds = feeds_of(tree, build_network(sheet, job.conditions), chosen, blows, holds, blowing.clamped if blowing else None)
    return FuseWork(
        tree=tree,
        feeds=feeds,
        said=said,
        ohms=tuple((test, judge_ohms(tree, chosen, t)) for test, t in _kept(log, chosen, "ohms")),
        timed=timed[-1][0] if timed else None,
        times=multiples_for(float(timed[-1][1]["seconds"]), feeds.fuse.make) if timed else None,
        time_untold=NOT_KNOWN if timed and feeds.fuse.make not in BLADES else "",
        legs=tuple(legs_of(tree, said["dead"], said["working"])) if said["dead"] else (),
        captures=rows,
        blowing=blowing,
    )


CLAMP_ROUND = "round "
"""Begins the field that says round which branch the clamp of a column was."""


def clamps_of(typed: Mapping[str, str]) -> dict[str, str]:
    """Branches by column, as they were chosen."""
    return {name.removeprefix(CLAMP_ROUND): branch for name, branch in typed.items() if name.startswith(CLAMP_ROUND) and branch}


def _kept(log: JobLog, fuse: str, test: str) -> list[tuple[UUID, dict[str, str]]]:
    """The tests of a kind made of a fuse in this epoch, oldest first: which, and what was typed."""
    return [(k.id, line.typed) for k, line in log.tests("trip") if k.epoch == log.epoch and line.test == test and line.subject == fuse]


def judge_ohms(tree: FeedTree, fuse: str, typed: dict[str, str]) -> Judged:
    """Ohms to ground at a fuse, as they were typed."""
    return judge_ohms_to_ground(tree, fuse, parse_quantity(typed["ohms"], "Ω").value, bool(typed.get("unplugged")))


def blowing_of(session: Session, row: Capture, fuse: Fuse) -> Blowing:
    """A capture read as a fuse blowing: its volts column is behind the fuse, each amps column a branch. One that is none says why."""
    channels: Sequence[tuple[str, Role, NDArray[np.float32]]] = [
        (c.name, c.role, d) for c, d in zip(Layout.model_validate(row.layout).channels, captures.samples_of(session, row), strict=True)
    ]
    volts = next((d for _, role, d in channels if role is Role.VOLTS), None)
    branches = {name: d for name, role, d in channels if role is Role.AMPS}
    try:
        if volts is None:
            raise CaptureError("No column is volts: put the voltage lead behind the fuse, and name its column volts.")
        trip = read_trip(volts, branches, row.facts["step_s"], fuse.rating_a, fuse.make)
    except IronProbeError as error:
        return Blowing(row=row, trip=None, columns=(), wrong=str(error))
    return Blowing(row=row, trip=trip, columns=(("volts behind the fuse", "V", volts), *((n, "A", d) for n, d in branches.items())))
