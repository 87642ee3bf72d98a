"""The feed map as Chromium draws it, of every shipped sheet and of a hundred grown at random, whole and folded for each work: text over text, over a line, a
sign or a point, or cut off; points neither drawn nor in a folded track; and how long it takes to lay out."""

import contextlib
import socket
import threading
import time
from collections.abc import Iterator
from functools import lru_cache

import uvicorn
from fastapi import FastAPI
from fastapi.responses import HTMLResponse
from fastapi.staticfiles import StaticFiles
from selenium.webdriver.remote.webdriver import WebDriver

from bench.grown_sheets import grown
from iron_probe.core.circuit.network import SheetKey, build_network
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.scope import Scope
from iron_probe.core.draw.feed_map import lay_out
from iron_probe.machines import load_sheet, sheet_ids
from iron_probe.web.app import STATIC
from iron_probe.web.bench.drawing import Folding, ink_of, map_of, points_of
from iron_probe.web.page import templates
from tools.served import launch_browser

GROWN, LARGEST = 100, 300
"""Sheets grown at random, of 40 parts and more, and the parts of the one that is timed."""
MEASURE = """
const map = document.getElementById("map"), seen = map.getBoundingClientRect();
const box = (e) => e.getBoundingClientRect(), over = (a, b) => Math.min(a.right, b.right) - Math.max(a.left, b.left) > 0.5 && Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top) > 0.5;
const lineOf = (t) => { const b = box(t), trim = Math.min(b.width, b.height) / 6; return t.matches(".stub-name") ? { left: b.left + trim, right: b.right - trim, top: b.top, bottom: b.bottom } : { left: b.left, right: b.right, top: b.top + trim, bottom: b.bottom - trim }; }; // the letters, without the space a font keeps above and below
const texts = [...map.querySelectorAll("tspan, text:not(:has(tspan))")].filter(t => !t.closest(".letter, .flag") && t.textContent.trim()).map(lineOf);
const solid = [...map.querySelectorAll(".body, .gap, .thick, .dot")].map(box);
const lines = [...map.querySelectorAll("polyline, .earth, .fold")].flatMap(line => {
  if (line.tagName === "path") return [box(line)];
  const at = line.getScreenCTM(), points = [...line.points].map(p => p.matrixTransform(at));
  return points.slice(1).map((p, k) => ({ left: Math.min(p.x, points[k].x) - 1, right: Math.max(p.x, points[k].x) + 1, top: Math.min(p.y, points[k].y) - 1, bottom: Math.max(p.y, points[k].y) + 1 }));
});
const count = (others) => texts.filter(t => others.some(o => o !== t && over(t, o))).length;
const cut = texts.filter(t => t.left < seen.left - 1 || t.right > seen.right + 1 || t.top < seen.top - 1 || t.bottom > seen.bottom + 1).length;
return [texts.length, count(texts), count(lines), count(solid), cut, [...map.querySelectorAll("[data-point]")].map(p => p.dataset.point)];
"""


def table() -> str:
    """Draw and measure each, and word it."""
    lines = [
        "## The feed map as it is drawn",
        "",
        f"Every text of the map in Chromium, 1:1, of each shipped sheet whole and folded for each work, and of {GROWN} sheets grown at random (40 to {LARGEST} parts): how many lie over another text, over a line, over a sign or a point, or are cut off; points neither drawn nor in a folded track.",
        "",
        "| sheets | maps | texts | over text | over a line | over a sign | cut off | points out of reach | laid out in, most |",
        "| --- | ---: | ---: | ---: | ---: | ---: | ---: | ---: | ---: |",
    ]
    with _plates() as url:
        driver = launch_browser(1280, 800)
        lines += [
            _row(driver, url, title, names)
            for title, names in (("shipped, whole", _shipped("whole")), ("shipped, starting", _shipped("starting")),
                                 ("shipped, charging", _shipped("charging")), ("grown at random", [f"grown-{k}/whole" for k in range(GROWN)]))
        ]  # fmt: skip
        driver.quit()
    large = grown(1, LARGEST)
    return "\n".join([*lines, "", f"A sheet of {len(large.elements)} parts is laid out in {1000 * _seconds(large):.0f} ms."])


def _shipped(work: str) -> list[str]:
    return [f"{sheet_id}/{work}" for sheet_id in sheet_ids()]


@lru_cache(maxsize=200)
def _sheet(name: str) -> Sheet:
    return grown(int(name[6:]), 40 + (LARGEST - 40) * int(name[6:]) // GROWN) if name.startswith("grown-") else load_sheet(name)


def _folding(name: str, work: str) -> Folding:
    return Folding(SheetKey(_sheet(name)), None if work == "whole" else Scope(work))


def _seconds(sheet: Sheet) -> float:
    network, took = build_network(sheet), []
    for _ in range(3):
        begun = time.perf_counter()
        lay_out(network)
        took.append(time.perf_counter() - begun)
    return min(took)


def _plate(name: str, work: str) -> HTMLResponse:
    """The map of a sheet as the Bench draws it, on a page of its own."""
    folding = _folding(name, work)
    drawing = map_of(folding)
    ink, points = ink_of(folding, next(iter(folding.sheet.sheet.states))), points_of(folding)
    stubs = templates.get_template("bench/_stubs.html").render(d=drawing, opened="")
    size = f'viewBox="0 0 {drawing.width:.0f} {drawing.height:.0f}" style="max-width: none; width: {drawing.width:.0f}px; height: {drawing.height:.0f}px"'
    return HTMLResponse(
        f'<!doctype html><link rel="stylesheet" href="/static/app.css"><body><svg id="map" class="map" {size}>{ink}{stubs}{points}</svg>'
    )


@contextlib.contextmanager
def _plates() -> Iterator[str]:
    """The maps of all sheets with the app's own style and fonts, on a free port."""
    app = FastAPI()
    app.mount("/static", StaticFiles(directory=STATIC))
    app.get("/sheets/{name}/{work}")(_plate)
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


def _row(driver: WebDriver, url: str, title: str, names: list[str]) -> str:
    sums, missing, longest = [0] * 5, 0, 0.0
    for name in names:
        driver.get(f"{url}/sheets/{name}")
        driver.execute_async_script("document.fonts.ready.then(arguments[0])")
        *counts, drawn = driver.execute_script(MEASURE)
        sums = [a + b for a, b in zip(sums, counts, strict=True)]
        sheet, _, work = name.partition("/")
        folded = {p for s in map_of(_folding(sheet, work)).stubs for p in s.points}
        missing += len(set(_sheet(sheet).points) - set(drawn) - folded)
        longest = max(longest, _seconds(_sheet(sheet)))
    return f"| {title} | {len(names)} | {' | '.join(str(n) for n in sums)} | {missing} | {1000 * longest:.0f} ms |"
