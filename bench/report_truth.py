"""A report held against the machine it was written of: sentences that are not true of it."""

import re
from collections.abc import Sequence
from xml.etree.ElementTree import Element

from iron_probe.core.circuit.sheet import Sheet
from iron_probe.rig.catalogue import HiddenFault


def said_under(main: Element) -> dict[str, str]:
    """The words of a report by the heading they stand under; what stands before any under the empty one."""
    said: dict[str, str] = {"": ""}
    here = ""
    for element in _leaves(main):
        text = " ".join("".join(element.itertext()).split())
        if element.tag in ("h1", "h2"):
            here = text
            said.setdefault(here, "")
        else:
            said[here] += f" {text}"
    return said


def _leaves(main: Element) -> Sequence[Element]:
    """Headings and the blocks beside them, in their order; sections and headers are looked into."""
    found: list[Element] = []
    for child in main:
        if isinstance(child.tag, str):
            found += _leaves(child) if child.tag in ("section", "header", "div") else [child]
    return found


def untrue(main: Element, sheet: Sheet, hidden: Sequence[HiddenFault], parts_at_once: bool) -> list[str]:
    """What the report of a closed job says and is not so: `hidden` is what lay in the machine when it was brought in, `parts_at_once` whether one repair
    was of several parts."""
    said = said_under(main)
    record = " ".join(said.values())
    titles = [sheet.element(f.element).title.lower() for f in hidden]
    drawn = [t for t, f in zip(titles, hidden, strict=True) if f.fault.kind != "undrawn"]  # a part beside an undrawn joint is sound
    found = said.get("What we found", "").lower()
    told = []
    if not hidden and "nothing wrong in what was tested" not in found:
        told.append(f"something was found on a sound machine: {found}")
    if hidden and "nothing wrong in what was tested" in found:
        told.append("nothing wrong was found on a machine with a fault")
    own_test = re.findall(r"([^.]*); its own test agrees", found)
    told += [f"proven, and is not at fault: {sentence}" for sentence in own_test if not any(t in sentence for t in titles)]
    spared = [p.strip().lower() for p in said.get("Measured good, not needed", "").rstrip(". ").split(",")]
    told += [f"measured good, and is at fault: {t}" for t in titles if t in spared]
    for struck in re.findall(r"Struck out by readings: ([^.]*)\.", record):
        cleared = [re.sub(r" \([^)]*\)$", "", p.strip()) for p in struck.split(",")]
        told += [f"struck out, and is at fault: {t}" for t in drawn if t in cleared]
    if "Several things were done at once" in record and not parts_at_once:
        told.append("several things done at once, and only one was")
    if "still open" in record or "The job is still open" in record:
        told.append("still open, and it is closed")
    return told
