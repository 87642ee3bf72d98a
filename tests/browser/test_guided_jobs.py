"""A job per complaint on the real page, from intake to closed, by somebody who does what the step says and nothing else; read by the rig."""

import re
from collections.abc import Callable
from urllib.parse import parse_qs, urlsplit

import pytest
from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.ui import Select

from bench.follower import TABS, Page, asked_by, defaults, typed
from bench.guide_jobs import bay_of
from bench.report_truth import untrue
from iron_probe.bay.case import DRAIN, FUSE, SOUND
from iron_probe.bay.in_bay import InBay
from iron_probe.core.bench.drain.currents import Way
from iron_probe.rig.spice import Spice
from iron_probe.web.words import COMPLAINT
from tools.served import Served, waiting

pytestmark = pytest.mark.browser
MOST_STEPS, THIRDS = 32, 3
STRIP = """const words = e => e ? e.textContent.trim().replace(/\\s+/g, " ") : "";
const strip = d => { const step = d.querySelector("[data-step]");
  return [words(step), step ? step.getAttribute("href") : "", [...d.querySelectorAll(".route li")].map(e => e.className + ": " + words(e)), words(d.querySelector("main"))]; };
"""
"""What a page says in its strip: the step, where it leads, the route; and the words of the page."""
HERE = STRIP + "return strip(document)"
OTHERS = (
    STRIP
    + """const done = arguments[arguments.length - 1], read = t => strip(new DOMParser().parseFromString(t, "text/html"));
const had = a => fetch(a).then(r => r.status === 503 ? had(a) : r.text());
Promise.all(arguments[0].map(a => had(a).then(read))).then(done)"""
)
"""The strips of other pages; one that says to wait is asked for again, as a browser does."""


