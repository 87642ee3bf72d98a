"""Makes the pictures in docs/screenshots from the demo yard: python -m tools.shots."""

import urllib.request

from selenium import webdriver
from selenium.webdriver.common.by import By

from tools.served import ROOT, launch_browser, served_app, waiting

PICTURES = ROOT / "docs" / "screenshots"
VIEWS = [
    ("yard", 1280, 800, "/"),
    ("intake", 1280, 800, "/jobs/new"),
    ("bench", 1280, 800, "/jobs/102"),
    ("bench-phone", 390, 844, "/jobs/102"),
    ("meters", 1280, 800, "/jobs/112"),
    ("battery", 1280, 800, "/jobs/104/battery?draw=60 mA&hours=30"),
    ("crank-trace", 1280, 800, "/jobs/104/captures/CAPTURE"),
    ("control", 1280, 800, "/jobs/105/control"),
    ("charge-board", 1280, 800, "/jobs/106/charge"),
    ("drain", 1280, 800, "/jobs/109/drain"),
    ("sweep", 1280, 900, "/jobs/109/drain/sweep?at=l2"),
    ("blown-fuse", 1280, 800, "/jobs/111/fuse"),
    ("practice", 1280, 800, "/jobs/113/practice"),
    ("lesson", 390, 844, "/practice/lessons/both_ways?state=crank&knobs=3,0"),
    ("suspect", 1280, 800, "/jobs/102/suspects/isolator"),
    ("compose", 1280, 800, "/compose?kind=mower&start=key-frame&agree=seat&agree=blades"),
    ("workbench", 1280, 800, "/machines/2/workbench"),
    ("machine", 1280, 800, "/machines/2"),
    ("report", 1280, 800, "/jobs/101/report"),
]


def take_meter(driver: webdriver.Chrome, url: str) -> None:
    """Take the bay's multimeter to its open case, and wait until its figure is at the foot of the page."""
    wait = waiting(driver)
    take = '//li[contains(., "Multimeter")]//button[contains(., "volts DC")]'

    def offered(d: webdriver.Chrome) -> bool:
        d.get(f"{url}/jobs/112/meters")
        return bool(d.find_elements(By.XPATH, take))

    wait.until(offered)
    driver.find_element(By.XPATH, take).click()
    driver.get(f"{url}/jobs/112")
    wait.until(
        lambda d: "V" in d.find_element(By.CSS_SELECTOR, "#meters").text and d.find_element(By.CSS_SELECTOR, "[data-figure]").text != "—"
    )


def main() -> None:
    """Start the app on fresh demo data and picture each view."""
    with served_app(IRON_PROBE_STAND_INS="1") as app:
        for number in (101, 102, 103, 105, 106):  # a suspect's page waits until the job's ensemble is ready
            urllib.request.urlopen(f"{app.url}/jobs/{number}/suspects/battery").close()
        for name, width, height, view in VIEWS:
            path = view
            driver = launch_browser(width, height)
            if path.endswith("CAPTURE"):
                driver.get(app.url + path.removesuffix("/CAPTURE"))
                path = str(driver.find_element(By.CSS_SELECTOR, "tbody a").get_attribute("href")).removeprefix(app.url)
            driver.get(app.url + path)
            if name == "meters":
                take_meter(driver, app.url)
            waiting(driver).until(lambda d: not d.find_elements(By.CSS_SELECTOR, ".trace:not([data-shown]), #charge-word[hx-get]"))
            driver.execute_async_script("document.fonts.ready.then(arguments[0])")
            driver.save_screenshot(str(PICTURES / f"{name}.png"))
            driver.quit()


if __name__ == "__main__":
    main()
