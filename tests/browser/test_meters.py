"""Meters on the real page: a whole practice case by streamed readings and the cabin, a meter that talks garbage, a link cut mid-stream, two learners."""

import re
import threading
from collections.abc import Callable, Iterator
from contextlib import ExitStack

import pytest
from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.ui import Select

from iron_probe.bay.in_bay import InBay
from iron_probe.core.meters.measured import Measured
from iron_probe.instruments.agent import Agent
from iron_probe.instruments.messages import Offered
from iron_probe.instruments.stand_in import MULTIMETER, Manner, StandIn, plugged_in
from tests.browser.test_guided_jobs import MOST_STEPS, Technician
from tools.served import Served, served_app

pytestmark = pytest.mark.browser
Browser = Callable[[int, int], webdriver.Chrome]


@pytest.fixture(scope="module")
def bay() -> Iterator[Served]:
    with served_app(IRON_PROBE_STAND_INS="1") as app:
        yield app


class ByMeter(Technician):
    """Hands that type nothing: figures come from the bar, words from the key beside the field."""

    def begin(self, sheet: str, number: str) -> None:
        self.open("/practice")
        Select(self.driver.find_element(By.NAME, "sheet_id")).select_by_visible_text(sheet)
        self.driver.find_element(By.NAME, "number").send_keys(number)
        self.button("Begin").click()
        self.wait(lambda d: re.search(r"/jobs/\d+", d.current_url))
        self.job = "/" + "/".join(self.driver.current_url.split("/")[3:5])

    def button(self, text: str, within: WebElement | None = None) -> WebElement:
        """One that is seen: the bar lies over the page's foot."""
        found = super().button(text, within)
        self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", found)
        return found

    def take(self, name: str, on: str) -> None:
        self.wait(lambda d: (d.get(f"{self.url}{self.job}/meters"), f"Take it, on {on}" in d.page_source)[1])
        self.driver.find_element(By.XPATH, f'//li[contains(., "{name}")]//button[contains(., "on {on}")]').click()
        self.wait(lambda d: d.find_element(By.XPATH, f'//section[@aria-label="{name}"]'))

    def meter(self, name: str) -> WebElement:
        return self.driver.find_element(By.CSS_SELECTOR, f'#meters [aria-label="{name}"]')

    def shows(self, name: str) -> str:
        return self.meter(name).find_element(By.CSS_SELECTOR, "[data-figure]").text

    def word(self, name: str) -> str:
        return self.meter(name).find_element(By.CSS_SELECTOR, "[data-word]").text

    def note(self, name: str) -> str:
        return self.meter(name).find_element(By.CSS_SELECTOR, "[data-note]").text

    def type_reading(self, bay: InBay, form: WebElement) -> None:
        figures = [f for f in form.find_elements(By.NAME, "value") if f.is_displayed()]
        if figures:
            cranking = "rank" in " ".join(s.text for s in form.find_elements(By.CSS_SELECTOR, ".toggle:has(:checked)"))
            self.wait(lambda _: self.shows("Multimeter") != "—" and (cranking or self.word("Multimeter") == "steady"))
            self.meter("Multimeter").find_element(By.CSS_SELECTOR, "[data-log]").click()
            return
        form.find_element(By.CSS_SELECTOR, "[data-read]").click()
        self.wait(lambda _: "shows" in form.find_element(By.CSS_SELECTOR, ".meter-word").text)
        keys = [k for k in form.find_elements(By.CSS_SELECTOR, "button.shown-here") if k.is_displayed()]
        (keys[0] if keys else self.button("Log", form)).click()


class Mended:
    """The app mends its practice machine itself."""

    def mend(self, elements: list[str]) -> None:
        """Nothing to do."""


