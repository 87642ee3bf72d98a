"""A stand-in for a logging clamp: the total of a machine falling asleep, with a module that will not, posted to the app as a real logger would."""

import json
import time
import urllib.error
import urllib.request
from collections.abc import Iterator

import numpy as np

from iron_probe.core.bench.drain.feed_tree import Draws, feed_tree, usual_total_a
from iron_probe.core.circuit.network import network_of
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.errors import ReadingError, unknown_name

NOISE_A, ZERO_A = 0.0008, 0.002
"""Noise of a low-current clamp and how far its zero creeps [A] (common practice)."""
FALLS = ((0.0, 1.4), (0.1, 0.5), (0.4, 0.12), (1.0, 0.0))
"""Shares of the time to sleep, and what is still drawn over the sleeping level from then on [A]."""


def totals(sheet: Sheet, awake: str = "", seed: int = 1) -> Iterator[tuple[float, float]]:
    """Endless (seconds since locked, amps), one a second; `awake` names a module of the sheet that never sleeps. ReadingError for none such."""
    tree = feed_tree(network_of(sheet))
    modules = {c.element: c.awake_a - c.usual_a for c in tree.consumers if c.why is Draws.NO_SLEEP}
    if awake and awake not in modules:
        raise ReadingError(unknown_name("module", awake, list(modules)))
    asleep = usual_total_a(tree) + modules.get(awake, 0.0)
    rng = np.random.default_rng(seed)
    second = 0
    while True:
        share = second / (60 * sheet.sleep_minutes)
        over = [a for at, a in FALLS if share >= at][-1]
        yield float(second), max(asleep + over + ZERO_A * np.sin(second / 700) + NOISE_A * rng.standard_normal(), 0.0)
        second += 1


def post_totals(url: str, key: str, values: Iterator[tuple[float, float]], every_s: float, faster: float, count: int = 0) -> Iterator[str]:
    """Post a value with the job's key every `every_s` seconds, time running `faster` times as fast; yields what the app said. ConnectionError when it is away."""
    sent = 0
    due = 0.0
    for second, amps in values:
        if second < due:
            continue
        due = second + every_s * faster
        body = json.dumps({"amps": round(amps, 4), "resolution_a": 0.001}).encode()
        request = urllib.request.Request(url, data=body, headers={"Content-Type": "application/json", "X-Job-Key": key})
        try:
            with urllib.request.urlopen(request, timeout=10) as answer:
                yield f"{1000 * amps:.0f} mA {'logged' if json.load(answer)['kept'] else 'as before'}"
        except urllib.error.HTTPError as error:
            yield f"refused: {json.load(error).get('error', error.code)}"
            return
        except urllib.error.URLError as error:
            raise ConnectionError(f"The app does not answer at {url}: {error.reason}. Start it with ./run.") from error
        sent += 1
        if count and sent >= count:
            return
        time.sleep(every_s)
