"""One field on every screen: few keys, the cursor never lost, what was typed outlives a reload, the question answered by one key."""

from collections.abc import Callable

import pytest
from selenium import webdriver
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement

from tests.browser.test_slow_crank_job import Bench
from tools.served import Served, waiting

pytestmark = pytest.mark.browser

SCREENS = {
    "bench": ("/jobs/102?red=bat.plus&black=bat.minus&state=rest&instrument=voltmeter", "#field input[name=value]"),
    "control": ("/jobs/102/control?at=start-relay:0", "#part input[name=value]"),
    "charge": ("/jobs/106/charge?place=posts&state=fast", "#place input[name=value]"),
    "drain": ("/jobs/109/drain", "[data-entry=total] input[name=value]"),
    "sweep": ("/jobs/109/drain/sweep?at=l2", ".probe-field input[name=value]"),
}
"""Screens with a field for a figure, each where it stands."""


class Hands:
    """Fingers on keys or glass, counted."""

    def __init__(self, driver: webdriver.Chrome, url: str) -> None:
        self.driver, self.url, self.count = driver, url, 0

    def wait(self, until: Callable[[webdriver.Chrome], object]) -> None:
        waiting(self.driver, Exception).until(until)

    def open(self, path: str) -> None:
        self.driver.get(self.url + path)

    def field(self, found: str) -> WebElement:
        """A field, once its page is there: a busy app says to wait, and its page comes by itself."""
        self.wait(lambda d: d.find_elements(By.CSS_SELECTOR, found))
        return self.driver.find_element(By.CSS_SELECTOR, found)

    def press(self, *keys: str) -> None:
        """Keys one after the other, each counted, wherever the cursor is."""
        for key in keys:
            ActionChains(self.driver).send_keys(key).perform()
            self.count += 1

    def type(self, digits: str) -> None:
        """Digits of the figure, which are not counted."""
        ActionChains(self.driver).send_keys(digits).perform()

    def tap(self, found: WebElement) -> None:
        found.click()
        self.count += 1

    @property
    def readings(self) -> int:
        return int(self.driver.find_element(By.CSS_SELECTOR, ".evidence li").get_attribute("value") or 0)


@pytest.fixture
def desk(served: Served, open_browser: Callable[[int, int], webdriver.Chrome]) -> Hands:
    return Hands(open_browser(1280, 900), served.url)


@pytest.fixture
def phone(served: Served, open_browser: Callable[[int, int], webdriver.Chrome]) -> Hands:
    return Hands(open_browser(390, 844), served.url)


def leads(hands: Hands) -> tuple[str, str]:
    """The points the leads stand on, by the sheet's names."""
    return Bench(hands.driver, "").leads()


def test_the_next_stretch_takes_six_keys_and_the_step_one(desk: Hands) -> None:
    desk.open("/jobs/102?red=bat.plus&black=clamp.plus&state=crank&instrument=voltmeter")
    before, stood = desk.readings, leads(desk)
    desk.press(Keys.ESCAPE, Keys.ARROW_RIGHT, "r", Keys.ARROW_RIGHT, "b")
    assert leads(desk) != stood  # where they stand after the log is the step's
    desk.type(".04")
    desk.press(Keys.ENTER)
    desk.wait(lambda d: desk.readings == before + 1)
    assert desk.count == 6
    desk.wait(lambda d: d.switch_to.active_element.get_attribute("name") == "value")
    desk.count = 0
    desk.type("0.02")
    desk.press(Keys.ENTER)
    desk.wait(lambda d: desk.readings == before + 2)
    assert desk.count == 1


def test_a_place_of_ones_own_takes_five_taps(phone: Hands) -> None:
    phone.open("/jobs/102")
    before = phone.readings
    phone.tap(phone.field('.views a[data-view="map"]'))
    for name in ("battery plus post", "isolator stud to battery"):
        phone.tap(phone.field(f'a[aria-label="{name}"] .hit'))
    phone.wait(lambda d: phone.field("#bench").get_attribute("data-view") == "field")  # both are placed
    assert leads(phone) == ("bat.plus", "isolator.in")
    phone.tap(phone.driver.find_element(By.XPATH, '//fieldset[contains(@class, "states")]//label[normalize-space()="Key off"]'))
    for digit in "320":
        phone.field(f'button[data-pad="{digit}"]').click()
    phone.field('button[data-pad="mV"][data-of="V"]').click()
    assert phone.field("#field input[name=value]").get_attribute("value") == "320 mV"
    phone.tap(phone.field("#field button.log"))
    phone.wait(lambda d: "0.32 V" in phone.field(".last-word").text)
    assert phone.readings == before + 1
    assert phone.count <= 5


