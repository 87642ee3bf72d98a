"""Three complaints on a phone by touch alone, read by the rig: the pad types, a finger taps; one with the link cut twice, one with the app killed."""

import os
import re
from collections.abc import Callable

import pytest
from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement

from bench.guide_jobs import bay_of
from iron_probe.bay.in_bay import InBay
from iron_probe.rig.spice import Spice
from tests.browser.test_guided_jobs import MOST_STEPS, Technician
from tools.served import Served, launch_browser, served_app

pytestmark = pytest.mark.browser
long = pytest.mark.skipif(
    not os.environ.get("IRON_PROBE_LONG"), reason="a long trial: IRON_PROBE_LONG=1 ./run test tests/browser/test_by_touch.py"
)
MIDDLE = """
const at = arguments[0]; at.scrollIntoView({ block: "center", inline: "center" });
const box = at.getClientRects()[0] || at.getBoundingClientRect(); return [box.left + box.width / 2, box.top + box.height / 2];
"""


class Touched(WebElement):
    """An element under a finger: tapped, and typed into on the page's own pad where it has one."""

    def click(self) -> None:
        x, y = self.parent.execute_script(MIDDLE, self)
        self.parent.execute_cdp_cmd("Input.dispatchTouchEvent", {"type": "touchStart", "touchPoints": [{"x": x, "y": y}]})
        self.parent.execute_cdp_cmd("Input.dispatchTouchEvent", {"type": "touchEnd", "touchPoints": []})

    def send_keys(self, *value: str) -> None:
        text = "".join(v for v in value if v != Keys.ENTER)
        pad = self.parent.execute_script(
            "return [...(arguments[0].form?.querySelectorAll('.pad button') ?? [])].filter(b => b.offsetParent)", self
        )
        if pad and self.get_attribute("name") == "value":
            keys = {str(b.get_attribute("data-pad")): b for b in pad}
            for part in re.findall(r"[0-9]|OL|mV|mA|kΩ|V|A|Ω|[.,]|[-−]", text):
                keys[{".": ",", "-": "−"}.get(part, part)].click()
        else:  # the phone's own keyboard
            self.click()
            self.parent.execute_cdp_cmd("Input.insertText", {"text": text})
        if Keys.ENTER in value:
            form = self.find_element(By.XPATH, "ancestor::form")
            next(
                b for b in form.find_elements(By.CSS_SELECTOR, "button.log, button[type=submit], button:not([type])") if b.is_displayed()
            ).click()


def phone_of(width: int, height: int) -> webdriver.Chrome:
    driver = launch_browser(width, height)
    driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": True})
    driver.execute_cdp_cmd("Emulation.setTouchEmulationEnabled", {"enabled": True, "maxTouchPoints": 2})
    driver._web_element_cls = Touched
    return driver


class Thumb(Technician):
    """A technician with a phone; `trouble` happens before some steps."""

    trouble: Callable[[int], None] = staticmethod(lambda step: None)

    def work(self, bay: InBay) -> str:
        """A job from intake to closed; returns the last step before."""
        self.take_in(bay, bay.symptom)
        return self.carry_on(bay)

    def carry_on(self, bay: InBay) -> str:
        last = ""
        for k in range(MOST_STEPS):
            strip = self.weighed()
            if strip[0].startswith("Closed"):
                return last
            last = strip[0]
            self.trouble(k)
            self.take_step(last, strip[1], bay)
        return last

    def evidence(self) -> list[str]:
        self.open(f"{self.job}/report?all=1")
        return [e.text for e in self.driver.find_elements(By.CSS_SELECTOR, "#evidence tbody tr td:first-child")]


@pytest.fixture(scope="module")
def spice() -> object:
    with Spice() as running:
        yield running


@long
def test_a_slow_crank_by_thumb(served: Served, spice: Spice) -> None:
    bay = bay_of("estate-car", "resistance", 500, spice)
    assert bay is not None
    driver = phone_of(390, 844)
    assert Thumb(driver, served.url).work(bay).startswith("Repaired and proven") and not bay.faults
    driver.quit()


def test_a_mower_by_thumb_with_the_link_cut_twice(served: Served, spice: Spice) -> None:
    """The reading typed while the link is down waits on the phone, and stands once in the log when it is back."""
    bay = bay_of("green-mower", "open", 501, spice)
    assert bay is not None
    driver = phone_of(360, 740)
    hands = Thumb(driver, served.url)
    hands.take_in(bay, bay.symptom)
    for figure in ("12.51", "12.52"):
        hands.open(f"{hands.job}?red={bay.sheet.plus}&black={bay.sheet.minus}&instrument=voltmeter")
        hands.wait(lambda d: not d.find_elements(By.CSS_SELECTOR, "#suspects[hx-get]"))  # what is still to come would move what is tapped
        driver.execute_script("window.before = true")  # gone once the page is loaded anew, whenever that is
        driver.set_network_conditions(offline=True, latency=0, download_throughput=-1, upload_throughput=-1)
        field = driver.find_element(By.CSS_SELECTOR, "#field input[name=value]")
        field.send_keys(figure, Keys.ENTER)
        hands.wait(lambda d: "1 not yet sent" in d.find_element(By.ID, "unsent").text)
        driver.set_network_conditions(offline=False, latency=0, download_throughput=-1, upload_throughput=-1)
        hands.wait(
            lambda d: d.execute_script("return !window.before && (localStorage.unsent || '[]')") == "[]"
        )  # sent, and the page shows it
    assert len(hands.evidence()) == 2
    last = hands.carry_on(bay)
    assert last.startswith("Repaired and proven") and not bay.faults
    assert len(set(numbers := hands.evidence())) == len(numbers)
    driver.quit()


@long
def test_a_kart_by_thumb_with_the_app_killed(spice: Spice) -> None:
    bay = bay_of("training-kart", "battery flat", 502, spice)
    assert bay is not None
    with served_app() as app:
        driver = phone_of(390, 844)
        hands = Thumb(driver, app.url)

        def killed(step: int) -> None:
            if step == 2:
                app.kill()
                app.start()

        hands.trouble = killed  # type: ignore[method-assign]
        assert hands.work(bay).startswith("Repaired and proven") and not bay.faults
        assert len(set(numbers := hands.evidence())) == len(numbers)
        driver.quit()
