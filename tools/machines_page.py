"""The page of what a meter should show on every shipped machine, beside what a technician would expect."""

from dataclasses import dataclass

from iron_probe.core.circuit.elements import Conditions
from iron_probe.core.circuit.heavy_path import heavy_path
from iron_probe.core.circuit.network import network_of
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.solve.operate import solve_state
from iron_probe.machines import load_sheet, sheet_ids
from iron_probe.work.charge_work import on_purpose

AT = Conditions(temp_degc=20.0)


@dataclass(frozen=True, slots=True)
class Expected:
    """What a technician expects of a figure on a 12 V machine: least and most, and the mark of where that comes from."""

    what: str
    unit: str
    least: float
    most: float
    mark: str
    by_volts: bool = True
    lithium_most: float | None = None

    def band(self, sheet: Sheet) -> tuple[float, float]:
        """Least and most on that machine, by its volts and its kind of battery."""
        blocks = sheet.system_v / 12 if self.by_volts else 1.0
        lithium = self.lithium_most is not None and all(b.chemistry == "lifepo4" for b in sheet.batteries)
        return self.least * blocks, (self.lithium_most or self.most if lithium else self.most) * blocks


EXPECTED = {
    "posts": Expected("posts, cranking", "V", 10.0, 12.0, "common practice", lithium_most=13.0),
    "supply": Expected("supply side, cranking", "V", 0.0, 0.5, "common practice"),
    "ground": Expected("ground side, cranking", "V", 0.0, 0.5, "common practice"),
    "idle": Expected("posts, idling", "V", 13.5, 14.7, "common practice"),
    "fast": Expected("posts, fast idle", "V", 13.5, 14.7, "common practice"),
    "asleep": Expected("draw at rest", "mA", 0.0, 50.0, "common practice", by_volts=False),
}


def figures(sheet: Sheet) -> dict[str, float | None]:
    """The figures of the sound machine at 20 °C; None where it has no such state."""
    network, crank = network_of(sheet, AT), sheet.cranking_state()
    found: dict[str, float | None] = dict.fromkeys(EXPECTED)
    if crank:
        solved, path = solve_state(network, crank), heavy_path(network)
        found["posts"] = float(solved.between(sheet.plus, sheet.minus)[0])
        found["supply"] = float(solved.between(path.supply_points[0], path.supply_points[-1])[0])
        found["ground"] = float(solved.between(path.ground_points[0], path.ground_points[-1])[0])
    charges = any(e.type in ("alternator", "rectifier") for e in sheet.elements)
    own = [s for s in sheet.running_states() if on_purpose(sheet, s) is None]
    for name, state in zip(("idle", "fast"), own[:2] if charges else (), strict=False):
        found[name] = float(solve_state(network, state).between(sheet.plus, sheet.minus)[0])
    rest = solve_state(network, next(iter(sheet.states)))
    beside = [b for b in sheet.batteries if b.volts == sheet.system_v] or sheet.batteries[:1]  # in parallel, or all one string
    found["asleep"] = 1000 * sum(-float(rest.current(b.id)[0]) for b in beside)
    return found


def machines_page() -> str:
    """A table of all sheets; a figure outside what is expected carries a word."""
    lines = [
        "# What the shipped machines show",
        "",
        "Made from the solver by `python -m tools.generated --write`: sound machines at 20 °C, batteries as their sheets say.",
        "In brackets: what a technician would expect on 12 V (24 V: twice), and its mark. **!** stands by a figure outside it.",
        "",
        "| machine | " + " | ".join(_heading(e) for e in EXPECTED.values()) + " |",
        "|---|" + "---:|" * len(EXPECTED),
    ]
    notes = []
    for sheet_id in sheet_ids():
        sheet = load_sheet(sheet_id)
        cells = []
        for name, value in figures(sheet).items():
            expected = EXPECTED[name]
            if value is None:
                cells.append("none")
                continue
            least, most = expected.band(sheet)
            outside = not least <= value <= most
            cells.append(f"{value:.1f}" + " **!**" if outside and expected.unit == "mA" else f"{value:.2f}{' **!**' if outside else ''}")
            if outside:
                notes.append(f"- {sheet.title}, {expected.what}: {value:.2f} {expected.unit}, {sheet.about}")
        lines.append(f"| {sheet.title} | " + " | ".join(cells) + " |")
    lines += [
        "",
        "The kart has no charging: its battery is charged in the shed.",
        "",
        *(notes or ["No figure lies outside what is expected."]),
    ]
    return "\n".join(lines) + "\n"


def _heading(expected: Expected) -> str:
    lithium = f", LiFePO4 to {expected.lithium_most:g}" if expected.lithium_most else ""
    return f"{expected.what} [{expected.unit}] ({expected.least:g} to {expected.most:g}{lithium}: {expected.mark})"
