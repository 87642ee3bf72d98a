"""The route and the step of a job in the words of the trade."""

from iron_probe.core.bench.drain.currents import Way
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.diagnose.next_test import Order
from iron_probe.core.diagnose.told_test import NextTest
from iron_probe.core.guide.route import Leg, Standing
from iron_probe.core.guide.step import Act, How, Why
from iron_probe.core.job.lines import Ending
from iron_probe.core.job.step import Asked, JobStep, asked_of
from iron_probe.web import words

LEG = {
    Leg.BATTERY: "battery at rest",
    Leg.POSTS: "posts cranking",
    Leg.COMMAND: "command",
    Leg.SUPPLY: "supply way",
    Leg.GROUND: "ground way",
    Leg.OUTPUT: "output",
    Leg.WAYS: "out and back",
    Leg.WIRES: "small wires",
    Leg.TOTAL: "total asleep",
    Leg.SPLIT: "split it",
    Leg.FEEDS: "what it feeds",
    Leg.HALVES: "halve it",
    Leg.PART: "the part",
    Leg.REPAIR: "repair",
    Leg.RETEST: "retest",
    Leg.CLOSE: "close",
}
STANDING = {Standing.DONE: "done", Standing.HERE: "here", Standing.AHEAD: "ahead", Standing.NOT_NEEDED: "not needed"}
PAGE = {
    Leg.REPAIR: "/repair",
    Leg.RETEST: "/repair",
    Leg.CLOSE: "/report",
    Leg.OUTPUT: "/charge",
    Leg.WAYS: "/charge",
    Leg.WIRES: "/charge",
    Leg.TOTAL: "/drain",
    Leg.SPLIT: "/drain",
    Leg.FEEDS: "/fuse",
    Leg.HALVES: "/fuse",
}
"""The screen of a leg; the others are worked on the Bench."""
GO = {Act.REPAIR: "Repair & retest", Act.CLOSE: "Report", Act.CLOSED: "Report"}
"""What the way to a step's screen is called."""
WHY = {
    Why.SOURCE_FIRST: "a weak battery makes every later figure lie",
    Why.UNDER_LOAD: "a battery is judged while it gives what it is there for",
    Why.WHOLE_WAY: "one reading over the whole way clears or accuses all of it",
    Why.FOUND: "its own test agrees",
    Why.FOUND_AGAIN: "it was mended already: the repair did not take, or what is joined to it is at fault",
    Why.SAME_PROBES: "the same probes in the same state tell whether the repair took",
    Why.COMPLAINT_AGAIN: "what was complained of is tried before the job is called done",
    Why.PASSED: "what was read before the repair reads well, and what was complained of is gone",
    Why.NO_FAULT: "nothing is wrong in what was tested",
    Why.NOTHING_LEFT: "no test on the points would tell more",
    Why.BASELINE: "what a sound one reads is kept, to be held against next time",
    Why.WHY_FLAT: "something emptied it: see that it is charged",
    Why.CHARGES_FIRST: "a battery that is not charged goes flat by itself",
    Why.AWAKE_HIDES: "what is still awake hides the drain, and an opened door begins the wait anew",
    Why.TOTAL_FIRST: "every reading of the hunt is held against the total of its moment",
    Why.NO_SLEEPER: "nothing asleep takes so much: something is switched on, stuck or shorted",
    Why.SPLITS: "it splits what is left to place",
    Why.SUM_CLOSES: "what was found makes up the total",
    Why.NORMAL_NOW: "what comes and goes is caught by time alone",
    Why.NOT_REPRODUCED: "it stayed normal for an hour and more",
    Why.NOT_SEEN: "what blows it is looked for in the state that blows it",
}


CHOSEN = {
    Order.BEST: "of all that can be read here, it tells most for its {minutes} min",
    Order.DEAD_PART: "at the dead part, then toward the missing leg",
    Order.SOURCE: "the source first, then half of what is left at a time",
}
"""Why a test was chosen, by the order of work."""


PROBE = {
    Way.CLAMP: "Clamp around {}",
    Way.DROP: "Millivolts across {}",
    Way.PULL: "Pull {}, and read the total",
    Way.PART: "Unplug {}, and read the total",
    Way.SERIES: "Series meter in {}",
}
"""What to do for a probe of a drain hunt, and where."""
ENDING = {
    Ending.REPAIRED: "repaired and proven",
    Ending.NO_FAULT: "no fault found in what was tested",
    Ending.NOT_REPRODUCED: "not reproduced",
    Ending.HANDED_ON: "handed to another: high voltage, airbag, or licensed work",
    Ending.UNPROVEN: "without a proof",
}
"""As what a job is closed."""
WAIT_OF: dict[Leg, str] = {
    Leg.BATTERY: "charger, then rest", Leg.TOTAL: "falls asleep", Leg.SPLIT: "falls asleep", Leg.REPAIR: "parts on order", Leg.RETEST: "soaks in the cold",
}  # fmt: skip
"""What is most likely waited for at a leg."""


def ending_of(now: JobStep) -> Ending:
    """As what a job would be closed at its step."""
    if now.act is not Act.CLOSE:
        return Ending.UNPROVEN
    return {Why.PASSED: Ending.REPAIRED, Why.NOT_REPRODUCED: Ending.NOT_REPRODUCED}.get(now.why or Why.NO_FAULT, Ending.NO_FAULT)


