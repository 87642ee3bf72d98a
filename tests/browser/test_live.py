"""A job open on two screens: what one logs shows on the other, and what is being typed there does not move."""

from collections.abc import Callable

from selenium.webdriver.common.by import By
from selenium.webdriver.remote.webdriver import WebDriver

from tools.served import Served, waiting


def test_the_others_line_shows_and_what_is_typed_stays(served: Served, open_browser: Callable[[int, int], WebDriver]) -> None:
    driver, other = open_browser(1280, 800), open_browser(1280, 800)
    for screen in (driver, other):
        screen.get(f"{served.url}/jobs/102?red=bat.plus&black=bat.minus&state=rest")
    evidence: Callable[[WebDriver], str] = lambda screen: screen.find_element(By.CSS_SELECTOR, '[aria-label="Evidence"]').text  # noqa: E731
    field = other.find_element(By.NAME, "value")
    field.send_keys("12.")
    before, at = evidence(other), field.location
    mine = driver.find_element(By.NAME, "value")
    mine.send_keys("12.31\n")
    waiting(driver).until(lambda d: "12.31" in evidence(d))
    waiting(other).until(lambda d: "12.31" in evidence(d) and evidence(d) != before)
    field = other.find_element(By.NAME, "value")
    assert field.get_property("value") == "12." and other.switch_to.active_element == field and field.location == at
    field.send_keys("05\n")
    waiting(driver).until(lambda d: "12.05" in evidence(d))


def test_the_yard_shows_what_is_logged_without_being_loaded(served: Served, open_browser: Callable[[int, int], WebDriver]) -> None:
    driver, other = open_browser(1280, 800), open_browser(1280, 800)
    other.get(served.url + "/")
    count: Callable[[], str] = lambda: other.find_element(By.XPATH, "//li[contains(@class,'berth')][.//*[text()='103']]").text  # noqa: E731
    before = count()
    driver.get(f"{served.url}/jobs/103?red=bat.plus&black=bat.minus&state=rest")
    driver.find_element(By.NAME, "value").send_keys("12.44\n")
    waiting(other).until(lambda _: count() != before)
