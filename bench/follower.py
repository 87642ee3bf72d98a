"""A technician who knows nothing and does what the page says: jobs worked through the pages' own routes, the step alone as guide, figures by the rig."""

import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from urllib.parse import urljoin
from xml.etree.ElementTree import Element

import html5lib
from fastapi.testclient import TestClient

from iron_probe.bay.as_typed import asked_by, typed
from iron_probe.bay.in_bay import InBay
from iron_probe.core.bench.drain.currents import Way
from iron_probe.core.diagnose.evidence import Reading

MOST_STEPS = 40
Form = dict[str, str | list[str]]


@dataclass(frozen=True)
class Page:
    """A page as it was answered: its address and what stands in it."""

    path: str
    root: Element

    @staticmethod
    def of(path: str, text: str) -> "Page":
        return Page(path, html5lib.parse(text, treebuilder="etree", namespaceHTMLElements=False))

    def one(self, found: Callable[[Element], object]) -> Element | None:
        """The first element of the page for which that holds."""
        return next((e for e in self.root.iter() if isinstance(e.tag, str) and found(e)), None)

    @property
    def step(self) -> tuple[str, str]:
        """The step as the strip words it, and where it leads."""
        link = self.one(lambda e: e.get("data-step") is not None)
        return (words_of(link), link.get("href", "")) if link is not None else ("", "")

    @property
    def route(self) -> tuple[tuple[str, str], ...]:
        """The legs of the route and how the job stands to each."""
        strip = self.one(lambda e: e.get("class") == "route")
        return tuple((words_of(e), e.get("class", "")) for e in strip) if strip is not None else ()

    def forms(self, action: str) -> Iterator[Element]:
        """Forms that post to an address ending so."""
        return (e for e in self.root.iter("form") if e.get("action", "").split("#")[0].endswith(action))


def words_of(element: Element) -> str:
    """The text of an element, its blanks made one."""
    return " ".join("".join(element.itertext()).split())


def defaults(form: Element) -> Form:
    """What a form would send as it stands, points by the sheet's names for them."""
    sent: Form = {}
    named = {o.get("value", ""): o.get("data-id", "") for o in form.iter("option") if o.get("data-id")}

    def put(name: str, value: str) -> None:
        before = sent.get(name)
        sent[name] = value if before is None else [*([before] if isinstance(before, str) else before), value]

    for e in form.iter():
        name = e.get("name")
        if not name or e.get("disabled") is not None:
            continue
        if e.tag == "select":
            options = list(e.iter("option"))
            chosen = [o for o in options if o.get("selected") is not None] or options[:1]
            for o in chosen:
                put(name, o.get("value", ""))
        elif e.tag == "textarea":
            put(name, e.text or "")
        elif e.tag == "input" and (e.get("type") not in ("checkbox", "radio", "submit") or e.get("checked") is not None):
            value = e.get("value", "on" if e.get("type") == "checkbox" else "")
            put(name, named.get(value, value) if e.get("list") else value)
    return sent


