"""What is printed fits the paper, A4 and Letter: nothing is cut off at the right, and no switch of the screen is on it."""

from collections.abc import Callable

import pytest
from selenium import webdriver

from tools.served import Served, waiting

pytestmark = pytest.mark.browser
MARGIN_MM, DOT_MM = 15, 25.4 / 96
PAPERS = {"A4": 210, "Letter": 215.9}
CUT = """
const wide = document.documentElement.clientWidth + 1, seen = (e) => e.getClientRects().length > 0;
return [[...document.querySelectorAll("main *")].filter(e => seen(e) && e.getBoundingClientRect().right > wide && !e.closest("svg, .photos, .plate")).map(e => e.tagName + "." + e.className),
        [...document.querySelectorAll(".strip, .zoom, [data-print]")].filter(seen).map(e => e.className)];
"""


@pytest.mark.parametrize("paper", list(PAPERS))
def test_report_drain_and_battery_fit_the_paper(served: Served, open_browser: Callable[[int, int], webdriver.Chrome], paper: str) -> None:
    driver = open_browser(round((PAPERS[paper] - 2 * MARGIN_MM) / DOT_MM), 1000)
    driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"media": "print"})
    for path in ("/jobs/101/report", "/jobs/109/report", "/jobs/109/drain", "/jobs/104/battery", "/jobs/101/repair"):
        driver.get(served.url + path)
        driver.execute_async_script("document.fonts.ready.then(arguments[0])")
        assert driver.execute_script(CUT) == [[], []], path


def test_the_readings_go_to_the_clipboard_as_a_table(served: Served, open_browser: Callable[[int, int], webdriver.Chrome]) -> None:
    driver = open_browser(1280, 800)
    driver.execute_cdp_cmd(
        "Browser.grantPermissions", {"permissions": ["clipboardReadWrite", "clipboardSanitizedWrite"], "origin": served.url}
    )
    driver.get(served.url + "/jobs/101/report")
    driver.find_element("css selector", "[data-copy-table]").click()
    waiting(driver).until(lambda d: "rows copied" in d.find_element("css selector", "[data-copy-table]").text)
    rows = driver.execute_async_script("navigator.clipboard.readText().then(arguments[0], (e) => arguments[0](String(e)))").splitlines()
    assert rows[0].split("\t")[:2] == ["No", "Where"] and len(rows) == 13
    assert rows[1].split("\t")[1] == "battery plus post to battery minus post"
