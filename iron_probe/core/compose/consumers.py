"""What hangs on the boxes of a composed machine: fused consumers, what sleeps, and the states that switch them on."""

import re

from iron_probe.core.compose.feeds import Feed
from iron_probe.core.compose.plan import LONGEST_TITLE, Data, Plan
from iron_probe.core.compose.sizes import WIRE_DROP_SHARE, cable_mm2, fuse_for

MODULE_DRAW_A = 0.3
"""What a small module that sleeps draws awake, where its power is not given [A] (common practice)."""
HEAVY_W = 100.0
"""From so many watts a consumer has a ground point of its own that is worth measuring (chosen here)."""
PLACES = ("fuse output", "switch output", "feed", "ground")
"""Points of a consumer, as they are titled after its name."""
LONGEST_NAME = 40


def add_feeds(plan: Plan, feeds: list[Feed], asleep: list[tuple[str, float]]) -> None:
    """Fuse, wire, switch and consumer of every line; what sleeps and has no fuse of its own shares one of the first box."""
    titles = {str(p["title"]).casefold() for p in plan.points.values()}
    outputs: dict[tuple[int, str], str] = {}
    for number, feed in enumerate(feeds, start=1):
        also = sum(f.drawn_w(float(plan.figures["volts"])) for f in feeds if f.shares and (f.box, f.slot) == (feed.box, feed.slot))
        _Consumer(plan, number, feed, "feeds", titles, outputs, also).add()
    for number, (title, ma) in enumerate(asleep, start=len(feeds) + 1):
        _Consumer(plan, number, Feed(line=0, box=1, slot=f"Z{number}", title=title, asleep_ma=ma), "sleeps", titles, {}).add()


class _Consumer:
    """One line of the table while it is put on: its parts are numbered as the line, its points named after it."""

    def __init__(
        self, plan: Plan, number: int, feed: Feed, question: str, titles: set[str], outputs: dict[tuple[int, str], str], also_w: float = 0.0
    ) -> None:
        self.plan, self.number, self.feed, self.question, self.outputs, self.also_w = plan, number, feed, question, outputs, also_w
        self.named = _unlike(feed.title, titles)
        self.volts = float(plan.figures["volts"])
        self.module = feed.asleep_ma > 0
        self.watts = MODULE_DRAW_A * self.volts if self.module and feed.watts is None else feed.drawn_w(self.volts)

    def add(self) -> None:
        """Fuse, switch where it has one, wire and consumer, with a ground point where it draws much."""
        feed, loom_m = self.feed, float(self.plan.figures["loom_m"])
        at = self.plan.ends["ign"] if feed.behind_key and not self.module else self.plan.ends[f"box{feed.box}"]
        if feed.shares:
            at = self.outputs[feed.box, feed.slot]
        else:
            rating_a = feed.rating_a or fuse_for((self.watts + self.also_w) / self.volts)
            fuse = {"type": "fuse", "rating_a": rating_a, "box": f"box {feed.box}", "slot": feed.slot}
            at = self.outputs[feed.box, feed.slot] = self.put("fuse", "fuse", at, "fuse output", fuse)
        if feed.by:
            at = self.put("switch", "switch", at, "switch output", {"type": "switch", "closed_in": {self.control(): ["on"]}, "r_mohm": 25})
        area = max(cable_mm2(self.watts / self.volts, loom_m, WIRE_DROP_SHARE * self.volts), 0.75)
        at = self.put("wire", "wire", at, "feed", {"type": "wire", "mm2": area, "length_m": loom_m})
        ground = self.plan.ends["body"]
        if self.watts >= HEAVY_W and not self.module:
            returns = self.point("ground")
            self.element("ground", "ground point", {"type": "ground", "from": returns, "to": ground, "r_mohm": 3, "tags": ["exposed"]})
            ground = returns
        if self.module:
            self.element("module", "", {
                "type": "module", "supply": at, "ground": ground, "volts": int(self.volts), "draw_a": round(self.watts / self.volts, 3),
                "asleep_a": round(feed.asleep_ma / 1000, 6), "alive_above_v": self.volts / 2, "awake_in": {"key": ["run", "crank"]},
            })  # fmt: skip
        else:
            self.element("load", "", {"type": "load", "from": at, "to": ground, "watts": round(self.watts, 2), "volts": self.volts})

    def put(self, part: str, called: str, start: str, place: str, element: Data) -> str:
        """A part that lies in line from a point to a new one, which is given back."""
        end = self.point(place)
        self.element(part, called, {"from": start, "to": end, **element})
        return end

    def element(self, part: str, called: str, element: Data) -> None:
        """A part of it, titled after its name."""
        self.plan.put({"id": f"c{self.number}-{part}", "title": f"{self.named} {called}".strip()[:LONGEST_TITLE], **element}, self.question)

    def point(self, place: str) -> str:
        """A new point of it."""
        name = f"c{self.number}.{place.partition(' ')[0]}"
        self.plan.points[name] = {"title": f"{self.named} {place}", "minutes": 1 if place == PLACES[0] else 2}
        return name

    def control(self) -> str:
        """The control of its switch, made where it is new, with the state that sets it."""
        by, plan = self.feed.by, self.plan
        name = re.sub(r"[^a-z0-9]+", "-", by.casefold()).strip("-")[:30] or "switch"
        if name not in plan.controls:
            plan.controls[name] = {"title": by[:LONGEST_TITLE], "positions": ["off", "on"]}
            plan.switched.append(name)
            title = f"Key on, {by[0].lower()}{by[1:]} on"
            plan.add_state(f"on-{name}", {"title": title, "like": "run", "set": {name: "on"}, "minutes": 0.3})
        return name


def _unlike(title: str, titles: set[str]) -> str:
    """The title, numbered where another consumer has the same: points need telling apart."""
    base, tried, count = title[:LONGEST_NAME], title[:LONGEST_NAME], 1
    while not titles.isdisjoint(parts := {f"{tried} {place}".casefold() for place in PLACES}):
        count += 1
        tried = f"{base} {count}"
    titles |= parts
    return tried


def add_states(plan: Plan) -> None:
    """Cranking with what it takes, cranking under the first switched load, and the engine under all of them."""
    if plan.switched and "crank" in plan.states:
        first = plan.switched[0]
        plan.add_state("crank-on", {
            "title": f"Cranking, {plan.controls[first]['title'].lower()} on", "like": "crank", "set": {first: "on"}, "minutes": 0.5,
            "cranking": True, "cautions": plan.states["crank"].get("cautions", []),
        })  # fmt: skip
    if plan.switched and "fast" in plan.states:
        plan.add_state("loaded", {
            "title": "Fast idle, loads on", "like": "fast", "set": dict.fromkeys(plan.switched, "on"), "minutes": 0.4,
            "cautions": plan.states["fast"].get("cautions", []),
        })  # fmt: skip
    for name, state in plan.states.items():
        if plan.tries_to_crank(name):
            state["set"] = {**plan.cranks_with, **state.get("set", {})}
