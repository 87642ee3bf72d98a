"""What was found, and what of it the drawing does not show, in a mechanic's words."""

from iron_probe.core.circuit.faults import FED_ELSEWHERE
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.apart import FoundWay
from iron_probe.core.diagnose.posterior import Posterior
from iron_probe.web.language import _
from iron_probe.web.words import percent, point_title

NAMED = 0.1
"""From this share on the place of a way to ground is named, and a joint that the drawing lacks offered to be drawn."""
LISTED = 0.02
"""Less than this share is not worth a word."""


def two_at_once(left: Posterior, sheet: Sheet) -> str:
    """The two faults that together explain best what was read, in one sentence; empty where there are none."""
    if left.pair is None:
        return ""
    first, second = (sheet.element(e).title.lower() for e in left.pair)
    told = _("%s and %s (%s, which counts in the share of both). Find and repair one, then read again.")
    return told % (first, second, percent(left.pair_share))


def way(found: FoundWay, sheet: Sheet) -> str:
    """A way by its ends and the parts it is made of."""
    parts = ", ".join(sheet.element(e).title.lower() for e in found.elements)
    return _("the way from %s to %s (%s)") % (point_title(found.first, sheet), point_title(found.last, sheet), parts)


def found_beside(left: Posterior, sheet: Sheet) -> str:
    """What was found beside a part, in one sentence."""
    title = sheet.element(left.found_beside or "").title.lower()
    return _("%s: sound between its own two ends, so a joint or splice at its end that the drawing lacks") % title


def to_draw(left: Posterior) -> tuple[str, ...]:
    """The parts beside which a joint is offered to be drawn."""
    return tuple(element for element, p in left.beside[:3] if p >= NAMED or element == left.found_beside)


def to_feed(left: Posterior) -> tuple[str, ...]:
    """The parts behind which a feed from elsewhere is offered to be drawn."""
    return tuple(s.element for s in left.suspects[:3] if s.mode == FED_ELSEWHERE and s.p >= NAMED)


def grounded(left: Posterior, sheet: Sheet) -> str:
    """Where something that no drawing shows most likely lies on ground; empty where nothing speaks for it."""
    if not left.grounded or left.grounded[0][1] < NAMED:
        return ""
    element, p = left.grounded[0]
    return _("most likely a way to ground at the %s, which is sound by itself: %s") % (sheet.element(element).title.lower(), percent(p))


def untested(left: Posterior) -> str:
    """What lies on faults that no reading so far could have shown, as a clause; empty where next to nothing does."""
    if left.untested < LISTED:
        return ""
    return "; " + _("%s lies on what no test in the circuit shows, and does not stand against it") % percent(left.untested)
