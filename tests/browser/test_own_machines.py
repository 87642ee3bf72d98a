"""A machine no shipped sheet knows, brought in on the real page and worked on every screen."""

from collections.abc import Callable

import pytest
from selenium import webdriver
from selenium.webdriver.common.by import By

from tests.odd_sheets import TRAILER, odd_sheets
from tools.served import Served, waiting

pytestmark = pytest.mark.browser


@pytest.fixture(scope="module")
def driver(open_browser: Callable[[int, int], webdriver.Chrome]) -> webdriver.Chrome:
    return open_browser(1280, 800)


def typed(driver: webdriver.Chrome, text: str) -> None:
    """Put a whole sheet into the editor as pasting it would."""
    area = driver.find_element(By.CSS_SELECTOR, 'textarea[aria-label="Circuit sheet"]')
    driver.execute_script(
        "arguments[0].value = arguments[1]; arguments[0].dispatchEvent(new Event('input', {bubbles: true}))", area, text.strip() + "\n"
    )


def says(driver: webdriver.Chrome, css: str, word: str) -> None:
    told = "return [...document.querySelectorAll(arguments[0])].map((e) => e.innerText).join(' ')"  # at once: parts are swapped meanwhile
    waiting(driver).until(lambda d: word in d.execute_script(told, css), word)


def bring_in(driver: webdriver.Chrome, url: str, name: str, sheet: str) -> None:
    driver.get(url + "/machines/new")
    driver.find_element(By.NAME, "name").send_keys(name)
    typed(driver, sheet)
    says(driver, "#mistakes", "No mistakes")
    driver.find_element(By.XPATH, "//button[text()='Keep the machine']").click()
    says(driver, "h1", "version 1 of 1")


@pytest.mark.parametrize("odd", list(odd_sheets()))
def test_an_odd_machine_goes_through_every_screen(driver: webdriver.Chrome, served: Served, odd: str) -> None:
    bring_in(driver, served.url, f"Odd one, {odd}", odd_sheets()[odd])
    driver.find_element(By.PARTIAL_LINK_TEXT, "Take it in").click()
    driver.find_element(By.XPATH, "//button[contains(., 'Take in')]").click()
    says(driver, "#suspects h2", "Suspects")
    job = driver.current_url
    points = driver.execute_script("return [...document.querySelectorAll('[data-point]')].map((p) => p.dataset.point)")
    state = driver.execute_script("return document.querySelector('[name=state]').value")
    driver.get(f"{job}?red={points[0]}&black={points[1]}&state={state}")
    driver.find_element(By.NAME, "value").send_keys("0.11\n")
    says(driver, ".evidence", "0.11 V")
    links = driver.execute_script("return [...document.querySelectorAll('.strip-nav a')].map((a) => a.href)")
    assert len(links) >= 6
    for link in links:
        driver.get(link)
        assert driver.find_elements(By.CSS_SELECTOR, ".strip-nav a[aria-current]"), link
        assert "Server Error" not in driver.find_element(By.TAG_NAME, "body").text
    driver.get(served.url)
    says(driver, ".berth-machine", f"Odd one, {odd}")


def test_a_mistake_leads_to_its_line_as_one_types(driver: webdriver.Chrome, served: Served) -> None:
    driver.get(served.url + "/machines/new")
    typed(driver, TRAILER.replace("to: lamp.feed, mm2", "to: lamp.fed, mm2"))
    says(driver, "#mistakes", "no point is called")
    driver.find_element(By.CSS_SELECTOR, "#mistakes [data-line]").click()
    chosen = driver.execute_script(
        "const t = document.querySelector('textarea[name=text]'); return t.value.slice(t.selectionStart, t.selectionEnd)"
    )
    assert "mast-wire" in chosen
    assert driver.find_elements(By.CSS_SELECTOR, ".gutter .off")
