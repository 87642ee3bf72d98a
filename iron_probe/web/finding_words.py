"""What was found, and what of it the drawing does not show, in a mechanic's words."""

from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.apart import FoundWay
from iron_probe.core.diagnose.posterior import Posterior, Undrawn
from iron_probe.web.words import percent, point_title


def two_at_once(left: Posterior, sheet: Sheet) -> str:
    """The two faults that together explain best what was read, in one sentence; empty where there are none."""
    if left.pair is None:
        return ""
    first, second = (sheet.element(e).title.lower() for e in left.pair)
    return f"{first} and {second} ({percent(left.pair_share)}, which counts in the share of both). Find and repair one, then read again."


def way(found: FoundWay, sheet: Sheet) -> str:
    """A way by its ends and the parts it is made of."""
    parts = ", ".join(sheet.element(e).title.lower() for e in found.elements)
    return f"the way from {point_title(found.first, sheet)} to {point_title(found.last, sheet)} ({parts})"


UNDRAWN = {
    Undrawn.JOINT: "a joint or splice",
    Undrawn.GROUND: "something that lies on ground",
}
"""What the drawing lacks at the end of a part."""


def found_beside(left: Posterior) -> str:
    """Why what was found lies beside a part and is not the part, in one sentence without its beginning."""
    how = "between its own two ends" if left.beside_what is Undrawn.JOINT else "by itself"
    return f"sound {how}, so {UNDRAWN[left.beside_what]} at its end that the drawing lacks"


def follow(left: Posterior, sheet: Sheet) -> str:
    """What to do about what lies beside a part."""
    what = {
        Undrawn.JOINT: "what loses the volts is a joint or splice beside it",
        Undrawn.GROUND: "what lies on ground is a bridge, a branch or a part beside it that the drawing lacks",
    }
    return f"Follow the {sheet.element(left.found_beside or '').title.lower()} to its ends: {what[left.beside_what]}."
