"""Makes the pictures in docs/screenshots from the demo yard: python -m tests.browser.shots."""

import urllib.request

from tests.conftest import ROOT, launch_browser, served_app

PICTURES = ROOT / "docs" / "screenshots"
VIEWS = [
    ("yard", 1280, 800, "/"),
    ("intake", 1280, 800, "/jobs/new"),
    ("bench", 1280, 800, "/jobs/102"),
    ("bench-phone", 390, 844, "/jobs/102"),
    ("bench-motorcycle", 1280, 800, "/jobs/103"),
    ("suspect", 1280, 800, "/jobs/102/suspects/isolator"),
    ("api", 1280, 800, "/api/v1/reference"),
    ("repair", 1280, 800, "/jobs/101/repair"),
    ("report", 1280, 800, "/jobs/101/report"),
]


def main() -> None:
    """Start the app on fresh demo data and picture each view."""
    with served_app() as app:
        for number in (101, 102, 103):  # a suspect's page waits until the job's ensemble is ready
            urllib.request.urlopen(f"{app.url}/jobs/{number}/suspects/battery").close()
        for name, width, height, path in VIEWS:
            driver = launch_browser(width, height)
            driver.get(app.url + path)
            driver.execute_async_script("document.fonts.ready.then(arguments[0])")
            driver.save_screenshot(str(PICTURES / f"{name}.png"))
            driver.quit()


if __name__ == "__main__":
    main()
