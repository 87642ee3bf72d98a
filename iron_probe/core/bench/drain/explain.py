"""Drain and battery judged together against the complaint, and the end without a culprit."""

from collections.abc import Sequence
from dataclasses import dataclass

from iron_probe.core.bench.battery.endurance import endurance
from iron_probe.core.bench.drain.sleep_record import SleepRecord
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.errors import ReadingError
from iron_probe.core.limits import EXPLAINS_WITHIN, LONG_LOG_S
from iron_probe.core.phrase import Phrase


@dataclass(frozen=True, slots=True, kw_only=True)
class Combined:
    """Hours to no-start with each cause alone and both; which of them explain the complaint; what to repair, in words."""

    complained_hours: float
    drain_alone_hours: float
    battery_alone_hours: float
    both_hours: float
    text: str
    repair: tuple[str, ...]


def judge_together(
    sheet: Sheet, draw_a: float, usual_a: float, charge: float, share_left: float, complained_hours: float, temp_degc: float
) -> Combined:
    """Whether the drain, the worn battery, or only both explain "dead in N hours"; ReadingError for a time or draw that is none.

    Drain alone: this draw on a full sound battery. Battery alone: this battery at its charge with the usual draw.
    """
    if not 0 < complained_hours <= 24 * 365:
        raise ReadingError("The time until it was dead must be above zero and at most a year; type hours, such as 9.")
    floor = max(usual_a, 0.001)
    drain = endurance(sheet, max(draw_a, floor), 1.0, 1.0, temp_degc).hours
    battery = endurance(sheet, floor, charge, share_left, temp_degc).hours
    both = endurance(sheet, max(draw_a, floor), charge, share_left, temp_degc).hours
    enough = complained_hours * EXPLAINS_WITHIN
    repair: tuple[str, ...]
    by_drain, by_battery, by_both = drain <= enough, battery <= enough, both <= enough
    if by_drain and by_battery:
        text, repair = Phrase("Each alone explains it: repair the drain and replace or recharge the battery."), ("drain", "battery")
    elif by_drain:
        text, repair = Phrase("The drain alone explains it. Charge the battery and judge it after."), ("drain",)
    elif by_battery:
        text, repair = Phrase("The battery alone explains it: this draw is not the cause."), ("battery",)
    elif by_both:
        text, repair = Phrase("Neither alone explains it; together they do. Both are repaired, or it comes back."), ("drain", "battery")
    else:
        text, repair = Phrase("Not even both explain it: something draws at other times, or the complaint is longer ago. Log for days."), ()
    if by_drain and drain * EXPLAINS_WITHIN < complained_hours:
        text += Phrase(" But drawn all that time it would have been flat long before: it comes and goes, or came on later.")
    return Combined(
        complained_hours=complained_hours, drain_alone_hours=drain, battery_alone_hours=battery, both_hours=both, text=text, repair=repair
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class NotReproduced:
    """The end without a culprit: over how long the total was normal, what that rules out, what to watch for, when to come back."""

    hours: float
    enough: bool
    ruled_out: tuple[str, ...]
    watch: tuple[str, ...]
    come_back: str


def not_reproduced(record: SleepRecord, limit_a: float, days_to_no_start: float, normal_branches: Sequence[str]) -> NotReproduced | None:
    """Word it, when the record slept and what it took in the mean is within the limit; None when a drain was there."""
    if not record.slept or record.mean_a > limit_a or record.awake_since_s is not None:
        return None
    hours = record.length_s / 3600
    lasting = Phrase("a steady drain over the limit, for as long as the record runs")
    woke = (
        [
            Phrase(
                "wakes: {wakes} in that time, {cost_mah:.0f} mAh in all",
                wakes=len(record.wakes),
                cost_mah=1000 * sum(w.cost_ah for w in record.wakes),
            )
        ]
        if record.wakes
        else []
    )
    return NotReproduced(
        hours=hours,
        enough=record.length_s >= LONG_LOG_S,
        ruled_out=(lasting, *(Phrase("{name} while it was normal", name=name) for name in normal_branches), *woke),
        watch=(
            Phrase("lamps that stay lit, relays that hum or are warm, fans that run on after locking"),
            Phrase("what was used before the night it went flat: lift, doors, heater, charger, tracker"),
            Phrase("whether it is after rain, cold, or a long stand"),
        ),
        come_back=Phrase(
            "when it happens again, before anything is opened; at this draw the battery lasts about {days_to_no_start:.0f} days",
            days_to_no_start=days_to_no_start,
        ),
    )
