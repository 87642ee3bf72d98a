"""Drain work on the real page: a sweep by keys into a child box to the plug, one spoiled by sleep, a fuse by its capture, an import."""

from collections.abc import Callable
from pathlib import Path

import pytest
from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.select import Select

from iron_probe.core.circuit.network import network_of
from iron_probe.core.solve.operate import solve_state
from iron_probe.core.solve.solution import Solution
from iron_probe.demo.drain_captures import lamp_fuse, night
from iron_probe.machines import load_sheet
from tests.browser.test_first_twenty_minutes import take_in
from tests.browser.test_slow_crank_job import Bench
from tools.served import Served

pytestmark = pytest.mark.browser


@pytest.fixture
def bench(served: Served, open_browser: Callable[[int, int], webdriver.Chrome]) -> Bench:
    return Bench(open_browser(1280, 900), served.url)


def awake(element: str) -> Solution:
    """The shuttle asleep, but for one module."""
    network = network_of(load_sheet("lift-shuttle"))
    values = network.nominal[:, None].copy()
    values[network.row[element, "wakeful"]] = 1.0
    return solve_state(network, "rest", values)


def text(bench: Bench) -> str:
    return bench.driver.find_element(By.TAG_NAME, "main").text


def labelled(bench: Bench, label: str) -> WebElement:
    """The field a label belongs to, or that is named so."""
    found = bench.driver.find_elements(By.CSS_SELECTOR, f':is(input, select)[aria-label="{label}"]')
    return found[0] if found else bench.driver.find_element(By.XPATH, f'//label[contains(., "{label}")]//input')


def send(bench: Bench, label: str, value: str, shows: str) -> None:
    """Type, Enter, and wait until the page shows something."""
    labelled(bench, label).send_keys(value, Keys.ENTER)
    bench.wait(lambda d: shows in d.find_element(By.TAG_NAME, "main").text)


def chosen(bench: Bench) -> str:
    return bench.driver.find_element(By.CSS_SELECTOR, ".probe-field b").text


def walk(bench: Bench, key: str, to: str) -> None:
    """One arrow key in the box."""
    bench.driver.switch_to.active_element.send_keys(key)
    bench.wait(lambda d: to in d.find_element(By.CSS_SELECTOR, ".probe-field b").text)


def test_a_sweep_by_keys_into_a_child_box_down_to_the_plug(bench: Bench) -> None:
    hidden = awake("gate-controller")
    millivolts = {e: f"{abs(float(hidden.drop(e)[0])) * 1000:.1f}" for e in ("b1", "b2", "l1", "l2")}
    total = float(-hidden.current("battery")[0]) * 1000
    job = take_in(bench, "Lift shuttle", "Shuttle 4", "slow crank")
    bench.driver.get(job + "/drain")
    send(bench, "Total now", f"{total:.0f}", f"{total:.0f} mA")
    bench.driver.find_element(By.TAG_NAME, "body").send_keys("s")
    bench.wait(lambda d: "Fuse sweep" in d.title)
    assert "B1" in chosen(bench)
    bench.driver.switch_to.active_element.send_keys(millivolts["b1"], Keys.ENTER)
    bench.wait(lambda d: "B2" in d.find_element(By.CSS_SELECTOR, ".probe-field b").text)
    bench.driver.switch_to.active_element.send_keys(millivolts["b2"], Keys.ENTER)
    bench.wait(lambda d: "B3" in d.find_element(By.CSS_SELECTOR, ".probe-field b").text)
    walk(bench, Keys.ARROW_LEFT, "B2")
    assert "feeds the lift box" in text(bench)
    bench.driver.switch_to.active_element.send_keys(Keys.ESCAPE)
    bench.driver.find_element(By.TAG_NAME, "body").send_keys("c")
    bench.wait(lambda d: "L1" in d.find_element(By.CSS_SELECTOR, ".probe-field b").text)
    bench.driver.switch_to.active_element.send_keys(millivolts["l1"], Keys.ENTER)
    bench.wait(lambda d: "L2" in d.find_element(By.CSS_SELECTOR, ".probe-field b").text)
    bench.driver.switch_to.active_element.send_keys(millivolts["l2"], Keys.ENTER)
    bench.wait(lambda d: "Gate controller fuse L2 something behind it draws" in d.find_element(By.TAG_NAME, "main").text)
    walk(bench, Keys.ARROW_LEFT, "L2")
    own = float(hidden.current("gate-controller.supply")[0]) * 1000
    labelled(bench, "Total with Gate controller parted").send_keys(f"{total - own:.0f}", Keys.ENTER)
    bench.wait(lambda d: "Gate controller does not sleep" in d.find_element(By.TAG_NAME, "main").text)
    assert "the sum closes" in text(bench)
    bench.driver.refresh()
    assert "Gate controller does not sleep" in text(bench)