@dataclass
class Follower:
    """A technician at the pages of one app."""

    client: TestClient
    job: str = ""
    log: list[str] = field(default_factory=list)
    """What was done, a line each, for whoever reads how a job went."""

    def get(self, href: str) -> Page:
        answer = self.client.get(urljoin(self.job or "/", href))
        assert answer.status_code == 200, (href, answer.status_code, answer.text[:300])
        return Page.of(str(answer.url.raw_path.decode()), answer.text)

    def send(self, form: Element, **said: str | list[str]) -> Page:
        """Send a form as it stands, but for what is said."""
        action = form.get("action", "")
        answer = self.client.post(action, data=defaults(form) | said)
        if answer.status_code == 422 and "data-sure" in answer.text:  # asked whether that was read: it was
            answer = self.client.post(action, data=defaults(form) | said | {"sure": "1"})
        assert answer.status_code == 200, (action, answer.status_code, words_of(Page.of(action, answer.text).root)[:1500])
        return Page.of(str(answer.url.raw_path.decode()), answer.text)

    def take_in(self, sheet: str, machine: str, symptom: str, complaint: str) -> Page:
        """Take a machine in; the job's address is kept."""
        form = next(self.get("/jobs/new").forms("/jobs"))
        page = self.send(form, sheet_id=sheet, machine=machine, symptom=symptom, complaint=complaint, machine_no="", temp_degc="20")
        self.job = "/".join(page.path.split("/")[:3])
        return page

    def ready(self) -> Page:
        """The job's page, once the engine has said its word."""
        page = self.get(self.job)
        while page.one(lambda e: e.get("id") == "suspects" and e.get("hx-get") is not None) is not None:
            time.sleep(0.3)  # whoever works it out may be this very process
            page = self.get(self.job)
        return page

    def looked_around(self, page: Page) -> list[str]:
        """What other tabs and the Yard say that this page does not."""
        apart = []
        for tab in TABS:
            other = self.get(self.job + tab)
            if (other.step, other.route) != (page.step, page.route):
                apart.append(f"{tab or 'bench'}: {other.step[0]} against {page.step[0]}")
        number = self.job.rsplit("/", 1)[1]
        yard = words_of(Page.of("/", self.client.get(f"/?search={number}").text).root)
        if page.step[0] not in yard:
            apart.append(f"yard: not {page.step[0]}")
        return apart

    def take_step(self, text: str, href: str, bay: InBay) -> bool:
        """Do what a step says on the screen it leads to; False where that cannot be done."""
        at = self.get(href)
        screen = href.split("?", maxsplit=1)[0].removeprefix(self.job)
        before = len(self.log)
        if form := next(at.forms("/repairs"), None):
            parts = defaults(form).get("elements", [])
            chosen = [e for e in ([parts] if isinstance(parts, str) else parts) if e]
            self.send(form, text="put right")
            bay.mend(chosen)
            self.log.append(f"mended {', '.join(chosen)}")
        elif screen == "/report":
            form = next(at.forms("/close"), None) or next(self.get(f"{self.job}/repair").forms("/close"))
            self.send(form, waive="1")
            self.log.append("closed")
        elif form := next((f for f in at.root.iter("form") if "probe-form" in f.get("class", "").split()), None):
            said = defaults(form)
            shown = bay.probed(str(said["where"]), Way(str(said["way"])))
            self.log.append(f"{said['way']} {said['where']}: {shown}")
            self.send(form, value=shown)
            self._total(bay)
        elif screen == "/drain":
            self._drain(at, text, bay)
        elif screen == "/fuse" and (blown := bay.first_blown()):
            form = next(f for f in at.forms("/fuse") if defaults(f).get("test") == "seen")
            self.send(form, fuse=blown[0], **{f"state {blown[1]}": "blows"})
            self.log.append(f"{blown[0]} blows in {blown[1]}")
        elif form := next((f for f in at.forms("/readings") if _at_step(f)), None):
            self.take_reading(form, bay.read)
        return len(self.log) > before

    def _drain(self, at: Page, text: str, bay: InBay) -> None:
        """Lock it as of yesterday, or read the total."""
        if text.startswith("Close up"):
            form = next(f for f in at.forms("/drain/marks") if f.find(".//*[@name='ago']") is not None)
            self.send(form, what="locked", ago="1 d")
            self.log.append("locked since yesterday")
        elif "total" in text:
            self._total(bay)

    def _total(self, bay: InBay) -> None:
        shown = f"{1000 * bay.total_a():.0f} mA"
        self.send(next(self.get(f"{self.job}/drain").forms("/drain/totals")), value=shown)
        self.log.append(f"total: {shown}")

    def take_reading(self, form: Element, read: Callable[[Reading], Reading]) -> Page:
        """Read what the form stands at, and log it."""
        taken = read(asked_by(defaults(form)))
        said = typed(taken)
        self.log.append(f"{taken.instrument.value} {taken.red or taken.branch or ''} {taken.black or ''} {taken.state}: {said}")
        return self.send(form, **said)


def _at_step(form: Element) -> bool:
    """Whether a form is a field for a reading between leads or round a part: such a one stands at the step."""
    return form.find(".//*[@name='instrument']") is not None


@dataclass
class Ended:
    """How a job went that followed the step alone: whether it was closed, the last step before, how many steps and readings, what a screen said that another did
    not, and where it stood when no step could be taken."""

    closed: bool = False
    why: str = ""
    steps: list[str] = field(default_factory=list)
    apart: list[str] = field(default_factory=list)
    stuck: str = ""


TABS = ("", "/control", "/charge", "/battery", "/drain", "/drain/sweep", "/fuse", "/repair", "/report", "/intake", "/captures")


def follow(hands: Follower, bay: InBay) -> Ended:
    """Do what the step says until the job is closed, and look at every tab after every step."""
    ended = Ended()
    for _ in range(MOST_STEPS):
        page = hands.ready()
        text, href = page.step
        ended.steps.append(text)
        ended.apart += hands.looked_around(page)
        if text.startswith("Closed"):
            ended.closed = True
            return ended
        ended.why = text
        if not hands.take_step(text, href, bay):
            ended.stuck = text
            return ended
    ended.stuck = f"not at its end after {MOST_STEPS} steps"
    return ended