class Technician:
    """Hands on the real page: the strip's step, the tabs, the fields by their labels."""

    def __init__(self, driver: webdriver.Chrome, url: str) -> None:
        self.driver, self.url, self.job = driver, url, ""
        self.parts_at_once, self.steps = False, 0

    def wait(self, until: Callable[[webdriver.Chrome], object]) -> None:
        waiting(self.driver, Exception).until(until)

    def page(self) -> Page:
        """The page as it stands, with its forms."""
        return Page.of(self.driver.current_url, self.driver.page_source)

    def strip(self) -> tuple[str, str, list[str]]:
        """Step, where it leads, and route, as the strip of the page says them."""
        step, href, route, _ = self.driver.execute_script(HERE)
        return str(step), str(href), list(route)

    def open(self, path: str) -> None:
        self.driver.get(path if path.startswith("http") else self.url + path)

    def button(self, text: str, within: WebElement | None = None) -> WebElement:
        found = (within or self.driver).find_elements(By.XPATH, f'.//button[contains(normalize-space(.), "{text}")]')
        return next(b for b in found if b.is_displayed())

    def take_in(self, bay: InBay, symptom: str) -> None:
        self.open("/jobs/new")
        title = bay.sheet.title
        self.driver.find_element(By.XPATH, f'//label[contains(@class, "pick")][.//b[normalize-space()="{title}"]]').click()
        self.driver.find_element(By.XPATH, '//label[contains(., "Name or number")]/input').send_keys(f"Guided {bay.sheet.id}")
        self.driver.find_element(By.XPATH, '//label[contains(., "Complaint")]/textarea').send_keys("As its owner says.")
        if symptom:
            self.driver.find_element(By.XPATH, f'//label[contains(@class, "chip")][normalize-space()="{COMPLAINT[symptom]}"]').click()
        self.button("Take in").click()
        self.wait(lambda d: re.search(r"/jobs/\d+", d.current_url))
        self.job = "/" + "/".join(urlsplit(self.driver.current_url).path.split("/")[1:3])

    def weighed(self) -> tuple[str, str, list[str]]:
        """The strip of the Bench, once the engine has said its word."""
        self.open(self.job)
        self.wait(lambda d: not d.find_elements(By.CSS_SELECTOR, "#suspects[hx-get]"))
        return self.strip()

    def all_agree(self, strip: tuple[str, str, list[str]]) -> None:
        """Tabs and the Yard say the same step and route: a third of the tabs at each step, another third at the next."""
        number, tabs = self.job.rsplit("/", 1)[1], TABS[self.steps % THIRDS :: THIRDS]
        self.steps += 1
        *others, yard = self.driver.execute_async_script(OTHERS, [*(self.job + tab for tab in tabs), f"/?search={number}"])
        for tab, (step, href, route, _) in zip(tabs, others, strict=True):
            assert (step, href, route) == strip, tab
        assert strip[0] in yard[3]

    def type_reading(self, bay: InBay, form: WebElement) -> None:
        """Read what the field stands at, type it, log it."""
        found = next(f for f in self.page().root.iter("form") if f.find(".//*[@name='instrument']") is not None)
        said = typed(bay.read(asked_by(defaults(found))))
        if word := said.get("word"):
            chips = form.find_elements(By.CSS_SELECTOR, f'input[name=word][value="{word}"] + span')
            if chips:
                next(c for c in chips if c.is_displayed()).click()
            else:
                form.find_element(By.CSS_SELECTOR, f'button[name=word][value="{word}"]').click()
                return
        if did := said.get("heard"):
            form.find_element(By.CSS_SELECTOR, "details.more:not([open]) > summary, details.more[open] > summary")
            if not form.find_element(By.NAME, "heard").is_displayed():
                form.find_element(By.CSS_SELECTOR, "details.more > summary").click()
            Select(form.find_element(By.NAME, "heard")).select_by_value(did)
        if value := said.get("value"):
            field = next(f for f in form.find_elements(By.NAME, "value") if f.is_displayed())
            field.clear()
            field.send_keys(value, Keys.ENTER)
        else:
            self.button("Log", form).click()

    def take_step(self, text: str, href: str, bay: InBay) -> None:
        """Follow the step's link, and do it there."""
        self.open(href)
        screen = href.split("?", maxsplit=1)[0].removeprefix(self.job)
        before = self.driver.find_element(By.TAG_NAME, "main")
        if screen == "/repair":
            chosen = [e.get_attribute("value") for e in self.driver.find_elements(By.CSS_SELECTOR, "input[name=elements]:checked")]
            self.driver.find_element(By.XPATH, '//label[contains(., "What was done")]/textarea').send_keys("put right")
            self.button("Record repair").click()
            bay.mend([str(e) for e in chosen])
            self.parts_at_once |= len(chosen) > 1
        elif screen == "/report":
            while undone := self.driver.find_elements(By.CSS_SELECTOR, ".todo[aria-pressed=false]"):
                undone[0].click()
                self.wait(lambda d, old=undone[0]: old not in d.find_elements(By.CSS_SELECTOR, ".todo"))
                self.open(href)
            self.button("Close the job").click()
            self.wait(lambda d: "/report" in d.current_url and "Close the job" not in d.page_source)
            return
        elif forms := self.driver.find_elements(By.CSS_SELECTOR, "form.probe-form"):
            said = defaults(next(f for f in self.page().root.iter("form") if "probe-form" in f.get("class", "").split()))
            forms[0].find_element(By.NAME, "value").send_keys(bay.probed(str(said["where"]), Way(str(said["way"]))), Keys.ENTER)
            self.wait(lambda d: d.find_element(By.TAG_NAME, "main") != before)
            self.total(bay)
            return
        elif text.startswith("Close up"):
            self.driver.find_element(By.NAME, "ago").send_keys("1 d")
            self.button("Locked now").click()
        elif screen == "/drain":
            self.total(bay)
            return
        elif screen == "/fuse":
            fuse, state = bay.first_blown() or ("", "")
            self.open(f"{self.job}/fuse?fuse={fuse}")
            before = self.driver.find_element(By.TAG_NAME, "main")
            box = self.driver.find_element(By.CSS_SELECTOR, f'input[name="state {state}"][value=blows] + span')
            box.click()
            self.button("Keep", box.find_element(By.XPATH, "ancestor::form")).click()
        else:
            form = self.driver.find_element(By.CSS_SELECTOR, "form#field, #place form.reading-entry")
            self.type_reading(bay, form)
            if form_id := screen == "":
                self.wait(lambda d, old=form, on=form_id: on and old != d.find_element(By.ID, "field"))
                self.leads_stand_where_the_step_says()
                return
        self.wait(lambda d: d.find_element(By.TAG_NAME, "main") != before)

    def total(self, bay: InBay) -> None:
        self.open(f"{self.job}/drain")
        before = self.driver.find_element(By.TAG_NAME, "main")
        self.driver.find_element(By.CSS_SELECTOR, "[data-entry=total] input[name=value]").send_keys(
            f"{1000 * bay.total_a():.0f} mA", Keys.ENTER
        )
        self.wait(lambda d: d.find_element(By.TAG_NAME, "main") != before)

    def leads_stand_where_the_step_says(self) -> None:
        """After Log the field stands at the step of the same answer, where that is a reading for the Bench."""
        asked = {k: v[0] for k, v in parse_qs(urlsplit(self.strip()[1]).query).items()}
        stands = defaults(next(f for f in self.page().root.iter("form") if f.get("id") == "field"))
        on = {"voltmeter": ("red", "black"), "clamp": ("branch",)}.get(asked.get("instrument", ""), ())
        assert all(stands[k] == asked[k] for k in ("state", "instrument", *on) if k in asked), (asked, stands)


