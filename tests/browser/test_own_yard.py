"""A yard of one's own: its owner's first run by the link that was printed, somebody who joins, what they may not, and signing out."""

import re
from collections.abc import Callable, Iterator

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.remote.webdriver import WebDriver

from tools.served import Served, served_app, waiting

pytestmark = pytest.mark.browser
WORDS = "four dry oak planks"


@pytest.fixture(scope="module")
def own() -> Iterator[Served]:
    with served_app(IRON_PROBE_ACCOUNTS="1") as app:
        yield app


def field(driver: WebDriver, label: str, value: str) -> None:
    driver.find_element(By.XPATH, f"//label[contains(., '{label}')]//input").send_keys(value)


def press(driver: WebDriver, name: str) -> None:
    driver.find_element(By.XPATH, f"//main//button[normalize-space()='{name}'] | //header//button[normalize-space()='{name}']").click()


def seen(driver: WebDriver, text: str) -> None:
    waiting(driver).until(lambda d: text in d.find_element(By.TAG_NAME, "body").text)


def test_from_the_printed_link_to_two_people_at_work(own: Served, open_browser: Callable[[int, int], WebDriver]) -> None:
    driver = open_browser(1280, 800)
    waiting(driver).until(lambda _: "/join/" in own.said)
    link = re.search(r"http://127\.0\.0\.1:\d+/join/\S+", own.said)
    assert link is not None
    driver.get(own.url + "/machines")
    seen(driver, "Sign in")
    driver.get(link[0])
    field(driver, "Your name", "Ida Reef")
    field(driver, "Password", WORDS)
    press(driver, "Begin")
    seen(driver, "The yard is empty")
    driver.get(own.url + "/people")
    field(driver, "Name", "Per Sound")
    press(driver, "Make the link they join by")
    seen(driver, "joins by this link")
    other_link = driver.find_element(By.CSS_SELECTOR, ".agrees code").text

    other = open_browser(390, 844)
    other.get(other_link)
    seen(other, "Welcome, Per Sound")
    field(other, "Password", WORDS)
    press(other, "Set it and sign in")
    seen(other, "The yard is empty")
    other.get(own.url + "/people")
    seen(other, "This needs whoever leads the yard")
    other.get(own.url + "/me")
    seen(other, "Signed in")
    other.find_element(By.CSS_SELECTOR, ".who-panel summary").click()
    press(other, "Sign out")
    seen(other, "Forgotten, or new here?")
    other.get(own.url + "/machines")
    field(other, "Name", "per sound")
    field(other, "Password", "not the words")
    press(other, "Sign in")
    seen(other, "do not go together")
    field(other, "Password", WORDS)
    press(other, "Sign in")
    seen(other, "Machines of the yard")

    driver.get(own.url + "/audit")
    seen(driver, "refused")
    assert "Per Sound" in driver.find_element(By.CSS_SELECTOR, ".audit").text


def test_after_a_restart_nobody_has_to_sign_in_again_and_no_link_is_printed(
    own: Served, open_browser: Callable[[int, int], WebDriver]
) -> None:
    driver = open_browser(1280, 800)
    driver.get(own.url + "/sign-in")
    field(driver, "Name", "Ida Reef")
    field(driver, "Password", WORDS)
    press(driver, "Sign in")
    seen(driver, "The yard is empty")
    links = own.said.count("/join/")
    own.stop()
    own.start()
    driver.get(own.url + "/people")
    seen(driver, "People of the yard")
    assert own.said.count("/join/") == links
