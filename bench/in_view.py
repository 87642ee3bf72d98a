"""The Bench of every shipped sheet in Chromium, for starting and charging, on desk, large screen and phone: are the leads of the step in view on the map; and the
drawings of the other screens: does any text of theirs lie over another."""

import urllib.parse
import urllib.request
from http.cookiejar import CookieJar

from selenium.webdriver.common.by import By
from selenium.webdriver.remote.webdriver import WebDriver

from iron_probe.machines import load_sheet, sheet_ids
from tools.served import launch_browser, served_app, waiting

SIZES = ((1280, 800), (1920, 1080), (390, 844))
COMPLAINTS = {"starting": "nothing", "charging": "no_charge"}
DRAWN = (
    "/jobs/106/charge",
    "/jobs/109/drain",
    "/jobs/109/drain/sweep?at=l2",
    "/jobs/104/battery?draw=60 mA",
    "/jobs/105/control",
    "/jobs/111/fuse",
    "/jobs/101/report",
    "/jobs/102",
)
SEEN = """
const plate = document.getElementById("map").getBoundingClientRect(), flags = [...document.querySelectorAll(".flag:not([display])")].map(f => f.getBoundingClientRect());
return [flags.length, flags.filter(r => r.left < plate.left || r.right > plate.right || r.top < plate.top || r.bottom > plate.bottom).length];
"""
OVER = """
const over = (a, b) => Math.min(a.right, b.right) - Math.max(a.left, b.left) > 1 && Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top) > 1; let texts = 0, found = 0;
for (const svg of document.querySelectorAll("main svg:not(#map)")) {
  const boxes = [...svg.querySelectorAll("tspan, text:not(:has(tspan))")].filter(t => t.textContent.trim() && t.getClientRects().length).map(t => { const b = t.getBoundingClientRect(), trim = b.height / 6; return { left: b.left, right: b.right, top: b.top + trim, bottom: b.bottom - trim }; });
  texts += boxes.length; found += boxes.filter((a, k) => boxes.some((b, n) => n > k && over(a, b))).length;
}
return [texts, found];
"""


def table() -> str:
    """Take in a job on each sheet, look at each size, and word it."""
    lines = [
        "| size | Benches | leads on the map | out of view | drawings: texts | over another |",
        "| --- | ---: | ---: | ---: | ---: | ---: |",
    ]
    with served_app() as app:
        jobs = [_take_in(app.url, sheet_id, said) for sheet_id in sheet_ids() for said in COMPLAINTS.values()]
        for width, height in SIZES:
            driver = launch_browser(width, height)
            leads = [_looked(driver, f"{app.url}{job}?view=map", SEEN) for job in jobs]
            texts = [_looked(driver, app.url + path, OVER) for path in DRAWN]
            sums = [sum(column) for rows in (leads, texts) for column in zip(*rows, strict=True)]
            lines.append(f"| {width}x{height} | {len(jobs)} | {' | '.join(str(n) for n in sums)} |")
            driver.quit()
    return "\n".join(["## The step's leads on the map, and the drawings of other screens", "", *lines])


def _take_in(url: str, sheet_id: str, symptom: str) -> str:
    """A new job on a shipped sheet; the path of its Bench."""
    jar = CookieJar()
    opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(jar))
    opener.open(f"{url}/jobs/new").close()
    token = next(c.value for c in jar if c.name == "iron_probe_form")
    said = {
        "form_token": token,
        "sheet_id": sheet_id,
        "machine": load_sheet(sheet_id).title,
        "symptom": symptom,
        "school": "common",
        "temp_degc": "20",
        "cold_degc": "-10",
    }
    with opener.open(f"{url}/jobs", urllib.parse.urlencode(said).encode()) as answer:
        return "/" + "/".join(urllib.parse.urlsplit(answer.url).path.split("/")[1:3])


def _looked(driver: WebDriver, url: str, script: str) -> list[int]:
    driver.get(url)
    driver.execute_async_script("document.fonts.ready.then(arguments[0])")
    waiting(driver).until(lambda d: not d.find_elements(By.CSS_SELECTOR, ".htmx-request"))
    return list(driver.execute_script(script))
