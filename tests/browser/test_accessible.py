"""No serious finding by axe-core on any main page.

source: axe-core 4.14.1, rules at impact serious and critical.
"""

from collections.abc import Callable

import pytest
from selenium import webdriver
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from tools.served import ROOT, Served

pytestmark = pytest.mark.browser
AXE = ROOT / "node_modules/axe-core/axe.min.js"


@pytest.mark.parametrize(
    "path",
    [
        "/",
        "/jobs/new",
        "/jobs/102",
        "/jobs/101/repair",
        "/jobs/101/report",
        "/jobs/102/suspects/isolator",
        "/jobs/105/control",
        "/jobs/106/charge",
        "/jobs/109/drain",
        "/jobs/109/drain/sweep?at=l2&edit=1",
        "/jobs/111/fuse",
        "/jobs/104/battery",
        "/machines/2",
        "/machines/2/workbench",
        "/machines/2/import",
        "/compose?kind=van",
    ],
)
def test_no_serious_finding_by_day_in_the_dark_and_with_gloves(
    served: Served, open_browser: Callable[[int, int], webdriver.Chrome], path: str
) -> None:
    driver = open_browser(1280, 800)
    driver.get(served.url + path)
    for held in ({}, {"theme": "dark", "glove": "on"}):
        for name, value in held.items():
            driver.execute_script("localStorage.setItem(arguments[0], arguments[1])", f"hand {name}", value)
        driver.refresh()
        driver.execute_script(AXE.read_text())
        found = driver.execute_async_script("axe.run().then(arguments[0])")
        serious = [(v["id"], v["nodes"][0]["html"][:160]) for v in found["violations"] if v["impact"] in ("serious", "critical")]
        assert serious == [], held


def test_no_page_of_a_machine_is_wider_than_a_phone(served: Served, open_browser: Callable[[int, int], webdriver.Chrome]) -> None:
    driver = open_browser(390, 844)
    for path in ("/machines", "/machines/2", "/machines/2/workbench", "/machines/2/import", "/compose", "/compose?kind=van"):
        driver.get(served.url + path)
        assert driver.execute_script("return document.documentElement.scrollWidth") <= 390, path


def test_the_field_is_two_stops_of_the_tab_key_away(served: Served, open_browser: Callable[[int, int], webdriver.Chrome]) -> None:
    driver = open_browser(1280, 800)
    for path in (
        "/jobs/102?red=bat.plus&black=bat.minus&state=rest&instrument=voltmeter",
        "/jobs/105/control",
        "/jobs/106/charge",
        "/jobs/109/drain",
    ):
        driver.get(served.url + path)
        driver.execute_script("document.activeElement.blur(); document.getSelection().setPosition(document.body, 0)")
        ActionChains(driver).send_keys(Keys.TAB).perform()
        assert driver.switch_to.active_element.text == "To the work"
        ActionChains(driver).send_keys(Keys.ENTER).perform()
        assert driver.switch_to.active_element.get_attribute("name") in ("value", "word", "state"), path
