"""The feed map in Chromium: nothing over anything, the step's points in view, tracks opened by a tap, the way and the figures on it."""

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.remote.webdriver import WebDriver
from selenium.webdriver.remote.webelement import WebElement

from bench.drawn import MEASURE
from bench.in_view import SEEN
from tests.browser.test_slow_crank_job import Bench
from tools.served import Served, launch_browser, waiting

ONE_TO_ONE = """
const map = document.getElementById("map"), [, , wide, high] = map.dataset.home.split(" ");
map.setAttribute("viewBox", map.dataset.home); map.style.cssText = `flex: none; max-width: none; width: ${wide}px; height: ${high}px`;
"""


def settled(driver: WebDriver) -> None:
    driver.execute_async_script("document.fonts.ready.then(arguments[0])")
    waiting(driver).until(lambda d: not d.find_elements(By.CSS_SELECTOR, "#suspects[hx-get], .htmx-request"))


@pytest.mark.parametrize(("width", "height"), [(1280, 800), (1920, 1080), (390, 844)])
def test_the_leads_are_in_view_and_no_text_lies_over_anything(served: Served, width: int, height: int) -> None:
    driver = launch_browser(width, height)
    for job in (102, 105):
        driver.get(f"{served.url}/jobs/{job}?view=map")
        settled(driver)
        on_map, out_of_view = driver.execute_script(SEEN)
        assert out_of_view == 0, (job, on_map)
        driver.execute_script(ONE_TO_ONE)
        texts, *over_or_cut, drawn = driver.execute_script(MEASURE)
        assert texts > 20 and over_or_cut == [0, 0, 0, 0] and drawn, (job, over_or_cut)
    driver.quit()


def track(driver: WebDriver, title: str) -> WebElement:
    return driver.find_element(By.CSS_SELECTOR, f'a[aria-label="Open the track of {title}"]')


def point(driver: WebDriver, title: str) -> list[WebElement]:
    return driver.find_elements(By.CSS_SELECTOR, f'#map a[aria-label="{title}"]')


def test_a_track_opens_by_a_tap_and_stays_open_over_a_log(served: Served) -> None:
    driver = launch_browser(1280, 800)
    bench = Bench(driver, served.url)
    driver.get(f"{served.url}/jobs/102?red=bat.plus&black=bat.minus&state=rest")
    settled(driver)
    field = driver.find_element(By.NAME, "value")
    field.send_keys("12.4")
    assert not point(driver, "dash unit feed")
    driver.execute_script(
        "arguments[0].dispatchEvent(new MouseEvent('click', {bubbles: true, cancelable: true}))", track(driver, "dash unit")
    )
    bench.wait(lambda d: point(d, "dash unit feed"))
    assert field.get_attribute("value") == "12.4"
    field.send_keys("\n")
    bench.wait(lambda d: "12.4" in d.find_element(By.CSS_SELECTOR, ".evidence").text)
    assert point(driver, "dash unit feed")
    driver.quit()


def test_a_point_in_a_folded_track_is_typed_and_then_drawn_with_its_way(served: Served) -> None:
    driver = launch_browser(1280, 800)
    bench = Bench(driver, served.url)
    driver.get(f"{served.url}/jobs/102?state=rest&instrument=voltmeter")
    settled(driver)
    assert not point(driver, "headlamp plug feed")
    for lead, title in (("red", "headlamp plug feed"), ("black", "headlamp ground eyelet")):
        field = driver.find_element(By.CSS_SELECTOR, f"#field [name={lead}]")
        field.clear()
        field.send_keys(title, "\t")
    bench.wait(lambda d: len(d.find_elements(By.CSS_SELECTOR, ".flag:not([display])")) == 2)
    bench.wait(lambda d: d.find_elements(By.CSS_SELECTOR, "#under .way"))
    field = driver.find_element(By.CSS_SELECTOR, "#field [name=red]")
    field.clear()
    field.send_keys("the moon", "\t")
    bench.wait(lambda d: "No point is called" in d.find_element(By.ID, "probe").text)
    driver.quit()


def test_figures_stand_at_the_points_on_demand_and_follow_the_state(served: Served) -> None:
    driver = launch_browser(1280, 800)
    bench = Bench(driver, served.url)
    driver.get(f"{served.url}/jobs/102?red=bat.plus&black=bat.minus&state=rest")
    settled(driver)
    driver.find_element(By.LINK_TEXT, "volts").click()
    bench.wait(lambda d: d.find_elements(By.CSS_SELECTOR, "#map .volts"))
    first = driver.find_element(By.CSS_SELECTOR, "#map .volts").text
    driver.execute_script(
        "const s = document.querySelector('input[name=state][value=crank]'); s.checked = true; s.dispatchEvent(new Event('change', {bubbles: true}))"
    )
    bench.wait(lambda d: d.find_element(By.CSS_SELECTOR, "#map .volts").text not in ("", first))
    driver.quit()