def test_no_pad_where_words_are_asked_and_no_state_is_cut(phone: Hands) -> None:
    phone.open("/jobs/102?state=crank&instrument=eyes")
    assert not phone.field(".pad").is_displayed()
    assert phone.driver.find_element(By.XPATH, '//fieldset[@class="heard"]//label[normalize-space()="slow crank"]').is_displayed()
    phone.open("/jobs/102")
    assert phone.field(".pad").is_displayed()
    wide = phone.driver.execute_script(
        "return [...document.querySelectorAll('#bench *')].filter(e => e.offsetParent && e.getBoundingClientRect().right > innerWidth + 1).map(e => e.className)"
    )
    assert wide == []


def test_suspects_and_evidence_are_one_marked_tap_away(phone: Hands) -> None:
    phone.open("/jobs/102")
    for view, panel in (("suspects", ".suspects-panel"), ("evidence", ".evidence-panel"), ("field", "#field")):
        assert view == "field" or not phone.field(panel).is_displayed()
        phone.field(f'.views a[data-view="{view}"]').click()
        phone.wait(lambda d, at=panel: phone.field(at).is_displayed())


@pytest.mark.parametrize("screen", list(SCREENS))
def test_what_was_typed_outlives_a_reload_and_not_its_log(desk: Hands, screen: str) -> None:
    path, field = SCREENS[screen]
    desk.open(path)
    desk.field(field).send_keys("1.2")
    desk.driver.refresh()
    assert desk.field(field).get_attribute("value") == "1.2"
    main = desk.field("main")
    desk.field(field).send_keys("3", Keys.ENTER)
    desk.wait(lambda d: d.find_element(By.TAG_NAME, "main") != main)
    desk.wait(lambda d: d.execute_script("return document.activeElement.closest('[data-entry]')"))
    desk.open(path)
    assert desk.field(field).get_attribute("value") == ""


@pytest.mark.parametrize(
    ("screen", "typed", "asked"),
    [
        ("bench", "50", "50.00 V on a 12 V machine"),
        ("control", "50", "50.00 V on a 12 V machine"),
        ("drain", "420 A", "420 A while it sleeps"),
    ],
)
def test_the_question_is_answered_by_one_key_or_typed_over(desk: Hands, screen: str, typed: str, asked: str) -> None:
    path, field = SCREENS[screen]
    desk.open(path)
    desk.field(field).send_keys(typed, Keys.ENTER)
    desk.wait(lambda d: asked in d.find_element(By.CSS_SELECTOR, ".asks").text)
    desk.wait(lambda d: d.switch_to.active_element.get_attribute("data-sure") is not None)
    desk.type("7")
    assert desk.field(field).get_attribute("value") == "7"
    assert desk.driver.switch_to.active_element == desk.field(field)
    desk.field(field).clear()
    desk.field(field).send_keys(typed, Keys.ENTER)
    desk.wait(lambda d: d.switch_to.active_element.get_attribute("data-sure") is not None)
    desk.press(Keys.ENTER)
    desk.wait(lambda d: not d.find_elements(By.CSS_SELECTOR, ".asks"))


def test_a_refusal_keeps_the_page_where_it_was_and_the_cursor_in_the_field(desk: Hands) -> None:
    path, field = SCREENS["control"]
    desk.open(path)
    desk.field(field).send_keys("lots", Keys.ENTER)
    desk.wait(lambda d: "is not a voltage" in d.find_element(By.CSS_SELECTOR, "#part .wrong").text)
    desk.wait(lambda d: d.switch_to.active_element == d.find_element(By.CSS_SELECTOR, field))
    assert desk.field(field).get_attribute("value") == "lots"
    assert desk.driver.current_url.endswith(path)