@pytest.fixture(scope="module")
def spice() -> object:
    with Spice() as running:
        yield running


CASES = {
    "slow crank": ("crew-minibus", "resistance", "Repaired and proven"),
    "no click": ("pool-car", "open", "Repaired and proven"),
    "no charge on a stator": ("green-mower", "stator", "Repaired and proven"),
    "lamp-woken": ("estate-car", "charging", "Repaired and proven"),
    "bus": ("parcel-van", "bus", "Repaired and proven"),
    "drain": ("pool-car", DRAIN, "Repaired and proven"),
    "fuse": ("verge-tractor", FUSE, "Repaired and proven"),
    "battery only": ("training-kart", "battery flat", "Repaired and proven"),
    "no fault": ("estate-car", SOUND, "No fault in what was tested"),
}


@pytest.mark.parametrize("complaint", list(CASES))
def test_the_step_alone_leads_to_the_right_end(
    complaint: str, served: Served, open_browser: Callable[[int, int], webdriver.Chrome], spice: Spice
) -> None:
    sheet_id, kind, ending = CASES[complaint]
    bay = bay_of(sheet_id, kind, 400 + list(CASES).index(complaint), spice)
    assert bay is not None
    hidden = list(bay.faults)
    hands = Technician(open_browser(1280, 800), served.url)
    hands.take_in(bay, kind if kind in (DRAIN, FUSE) else bay.symptom)
    last = ""
    for _ in range(MOST_STEPS):
        strip = hands.weighed()
        hands.all_agree(strip)
        if strip[0].startswith("Closed"):
            break
        last = strip[0]
        hands.take_step(last, strip[1], bay)
    assert last.startswith(ending) and not bay.faults and not bay.innocent
    hands.open(f"{hands.job}/report")
    main = hands.page().one(lambda e: e.tag == "main")
    assert main is not None and untrue(main, bay.sheet, hidden, hands.parts_at_once) == []
    report = " ".join(hands.driver.find_element(By.TAG_NAME, "main").text.split())
    for fault in hidden:
        assert bay.sheet.element(fault.element).title.lower() in report.lower()
    assert "Not proven" not in report and "stays open" not in report and "still to be made" not in report
    assert ("Nothing wrong in what was tested" in report) is not bool(hidden)
