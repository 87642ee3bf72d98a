"""Battery, crank trace and control side on the real page: each worked to its end as a person would."""

from collections.abc import Callable

import pytest
from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from iron_probe.core.circuit.elements import Conditions
from iron_probe.core.circuit.network import network_of
from iron_probe.core.solve.operate import solve_state
from iron_probe.machines import load_sheet
from iron_probe.web.captures.routes import STATIC_CAPTURES
from tests.browser.test_slow_crank_job import Bench
from tools.served import Served

pytestmark = pytest.mark.browser


@pytest.fixture
def driver(served: Served, open_browser: Callable[[int, int], webdriver.Chrome]) -> webdriver.Chrome:
    return open_browser(1280, 800)


def take_in(bench: Bench, sheet: str, name: str, symptom: str) -> str:
    bench.driver.get(bench.url + "/jobs/new")
    bench.driver.find_element(By.XPATH, f'//label[contains(@class, "pick")][contains(., "{sheet}")]').click()
    bench.driver.find_element(By.XPATH, '//label[contains(., "Name or number")]/input').send_keys(name)
    bench.driver.find_element(By.XPATH, f'//label[contains(., "{symptom}")]').click()
    bench.button("Take in").click()
    bench.wait(lambda d: d.find_elements(By.ID, "field"))
    return bench.driver.current_url


def test_a_battery_job_to_its_verdict(served: Served, driver: webdriver.Chrome) -> None:
    bench = Bench(driver, served.url)
    take_in(bench, "Verge tractor", "Tractor 2", "slow crank")
    driver.find_element(By.LINK_TEXT, "Battery").click()

    def section(name: str) -> str:
        return driver.find_element(By.CSS_SELECTOR, f'section[aria-label="{name}"]').text

    def log(name: str, said: str, **fields: str) -> None:
        form = driver.find_element(By.CSS_SELECTOR, f'section[aria-label="{name}"] form.test')
        driver.execute_script("arguments[0].closest('details').open = true", form)
        for key, value in fields.items():
            box = form.find_element(By.NAME, key)
            if box.get_attribute("type") == "checkbox":
                box.click()
            else:
                box.clear()
                box.send_keys(value)
        form.find_element(By.TAG_NAME, "button").click()
        bench.wait(lambda d: said in section(name))

    log("Rest volts", "Surface charge flatters", volts="12.7", hours_since="1")
    log("Rest volts", "before: not judged yet", volts="12,52", bled="1")
    log("Capacity", "is not", load="24 A", points="0 12.4\nfive 11")
    assert "five 11" in driver.find_element(By.CSS_SELECTOR, 'section[aria-label="Capacity"] textarea').get_property("value")
    log("Capacity", "already proves it", load="24 A", points="0 12.3\n1 12.0\n2 11.7\n3 11.4\n4 11.1")
    assert "Worn out" in driver.page_source or "A cell is lost" in driver.page_source
    driver.find_element(By.NAME, "draw").send_keys("90 mA", Keys.ENTER)
    bench.wait(lambda d: "90 mA takes this battery to no-start" in section("How long"))
    assert "draw=90" in driver.current_url  # a link that can be sent
    driver.find_element(By.LINK_TEXT, "Bench").click()
    bench.wait(lambda d: "12.52 V" in bench.text("Evidence"))
    assert "by battery" in bench.text("Evidence")


def test_an_uploaded_crank_trace_becomes_readings(served: Served, driver: webdriver.Chrome) -> None:
    bench = Bench(driver, served.url)
    job = take_in(bench, "Pool car", "Pool car 8", "slow crank")
    driver.find_element(By.LINK_TEXT, "Crank trace").click()
    driver.find_element(By.NAME, "file").send_keys(str(STATIC_CAPTURES / "pool-car-weak-cylinder.csv"))
    bench.button("Bring it in").click()
    bench.wait(lambda d: "Guessed from its first lines" in d.page_source)
    assert driver.find_element(By.NAME, "decimal").get_property("value") == ","
    bench.button("Read it").click()
    bench.wait(lambda d: d.find_elements(By.CSS_SELECTOR, ".trace[data-shown]"))
    assert "Low compression" in driver.page_source
    bench.keys("+", "+", "+")
    bench.wait(lambda d: int(d.find_element(By.CSS_SELECTOR, ".trace").get_attribute("data-shown") or 0) > 1)
    bench.keys("a", Keys.ARROW_RIGHT, "b")
    bench.wait(lambda d: "B − A" in d.find_element(By.CSS_SELECTOR, ".cursors").text)
    bench.keys("n")
    bench.wait(lambda d: d.find_elements(By.ID, "field"))
    assert driver.current_url == job
    assert "clamp on battery" in bench.text("Evidence")


def test_a_no_click_job_is_followed_by_pins_to_the_switch(served: Served, driver: webdriver.Chrome) -> None:
    """The tractor's seat switch is open: power at the coil feed is missing, and the plug-off table names the switch."""
    sheet = load_sheet("verge-tractor")
    network = network_of(sheet, Conditions(temp_degc=20))
    values = network.nominal[:, None].copy()
    values[network.row["seat-switch", "stuck"], 0] = -1
    solved = {s: solve_state(network, s, values) for s in sheet.states}
    bench = Bench(driver, served.url)
    job = take_in(bench, "Verge tractor", "Tractor 5", "nothing at all")
    driver.get(job + "/control")
    bench.wait(lambda d: not d.execute_script("return document.body.innerText.includes('Working out')") or d.refresh())  # type: ignore[func-returns-value]

    def pin(title: str) -> None:
        """Take the present test, which must be that one; the next is asked for, the cursor in its field."""
        assert driver.find_element(By.CSS_SELECTOR, "#part h3").text == title
        form = driver.find_element(By.CSS_SELECTOR, "#part form")
        fields = {n: form.find_element(By.NAME, n).get_attribute("value") for n in ("red", "black", "state")}
        value = float(solved[str(fields["state"])].between(str(fields["red"]), str(fields["black"]))[0])
        form.find_element(By.NAME, "value").send_keys(f"{value:.2f}", Keys.ENTER)
        bench.wait(lambda d: d.find_element(By.CSS_SELECTOR, "#part h3").text != title)
        bench.wait(lambda d: d.switch_to.active_element.get_attribute("name") == "value")

    driver.get(job + "/control?at=start-relay")
    pin("Power at the feed")
    pin("Coil feed, commanded")
    driver.find_element(By.XPATH, '//ol[@aria-label="Interlock chain"]/li[contains(., "Seat switch")]/a').click()
    driver.find_element(By.XPATH, '//ol[@aria-label="Tests of it, in order"]//a[contains(., "Plug off, seat taken")]').click()
    driver.find_element(By.CSS_SELECTOR, "#part form input[name=value]").send_keys("OL", Keys.ENTER)
    bench.wait(lambda d: "Seat switch: not as the table says" in d.page_source)
    assert "found" in driver.find_element(By.XPATH, '//ol[@aria-label="Interlock chain"]/li[contains(., "Seat switch")]').text
