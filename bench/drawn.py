"""The feed map of every shipped sheet as Chromium draws it: text over text, over a line or a symbol, text cut off, and points of the sheet that are not drawn."""

import contextlib
import socket
import threading
from collections.abc import Iterator

import uvicorn
from fastapi import FastAPI
from fastapi.responses import HTMLResponse
from fastapi.staticfiles import StaticFiles
from selenium.webdriver.remote.webdriver import WebDriver

from iron_probe.machines import load_sheet, sheet_ids
from iron_probe.web.app import STATIC
from iron_probe.web.bench.drawing import COLUMN, ROW, ink_of, map_of, points_of
from tests.conftest import launch_browser

SIZES = ((1280, 800), (1920, 1080))
MEASURE = """
const map = document.getElementById("map"), seen = map.getBoundingClientRect();
const box = (e) => e.getBoundingClientRect(), over = (a, b) => Math.min(a.right, b.right) - Math.max(a.left, b.left) > 1.5 && Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top) > 1.5;
const texts = [...map.querySelectorAll("text.label")].filter(t => t.textContent.trim() && t.getClientRects().length);
const boxes = texts.map(box), symbols = [...map.querySelectorAll(".branch .body, .branch .gap, .point .dot")].map(box);
const ends = [];
for (const line of map.querySelectorAll(".branch polyline")) {
  const at = line.getScreenCTM(), points = [...line.points].map(p => p.matrixTransform(at));
  points.slice(1).forEach((p, k) => ends.push([points[k], p]));
}
const crosses = (b, [p, q]) => { // a segment clipped to a box, by its parameters (Liang and Barsky)
  let low = 0, high = 1;
  for (const [from, by, least, most] of [[p.x, q.x - p.x, b.left + 1, b.right - 1], [p.y, q.y - p.y, b.top + 2, b.bottom - 2]]) {
    if (Math.abs(by) < 1e-9) { if (from < least || from > most) return false; continue; }
    const t = [(least - from) / by, (most - from) / by].sort((x, y) => x - y);
    low = Math.max(low, t[0]); high = Math.min(high, t[1]);
  }
  return low < high;
};
let text = 0, line = 0, symbol = 0, cut = 0;
boxes.forEach((a, k) => {
  if (boxes.some((b, n) => n > k && over(a, b))) text += 1;
  if (ends.some(e => crosses(a, e))) line += 1;
  if (symbols.some(b => over(a, b))) symbol += 1;
  if (a.left < seen.left - 1 || a.right > seen.right + 1 || a.top < seen.top - 1 || a.bottom > seen.bottom + 1) cut += 1;
});
return [texts.length, text, line, symbol, cut, [...map.querySelectorAll("[data-point]")].map(p => p.dataset.point)];
"""


def table() -> str:
    """Draw and measure each, and word it."""
    lines = [
        "## The feed map as it is drawn",
        "",
        "Labels of each shipped sheet's whole map in Chromium: how many lie over another label, over a line, over a symbol, or are cut off at the edge of the plate; and points of the sheet that are not drawn.",
        "",
        "| sheet | size | labels | over text | over a line | over a symbol | cut off | points not drawn |",
        "| --- | --- | ---: | ---: | ---: | ---: | ---: | ---: |",
    ]
    with _plates() as url:
        for width, height in SIZES:
            driver = launch_browser(width, height)
            lines += [_row(driver, url, sheet_id, f"{width}x{height}") for sheet_id in sheet_ids()]
            driver.quit()
    return "\n".join(lines)


def _plate(sheet_id: str) -> HTMLResponse:
    """The map of a sheet as the Bench draws it, on a page of its own, as large as the Bench leaves it."""
    sheet = load_sheet(sheet_id)
    drawing = map_of(sheet)
    box = f"{-0.5 * COLUMN:.0f} {-0.75 * ROW:.0f} {(drawing.columns + 1) * COLUMN:.0f} {(drawing.rows + 1.5) * ROW:.0f}"
    ink, points = ink_of(sheet, next(iter(sheet.states))), points_of(sheet)
    body = f'<main class="bench" style="height: 560px"><section class="plate"><svg id="map" class="map" viewBox="{box}">{ink}{points}</svg></section></main>'
    return HTMLResponse(f'<!doctype html><link rel="stylesheet" href="/static/app.css"><body class="at-bench">{body}')


@contextlib.contextmanager
def _plates() -> Iterator[str]:
    """The maps of all sheets with the app's own style and fonts, on a free port."""
    app = FastAPI()
    app.mount("/static", StaticFiles(directory=STATIC))
    app.get("/sheets/{sheet_id}")(_plate)
    with socket.socket() as listening:
        listening.bind(("127.0.0.1", 0))
        server = uvicorn.Server(uvicorn.Config(app, log_level="warning"))
        thread = threading.Thread(target=server.run, kwargs={"sockets": [listening]})
        thread.start()
        try:
            yield f"http://127.0.0.1:{listening.getsockname()[1]}"
        finally:
            server.should_exit = True
            thread.join()


def _row(driver: WebDriver, url: str, sheet_id: str, size: str) -> str:
    driver.get(f"{url}/sheets/{sheet_id}")
    driver.execute_async_script("document.fonts.ready.then(arguments[0])")
    labels, text, line, symbol, cut, drawn = driver.execute_script(MEASURE)
    missing = len(set(load_sheet(sheet_id).points) - set(drawn))
    return f"| {sheet_id} | {size} | {labels} | {text} | {line} | {symbol} | {cut} | {missing} |"
