"""What a test on the control side should show, and did, in a mechanic's words."""

from iron_probe.core.bench.control.steps import ControlStep, Wanted, most_drop_v
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.limits import (
    CONTACT_CLOSED_OHM,
    CONTACT_OPEN_OHM,
    OHMS_APART_SHARE,
    TERMINAL_DEAD_SHARE,
    TERMINAL_LIVE_SHARE,
)
from iron_probe.core.solve.solution import Symptom
from iron_probe.web import words
from iron_probe.web.language import N_, Worded, _, worded

OF_LINK = Worded({"found": N_("found"), "proven": N_("proven"), "not yet tested": N_("not yet tested"), "suspect": N_("suspect")})
"""What is known of a link of the chain."""


def good(step: ControlStep, sheet: Sheet) -> str:
    """What a sound machine shows, with where that begins or ends."""
    if step.wanted is Wanted.WORD:
        return words.SYMPTOM[Symptom(str(step.expected))]
    expected = float(step.expected)
    return {
        Wanted.LIVE: _("live, over %s") % words.volts(TERMINAL_LIVE_SHARE * sheet.system_v),
        Wanted.DEAD: _("dead, under %s") % words.volts(TERMINAL_DEAD_SHARE * sheet.system_v),
        Wanted.LITTLE: _("under %s") % words.volts(most_drop_v(expected, sheet.system_v)),
        Wanted.CLOSED: _("closed, under %s") % words.ohms(CONTACT_CLOSED_OHM),
        Wanted.OPEN: _("open, over %s") % words.ohms(CONTACT_OPEN_OHM),
        Wanted.OHMS: _("%s to %s") % (words.ohms(expected * (1 - OHMS_APART_SHARE)), words.ohms(expected * (1 + OHMS_APART_SHARE))),
    }[step.wanted]


def says(step: ControlStep, met: bool | None) -> str:
    """What a reading of it comes to."""
    if met is None:
        return _("between: neither live nor dead. A poor joint before it, or a meter on a wire that hangs free: load it with a test lamp.")
    return f"{worded(step.proves if met else step.otherwise)}."
