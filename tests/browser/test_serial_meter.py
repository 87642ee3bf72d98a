"""A meter on a serial port of the browser: chosen once, known to the yard, its figures on a job's pages, and gone when its cable is."""

import pytest
from selenium import webdriver
from selenium.webdriver.common.by import By

from tests.browser.test_meters import Browser
from tools.served import Served, waiting

pytestmark = pytest.mark.browser
PORT = """
const line = { answers: { '*IDN?': 'Quay,Serial meter,7,1', 'MEAS:VOLT:DC?': '12.61' }, granted: localStorage.getItem('granted') };
const port = {
  async open() {
    port.readable = new ReadableStream({ start(out) { line.out = out; } });
    port.writable = new WritableStream({ write(bytes) {
      const said = line.answers[new TextDecoder().decode(bytes).trim()];
      if (said && !localStorage.getItem('unplugged')) line.out.enqueue(new TextEncoder().encode(said + '\\r\\n'));
    } });
  },
};
Object.defineProperty(navigator, 'serial', { value: {
  async requestPort() { localStorage.setItem('granted', '1'); line.granted = '1'; return port; },
  async getPorts() { return line.granted ? [port] : []; },
} });
"""


def test_a_meter_on_a_port_of_the_browser_comes_along_from_page_to_page(served: Served, open_browser: Browser) -> None:
    driver = open_browser(1280, 800)
    driver.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": PORT})
    wait = waiting(driver)
    driver.get(f"{served.url}/meters")
    driver.find_element(By.XPATH, '//button[contains(., "Choose its port")]').click()
    wait.until(lambda d: "Serial meter" in d.find_element(By.CSS_SELECTOR, "[data-serial-word]").text)
    driver.get(f"{served.url}/jobs/103/meters")
    take = '//li[contains(., "browser")]//button[contains(., "volts DC")]'
    wait.until(lambda d: d.find_elements(By.XPATH, take))
    driver.find_element(By.XPATH, take).click()
    wait.until(lambda d: figure(d) == "12.61 V")
    driver.get(f"{served.url}/jobs/103")
    wait.until(lambda d: figure(d) == "12.61 V")  # the page before it let the port go, this one took it
    driver.get(f"{served.url}/jobs/103/charge")
    strip = '[aria-label="Volts and amps as the meters stream them"] .volts'
    wait.until(lambda d: len((d.find_element(By.CSS_SELECTOR, strip).get_attribute("points") or "").split()) > 2)
    driver.execute_script("localStorage.setItem('unplugged', '1')")
    wait.until(lambda d: figure(d) == "—")
    wait.until(lambda d: "serial port" in d.find_element(By.CSS_SELECTOR, "#meters [data-word]").text)
    driver.execute_script("localStorage.removeItem('unplugged')")
    wait.until(lambda d: figure(d) == "12.61 V")
    driver.get(f"{served.url}/meters")
    driver.find_element(By.XPATH, '//button[contains(., "Let it go")]').click()
    wait.until(lambda d: (d.refresh(), "away since" in d.page_source)[1])


def figure(driver: webdriver.Chrome) -> str:
    found = driver.find_elements(By.CSS_SELECTOR, "#meters [data-figure]")
    return found[0].text if found else ""
