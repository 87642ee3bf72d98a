"""What hangs on the boxes of a composed machine: fused consumers, what sleeps, and the states that switch them on."""

from collections.abc import Sequence

from iron_probe.core.compose.feeds import Feed
from iron_probe.core.compose.naming import LONGEST_TITLE, word_of
from iron_probe.core.compose.plan import Data, Plan
from iron_probe.core.compose.sizes import WIRE_DROP_SHARE, cable_mm2, fuse_for

MODULE_DRAW_A = 0.3
"""What a small module that sleeps draws awake, where its power is not given [A] (common practice)."""
HEAVY_W = 100.0
"""From so many watts a consumer has a ground point of its own that is worth measuring (chosen here)."""
PLACES = ("fuse output", "switch output", "feed", "ground")
"""Points of a consumer, as they are titled after its name."""
LONGEST_NAME = 40
LEAST_MM2 = 0.75
"""The least wire of a consumer [mm²] (common practice)."""


def add_feeds(plan: Plan, feeds: Sequence[Feed], asleep: Sequence[tuple[str, float]]) -> None:
    """Every line of the table; what sleeps and has no fuse of its own shares one of the first box."""
    sleeping = [Feed(line=0, box=1, slot=f"Z{n}", title=title, asleep_ma=ma) for n, (title, ma) in enumerate(asleep, start=len(feeds) + 1)]
    named = [(f"c{n}", feed) for n, feed in enumerate((*feeds, *sleeping), start=1)]
    titles = {str(p["title"]).casefold() for p in plan.points.values()}
    put_on(plan, named[: len(feeds)], "feeds", titles)
    put_on(plan, named[len(feeds) :], "sleeps", titles)


def put_on(
    plan: Plan, named: Sequence[tuple[str, Feed]], question: str, titles: set[str], *, like: str = "run", accessory: bool = False
) -> None:
    """Consumers under the names their parts begin with: fuse, switch where it has one, wire and itself, from the plan's ends (`ign` behind the
    key, `box1` and `box2`) to its `body`. A switch is tried in a state `like` another. An `accessory` is fused in line, if at all."""
    outputs: dict[tuple[int, str], str] = {}
    for name, feed in named:
        also_w = sum(f.drawn_w(float(plan.figures["volts"])) for _, f in named if f.shares and (f.box, f.slot) == (feed.box, feed.slot))
        _Consumer(plan, name, feed, question, _unlike(feed.title, titles), accessory).add(outputs, also_w, like)


class _Consumer:
    """A consumer while it is put on: its parts begin with its name, its points are titled after it."""

    def __init__(self, plan: Plan, name: str, feed: Feed, question: str, titled: str, accessory: bool) -> None:
        self.plan, self.name, self.feed, self.question, self.titled, self.accessory = plan, name, feed, question, titled, accessory
        self.volts = float(plan.figures["volts"])
        self.module = feed.asleep_ma > 0
        self.watts = MODULE_DRAW_A * self.volts if self.module and feed.watts is None else feed.drawn_w(self.volts)

    def add(self, outputs: dict[tuple[int, str], str], also_w: float, like: str) -> None:
        """All of it; `outputs` are those of fuses by box and slot, `also_w` what others draw on the same fuse."""
        feed, loom_m = self.feed, float(self.plan.figures["loom_m"])
        at = self.plan.ends["ign"] if feed.behind_key and not self.module else self.plan.ends[f"box{feed.box}"]
        if feed.shares:
            at = outputs[feed.box, feed.slot]
        elif feed.rating_a or not self.accessory:
            rating_a = feed.rating_a or fuse_for((self.watts + also_w) / self.volts)
            place = {"box": "in line"} if self.accessory else {"box": f"box {feed.box}", "slot": feed.slot}
            at = outputs[feed.box, feed.slot] = self.in_line("fuse", at, "fuse output", {"type": "fuse", "rating_a": rating_a, **place})
        if feed.by:
            closes = {"type": "switch", "closed_in": {self.control(like): ["on"]}, "r_mohm": 25}
            at = self.in_line("switch", at, "switch output", closes)
        area = max(cable_mm2(self.watts / self.volts, loom_m, WIRE_DROP_SHARE * self.volts), LEAST_MM2)
        at = self.in_line("wire", at, "feed", {"type": "wire", "mm2": area, "length_m": loom_m})
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

    def in_line(self, part: str, start: str, place: str, element: Data) -> str:
        """A part that lies in line from a point to a new one, which is given back."""
        end = self.point(place)
        self.element(part, part, {"from": start, "to": end, **element})
        return end

    def element(self, part: str, called: str, element: Data) -> None:
        """A part of it, titled after its name."""
        if self.accessory:
            element = {**element, "tags": ["aftermarket"]}
        self.plan.put({"id": f"{self.name}-{part}", "title": f"{self.titled} {called}".strip()[:LONGEST_TITLE], **element}, self.question)

    def point(self, place: str) -> str:
        """A new point of it."""
        name = f"{self.name}.{place.partition(' ')[0]}"
        self.plan.points[name] = {"title": f"{self.titled} {place}", "minutes": 1 if place == PLACES[0] else 2}
        return name

    def control(self, like: str) -> str:
        """The control of its switch, made where it is new, with the state that sets it."""
        by, plan = self.feed.by, self.plan
        name = word_of(by)
        if name not in plan.controls:
            plan.controls[name] = {"title": by[:LONGEST_TITLE], "positions": ["off", "on"]}
            plan.switched.append(name)
            title = f"Key on, {by[0].lower()}{by[1:]} on"
            plan.add_state(f"on-{name}", {"title": title, "like": like, "set": {name: "on"}, "minutes": 0.3})
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
