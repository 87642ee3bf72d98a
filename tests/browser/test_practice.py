"""A practice case in the browser: the stand-in types what it shows where the leads are, and the cabin is seen."""

from collections.abc import Callable

import pytest
from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tools.served import Served, waiting

pytestmark = pytest.mark.browser


def test_the_stand_in_types_what_it_shows_and_the_cabin_is_seen(
    served: Served, open_browser: Callable[[int, int], webdriver.Chrome]
) -> None:
    driver = open_browser(1280, 800)
    wait = waiting(driver, Exception)
    driver.get(served.url + "/practice")
    Select(driver.find_element(By.NAME, "sheet_id")).select_by_visible_text("Training kart")
    driver.find_element(By.NAME, "number").send_keys("1")
    driver.find_element(By.XPATH, '//button[normalize-space()="Begin"]').click()
    wait.until(lambda d: "/jobs/" in d.current_url)
    read = wait.until(lambda d: d.find_element(By.CSS_SELECTOR, "#field [data-read]"))
    read.click()
    field = driver.find_element(By.CSS_SELECTOR, "#field input[name=value]")
    wait.until(lambda _: field.get_attribute("value"))
    shown = field.get_attribute("value") or ""
    assert "The stand-in shows" in driver.find_element(By.CSS_SELECTOR, ".meter-word").text
    field.send_keys(Keys.ENTER)
    wait.until(lambda d: len(d.find_elements(By.CSS_SELECTOR, ".evidence li")) == 1)
    assert f"{float(shown):.2f} V" in driver.find_element(By.CSS_SELECTOR, ".evidence li").text
    wait.until(lambda d: d.find_element(By.CSS_SELECTOR, "#field [data-read]"))  # the next field has its key too

    driver.find_element(By.XPATH, '//summary[normalize-space()="Cabin"]').click()
    driver.find_element(By.XPATH, '//details[contains(@class, "cabin-panel")]//label[contains(., "rank")]').click()
    wait.until(lambda d: d.find_element(By.CSS_SELECTOR, ".cabin-seen").get_attribute("data-heard"))
    assert not [line for line in driver.get_log("browser") if line["level"] == "SEVERE"]
