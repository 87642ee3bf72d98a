"""A machine from tables: pasted into the composer and put on by the import page, in few acts."""

import urllib.request
from collections.abc import Callable

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webdriver import WebDriver

from iron_probe.core.circuit.read_sheet import read_sheet
from tools.served import Served, waiting

FUSES, CONSUMERS = 12, 25
TABLE = "\n".join(f"F{1 + n % FUSES}, {10 if n < FUSES else ''} A, Consumer {n + 1:02d}".replace(",  A", "") for n in range(CONSUMERS))
WIRES = "From\tTo\tColour\tGauge\tLength\nConsumer 01 feed\tConsumer 02 feed\tgreen\t1,5\t0.6\nConsumer 03 feed\tConsumer 04 feed\tred\t14 AWG\t1.2\n"
MOST_ACTS = 60


@pytest.fixture(scope="module")
def driver(open_browser: Callable[[int, int], WebDriver]) -> WebDriver:
    return open_browser(1280, 800)


class Hands:
    """Clicks, keys and pastes, counted."""

    def __init__(self, driver: WebDriver) -> None:
        self.driver, self.acts = driver, 0

    def click(self, found: str) -> None:
        self.driver.find_element(By.XPATH, found).click()
        self.acts += 1

    def paste(self, name: str, text: str) -> None:
        field = self.driver.find_element(By.NAME, name)
        self.driver.execute_script("arguments[0].value = arguments[1]", field, text)
        field.send_keys(Keys.END)
        self.driver.execute_script("arguments[0].dispatchEvent(new Event('change', {bubbles: true}))", field)
        self.acts += 2

    def until(self, so: Callable[[WebDriver], object]) -> None:
        waiting(self.driver).until(so)


def test_twelve_fuses_and_twenty_five_consumers_from_tables(served: Served, driver: WebDriver) -> None:
    hands = Hands(driver)
    driver.get(served.url + "/machines")
    hands.click("//a[contains(., 'Put a machine together')]")
    hands.click("//a[contains(@class, 'kind')]/b[normalize-space()='Van']")
    hands.paste("feeds", TABLE)
    hands.until(lambda d: "Consumer 25" in d.execute_script("return document.querySelector('.machine-plate').textContent"))
    driver.find_element(By.NAME, "name").send_keys("Van from tables")
    hands.acts += 1
    hands.click("//button[normalize-space()='Keep it']")
    hands.until(lambda d: "/machines/" in d.current_url)
    machine = driver.current_url
    hands.click("//nav[@aria-label='Machine']/a[.='Workbench']")
    hands.click("//nav[@aria-label='Machine']/a[.='Import']")
    hands.click("//label[contains(., 'wires')]")
    hands.paste("text", WIRES)
    hands.click("//button[.='Look at it']")
    hands.until(lambda d: "Consumer 01 feed to Consumer 02 feed" in d.find_element(By.TAG_NAME, "main").text)
    assert [s.get_attribute("value") for s in driver.find_elements(By.CSS_SELECTOR, ".import-table select")] == [
        "from",
        "to",
        "colour",
        "size",
        "length",
    ]
    hands.click("//button[.='Put it on the drawing']")
    hands.until(lambda d: d.find_elements(By.CSS_SELECTOR, ".feed-row"))
    driver.refresh()  # the draft outlives it
    hands.until(lambda d: "Green wire" in d.execute_script("return document.querySelector('#workbench')?.outerHTML ?? ''"))
    hands.click("//button[contains(., 'Keep as a new version')]")
    hands.until(lambda d: "version=2" in d.current_url)
    assert hands.acts <= MOST_ACTS
    with urllib.request.urlopen(machine + "/sheet.yaml") as answer:
        sheet = read_sheet(answer.read().decode())
    fed = [e for e in sheet.elements if e.title.startswith("Consumer") and e.type in ("load", "module")]
    assert len(fed) == CONSUMERS
    assert len([e for e in sheet.elements if e.type == "fuse" and e.title.startswith("Consumer")]) == FUSES
    assert sum(e.title.startswith(("Green wire", "Red wire")) for e in sheet.elements) == 2
