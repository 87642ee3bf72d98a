"""The workbench on the real page: a plug put in, an accessory in four acts, undo, a reload, a wrong word, two people at once."""

from collections.abc import Callable

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webdriver import WebDriver
from selenium.webdriver.remote.webelement import WebElement

from tools.served import Served, waiting


@pytest.fixture(scope="module")
def driver(open_browser: Callable[[int, int], WebDriver]) -> WebDriver:
    return open_browser(1280, 800)


@pytest.fixture
def bench(served: Served, driver: WebDriver, request: pytest.FixtureRequest) -> str:
    """The workbench of a machine made for the test."""
    driver.get(served.url + "/compose?kind=mower")
    driver.find_element(By.NAME, "name").send_keys(f"Mower of {request.node.name}"[:60])
    driver.find_element(By.XPATH, "//button[normalize-space()='Keep it']").click()
    waiting(driver).until(lambda d: "/machines/" in d.current_url)
    url = driver.current_url + "/workbench"
    driver.get(url)
    return url


def field(driver: WebDriver, part: str, name: str) -> WebElement:
    return driver.find_element(By.CSS_SELECTOR, f"[data-part='{part}'] [data-field='{name}']")


def until_parts(driver: WebDriver, count: int) -> None:
    waiting(driver).until(lambda d: d.execute_script("return document.querySelectorAll('.feed-row').length") == count)


def plate(driver: WebDriver) -> str:
    return str(driver.execute_script("return document.querySelector('.machine-plate').textContent"))


def test_a_plug_by_keys_undone_redone_and_kept(driver: WebDriver, bench: str) -> None:
    parts = len(driver.find_elements(By.CSS_SELECTOR, ".feed-row"))
    field(driver, "crank-wire", "title").click()
    driver.switch_to.active_element.send_keys(Keys.ALT, "p")
    until_parts(driver, parts + 1)
    assert (
        "Joint at Crank wire" in plate(driver)
        and field(driver, "crank-wire", "to").get_attribute("value") == "joint at Crank wire, near side"
    )
    driver.find_element(By.CSS_SELECTOR, "[data-undo]").click()
    until_parts(driver, parts)
    driver.find_element(By.CSS_SELECTOR, "[data-redo]").click()
    until_parts(driver, parts + 1)
    driver.refresh()  # the draft outlives it
    until_parts(driver, parts + 1)
    driver.find_element(By.NAME, "note").send_keys("plug seen under the seat")
    driver.find_element(By.CSS_SELECTOR, "[data-keep]").click()
    waiting(driver).until(lambda d: "version=2" in d.current_url)
    assert "plug seen under the seat" in driver.find_element(By.CSS_SELECTOR, "main").text


def test_an_accessory_is_tapped_in_with_four_acts(driver: WebDriver, bench: str) -> None:
    parts = len(driver.find_elements(By.CSS_SELECTOR, ".feed-row"))
    driver.find_element(By.NAME, "at").send_keys("solenoid battery stud")  # act 1
    driver.find_element(By.NAME, "what").send_keys("Tracker, 5 A, 6 mA", Keys.ENTER)  # acts 2 and 3
    until_parts(driver, parts + 3)
    driver.find_element(By.CSS_SELECTOR, "[data-keep]").click()  # act 4
    waiting(driver).until(lambda d: "version=2" in d.current_url)
    assert "Tracker" in driver.find_element(By.CSS_SELECTOR, ".machine-plate").text


def test_what_is_wrong_stands_beside_its_part_and_nothing_typed_is_lost(driver: WebDriver, bench: str) -> None:
    size = field(driver, "main-cable", "mm2")
    size.send_keys(Keys.CONTROL, "a")
    size.send_keys("thick", Keys.TAB)
    told = waiting(driver).until(lambda d: d.find_element(By.CSS_SELECTOR, ".workbench > form > .wrong"))
    assert "mm2 is a number" in told.text
    end = field(driver, "crank-wire", "to")
    end.send_keys(Keys.CONTROL, "a")
    end.send_keys("main.lug", Keys.TAB)
    waiting(driver).until(lambda d: "dangling" in d.find_element(By.CSS_SELECTOR, "#workbench").text)
    assert "first mend what is wrong" in plate(driver)
    driver.find_element(By.CSS_SELECTOR, "[data-keep]").click()
    waiting(driver).until(lambda d: "Not kept" in d.find_element(By.CSS_SELECTOR, "#workbench").text)
    assert field(driver, "crank-wire", "to").get_attribute("value") == "main cable lug"


def test_of_two_people_neither_loses(driver: WebDriver, bench: str) -> None:
    first = driver.current_window_handle
    parts = len(driver.find_elements(By.CSS_SELECTOR, ".feed-row"))
    driver.switch_to.new_window("tab")
    driver.get(bench)
    field(driver, "frame-bolt", "title").click()
    driver.switch_to.active_element.send_keys(Keys.ALT, "p")
    until_parts(driver, parts + 1)
    driver.find_element(By.CSS_SELECTOR, "[data-keep]").click()
    waiting(driver).until(lambda d: "version=2" in d.current_url)
    driver.close()
    driver.switch_to.window(first)
    field(driver, "crank-wire", "title").click()
    driver.switch_to.active_element.send_keys(Keys.ALT, "s")
    until_parts(driver, parts + 1)
    driver.find_element(By.CSS_SELECTOR, "[data-keep]").click()
    waiting(driver).until(lambda d: "Version 2 was kept meanwhile" in d.find_element(By.CSS_SELECTOR, "#workbench").text)
    assert driver.find_elements(By.CSS_SELECTOR, "[data-part='crank-wire-far']")
