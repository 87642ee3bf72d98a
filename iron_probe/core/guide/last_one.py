"""When no test is left: the one part that a fault of the drawing can still lie on."""

from collections import Counter

from iron_probe.core.diagnose.posterior import Posterior

OF_THE_DRAWING, LEAST = 0.9, 1 / 3
"""What a part must hold of all that lies on the drawing, and of all, to be tried as the last one left (chosen here: what lies off the drawing holds up to
half wherever a reading is left unexplained)."""


def last_one(left: Posterior) -> str | None:
    """The part that holds nearly all of what the drawing can explain, with a joint beside it; None where several do, or none."""
    held = Counter[str]({s.element: s.p for s in left.suspects})
    held.update(dict(left.beside))
    if not held:
        return None
    element, p = held.most_common(1)[0]
    return element if p >= LEAST and p >= OF_THE_DRAWING * (1 - left.off_sheet) else None
