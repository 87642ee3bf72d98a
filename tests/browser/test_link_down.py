"""With the link down nothing is lost or doubled: what is logged is kept on the device, shown as not yet sent, and sent in order with its true time."""

import json
from collections.abc import Callable
from datetime import datetime, timedelta
from pathlib import Path

import pytest
from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.work.test_photos import photo
from tools.served import Served, waiting

pytestmark = pytest.mark.browser
KEPT = "caches.open('iron-probe-1').then(c => c.keys()).then(k => arguments[0](k.map(r => new URL(r.url).pathname)))"


class Phone:
    """A phone at a job, whose link can be cut."""

    def __init__(self, driver: webdriver.Chrome, url: str) -> None:
        self.driver, self.url = driver, url

    def wait(self, until: Callable[[webdriver.Chrome], object]) -> None:
        waiting(self.driver, Exception).until(until)

    def open(self, path: str) -> None:
        self.driver.get(self.url + path)

    def opened(self, *paths: str) -> None:
        """Open the first page, and wait until the device has kept it and the others."""
        self.open(paths[0])
        wanted = {p.split("?")[0] for p in paths}
        self.wait(lambda d: wanted <= set(d.execute_async_script(KEPT)))

    def cut(self, down: bool) -> None:
        self.driver.set_network_conditions(offline=down, latency=0, download_throughput=-1, upload_throughput=-1)

    def log(self, field: str, value: str) -> None:
        box = self.driver.find_element(By.CSS_SELECTOR, field)
        box.send_keys(value, Keys.ENTER)

    @property
    def unsent(self) -> str:
        return self.driver.find_element(By.CSS_SELECTOR, "#unsent").text

    def all_sent(self) -> None:
        self.wait(lambda d: d.execute_script("return localStorage.unsent || '[]'") == "[]")
        self.wait(lambda d: not d.find_element(By.ID, "unsent").is_displayed())

    def readings(self, number: int) -> list[str]:
        """What the report lists as evidence, by number."""
        self.open(f"/jobs/{number}/report?all=1")
        rows = self.driver.find_elements(By.CSS_SELECTOR, "#evidence tbody tr")
        return [" ".join((r.get_attribute("textContent") or "").split()) for r in rows]


def choose(phone: "Phone", lead: str, title: str) -> None:
    field = phone.driver.find_element(By.CSS_SELECTOR, f"#field [name={lead}]")
    field.clear()
    field.send_keys(title, Keys.TAB)


@pytest.fixture
def phone(served: Served, open_browser: Callable[[int, int], webdriver.Chrome]) -> Phone:
    return Phone(open_browser(390, 844), served.url)


BENCH = "/jobs/102?red=bat.plus&black=bat.minus&state=rest&instrument=voltmeter"


def test_a_link_cut_twice_loses_and_doubles_nothing(phone: Phone) -> None:
    before = len(phone.readings(102))
    phone.opened(BENCH, "/jobs/102/control")
    phone.cut(True)
    phone.log("#field input[name=value]", "12.41")
    phone.wait(lambda d: "1 not yet sent" in phone.unsent)
    assert phone.driver.find_element(By.CSS_SELECTOR, "#field input[name=value]").get_attribute("value") == ""
    phone.open("/jobs/102/control?at=start-relay:0")  # a page of the job that was never opened before
    phone.log("#part input[name=value]", "12.31")
    phone.wait(lambda d: "2 not yet sent" in phone.unsent)
    phone.driver.refresh()
    phone.wait(lambda d: "2 not yet sent" in phone.unsent)
    phone.cut(False)
    phone.all_sent()
    phone.opened(BENCH)
    phone.cut(True)
    phone.log("#field input[name=value]", "12.21")
    phone.wait(lambda d: "1 not yet sent" in phone.unsent)
    phone.cut(False)
    phone.all_sent()
    added = phone.readings(102)[before:]
    assert [next(v for v in ("12.41", "12.31", "12.21") if v in row) for row in added] == ["12.41", "12.31", "12.21"]


def test_what_a_page_asks_for_by_itself_is_asked_for_again_and_is_no_entry(phone: Phone) -> None:
    phone.open(BENCH)
    phone.cut(True)
    part = '<div id="late" hx-get="/jobs/102/suspects/battery" hx-trigger="load, again"></div>'
    phone.driver.execute_script(
        "document.querySelector('main').innerHTML += arguments[0]; htmx.process(document.getElementById('late'))", part
    )
    phone.wait(lambda d: d.find_element(By.ID, "offline").is_displayed())
    assert not phone.unsent
    phone.cut(False)
    phone.wait(lambda d: d.find_element(By.ID, "late").get_attribute("textContent"))
    phone.wait(lambda d: not d.find_element(By.ID, "offline").is_displayed())


