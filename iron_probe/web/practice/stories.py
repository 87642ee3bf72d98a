"""What the customer of a practice case says: what happens, as laymen put it, with something beside it that misleads."""

from functools import partial

import numpy as np

from iron_probe.bay.acts import Caution
from iron_probe.bay.case import DRAIN, FUSE, Level, PracticeCase
from iron_probe.machines import load_sheet
from iron_probe.web import words
from iron_probe.web.language import N_

LEVEL: dict[Level, tuple[str, str]] = {
    Level.ONE: (N_("One fault"), N_("a joint, a contact, a coil, a battery: what is met every week")),
    Level.DRAIN: (N_("A drain"), N_("goes flat as it stands; let it sleep, then split it")),
    Level.FUSE: (N_("A fuse that blows"), N_("find what shorts it before the box of new ones is empty")),
    Level.SOUND: (N_("Nothing wrong"), N_("somebody complains of a sound machine; stop in time")),
    Level.TWO: (N_("Two faults"), N_("the second shows once the first is mended")),
    Level.COMES: (N_("Comes and goes"), N_("it may be away just when you look")),
    Level.UNDRAWN: (N_("Not on the drawing"), N_("a joint or a bridge that nobody ever drew")),
    Level.YARD: (N_("From the yard"), N_("the like of what a closed job had; by the number of that job")),
}
"""What each level is called, and what it trains, in rising order."""

CAUTION: dict[Caution, str] = {
    Caution.SMOKE: N_(
        "The bridge smoked: it carried what blows a fuse. Bridge nothing that a fuse has opened for, and use a lead with a fuse"
    ),
    Caution.METER_FUSE: N_("The meter's fuse blew: its current range carries 10 A. It shows nothing from now on; clamp what may be more"),
    Caution.BY_THE_BELT: N_("A hand was by what turns: stop the engine before you reach for it"),
}
"""What is said where a caution was broken."""

SAYS: dict[str, tuple[str, ...]] = {
    "nothing": ("Turn the key and it is as if nobody were at home.", "Dead to the key. It took me to the pier and that was it."),
    "click": ("One clack from below and then silence.", "It knocks once each time you ask it, and stops there."),
    "chatter": ("It rattles like a box of nails when the key is turned.", "A machine-gun noise, and no more."),
    "no_turn": ("The lights sink, something strains, nothing turns.", "It hums and digs in, and does not move."),
    "slow": ("It heaves itself round as if in cold treacle.", "Each turn could be its last. Some mornings it makes it."),
    "cranks": ("It turns over merrily and does not fire.", "Spins well, never starts."),
    "no_charge": (
        "It needs a charge every other day, and runs well until then.",
        "The gauge never climbs as it used to, however far we go.",
    ),
    DRAIN: ("Two nights in the shed and it is flat.", "Runs all week. After the weekend: nothing left in it."),
    "": ("Somebody said it sounded tired. Have a look before the season.", "The driver swears it started badly once. I could not make it."),
}
"""By what it does, as intake has it."""
BESIDE = (
    "The battery is new, so that cannot be it.", "My neighbour says it is surely the starter.", "It began after it was washed.", "We had the alternator off last spring.",
    "Nobody has touched anything, honestly.", "A jump pack brought it to life once.", "It was fine when it was warm, I think.", "There was a new radio fitted, by somebody.",
)  # fmt: skip
"""What customers add; some of it is true, and none of it proves anything."""


def story(case: PracticeCase, seen: tuple[str, str] | None) -> str:
    """The complaint of a case, the same for the same case; `seen` is the fuse that blows, and the state it did in."""
    rng = np.random.default_rng((case.seed, 7))
    sheet = load_sheet(case.sheet_id)
    pick = partial(_one_of, rng)
    if case.symptom == FUSE and seen:
        said = f"{sheet.element(seen[0]).title} is blown again. It goes as soon as this is on: {words.state_title(seen[1], sheet).lower()}."
    else:
        said = pick(SAYS.get(case.symptom, SAYS[""]))
    return f"{said} {pick(BESIDE)}"


def _one_of(rng: np.random.Generator, texts: tuple[str, ...]) -> str:
    return texts[int(rng.integers(len(texts)))]
