"""Five circuits unlike those that ship: no starter, nothing that charges, four batteries, no boxes, every name another."""

import re

from iron_probe.machines import sheet_text

TRAILER = """
format: iron-probe-sheet/1
id: lamp-trailer
title: Lamp trailer
about: a mast with lamps on a battery of its own; nothing to crank, nothing that charges
system_v: 12
engine: {fuel: petrol, cylinders: 1}
minus: house.neg
plus: house.pos
controls:
  mast: {title: Mast switch, positions: ["off", "on"]}
states:
  parked: {title: Mast switch off}
  lit: {title: Mast switch on, set: {mast: "on"}}
points:
  house.pos: {title: house battery plus}
  house.neg: {title: house battery minus}
  strip: {title: plus strip}
  switch.out: {title: mast switch output}
  lamp.feed: {title: lamp feed}
  beacon.feed: {title: beacon feed}
elements:
  - {id: house, type: battery, title: House battery, from: house.neg, to: house.pos, capacity_ah: 100, cca_a: 500, chemistry: agm}
  - {id: plus-nut, type: joint, title: Plus nut, from: house.pos, to: strip}
  - {id: mast-fuse, type: fuse, title: Mast fuse, from: strip, to: beacon.feed, rating_a: 15}
  - {id: mast-switch, type: switch, title: Mast switch, from: beacon.feed, to: switch.out, closed_in: {mast: ["on"]}}
  - {id: mast-wire, type: wire, title: Mast wire, from: switch.out, to: lamp.feed, mm2: 2.5, length_m: 6}
  - {id: lamp, type: lamp, title: Mast lamp, from: lamp.feed, to: house.neg, watts: 55}
  - {id: beacon, type: load, title: Beacon, from: beacon.feed, to: house.neg, ohm: 120}
"""


def renamed(text: str) -> str:
    """A sheet with every point, element, control and state called something else."""
    points = re.findall(
        r"^  ([A-Za-z][\w.\-]*): \{title: [^}]*minutes", text.split("\npoints:")[1].split("\nelements:", maxsplit=1)[0], re.M
    )
    elements = re.findall(r"\{id: ([a-z0-9\-]+),", text)
    states = re.findall(r"^  ([A-Za-z]\w*): \{title", text.split("\nstates:")[1].split("\npoints:", maxsplit=1)[0], re.M)
    for kind, names in (("p", points), ("e", elements), ("s", states)):
        for number, name in sorted(enumerate(names), key=lambda n: -len(n[1])):
            behind = r"[,\]}\s]|$" if kind == "e" else r"[,:\]}\s]|$"
            text = re.sub(rf"(?<![\w.\-])(?<!type: ){re.escape(name)}(?![\w.\-])(?={behind})", f"{kind}{number}x", text, flags=re.M)
    return text


def without(text: str, *ids: str) -> str:
    """A sheet with some elements struck out, and the points that then hang on nothing."""
    lines = [line for line in text.splitlines() if not any(f"id: {i}," in line for i in ids)]
    body = "\n".join(line for line in lines if line.lstrip().startswith("- {id:"))
    used = set(re.findall(r"[\w.\-]+", body))
    kept, inside = [], False
    for line in lines:
        inside = line.startswith("points:") or (inside and not line.startswith("elements:"))
        name = line.strip().partition(":")[0]
        if inside and line.startswith("  ") and name not in used:
            continue
        kept.append(line)
    return "\n".join(kept) + "\n"


def four_batteries() -> str:
    """The shipped minibus with three more batteries side by side."""
    text = sheet_text("crew-minibus")
    minus, plus = (re.search(rf"^{k}: (\S+)", text, re.M).group(1) for k in ("minus", "plus"))  # type: ignore[union-attr]
    more = "".join(
        f"  - {{id: bank-{k}, type: battery, title: Bank battery {k}, from: {minus}, to: {plus}, capacity_ah: 70, cca_a: 600}}\n"
        for k in (1, 2, 3)
    )
    return text.rstrip() + "\n" + more


def no_boxes() -> str:
    """The shipped mower with its fuses straight in the line, in no box."""
    return re.sub(r",? (box|slot|place): (\[[^\]]*\]|[\w\-]+)", "", sheet_text("green-mower"))


def odd_sheets() -> dict[str, str]:
    """All five by what is odd about them."""
    mower = sheet_text("green-mower")
    return {
        "no starter": TRAILER,
        "no charging": sheet_text("training-kart"),
        "four batteries": four_batteries(),
        "no boxes": no_boxes(),
        "renamed": renamed(mower),
    }