def test_what_the_app_refuses_is_told_and_kept_to_mend(phone: Phone) -> None:
    phone.opened(BENCH)
    phone.cut(True)
    phone.log("#field input[name=value]", "lots")
    phone.wait(lambda d: "1 not yet sent" in phone.unsent)
    phone.cut(False)
    phone.wait(lambda d: "1 refused" in phone.unsent)
    phone.driver.find_element(By.CSS_SELECTOR, "#unsent summary").click()
    assert "“lots” is not a voltage" in phone.unsent
    phone.driver.find_element(By.XPATH, '//details[@id="unsent"]//button[.="Drop it"]').click()
    phone.all_sent()


def test_a_plain_form_is_kept_too_and_sent_with_its_true_time(phone: Phone) -> None:
    phone.opened("/jobs/109/drain")
    phone.cut(True)
    phone.log("[data-entry=total] input[name=value]", "427")
    phone.wait(lambda d: "1 not yet sent" in phone.unsent)
    phone.driver.find_element(By.XPATH, '//button[.="Door opened"]').click()
    phone.wait(lambda d: "2 not yet sent" in phone.unsent)
    kept = json.loads(phone.driver.execute_script("return localStorage.unsent"))
    for entry in kept:
        entry["at"] -= 45 * 60 * 1000  # as if they had lain so long
    opened = datetime.fromtimestamp(kept[1]["at"] / 1000)
    phone.driver.execute_script("localStorage.unsent = arguments[0]", json.dumps(kept))
    phone.cut(False)
    phone.all_sent()
    phone.open("/jobs/109/drain")
    at = [f"{opened + timedelta(minutes=k):%H:%M} door opened" for k in (-1, 0, 1)]  # said in whole minutes
    phone.wait(lambda d: any(said in d.find_element(By.CSS_SELECTOR, ".charge-main").text for said in at))


def test_an_app_that_was_killed_gets_what_was_logged_meanwhile(phone: Phone, served: Served) -> None:
    before = len(phone.readings(102))
    phone.opened(BENCH)
    served.kill()
    phone.log("#field input[name=value]", "11.91")
    phone.wait(lambda d: "1 not yet sent" in phone.unsent)
    served.start()
    phone.all_sent()
    added = phone.readings(102)[before:]
    assert len(added) == 1 and "11.91" in added[0]


def test_without_a_link_the_good_figure_of_any_two_points_is_still_said_and_nothing_judged(phone: Phone) -> None:
    phone.opened(BENCH, "/jobs/102/good")
    phone.cut(True)
    choose(phone, "black", "starter B stud")
    phone.wait(lambda d: "no link, so without its band" in d.find_element(By.ID, "probe").text)
    said = phone.driver.find_element(By.CSS_SELECTOR, "#probe b").text
    assert said.endswith(" V") and 0 <= float(said[:-2]) < 0.1  # at rest next to nothing is lost on the way
    assert "nothing is judged meanwhile" in phone.driver.find_element(By.ID, "offline").text
    phone.cut(False)
    choose(phone, "black", "battery minus post")
    phone.wait(lambda d: "12.35" in d.find_element(By.ID, "probe").text)


def test_a_photo_waits_on_the_device_and_is_sent_once(phone: Phone, tmp_path: Path) -> None:
    shot = tmp_path / "shot.jpg"
    shot.write_bytes(photo(size=(2400, 1800)))
    phone.opened("/jobs/102/repair")
    phone.cut(True)
    phone.driver.find_element(By.CSS_SELECTOR, "[data-photo] [type=file]").send_keys(str(shot))
    phone.driver.find_element(By.CSS_SELECTOR, "[data-photo] [name=caption]").send_keys("stud, burnt")
    phone.driver.execute_script("document.querySelector('[data-photo]').requestSubmit()")
    phone.wait(lambda d: "photo stud, burnt" in d.execute_script("return document.getElementById('unsent').textContent"))
    phone.cut(False)
    phone.all_sent()
    phone.open("/jobs/102/repair")
    assert len(phone.driver.find_elements(By.CSS_SELECTOR, "#photos img")) == 1
    assert phone.driver.execute_script("return document.querySelector('#photos img').naturalWidth") == 1600
