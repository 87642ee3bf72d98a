"""Faults in the trade's words, and in the words of who pays for them."""

from iron_probe.core.circuit.faults import FED_ELSEWHERE
from iron_probe.web.language import N_, Worded, _

MODE = Worded(
    {
        FED_ELSEWHERE: N_("fed from elsewhere"),
        "belt_slips": N_("belt slips"),
        "coil_open": N_("coil open"),
        "coil_shorted": N_("coil shorted"),
        "coil_shorted_fuse_holds": N_("coil shorted fuse holds"),
        "contact_burnt": N_("contact burnt"),
        "contact_open": N_("contact open"),
        "contact_resistive": N_("contact resistive"),
        "contact_welded": N_("contact welded"),
        "cut_off": N_("cut off"),
        "dead": N_("dead"),
        "dead_cell": N_("dead cell"),
        "dead_spot": N_("dead spot"),
        "diode_open": N_("diode open"),
        "diode_shorted": N_("diode shorted"),
        "dragging": N_("dragging"),
        "empty": N_("empty"),
        "exciter_open": N_("exciter open"),
        "flat": N_("flat"),
        "frozen": N_("frozen"),
        "full_on": N_("full on"),
        "high_resistance": N_("high resistance"),
        "hold_open": N_("hold open"),
        "leak_to_ground": N_("leak to ground"),
        "low_capacity": N_("low capacity"),
        "never_answers": N_("never answers"),
        "no_output": N_("no output"),
        "open": N_("open"),
        "pull_open": N_("pull open"),
        "shorted": N_("shorted"),
        "shorted_fuse_holds": N_("shorted fuse holds"),
        "shorted_second_fuse": N_("shorted second fuse"),
        "stays_awake": N_("stays awake"),
        "stuck_closed": N_("stuck closed"),
        "stuck_open": N_("stuck open"),
        "to_ground": N_("to ground"),
        "worn": N_("worn"),
        "wrong_rating": N_("wrong rating"),
    }
)
"""Fault modes in words; one of a single output or phase is said by its name."""


def mode(name: str) -> str:
    """A fault mode in words."""
    return MODE.get(name, name.replace("_", " "))


PLAIN = Worded(
    {
        FED_ELSEWHERE: N_("is fed from where it should not be"),
        "high_resistance": N_("had a bad connection and lost volts"),
        "open": N_("was parted: nothing came through"),
        "shorted": N_("was shorted to ground"),
        "shorted_fuse_holds": N_("was shorted to ground, its fuse still whole"),
        "shorted_second_fuse": N_("was shorted to ground"),
        "shorted_to_supply": N_("was joined to a live wire"),
        "leak_to_ground": N_("let current leak to ground"),
        "stuck_open": N_("did not close"),
        "stuck_closed": N_("did not open"),
        "flat": N_("was flat"),
        "empty": N_("was empty"),
        "worn": N_("was worn out"),
        "dead_cell": N_("had a dead cell"),
        "frozen": N_("was frozen"),
        "cut_off": N_("had cut itself off"),
        "low_capacity": N_("held too little"),
        "no_output": N_("gave nothing"),
        "full_on": N_("charged without limit"),
        "dead": N_("did nothing"),
        "dragging": N_("dragged"),
        "dead_spot": N_("had a dead spot"),
        "wrong_rating": N_("was of the wrong rating"),
        "contact_burnt": N_("had burnt contacts"),
        "contact_resistive": N_("had burnt contacts"),
        "contact_welded": N_("had welded contacts"),
        "contact_open": N_("pulled in and passed nothing on"),
        "coil_open": N_("had an open winding"),
        "coil_shorted": N_("had a shorted winding"),
        "belt_slips": N_("was driven by a slipping belt"),
        "never_answers": N_("never answered"),
        "stays_awake": N_("did not fall asleep"),
    }
)
"""What a fault was, to who pays for it; of the others their name says it."""


def plainly(name: str) -> str:
    """What a part with a fault did, for somebody who never held a meter."""
    return PLAIN.get(name) or _("had a fault (%s)") % mode(name)
