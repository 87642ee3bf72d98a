"""Sheets grown at random from a shipped one, for what must hold on any: joints put into wires, loads with switches and grounds of their own tapped on anywhere."""

import random

from iron_probe.core.circuit.elements import Conductor, Element, Joint, Load, Switch
from iron_probe.core.circuit.sheet import Point, Sheet
from iron_probe.machines import load_sheet, sheet_ids

WORDS = (
    "hoist",
    "beacon",
    "aft",
    "port side",
    "junction",
    "bilge",
    "splice",
    "tail lift",
    "heater",
    "supply",
    "return",
    "connector",
    "auxiliary pump",
)


def grown(seed: int, elements: int) -> Sheet:
    """A shipped sheet with so many elements at least; the same for the same seed."""
    chance = random.Random(seed)
    sheet = load_sheet(chance.choice(sheet_ids()))
    points, parts = dict(sheet.points), list(sheet.elements)
    control = next(iter(sheet.controls.items()))

    def place(title: str) -> str:
        name = f"grown.{len(points)}"
        points[name] = Point(title=f"{title} {len(points)}"[: chance.choice((18, 30, 60))].strip())
        return name

    def named(kind: str) -> dict[str, str]:
        return {
            "id": f"grown-{len(parts)}",
            "title": f"{' '.join(chance.sample(WORDS, chance.choice((1, 2, 3))))} {kind} {len(parts)}"[:60].strip(),
        }

    while len(parts) < elements:
        wires = [k for k, e in enumerate(parts) if isinstance(e, Conductor) and e.type == "wire"]
        if wires and chance.random() < 0.4:  # a joint where nobody drew one
            k = chance.choice(wires)
            wire, middle = parts[k], place(" ".join(chance.sample(WORDS, 2)))
            assert isinstance(wire, Conductor)
            parts[k] = wire.model_copy(update={"end": middle})
            parts.append(Joint.model_validate({"type": "joint", "from": middle, "to": wire.end} | named("joint")))
            continue
        at = chance.choice(list(points))
        ground = chance.choice([sheet.minus, *points])
        feed = place(" ".join(chance.sample(WORDS, 2)))
        added: list[Element] = [Load.model_validate({"type": "load", "from": feed, "to": ground, "watts": 10.0} | named("lamp"))]
        if chance.random() < 0.5:
            added.append(
                Switch.model_validate(
                    {"type": "switch", "from": at, "to": feed, "closed_in": {control[0]: [control[1].positions[-1]]}} | named("switch")
                )
            )
        else:
            added.append(Conductor.model_validate({"type": "wire", "from": at, "to": feed, "mm2": 1.5, "length_m": 2.0} | named("wire")))
        for k, part in enumerate(added):
            parts.append(part.model_copy(update={"id": f"grown-{len(parts)}-{k}"}))
    return sheet.changed(elements=parts, points=points)
