"""A ground bolt that makes contact at one crank and not at the next, hunted on the real page."""

from collections.abc import Callable

import numpy as np
import pytest
from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.support.ui import Select

from iron_probe.core.circuit.network import network_of
from iron_probe.core.diagnose.fault_modes import fault_modes, find_mode
from iron_probe.core.solve.operate import solve_state
from iron_probe.machines import load_sheet
from tests.browser.test_slow_crank_job import Bench
from tools.served import Served

pytestmark = pytest.mark.browser


def test_what_was_read_while_it_worked_is_said_and_the_joint_is_found(
    served: Served, open_browser: Callable[[int, int], webdriver.Chrome]
) -> None:
    network = network_of(load_sheet("green-mower"))
    values = network.nominal[:, None].copy()
    find_mode(fault_modes(network), "frame-bolt", "open").apply(values, np.ones(1))
    fails, works = solve_state(network, "crank", values), solve_state(network, "crank")
    driver = open_browser(1280, 800)
    bench = Bench(driver, served.url)
    driver.get(f"{served.url}/jobs/new")
    driver.find_element(By.XPATH, '//label[contains(., "Green mower")]').click()
    driver.find_element(By.NAME, "machine").send_keys("Mower that sulks")
    driver.find_element(By.XPATH, '//label[contains(., "nothing at all")]').click()
    bench.button("Take in").click()
    bench.wait(lambda d: d.find_elements(By.ID, "bench"))
    job = driver.current_url.partition("?")[0]

    def log(red: str, black: str, there: bool, itself: bool = False) -> None:
        driver.get(f"{job}?red={red}&black={black}&state=rest&instrument=voltmeter")
        assert not driver.find_element(By.NAME, "heard").is_displayed()  # with the key off nothing cranks
        driver.find_element(By.XPATH, '//label[contains(@class, "toggle")][normalize-space(.)="Cranking"]').click()
        more = driver.find_element(By.CSS_SELECTOR, "details.more")
        if not more.get_attribute("open"):
            more.find_element(By.TAG_NAME, "summary").click()
        did = driver.find_element(By.XPATH, '//label[contains(., "What it did in this crank")]/select')
        Select(did).select_by_visible_text("nothing at all" if there else "cranks well")
        if itself:
            driver.find_element(By.NAME, "itself").click()
        before = bench.count()
        bench.type_reading(f"{float((fails if there else works).between(red, black)[0]):.3f}")
        bench.wait(lambda d: bench.count() == before + 1)
        bench.weighed()

    log("starter.case", "bat.minus", there=True)
    log("starter.case", "bat.minus", there=False)
    log("block", "frame.eye", there=True)
    bench.wait(lambda d: "comes and goes" in bench.text("Suspects"))
    assert "Taken while the fault was away" in bench.text("Suspects") and "crank until it fails" in bench.text("Next test")
    log("frame", "frame.eye", there=False, itself=True)
    bench.wait(lambda d: "readings 2, 4" in bench.text("Suspects"))
    assert "Found" not in bench.text("Suspects") and "cranking 4" in bench.text("Evidence")
    log("frame", "frame.eye", there=True, itself=True)
    bench.wait(lambda d: "Found: Minus cable bolt on frame" in bench.text("Suspects"))
    driver.get(f"{job}/report")
    cleared = [p.text for p in driver.find_elements(By.XPATH, '//p[contains(., "Within their share under load")]')]
    assert "minus cable bolt" not in " ".join(cleared) and "Taken while the fault was away" in driver.page_source