def ask_for(reading: Reading, sheet: Sheet) -> str:
    """What to do for a reading of a sheet, in one sentence."""
    return ask(asked_of(reading, sheet))


def ask(asked: Asked) -> str:
    """What to do for a reading, in one sentence."""
    part, ends = asked.part.lower(), f"{asked.red} to {asked.black}"
    todo = {
        Instrument.EYES: "Try it, and say what it does",
        Instrument.FUNCTION: f"Look at {part}",
        Instrument.LOOKS: f"Look at {part} closely",
        Instrument.ANSWERS: f"See whether {part} answers",
        Instrument.CLAMP: f"Clamp around {part}",
        Instrument.RIPPLE: "Read the ripple across the battery",
        Instrument.NEW_FUSE: f"Fit a new {part} of its own rating, once, and see whether it holds",
        Instrument.FIELD_OFF: f"Take the field wire off the {part} and see whether it goes on charging",
        Instrument.PART_OHM: f"Take {part} off and read its ohms",
        Instrument.BARE_OHM: f"Part {part} at both ends and read ohms from its metal to ground",
        Instrument.LOAD: f"Load tester across {ends}, 100 A for fifteen seconds, and read its volts at the end",
        Instrument.LAMP_LARGE: f"A 4 A lamp from {ends}",
        Instrument.OHMMETER: f"Plug off, ohms {ends}",
        Instrument.AC_VOLTS: f"Plug off, AC volts {ends}",
    }.get(asked.instrument, f"Both probes on the {part} itself, {ends}" if asked.itself else f"Measure {ends}")
    return f"{todo}: {asked.state.lower()}."


def step(now: JobStep) -> str:
    """The step of a job in words."""
    if now.act is None:
        return "This log cannot be judged. Its readings are kept; open it to see which."
    if now.act is Act.CLOSE:
        return {
            Why.PASSED: "Repaired and proven: close, print the report.",
            Why.NOT_REPRODUCED: "Not reproduced: close with what to watch for, or leave a record running.",
        }.get(now.why or Why.NO_FAULT, "No fault in what was tested: close, or read while it does it.")
    if now.probe is not None:
        hot = "Part minus or pull the main fuse now, and feel for what is hot. Then: " if now.why is Why.NO_SLEEPER else ""
        return f"{hot}{PROBE[now.probe.way].format(now.probe.title)}."
    if now.asked is not None:
        owed = f"Retest, {now.owed} reading{'s' if now.owed != 1 else ''} owed. " if now.act is Act.RETEST else ""
        if now.again is not None:
            owed = f"Reading {now.again} again, at a clean contact. " if now.again else "Once more. "
        return owed + ask(now.asked)
    return {
        Act.REPAIR: found(now),
        Act.CLOSED: "Closed. The report is ready.",
        Act.LATCH: "Close up: whatever opens on it latched, key away, locked. Note it, and the wait begins.",
        Act.WAIT: f"It sleeps by {words.clock(now.until) if now.until else 'and by'}: open nothing, then read the total.",
        Act.TOTAL: "Read the total: clamp around all cables of one side.",
        Act.RECORD: f"{now.told} Log it on for an hour and more: what comes and goes shows then.".strip(),
        Act.FEEDS: f"Say when {now.told} blows, and when it holds." if now.told else "Say which fuse blows, and at what switch.",
        Act.LOOK: now.told or "Nothing left on the points would tell more: what is left stands beside the suspects.",
    }[now.act]


def unproven(now: JobStep) -> str:
    """What the report says of a job on which no one part was proven."""
    if now.act is Act.CLOSED:
        return "No one part was proven before the job was closed."
    if now.why is Why.PASSED:
        return "No one part was proven. After the repair what was read before reads well, and what was complained of is gone."
    return f"Not proven yet. {step(now)}"


def found(now: JobStep) -> str:
    """What to mend of what was found."""
    named = ", ".join(now.named)
    if now.why is Why.FOUND_AGAIN:
        return f"{named}: found again after its repair. The repair did not take, or what is joined to it is at fault: look at its plugs and wires, then retest."
    return {
        How.BESIDE: f"Follow the {named.lower()} to its ends: what loses the volts is a joint or splice beside it. Mend it, then retest.",
        How.WAY: f"Mend {named}: clean and tighten or renew all of it, then retest.",
        How.SHARE: f"{named}: over its share between its points. Repair, then retest.",
        How.CHARGE: f"{named} flat: charge it at its own rate, note it as done, then it is judged again.",
        How.DRAWS: f"{now.told} Repair, then read the total again.",
        How.FED: f"Find what feeds the {named} past the drawing and part it, then retest.",
    }.get(now.how or How.PART, f"{named}: found by its own test. Repair, then retest.")


def why(now: JobStep, test: NextTest | None = None, order: str = "") -> str:
    """Why that step comes now; nothing where the step says it itself. A test brings its own reason, one that was only chosen for what it tells that of the
    `order` of work."""
    if test is not None and test.bits and test.closing is None and test.again is None:
        return CHOSEN[Order(order) if order else Order.BEST].format(minutes=max(1, round(test.minutes)))
    told = test.why if test is not None else ""
    if told and now.again is not None:
        return f"{f'reading {now.again}' if now.again else 'what intake heard'} {told}"
    return told or (WHY.get(now.why, "") if now.why else "")
