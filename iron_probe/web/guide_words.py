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
from iron_probe.web.language import N_, Worded, _, _n, worded

LEG = Worded(
    {
        Leg.BATTERY: N_("battery at rest"),
        Leg.POSTS: N_("posts cranking"),
        Leg.COMMAND: N_("command"),
        Leg.SUPPLY: N_("supply way"),
        Leg.GROUND: N_("ground way"),
        Leg.OUTPUT: N_("output"),
        Leg.WAYS: N_("out and back"),
        Leg.WIRES: N_("small wires"),
        Leg.TOTAL: N_("total asleep"),
        Leg.SPLIT: N_("split it"),
        Leg.FEEDS: N_("what it feeds"),
        Leg.HALVES: N_("halve it"),
        Leg.PART: N_("the part"),
        Leg.REPAIR: N_("repair"),
        Leg.RETEST: N_("retest"),
        Leg.CLOSE: N_("close"),
    }
)
STANDING = Worded(
    {Standing.DONE: N_("done"), Standing.HERE: N_("here"), Standing.AHEAD: N_("ahead"), Standing.NOT_NEEDED: N_("not needed")}
)
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
GO = Worded({Act.REPAIR: N_("Repair & retest"), Act.CLOSE: N_("Report"), Act.CLOSED: N_("Report")})
"""What the way to a step's screen is called."""
WHY = Worded(
    {
        Why.SOURCE_FIRST: N_("a weak battery makes every later figure lie"),
        Why.UNDER_LOAD: N_("a battery is judged while it gives what it is there for"),
        Why.WHOLE_WAY: N_("one reading over the whole way clears or accuses all of it"),
        Why.FOUND: N_("its own test agrees"),
        Why.FOUND_AGAIN: N_("it was mended already: the repair did not take, or what is joined to it is at fault"),
        Why.SAME_PROBES: N_("the same probes in the same state tell whether the repair took"),
        Why.COMPLAINT_AGAIN: N_("what was complained of is tried before the job is called done"),
        Why.PASSED: N_("what was read before the repair reads well, and what was complained of is gone"),
        Why.NO_FAULT: N_("nothing is wrong in what was tested"),
        Why.NOTHING_LEFT: N_("no test on the points would tell more"),
        Why.AWAITED: N_("every fault of this machine is worked out once"),
        Why.LAST_ONE: N_("no test on the points would tell more, and nothing else on the drawing explains what was read; it is not proven"),
        Why.ODD_ONCE: N_("it was odd once, and what is loose comes and goes as it is moved"),
        Why.BASELINE: N_("what a sound one reads is kept, to be held against next time"),
        Why.WHY_FLAT: N_("something emptied it: see that it is charged"),
        Why.CHARGES_FIRST: N_("a battery that is not charged goes flat by itself"),
        Why.AWAKE_HIDES: N_("what is still awake hides the drain, and an opened door begins the wait anew"),
        Why.TOTAL_FIRST: N_("every reading of the hunt is held against the total of its moment"),
        Why.NO_SLEEPER: N_("nothing asleep takes so much: something is switched on, stuck or shorted"),
        Why.SPLITS: N_("it splits what is left to place"),
        Why.SUM_CLOSES: N_("what was found makes up the total"),
        Why.NORMAL_NOW: N_("what comes and goes is caught by time alone"),
        Why.NOT_REPRODUCED: N_("it stayed normal for an hour and more"),
        Why.NOT_SEEN: N_("what blows it is looked for in the state that blows it"),
    }
)


CHOSEN = Worded(
    {
        Order.BEST: N_("of all that can be read here, it tells most for its {minutes} min"),
        Order.DEAD_PART: N_("at the dead part, then toward the missing leg"),
        Order.SOURCE: N_("the source first, then half of what is left at a time"),
    }
)
"""Why a test was chosen, by the order of work."""


PROBE = Worded(
    {
        Way.CLAMP: N_("Clamp around {}"),
        Way.DROP: N_("Millivolts across {}"),
        Way.PULL: N_("Pull {}, and read the total"),
        Way.PART: N_("Unplug {}, and read the total"),
        Way.SERIES: N_("Series meter in {}"),
    }
)
"""What to do for a probe of a drain hunt, and where."""
ENDING = Worded(
    {
        Ending.REPAIRED: N_("repaired and proven"),
        Ending.NO_FAULT: N_("no fault found in what was tested"),
        Ending.NOT_REPRODUCED: N_("not reproduced"),
        Ending.HANDED_ON: N_("handed to another: high voltage, airbag, or licensed work"),
        Ending.UNPROVEN: N_("without a proof"),
    }
)
"""As what a job is closed."""
WAITS = Worded(
    {
        text: text
        for text in (
            N_("charger, then rest"), N_("battery rests"), N_("falls asleep"), N_("long record"), N_("soaks in the cold"), N_("parts on order"),
        )
    }
)  # fmt: skip
"""What a job may wait for, by what its log is told."""
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
    part, ends = asked.part.lower(), _("{red} to {black}").format(red=asked.red, black=asked.black)
    todo = {
        Instrument.EYES: _("Try it, and say what it does"),
        Instrument.FUNCTION: _("Look at {part}").format(part=part),
        Instrument.LOOKS: _("Look at {part} closely").format(part=part),
        Instrument.ANSWERS: _("See whether {part} answers").format(part=part),
        Instrument.CLAMP: _("Clamp around {part}").format(part=part),
        Instrument.RIPPLE: _("Read the ripple across the battery"),
        Instrument.NEW_FUSE: _("Fit a new {part} of its own rating, once, and see whether it holds").format(part=part),
        Instrument.FIELD_OFF: _("Take the field wire off the {part} and see whether it goes on charging").format(part=part),
        Instrument.PART_OHM: _("Take {part} off and read its ohms").format(part=part),
        Instrument.BARE_OHM: _("Part {part} at both ends and read ohms from its metal to ground").format(part=part),
        Instrument.LOAD: _("Load tester across {ends}, 100 A for fifteen seconds, and read its volts at the end").format(ends=ends),
        Instrument.LAMP_LARGE: _("A 4 A lamp from {ends}").format(ends=ends),
        Instrument.OHMMETER: _("Plug off, ohms {ends}").format(ends=ends),
        Instrument.AC_VOLTS: _("Plug off, AC volts {ends}").format(ends=ends),
    }.get(
        asked.instrument,
        _("Both probes on the {part} itself, {ends}").format(part=part, ends=ends)
        if asked.itself
        else _("Measure {ends}").format(ends=ends),
    )
    return f"{todo}: {asked.state.lower()}."


