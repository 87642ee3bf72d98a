"""Own machines in a few answers, on the real page: from Intake to a sheet the Bench works on."""

from collections.abc import Callable

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webdriver import WebDriver

from tools.served import Served, waiting

ANSWERS = {
    "Car": (
        "diesel, four cylinders",
        "at the other end",
        "long cable to a stud",
        "clutch",
        "alternator, woken by its lamp",
        "glow plugs by a relay",
    ),
    "Motorcycle": ("petrol, one cylinder", "under the seat or step", "three-phase stator, series regulator"),
    "Ride-on mower": ("none, one fuse in the line", "key, to a solenoid on the frame", "safety lever locked"),
    "Boat with two batteries": ("a diode splitter", "in plus", "lanyard", "alternator, one wire"),
    "Truck": ("key, by the engine module", "in plus", "intake heater by a button"),
    "Forklift": ("diesel, three cylinders or fewer", "24 V", "in minus"),
    "Vintage vehicle": ("6 V", "dynamo", "foot switch"),
    "Hybrid, 12 V side": ("two side by side", "one box"),
    "Personal watercraft": ("single-phase stator",),
    "Excavator": ("one box", "alternator, lamp and ignition terminals"),
    "Generator set": ("key, by a start relay", "neutral or park"),
    "Kart": ("kill switch", "two, each with its own link"),
}
MOST_ANSWERS = 14


@pytest.fixture(scope="module")
def driver(open_browser: Callable[[int, int], WebDriver]) -> WebDriver:
    return open_browser(1280, 800)


def seen(driver: WebDriver, found: str, what: str = "textContent") -> str:
    """What a part of the page holds, read in one go: the page may be drawn anew between two looks."""
    return str(driver.execute_script("return document.querySelector(arguments[0])?.[arguments[1]] ?? ''", found, what))


def answer(driver: WebDriver, title: str) -> None:
    before = driver.find_element(By.CSS_SELECTOR, ".compose form")
    chip = driver.find_element(By.XPATH, f"//label[contains(@class, 'chip')]/span[normalize-space()='{title}']")
    driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", chip)
    chip.click()
    waiting(driver).until(
        lambda d: d.find_element(By.CSS_SELECTOR, ".compose form") != before and not d.find_elements(By.CSS_SELECTOR, ".htmx-request")
    )


@pytest.mark.parametrize("kind", list(ANSWERS))
def test_from_intake_to_a_sheet_in_a_few_answers(served: Served, driver: WebDriver, kind: str) -> None:
    driver.get(served.url + "/jobs/new")
    driver.find_element(By.LINK_TEXT, "Put it together from a few answers").click()
    driver.find_element(By.XPATH, f"//a[contains(@class, 'kind')]/b[normalize-space()='{kind}']").click()
    for title in ANSWERS[kind]:
        answer(driver, title)
    assert not driver.find_elements(By.CSS_SELECTOR, ".compose .wrong")
    driver.refresh()  # the address tells what was answered
    for title in ANSWERS[kind]:
        chip = driver.find_element(By.XPATH, f"//label[contains(@class, 'chip')][span[normalize-space()='{title}']]/input")
        assert chip.get_attribute("checked")
    driver.find_element(By.NAME, "name").send_keys("Own " + kind[:20])
    driver.find_element(By.XPATH, "//button[normalize-space()='Keep it and take it in']").click()
    waiting(driver).until(lambda d: "/jobs/new?machine=" in d.current_url)
    assert "Own " + kind[:20] in driver.find_element(By.CSS_SELECTOR, "select[name=machine_no] option:checked").text
    assert 2 + len(ANSWERS[kind]) <= MOST_ANSWERS


def test_a_pasted_table_is_drawn_and_what_is_wrong_in_it_is_told_beside_it(served: Served, driver: WebDriver) -> None:
    driver.get(served.url + "/compose?kind=van")
    table = driver.find_element(By.CSS_SELECTOR, "#ask-feeds textarea")
    table.click()
    ActionChains(driver).key_down(Keys.CONTROL).send_keys("a").key_up(Keys.CONTROL).send_keys(
        "F1, 15 A, Horn, switch\nF2, =A1, Lamp\n"
    ).perform()
    driver.find_element(By.NAME, "name").click()
    waiting(driver).until(lambda d: "cannot be taken" in seen(d, ".compose-keep .agrees"))
    told = seen(driver, "#ask-feeds .wrong")
    assert "line 2" in told and "formula" in told
    assert seen(driver, "#ask-feeds textarea", "value").startswith("F1, 15 A, Horn, switch\nF2, =A1, Lamp")
    assert "Horn fuse output" in seen(driver, ".machine-plate")


def test_what_is_typed_while_it_is_drawn_anew_stays(served: Served, driver: WebDriver) -> None:
    driver.get(served.url + "/compose?kind=van")
    driver.execute_script(
        "htmx.trigger('#compose', 'change');"
        "const field = document.getElementById('feeds'); field.focus(); field.value = 'F9, 5 A, Lamp'; field.setSelectionRange(3, 3);"
        "window.before = document.getElementById('compose')"
    )
    waiting(driver).until(lambda d: d.execute_script("return document.getElementById('compose') !== window.before"))
    waiting(driver).until(lambda d: seen(d, "#feeds", "value") == "F9, 5 A, Lamp")
    assert driver.execute_script("return document.activeElement.id") == "feeds" and seen(driver, "#feeds", "selectionStart") == "3"
