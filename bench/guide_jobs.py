"""Jobs of all kinds worked through the pages' own routes by somebody who does what the step says and nothing else; figures by the rig."""

import os
import tempfile
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from fastapi.testclient import TestClient

from bench.follower import Ended, Follower, follow
from bench.report_truth import untrue
from bench.rig_trials import code_hash
from iron_probe.bay.case import DRAIN, FUSE, SOUND, bay_with
from iron_probe.bay.in_bay import InBay
from iron_probe.machines import load_sheet
from iron_probe.rig.spice import Spice
from iron_probe.store.cluster import cluster
from iron_probe.store.database import connect
from iron_probe.store.migrate import migrate
from iron_probe.web.app import create_app

SEED = 71_993
JOBS = (
    ("crew-minibus", "resistance"), ("pool-car", "open"), ("estate-car", "battery worn"), ("patrol-motorcycle", "coil"), ("training-kart", "battery flat"),
    ("harbour-launch", "ground ways"), ("verge-tractor", "contact"), ("rescue-watercraft", "motor"), ("quay-digger", "contact"), ("ferry-van", "comes and goes"),
    ("pool-car", "module"), ("lift-shuttle", "undrawn"), ("green-mower", "charging"), ("patrol-motorcycle", "stator"), ("parcel-van", "bus"),
    ("estate-car", "charging"), ("fire-tender", "charging"), ("standby-generator", "resistance"), ("piste-sled", "charging"), ("crew-minibus", "battery flat"),
    ("crew-minibus", DRAIN), ("pool-car", DRAIN), ("lift-shuttle", DRAIN), ("harbour-launch", DRAIN), ("patrol-motorcycle", DRAIN),
    ("pool-car", FUSE), ("verge-tractor", FUSE), ("lift-shuttle", FUSE), ("estate-car", SOUND), ("standby-generator", SOUND),
)  # fmt: skip
"""Thirty jobs over all kinds of machine and complaint: the machine, and the class of the catalogue, a drain, a fuse that blows, or nothing wrong."""


@dataclass(frozen=True, slots=True)
class GuideJob:
    """A job and how it ended; `right` where every fault was mended and nothing else was, or nothing was found wrong; `untrue` is what its report says and
    is not so."""

    sheet: str
    kind: str
    fault: str
    right: bool
    ended: Ended
    log: list[str]
    untrue: list[str]


def bay_of(sheet_id: str, kind: str, number: int, spice: Spice) -> InBay | None:
    """A machine with a fault of that class that somebody would come in with; None where the sheet shows none."""
    return bay_with(load_sheet(sheet_id), kind, np.random.default_rng((SEED, number)), number, spice)


def worked(sheet_id: str, kind: str, number: int, spice: Spice, client: TestClient) -> GuideJob | None:
    """Take one in and follow the step to the end; None where the sheet shows no such fault."""
    bay = bay_of(sheet_id, kind, number, spice)
    if bay is None:
        return None
    brought = list(bay.faults)
    hidden = brought[0] if brought else None
    hands = Follower(client)
    symptom = kind if kind in (DRAIN, FUSE) else bay.symptom
    hands.take_in(sheet_id, f"Machine {number}", symptom, "as its owner brings it")
    ended = follow(hands, bay)
    mended = [line for line in hands.log if line.startswith("mended")]
    right = ended.closed and not bay.faults and not bay.innocent and (bool(mended) or hidden is None)
    main = hands.get(f"{hands.job}/report").one(lambda e: e.tag == "main")
    false = untrue(main, bay.sheet, brought, any("," in line for line in mended)) if ended.closed and main is not None else []
    return GuideJob(sheet_id, kind, f"{hidden.fault.name} {hidden.element}" if hidden else "none", right, ended, hands.log, false)


def run(numbers: list[int]) -> list[GuideJob]:
    """Some of the jobs, on an app and a database of their own."""
    return list(_run(numbers))


def _run(numbers: list[int]) -> Iterator[GuideJob]:
    with tempfile.TemporaryDirectory(prefix="iron-probe-") as folder, Spice() as spice:
        Path(folder).chmod(0o755)
        with cluster(Path(folder) / "postgres", throwaway=True) as url:
            engine = connect(url, 120_000)
            migrate(engine)
            with TestClient(create_app(engine, Path(folder) / "data")) as client:
                for number in numbers:
                    if job := worked(*JOBS[number], number, spice, client):
                        yield job
            engine.dispose()


def table() -> str:
    """Work them all and word the result."""
    part = float(os.environ.get("IRON_PROBE_TRIALS", "1"))
    numbers = list(range(0, len(JOBS), max(1, round(1 / part))))
    with ProcessPoolExecutor(2) as pool:
        jobs = [job for some in pool.map(run, [numbers[::2], numbers[1::2]]) for job in some]
    right, apart = sum(j.right for j in jobs), sum(len(j.ended.apart) for j in jobs)
    lines = [
        f"## Jobs that follow the step alone: {len(jobs)}, through the pages' own routes, on code {code_hash()}",
        "",
        f"Each is taken in, read by the rig's meters where the step says, mended, retested and closed; every tab and the Yard are looked at after every step. Right ending: {right} of {len(jobs)}. "
        f"A screen said what another did not: {apart} times in {sum(len(j.ended.steps) for j in jobs)} steps. Sentences of the {sum(j.ended.closed for j in jobs)} reports that are not true of their machine: {sum(len(j.untrue) for j in jobs)}.",
        "",
        "| machine | complaint | hidden | steps | end |",
        "| --- | --- | --- | ---: | --- |",
    ]
    lines += [
        f"| {j.sheet} | {j.kind} | {j.fault.replace('_', ' ')} | {len(j.ended.steps)} | {'right' if j.right else j.ended.stuck or 'wrong: ' + j.ended.why} |"
        for j in jobs
    ]
    return "\n".join(lines)
