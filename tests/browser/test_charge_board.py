"""The charge board on the real page: a lamp circuit, a rectifier, a default mode, and a subtraction that is refused."""

from collections.abc import Callable

import numpy as np
import pytest
from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from iron_probe.core.circuit.elements import Conditions
from iron_probe.core.circuit.network import network_of
from iron_probe.core.diagnose.fault_modes import fault_modes, find_mode
from iron_probe.core.diagnose.scope import Scope
from iron_probe.core.solve.operate import solve_state
from iron_probe.core.solve.solution import Solution
from iron_probe.machines import load_sheet
from tests.browser.hidden_machine import hidden_machine, shown
from tests.browser.test_first_twenty_minutes import take_in
from tests.browser.test_slow_crank_job import Bench
from tools.served import Served

pytestmark = pytest.mark.browser


@pytest.fixture
def bench(served: Served, open_browser: Callable[[int, int], webdriver.Chrome]) -> Bench:
    return Bench(open_browser(1280, 900), served.url)


def machine(sheet_id: str, element: str, mode: str) -> dict[str, Solution]:
    """The hidden machine, solved in every state."""
    network = network_of(load_sheet(sheet_id), Conditions(temp_degc=20))
    values = network.nominal[:, None].copy()
    find_mode(fault_modes(network), element, mode).apply(values, np.array([1.0]))
    return {s: solve_state(network, s, values) for s in network.sheet.states}


def type_in(bench: Bench, key: str, state: str, value: str) -> None:
    """Choose a place and state, type what was read there, and wait until it is logged."""
    driver = bench.driver
    driver.get(driver.current_url.split("?")[0].split("#")[0] + f"?place={key}&state={state}")
    main = driver.find_element(By.TAG_NAME, "main")
    field = driver.find_element(By.CSS_SELECTOR, f'[data-entry="{key}:{state}"] input[name=value]')
    field.send_keys(value, Keys.ENTER)
    bench.wait(lambda d: d.find_element(By.TAG_NAME, "main") != main)


def weighed(bench: Bench) -> None:
    bench.wait(lambda d: d.find_elements(By.ID, "charge-word") and not d.find_elements(By.CSS_SELECTOR, "#charge-word[hx-get]"))


def test_a_lamp_circuit_is_found_by_the_substitute_lamp(bench: Bench) -> None:
    hidden = hidden_machine("estate-car", "l-wire", "open", 1.0, Scope.CHARGING)
    job = take_in(bench, "Estate car", "Estate 3", "cranks well")
    bench.driver.get(job + "/charge")
    type_in(bench, "posts", "fast", f"{float(hidden.solved['fast'].between('bat.plus', 'bat.minus')[0]):.2f}")
    assert "not charging" in bench.driver.page_source
    bench.driver.get(job + "/charge?place=substitute_lamp&state=loaded")
    bench.driver.find_element(By.XPATH, '//button[normalize-space()="charges"]').click()
    bench.wait(lambda d: d.find_elements(By.XPATH, '//li[contains(., "Lamp from plus") and contains(., "charges")]'))
    weighed(bench)
    for _ in range(10):
        bench.driver.get(job + "/charge")  # the leads stand where the step says
        weighed(bench)
        if "found by its own test" in bench.driver.find_element(By.ID, "charge-word").text:
            break
        form, main = bench.driver.find_element(By.CSS_SELECTOR, "#place form"), bench.driver.find_element(By.TAG_NAME, "main")
        fields = {n: form.find_element(By.NAME, n).get_attribute("value") or "" for n in ("instrument", "state", "red", "black", "branch")}
        text, word = shown(hidden, **fields)
        if word:
            form.find_element(By.CSS_SELECTOR, f'button[value="{text}"]').click()
        else:
            form.find_element(By.NAME, "value").send_keys(text, Keys.ENTER)
        bench.wait(lambda d, was=main: d.find_element(By.TAG_NAME, "main") != was)
    assert "Charge lamp wire: found by its own test" in bench.driver.find_element(By.ID, "charge-word").text


def test_a_rectifier_is_found_by_the_matrix(bench: Bench) -> None:
    job = take_in(bench, "Patrol motorcycle", "Motorcycle 9", "cranks well")
    bench.driver.get(job + "/charge")
    for phase in "123":
        for rail in "+−":
            shorted = (phase, rail) == ("2", "+")
            for way, sound in (("forward", "0.49"), ("reverse", "OL")):
                box = bench.driver.find_element(By.CSS_SELECTOR, f'input[aria-label="Phase {phase} to {rail}, {way}"]')
                box.send_keys("0.02" if shorted else sound)
    bench.driver.find_element(By.CSS_SELECTOR, "#stator button").click()
    bench.wait(lambda d: "phase 2 to +: shorted" in d.find_element(By.ID, "stator").text)
    assert "drains nothing" in bench.driver.find_element(By.ID, "stator").text


def test_a_default_mode_is_recognised_and_a_falling_source_is_not_subtracted(bench: Bench) -> None:
    hidden = machine("parcel-van", "bus-wire", "open")
    job = take_in(bench, "Parcel van", "Parcel van 2", "cranks well")
    bench.driver.get(job + "/charge")
    for key, red, black in (("posts", "bat.plus", "bat.minus"), ("bus", "alt.bus", "alt.case")):
        type_in(bench, key, "fast", f"{float(hidden['fast'].between(red, black)[0]):.2f}")
    assert "Default mode" in bench.driver.page_source
    weighed(bench)
    suspects = [e.text for e in bench.driver.find_elements(By.CSS_SELECTOR, "#charge-word .sus-name")]
    assert suspects
    assert "Alternator" not in suspects
    type_in(bench, "output", "fast", "13.60")
    type_in(bench, "posts", "fast", "12.90")
    bench.wait(lambda d: "Not subtracted: the source moved" in d.page_source)
