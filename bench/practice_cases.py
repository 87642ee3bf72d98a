"""Practice cases worked through the pages' own routes: by the guide alone, by somebody who knows, and by somebody who swaps parts; what marks each gets."""

import os
import tempfile
from collections.abc import Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from uuid import uuid4
from xml.etree.ElementTree import Element

import numpy as np
from fastapi.testclient import TestClient
from sqlalchemy import Engine
from sqlmodel import Session

from bench.follower import MOST_STEPS, Follower, Page, defaults
from bench.rig_trials import code_hash
from iron_probe.bay.case import BY_CHANCE, Level, faults_of
from iron_probe.bay.marks import PASSES
from iron_probe.bay.proof import carried_a
from iron_probe.core.answers import solve_answer
from iron_probe.core.circuit.elements import Battery
from iron_probe.core.circuit.network import branch_id
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.evidence import Instrument
from iron_probe.machines import load_sheet, sheet_ids
from iron_probe.store.cluster import cluster
from iron_probe.store.database import connect
from iron_probe.store.migrate import migrate
from iron_probe.store.practice import case_row
from iron_probe.web.app import create_app
from iron_probe.work.ensembles import Ready, Wanted, home
from iron_probe.work.jobs import find_job
from iron_probe.work.logs import job_log
from iron_probe.work.practice import Result, machine_with, result, work_replay

CASES, SEED = 60, 8_191
PATIENCE_S = 600.0
SWAPPED = 4
"""Parts that somebody swaps before giving up."""


class ByStandIn(Follower):
    """A learner at the pages of the bay: figures come from the stand-in meter, and what is repaired is mended in the machine."""

    def begin(self, level: Level, sheet_id: str, number: int) -> bool:
        """Begin a case; False where this machine shows nothing of that level."""
        form = next(self.get("/practice").forms("/practice"))
        said = defaults(form) | {"entry_id": str(uuid4()), "level": level.value, "sheet_id": sheet_id, "number": str(number)}
        answer = self.client.post("/practice", data=said)
        while answer.status_code == 503:  # a case may take longer to draw than a page is waited for; sent again it is found
            answer = self.client.post("/practice", data=said)
        if answer.status_code == 422:
            return False
        self.job = "/".join(answer.url.path.split("/")[:3])
        return True

    def meter(self, **asked: str) -> dict[str, str]:
        """What the stand-in shows."""
        answer = self.client.post(f"{self.job}/meter", data={"form_token": self.client.cookies["iron_probe_form"], **asked})
        assert answer.status_code == 200, (asked, answer.text)
        return dict(answer.json())

    def read(self, form: Element) -> Page:
        """Read a field by the stand-in, and log it."""
        said = self.meter(**{k: v for k, v in defaults(form).items() if isinstance(v, str) and k != "form_token"})
        self.log.append(f"{defaults(form)}: {said}")
        return self.send(form, **said)

    def step(self) -> bool:
        """Do what the step says; False where the job is closed, or nothing can be done."""
        text, href = self.ready().step
        if text.startswith("Closed"):
            return False
        at, screen, before = self.get(href), href.split("?", maxsplit=1)[0].removeprefix(self.job), len(self.log)
        if form := next(at.forms("/repairs"), None):
            self.send(form, text="put right")
            self.log.append("repaired")
        elif screen == "/report":
            self.close()
        elif form := next((f for f in at.root.iter("form") if "probe-form" in f.get("class", "").split()), None):
            self.read(form)
            self.total()
        elif screen == "/drain" and text.startswith("Close up"):
            form = next(f for f in at.forms("/drain/marks") if f.find(".//*[@name='ago']") is not None)
            self.send(form, what="locked", ago="1 d")
            self.log.append("locked")
        elif screen == "/drain":
            self.total()
        elif screen == "/fuse":
            self.seen_blow()
        elif form := next((f for f in at.forms("/readings") if f.find(".//*[@name='instrument']") is not None), None):
            said = defaults(form)
            if said.get("instrument") == Instrument.VOLTMETER and not said.get("red"):
                self.close()  # the guide has nothing left to test: its step leads to closing without a proof
            else:
                self.read(form)
        return len(self.log) > before

    def total(self) -> None:
        """Read the total of the sleeping machine."""
        self.read(next(self.get(f"{self.job}/drain").forms("/drain/totals")))

    def seen_blow(self) -> None:
        """Put down which fuse its owner says blows, and in which state."""
        fuse, state = self.blows
        form = next(f for f in self.get(f"{self.job}/fuse").forms("/fuse") if defaults(f).get("test") == "seen")
        self.send(form, fuse=fuse, **{f"state {state}": "blows"})
        self.log.append("seen")

    blows: tuple[str, str] = ("", "")

    def follow(self) -> None:
        """The step alone, to the end."""
        for _ in range(MOST_STEPS):
            if not self.step():
                return

    def close(self) -> None:
        """Close the job as it stands."""
        form = next(self.get(f"{self.job}/report").forms("/close"), None) or next(self.get(f"{self.job}/repair").forms("/close"))
        self.send(form, waive="1")
        self.log.append("closed")

    def repair(self, *elements: str) -> None:
        """Mend some parts, whatever the guide says."""
        form = next(self.get(f"{self.job}/repair").forms("/repairs"))
        self.send(form, text="swapped", elements=list(elements))
        self.log.append(f"repaired {elements}")


@dataclass(frozen=True, slots=True)
class Marked:
    """A case and the marks of those who worked it: by the guide, by who knows, by who swaps."""

    sheet: str
    level: str
    number: int
    by: str
    marks: int
    minutes: float
    left: int