def step(now: JobStep) -> str:
    """The step of a job in words."""
    if now.act is None:
        return _("This log cannot be judged. Its readings are kept; open it to see which.")
    if now.act is Act.CLOSE:
        return {
            Why.PASSED: _("Repaired and proven: close, print the report."),
            Why.NOT_REPRODUCED: _("Not reproduced: close with what to watch for, or leave a record running."),
        }.get(now.why or Why.NO_FAULT, _("No fault in what was tested: close, or read while it does it."))
    if now.probe is not None:
        hot = _("Part minus or pull the main fuse now, and feel for what is hot. Then: ") if now.why is Why.NO_SLEEPER else ""
        return f"{hot}{PROBE[now.probe.way].format(now.probe.title)}."
    if now.asked is not None:
        owed = (
            _n("Retest, {count} reading owed. ", "Retest, {count} readings owed. ", now.owed).format(count=now.owed)
            if now.act is Act.RETEST
            else ""
        )
        if now.why is Why.ODD_ONCE:
            owed = _("Reading {number} again, while what lies between its points is moved, hands off what turns. ").format(number=now.again)
        elif now.again is not None:
            owed = _("Reading {number} again, at a clean contact. ").format(number=now.again) if now.again else _("Once more. ")
        return owed + ask(now.asked)
    return {
        Act.REPAIR: found(now),
        Act.CLOSED: _("Closed. The report is ready."),
        Act.LATCH: _("Close up: whatever opens on it latched, key away, locked. Note it, and the wait begins."),
        Act.WAIT: _("It sleeps by {moment}: open nothing, then read the total.").format(
            moment=words.clock(now.until) if now.until else _("and by")
        ),
        Act.TOTAL: _("Read the total: clamp around all cables of one side."),
        Act.RECORD: _("{told} Log it on for an hour and more: what comes and goes shows then.").format(told=worded(now.told)).strip(),
        Act.FEEDS: _("Say when {told} blows, and when it holds.").format(told=worded(now.told))
        if now.told
        else _("Say which fuse blows, and at what switch."),
        Act.LOOK: (
            _("{told} What tells most is being worked out: a few seconds.")
            if now.why is Why.AWAITED
            else _("{told} Nothing left on the points would tell more: what is left stands beside the suspects.")
        )
        .format(told=worded(now.told))
        .strip(),
    }[now.act]


def unproven(now: JobStep) -> str:
    """What the report says of a job on which no one part was proven."""
    if now.act is Act.CLOSED:
        return _("No one part was proven before the job was closed.")
    if now.why is Why.PASSED:
        return _("No one part was proven. After the repair what was read before reads well, and what was complained of is gone.")
    return _("Not proven yet. {step}").format(step=step(now))


def found(now: JobStep) -> str:
    """What to mend of what was found."""
    named = ", ".join(now.named)
    if now.why is Why.FOUND_AGAIN:
        return _(
            "{named}: found again after its repair. The repair did not take, or what is joined to it is at fault: look at its plugs and wires, then retest."
        ).format(named=named)
    return {
        How.BESIDE: _("Follow the {named} to its ends: what loses the volts is a joint or splice beside it. Mend it, then retest.").format(
            named=named.lower()
        ),
        How.WAY: _("Mend {named}: clean and tighten or renew all of it, then retest.").format(named=named),
        How.SHARE: _("{named}: over its share between its points. Repair, then retest.").format(named=named),
        How.CHARGE: _("{named} flat: charge it at its own rate, note it as done, then it is judged again.").format(named=named),
        How.DRAWS: _("{told} Repair, then read the total again.").format(told=worded(now.told)),
        How.TRIAL: _(
            "Nothing left to read; only the {named} or what joins it is left, unproven. Part it or try a good one; if that cures it, repair and retest."
        ).format(named=named.lower()),
        How.FED: _("Find what feeds the {named} past the drawing and part it, then retest.").format(named=named),
    }.get(now.how or How.PART, _("{named}: found by its own test. Repair, then retest.").format(named=named))


def waits_for(text: str) -> str:
    """What a job waits for: one of the usual waits, or what somebody wrote."""
    return WAITS.get(text, text)


def why(now: JobStep, test: NextTest | None = None, order: str = "") -> str:
    """Why that step comes now; nothing where the step says it itself. A test brings its own reason, one that was only chosen for what it tells that of the
    `order` of work."""
    if test is not None and test.bits and test.closing is None and test.again is None:
        return CHOSEN[Order(order) if order else Order.BEST].format(minutes=max(1, round(test.minutes)))
    told = worded(test.why) if test is not None else ""
    if told and now.again is not None:
        return f"{_('reading %s') % now.again if now.again else _('what intake heard')} {told}"
    return told or (WHY.get(now.why, "") if now.why else "")
