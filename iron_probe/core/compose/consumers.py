"""What hangs on the boxes of a composed machine: fused consumers, what sleeps, and the states that switch them on."""

import re

from iron_probe.core.compose.feeds import Feed
from iron_probe.core.compose.plan import Data, Plan
from iron_probe.core.compose.sizes import WIRE_DROP_SHARE, cable_mm2, fuse_for

ALARM_DRAW_A = 0.3
"""What a small module that sleeps draws awake, where its power is not given [A] (common practice)."""
HEAVY_W = 100.0
"""From so many watts a consumer drops volts that a wire is measured for (chosen here)."""


def add_feeds(plan: Plan, feeds: list[Feed], asleep: list[tuple[str, float]]) -> None:
    """Fuse, wire, switch and consumer of every line; what sleeps and has no fuse of its own shares one of the first box."""
    titles = {str(p["title"]).casefold() for p in plan.points.values()}
    for number, feed in enumerate(feeds, start=1):
        _add_feed(plan, number, feed, titles)
    for number, (title, ma) in enumerate(asleep, start=len(feeds) + 1):
        _add_feed(plan, number, Feed(line=0, box=1, slot=f"Z{number}", title=title, asleep_ma=ma), titles, question="sleeps")


def _add_feed(plan: Plan, number: int, feed: Feed, titles: set[str], question: str = "feeds") -> None:
    volts = float(plan.figures["volts"])
    loom_m = float(plan.figures["loom_m"])
    module = feed.asleep_ma > 0
    watts = ALARM_DRAW_A * volts if module and feed.watts is None else feed.drawn_w(volts)
    rating = feed.rating_a or fuse_for(watts / volts)
    named = _unlike(feed.title, titles)
    source = plan.ends["ign"] if feed.behind_key and not module else plan.ends[f"box{feed.box}"]

    def point(part: str, title: str, minutes: float) -> str:
        name = f"c{number}.{part}"
        plan.points[name] = {"title": title, "minutes": minutes}
        return name

    def put(part: str, element: Data) -> None:
        plan.put({"id": f"c{number}-{part}", **element}, question)

    fused = point("fuse", f"{named} fuse output", 1)
    put(
        "fuse",
        {
            "type": "fuse",
            "title": f"{named} fuse"[:60],
            "from": source,
            "to": fused,
            "rating_a": rating,
            "box": f"box {feed.box}",
            "slot": feed.slot,
        },
    )
    if feed.by:
        control = _control(plan, feed.by)
        switched = point("sw", f"{named} switch output", 2)
        put("switch", {
            "type": "switch", "title": _fit(f"{named} switch"), "from": fused, "to": switched, "closed_in": {control: ["on"]}, "r_mohm": 25,
        })  # fmt: skip
        fused = switched
    fed = point("feed", f"{named} feed", 2)
    area = cable_mm2(watts / volts, loom_m, WIRE_DROP_SHARE * volts)
    put("wire", {"type": "wire", "title": _fit(f"{named} wire"), "from": fused, "to": fed, "mm2": max(area, 0.75), "length_m": loom_m})
    ground = plan.ends["body"]
    if watts >= HEAVY_W and not module:
        returns = point("ground", f"{named} ground", 2)
        put(
            "ground",
            {"type": "ground", "title": _fit(f"{named} ground point"), "from": returns, "to": ground, "r_mohm": 3, "tags": ["exposed"]},
        )
        ground = returns
    if module:
        put("module", {
            "type": "module", "title": _fit(named), "supply": fed, "ground": ground, "volts": int(volts), "draw_a": round(watts / volts, 3),
            "asleep_a": round(feed.asleep_ma / 1000, 6), "alive_above_v": volts / 2, "awake_in": {"key": ["run", "crank"]},
        })  # fmt: skip
    else:
        put("load", {"type": "load", "title": _fit(named), "from": fed, "to": ground, "watts": round(watts, 2), "volts": volts})


def _fit(title: str) -> str:
    return title[:60]


def _unlike(title: str, titles: set[str]) -> str:
    """The title, numbered where another consumer has the same: points need telling apart."""
    base, tried, count = title[:40], title[:40], 1
    while not titles.isdisjoint(parts := {f"{tried} {part}".casefold() for part in ("fuse output", "switch output", "feed", "ground")}):
        count += 1
        tried = f"{base} {count}"
    titles |= parts
    return tried


def _control(plan: Plan, by: str) -> str:
    """The control of that switch, made where it is new, with the states that set it."""
    name = re.sub(r"[^a-z0-9]+", "-", by.casefold()).strip("-")[:30] or "switch"
    if name not in plan.controls:
        plan.controls[name] = {"title": by[:60], "positions": ["off", "on"]}
        plan.add_state(
            f"on-{name}"[:40], {"title": _fit(f"Key on, {by[0].lower()}{by[1:]} on"), "like": "run", "set": {name: "on"}, "minutes": 0.3}
        )
    return name


def add_states(plan: Plan) -> None:
    """Cranking with what it takes, cranking under the first switched load, and the engine under all of them."""
    switched = [s.removeprefix("on-") for s in plan.states if s.startswith("on-")]
    if switched and "crank" in plan.states:
        crank = plan.states["crank"]
        plan.add_state("crank-on", {
            "title": _fit(f"Cranking, {plan.controls[switched[0]]['title'].lower()} on"), "like": "crank", "set": {switched[0]: "on"}, "minutes": 0.5,
            "cranking": True, "cautions": crank.get("cautions", []),
        })  # fmt: skip
    if switched and "fast" in plan.states:
        plan.add_state("loaded", {
            "title": "Fast idle, loads on", "like": "fast", "set": dict.fromkeys(switched, "on"), "minutes": 0.4,
            "cautions": plan.states["fast"].get("cautions", []),
        })  # fmt: skip
    for name, state in plan.states.items():
        if plan.tries_to_crank(name):
            state["set"] = {**plan.cranks_with, **state.get("set", {})}