def own_reading(sheet: Sheet, element: str) -> dict[str, str]:
    """A reading at a part itself, in the state it works hardest: volts over its two ends, or the clamp round what carries most in it."""
    part = sheet.element(element)
    state = max(sheet.states, key=lambda s: carried_a(sheet, s).get(element, 0.0))
    asked = {"state": state, "instrument": Instrument.VOLTMETER.value, "entry_id": str(uuid4())}
    ends = part.points()
    if len(ends) == 2:
        return asked | {"red": ends[0], "black": ends[1]}
    flows = solve_answer(sheet, state).elements
    most = max((branch_id(part, b) for b in part.branches()), key=lambda name: abs(flow.amps) if (flow := flows.get(name)) else 0.0)
    return asked | {"instrument": Instrument.CLAMP.value, "branch": most}


def knows(hands: ByStandIn, sheet: Sheet, hidden: Sequence[str]) -> None:
    """Somebody who knows: one reading at the part, the repair, and done; a battery first, without which nothing flows elsewhere."""
    for element in sorted(hidden, key=lambda e: not isinstance(sheet.element(e), Battery)):
        asked = own_reading(sheet, element)
        shown = hands.meter(**asked)
        answer = hands.client.post(
            f"{hands.job}/readings", data={"form_token": hands.client.cookies["iron_probe_form"], **asked, **shown, "sure": "1"}
        )
        assert answer.status_code == 200, answer.text[-500:]
        hands.repair(element)
    hands.close()


def swaps(hands: ByStandIn, sheet: Sheet, hidden: Sequence[str], rng: np.random.Generator) -> None:
    """Somebody who swaps parts, as they lie at hand, and measures nothing."""
    for element in rng.permutation([e.id for e in sheet.elements])[:SWAPPED]:
        hands.repair(str(element))
    hands.close()


def worked(client: TestClient, engine: Engine, number: int) -> Iterator[Marked]:
    """A case worked by all three, each on a machine of his own."""
    rng = np.random.default_rng((SEED, number))
    sheet_id, level = sheet_ids()[number % len(sheet_ids())], BY_CHANCE[number % len(BY_CHANCE)]
    sheet, turn = load_sheet(sheet_id), number
    for by in ("the guide alone", "who knows", "who swaps parts"):
        hands = ByStandIn(client)
        while not hands.begin(level, sheet_id, turn):
            level = BY_CHANCE[(BY_CHANCE.index(level) + 1) % len(BY_CHANCE)]
        job_number = int(hands.job.rsplit("/", 1)[1])
        with Session(engine) as session:
            job = find_job(session, job_number)
            assert job is not None
            row = case_row(session, job.id)
            assert row is not None
            hidden = [f["element"] for f in row.faults]
        if level is Level.FUSE:  # as the customer's story says it
            hands.blows = machine_with(sheet, row.seed, faults_of(row.faults)).first_blown() or ("", "")
        if by == "the guide alone":
            hands.follow()
        elif by == "who knows":
            knows(hands, sheet, hidden)
        else:
            swaps(hands, sheet, hidden, rng)
        found = marked(engine, job_number, replayed=by != "who swaps parts")
        yield Marked(sheet_id, level.value, turn, by, found.marks, found.worked.minutes, len(found.worked.left))


def marked(engine: Engine, number: int, *, replayed: bool) -> Result:
    """The marks of a closed case, its replay worked out; without, minutes and idle tests cost nothing, so that they are rather too good."""
    with Session(engine) as session:
        job = find_job(session, number)
        assert job is not None
        if replayed:
            work_replay(session, job.id, at_hand)
        return result(session, job, job_log(session, job))


def at_hand(asked: Wanted) -> Ready:
    """The ensemble that the pages themselves went by."""
    ready = home().wait_for(asked, PATIENCE_S)
    assert ready is not None, asked.sheet.id
    return ready


def run(numbers: list[int]) -> list[Marked]:
    """Some cases, on an app and a database of their own."""
    with tempfile.TemporaryDirectory(prefix="iron-probe-") as folder:
        Path(folder).chmod(0o755)
        with cluster(Path(folder) / "postgres", throwaway=True) as url:
            engine = connect(url, 120_000)
            migrate(engine)
            with TestClient(create_app(engine, Path(folder) / "data")) as client:
                client.get("/")
                found = [one for number in numbers for one in worked(client, engine, number)]
            engine.dispose()
    return found


def table() -> str:
    """Work them and word the marks."""
    share = float(os.environ.get("IRON_PROBE_TRIALS", "1"))
    numbers = list(range(round(CASES * share)))
    with ProcessPoolExecutor(2) as pool:
        found = [one for some in pool.map(run, [numbers[::2], numbers[1::2]]) for one in some]
    lines = [
        f"## Practice cases: {len(numbers)} worked by the guide alone, by who knows, by who swaps parts, on code {code_hash()}",
        "",
        f"Each on a machine of its own with the same fault, figures by the bay's stand-in (ngspice). {PASSES} marks pass.",
        "",
        "| worked by | cases | mean marks | least | passed | faults left |",
        "| --- | ---: | ---: | ---: | ---: | ---: |",
    ]
    for by in dict.fromkeys(one.by for one in found):
        mine = [one for one in found if one.by == by]
        got = [one.marks for one in mine]
        lines.append(
            f"| {by} | {len(mine)} | {np.mean(got):.1f} | {min(got)} | {np.mean([m >= PASSES for m in got]):.0%} | {sum(one.left for one in mine)} |"
        )
    short = [
        f"{one.sheet}, {one.level}, number {one.number}: {one.marks}" for one in found if one.by == "the guide alone" and one.marks < 90
    ]
    return "\n".join([*lines, "", f"The guide alone under 90 marks: {'; '.join(short) or 'none'}.", ""])