def test_a_sweep_spoiled_by_sleep_is_recognised(bench: Bench) -> None:
    job = take_in(bench, "Lift shuttle", "Shuttle 5", "slow crank")
    bench.driver.get(job + "/drain")
    send(bench, "Total now", "402", "402 mA")
    bench.driver.get(job + "/drain/sweep?at=c1")
    bench.driver.switch_to.active_element.send_keys("0.0", Keys.ENTER)
    bench.wait(lambda d: "C2" in d.find_element(By.CSS_SELECTOR, ".probe-field b").text)
    assert "Sweep again" not in text(bench)
    bench.driver.switch_to.active_element.send_keys(Keys.ESCAPE)
    bench.driver.find_element(By.TAG_NAME, "body").send_keys("t")
    bench.driver.switch_to.active_element.send_keys("31", Keys.ENTER)
    bench.wait(lambda d: "Sweep again" in d.find_element(By.TAG_NAME, "main").text)
    assert "the total after it was 31 mA, normal" in text(bench)
    slots = [s.get_attribute("textContent") or "" for s in bench.driver.find_elements(By.CSS_SELECTOR, ".fusebox a")]
    assert next(s for s in slots if s.strip().startswith("C1")).strip().endswith("no information")
    send(bench, "Total now", "400", "400 mA")
    assert "C1" in bench.driver.find_element(By.CSS_SELECTOR, ".resweep").text


def bring_in(bench: Bench, file: Path, roles: dict[str, str], rounds: dict[str, str] | None = None) -> None:
    """Upload on the page one is on, name the columns by their heading and what their clamps were round, read it."""
    bench.driver.find_element(By.NAME, "file").send_keys(str(file))
    bench.driver.find_element(By.XPATH, '//button[contains(., "Bring it in")]').click()
    bench.wait(lambda d: "What is in" in d.page_source)
    for k, cell in enumerate(bench.driver.find_elements(By.CSS_SELECTOR, ".preview thead tr:first-child th[scope=col]")):
        role = next((r for name, r in roles.items() if name in cell.text), "")
        if role:
            bench.driver.find_element(By.CSS_SELECTOR, f'select[name="role_{k}"] option[value="{role}"]').click()
        if wire := next((w for name, w in (rounds or {}).items() if name in cell.text), ""):
            Select(labelled(bench, f"What the clamp of column {k + 1} was round")).select_by_visible_text(wire)
    bench.driver.find_element(By.XPATH, '//button[contains(., "Read it")]').click()
    bench.wait(lambda d: d.find_elements(By.CSS_SELECTOR, ".trace canvas, .tripchart"))


def test_a_night_with_decimal_commas_and_a_broken_line(bench: Bench, tmp_path: Path) -> None:
    file = tmp_path / "night.csv"
    file.write_text(night())
    job = take_in(bench, "Lift shuttle", "Shuttle 6", "slow crank")
    bench.driver.get(job + "/drain")
    bring_in(bench, file, {"Total": "amps"})
    assert "1 odd line left out" in text(bench)
    bench.driver.get(job + "/drain")
    told = text(bench)
    assert "every 52 min" in told
    assert "31 mA" in told
    assert "awake since" in told


def test_a_fuse_that_blows_with_the_lamps_is_told_by_its_capture(bench: Bench, tmp_path: Path) -> None:
    file = tmp_path / "lamps.csv"
    file.write_text(lamp_fuse())
    job = take_in(bench, "Quay digger", "Digger 6", "cranks well")
    bench.driver.get(job + "/fuse?fuse=c3")
    roles = {"Behind": "volts", "Boom": "amps", "Roof": "amps", "Heater": "amps"}
    bring_in(bench, file, roles, {"Boom": "Boom lamp wire"})  # and back to the fuse it was brought in for
    bench.wait(lambda d: "Boom lamps ran away: a short" in d.find_element(By.TAG_NAME, "main").text)
    assert bench.driver.current_url.endswith("/fuse?fuse=c3")
    assert "cleared" in text(bench)
    for state, word in (("Work lamps on", "blows"), ("Key on", "holds")):
        bench.driver.find_element(By.XPATH, f'//li[span[normalize-space()="{state}"]]//label[normalize-space()="{word}"]').click()
    bench.driver.find_element(By.XPATH, '//button[normalize-space()="Keep"]').click()
    bench.wait(lambda d: "cleared: live while it holds" in d.find_element(By.TAG_NAME, "main").text)
    Select(labelled(bench, "clamp of Roof lamps round")).select_by_visible_text("Roof lamp wire")
    bench.driver.find_element(By.XPATH, '//button[contains(., "Keep where the clamps were")]').click()
    bench.wait(lambda d: "the current ran away through another branch" in d.find_element(By.TAG_NAME, "main").text)
    side = bench.driver.find_element(By.CSS_SELECTOR, ".charge-side").text
    assert "Roof lamps itself" not in side
    assert "Boom lamp wire" in side