def test_a_whole_case_by_streamed_readings_and_the_cabin(bay: Served, open_browser: Browser) -> None:
    hands = ByMeter(open_browser(1280, 800), bay.url)
    hands.begin("Green mower", "9")
    hands.take("Multimeter", "volts DC")
    for _ in range(MOST_STEPS):
        step, href, _ = hands.weighed()
        if step.startswith("Closed"):
            break
        hands.take_step(step, href, Mended())  # type: ignore[arg-type]
        if hands.driver.find_elements(By.XPATH, '//summary[normalize-space()="Cabin"]'):
            cabin = hands.driver.find_element(By.CSS_SELECTOR, ".cabin-panel")
            hands.driver.execute_script("arguments[0].open = true", cabin)
            hands.button("Look and listen", cabin).click()
            hands.wait(lambda d: d.find_element(By.CSS_SELECTOR, ".cabin-seen").get_attribute("data-heard"))
    else:
        pytest.fail(f"not closed after {MOST_STEPS} steps: {step}")
    hands.open(f"{hands.job}/practice")
    assert "Passed" in hands.driver.find_element(By.TAG_NAME, "main").text
    hands.open(f"{hands.job}/report")
    assert not [line for line in hands.driver.get_log("browser") if line["level"] == "SEVERE"]


def test_garbage_silence_and_a_cut_link_are_seen_at_once_and_no_old_figure_stays(bay: Served, open_browser: Browser) -> None:
    hands = ByMeter(open_browser(1280, 800), bay.url)
    hands.job = "/jobs/103"
    hands.open("/meters")
    key = re.search(r"IRON_PROBE_METER_KEY=(\S+)", hands.driver.find_element(By.TAG_NAME, "pre").text)
    assert key
    one = StandIn(MULTIMETER, lambda selected, measured: 12.34)
    with ExitStack() as plugs:
        offered = Offered(name="Bench", address=plugs.enter_context(plugged_in(one)), measures=(Measured.DC_VOLTS, Measured.OHMS))
        agent = Agent(bay.url, key[1], "cart", [offered])
        running = threading.Thread(target=agent.run, daemon=True)
        running.start()
        hands.take("Bench", "volts DC")
        hands.open("/jobs/103")
        hands.wait(lambda _: re.match(r"12\.\d\d V", hands.shows("Bench")) and hands.word("Bench") == "steady")
        for manner, told in ((Manner.GARBAGE, "no figure"), (Manner.HANGS_UP, "Nothing answers")):
            one.manner = manner
            hands.wait(lambda _, told=told: told in hands.word("Bench") and hands.shows("Bench") == "—")
            hands.meter("Bench").find_element(By.CSS_SELECTOR, "[data-log]").click()
            hands.wait(lambda _: "Nothing to log" in hands.note("Bench"))
            one.manner = Manner.WELL
            hands.wait(lambda _: re.match(r"12\.\d\d V", hands.shows("Bench")))
        hands.meter("Bench").find_element(By.CSS_SELECTOR, ".meter-rest summary").click()
        Select(hands.driver.find_element(By.NAME, "instrument")).select_by_visible_text("Ohms")
        hands.meter("Bench").find_element(By.CSS_SELECTOR, "[data-log]").click()
        hands.wait(lambda _: "the step wants ohms" in hands.note("Bench"))
        hands.button("Set it to ohms", hands.meter("Bench")).click()
        hands.wait(lambda _: "on ohms" in hands.meter("Bench").text and "Ω" in hands.shows("Bench"))
        agent.stop()
        running.join(10)
        hands.wait(lambda _: hands.shows("Bench") == "—" and "lost" in hands.word("Bench"))


def test_two_learners_on_one_case_do_not_see_each_other(bay: Served, open_browser: Browser) -> None:
    one, other = (ByMeter(open_browser(1280, 800), bay.url) for _ in range(2))
    for hands in (one, other):
        hands.begin("Training kart", "1")
        hands.take("Multimeter", "volts DC")
        hands.open(hands.job)
    assert one.job != other.job
    minus = one.driver.find_element(By.NAME, "black").get_attribute("value") or ""
    red = other.driver.find_element(By.NAME, "red")
    red.clear()
    red.send_keys(minus, "\t")
    one.wait(lambda _: re.match(r"1[0-3]\.\d\d V", one.shows("Multimeter")))
    other.wait(lambda _: re.match(r"-?0\.\d mV", other.shows("Multimeter")))
    assert re.match(r"1[0-3]\.\d\d V", one.shows("Multimeter"))
