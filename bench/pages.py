"""Server time of the Bench page and of logging a reading, over real HTTP on loopback."""

import re
import time
import urllib.parse
import urllib.request

from bench.timing import percentiles_ms
from tools.served import served_app

REQUESTS = 200
ASIDE = {"control side": "/control?after=start-relay:0", "charge board": "/charge"}
"""Screens beside the Bench that a reading is typed on, and where it goes back to."""


def table() -> str:
    """Measure and word it."""
    with served_app() as app:
        shown, logged = _measure(app.url)
        swept = _sweep(app.url)
        aside = {screen: _aside(app.url, back) for screen, back in ASIDE.items()}
    rows = [
        (f"Bench page, {REQUESTS} requests", shown),
        (f"logging a reading and the new Bench, {REQUESTS} requests", logged),
        (f"fuse drop logged and the next slot shown, {REQUESTS} requests", swept),
        *((f"reading logged on the {screen} and the next place shown, {REQUESTS} requests", took) for screen, took in aside.items()),
    ]
    lines = ["## Server time", "", "| what | p50 | p95 |", "| --- | ---: | ---: |"]
    lines += [f"| {name} | {p50:.0f} ms | {p95:.0f} ms |" for name, (p50, p95) in ((n, percentiles_ms(t)) for n, t in rows)]
    return "\n".join([*lines, ""])


def _visitor(url: str, page: str) -> tuple[urllib.request.OpenerDirector, str]:
    """Somebody who has opened a page, and the token its forms are sent with."""
    opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor())
    text = opener.open(f"{url}{page}").read().decode()
    return opener, re.findall(r'name="form_token" value="([^"]+)"', text)[0]


def _new_job(opener: urllib.request.OpenerDirector, url: str, token: str, sheet_id: str, machine: str) -> str:
    """The address of a job taken in."""
    form = {"form_token": token, "sheet_id": sheet_id, "machine": machine, "school": "common", "temp_degc": 15, "cold_degc": -5}
    return str(opener.open(f"{url}/jobs", urllib.parse.urlencode(form).encode()).geturl())


def _measure(url: str) -> tuple[list[float], list[float]]:
    opener, token = _visitor(url, "/jobs/102")
    shown, logged = [], []
    for k in range(REQUESTS):
        start = time.perf_counter()
        opener.open(f"{url}/jobs/102").read()
        shown.append(time.perf_counter() - start)
        if k % 12 == 0:  # a new job now and then, so that the log stays as long as real ones
            job = _new_job(opener, url, token, "crew-minibus", f"B{k}")
        form = {
            "form_token": token,
            "red": "bat.plus",
            "black": "starter.B",
            "state": "crank",
            "instrument": "voltmeter",
            "value": f"0.{k % 90 + 10}",
        }
        request = urllib.request.Request(f"{job}/readings", urllib.parse.urlencode(form).encode(), {"HX-Request": "true"})
        start = time.perf_counter()
        opener.open(request).read()
        logged.append(time.perf_counter() - start)
    return shown, logged


def _sweep(url: str) -> list[float]:
    """Millivolts logged across the shuttle's fuses, one after the other, with a new job now and then."""
    opener, token = _visitor(url, "/jobs/109/drain")
    fuses = [f"{box}{k}" for box, most in (("b", 7), ("c", 9), ("l", 3)) for k in range(1, most + 1)]
    taken, job = [], ""
    for k in range(REQUESTS):
        fuse = fuses[k % len(fuses)]
        if k % len(fuses) == 0:
            job = _new_job(opener, url, token, "lift-shuttle", f"S{k}")
            opener.open(
                f"{job}/drain/totals", urllib.parse.urlencode({"form_token": token, "value": "410", "way": "clamp"}).encode()
            ).read()
        form = {"form_token": token, "where": fuse, "value": "0.0", "way": "fuse drop", "back": f"/drain/sweep?at={fuse}"}
        start = time.perf_counter()
        opener.open(f"{job}/drain/readings", urllib.parse.urlencode(form).encode()).read()
        taken.append(time.perf_counter() - start)
    return taken


def _aside(url: str, back: str) -> list[float]:
    """Readings logged on a screen beside the Bench, as its own page sends them, with a new job now and then."""
    opener, token = _visitor(url, "/jobs/102")
    taken, job = [], ""
    for k in range(REQUESTS):
        if k % 12 == 0:
            job = _new_job(opener, url, token, "crew-minibus", f"A{k}")
        form = {
            "form_token": token, "back": back, "at": "a", "red": "bat.plus", "black": "bat.minus", "state": ("rest", "run", "fast")[k % 3],
            "instrument": "voltmeter", "value": f"12.{k % 90 + 10}",
        }  # fmt: skip
        request = urllib.request.Request(f"{job}/readings", urllib.parse.urlencode(form).encode(), {"HX-Request": "true"})
        start = time.perf_counter()
        opener.open(request).read()
        taken.append(time.perf_counter() - start)
    return taken
