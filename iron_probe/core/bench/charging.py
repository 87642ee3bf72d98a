"""Charging: the output test, drops at output, what the small wires should show, energy balance, and what may not be subtracted."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from math import sqrt

from iron_probe.core.bench.drop_board import good_machine
from iron_probe.core.bench.judged import NO_SOURCE, Judged, Verdict
from iron_probe.core.circuit.charging import SET_V_PER_K
from iron_probe.core.circuit.elements import Alternator, Battery, Conditions, FieldRegulator, Rectifier
from iron_probe.core.circuit.faults import ONE_DIODE_OPEN, ONE_DIODE_SHORTED
from iron_probe.core.circuit.network import network_of
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.errors import ReadingError
from iron_probe.core.limits import (
    CHARGE_GIVEN_BACK_SHARE,
    CHARGING_BAND_DEGC,
    DEFAULT_WITHIN_V,
    DIODE_RIPPLE_V,
    FILLS_A,
    LEAST_OUTPUT_SHARE,
    NOT_CHARGING_V,
    ONE_MOMENT_S,
    OVERCHARGE_V,
    SOURCE_MOVED_V,
    TOTAL_LOSS_SHARE,
)
from iron_probe.core.phrase import Phrase, together
from iron_probe.core.solve.device_tables import full_output
from iron_probe.core.solve.generate import BUS_SHARE, DEFAULT_V

BAND_V = (13.5, 14.7)
"""Posts of a charging 12 V system at the band's temperature [V] (common practice)."""
DROP_V = {"plus": 0.3, "case": 0.2}
"""Most from output stud to battery plus, and from housing to battery minus, at full output [V] (a few hundred mV: common practice)."""


def band(temp_degc: float, system_v: float) -> tuple[float, float]:
    """The charging voltages [V] that are right at a temperature."""
    blocks = system_v / 12
    shift = SET_V_PER_K * (temp_degc - CHARGING_BAND_DEGC)
    return (BAND_V[0] + shift) * blocks, (BAND_V[1] + shift) * blocks


def judge_output(
    posts_v: float, amps: float | None, rest_v: float | None, temp_degc: float, system_v: float, commanded: bool = False, first: str = ""
) -> Judged:
    """Volts at the posts with the engine running, the amps into the battery beside them, and the rest voltage before; `commanded` over a bus; `first` is
    what this design is looked at for when it does not charge."""
    blocks = system_v / 12
    low, high = band(temp_degc, system_v)
    limit = Phrase(
        "{low:.1f} to {high:.1f} V at {temp_degc:.0f} °C; under {least_v:g} not charging, over {most_v:g} overcharge",
        low=low, high=high, temp_degc=temp_degc, least_v=NOT_CHARGING_V * blocks, most_v=OVERCHARGE_V * blocks,
    )  # fmt: skip

    def say(verdict: Verdict, text: str, step: str = "") -> Judged:
        return Judged(verdict=verdict, text=text, limit=limit, source=NO_SOURCE, next_step=step)

    if posts_v > OVERCHARGE_V * blocks:
        return say(
            Verdict.BAD,
            Phrase("{posts_v:.2f} V: overcharge. A lost sense wire does this as well as a regulator that is full on.", posts_v=posts_v),
            Phrase("Read at the sense terminal before blaming the regulator."),
        )
    if posts_v < NOT_CHARGING_V * blocks or (rest_v is not None and posts_v < rest_v):
        if amps is None or amps <= FILLS_A:
            return say(Verdict.BAD, Phrase("{posts_v:.2f} V: not charging.", posts_v=posts_v), first)
        if rest_v is not None and posts_v < rest_v:  # most clamps show no direction; the posts do
            return say(
                Verdict.BAD,
                Phrase(
                    "{posts_v:.2f} V, under its own {rest_v:.2f} at rest: not charging, {amps:.0f} A leave the battery.",
                    posts_v=posts_v,
                    rest_v=rest_v,
                    amps=amps,
                ),
                first,
            )
        return say(
            Verdict.OPEN,
            Phrase(
                "{posts_v:.2f} V, but {amps:.0f} A go into the battery: it charges; a flat battery holds the voltage down.",
                posts_v=posts_v,
                amps=amps,
            ),
            Phrase("Charge the battery first, then judge.")
            if rest_v is not None
            else Phrase("Read the posts at rest too: where they stand higher then, the amps leave it."),
        )
    if low <= posts_v <= high:
        return say(
            Verdict.GOOD,
            Phrase("{posts_v:.2f} V: charges", posts_v=posts_v)
            + (Phrase(", {amps:.0f} A into the battery.", amps=amps) if amps is not None else Phrase(". Note the amps too.")),
        )
    return say(
        Verdict.WEAK,
        Phrase("{posts_v:.2f} V: charges, outside the usual band.", posts_v=posts_v)
        + (Phrase(" Its default voltage?") if posts_v < low and commanded else ""),
        Phrase("Amps, drops and sense at this speed."),
    )


def looked_at_first(maker: Alternator | Rectifier) -> str:
    """What a machine that does not charge is looked at for before its generator is blamed, by what this design has (common practice)."""
    if isinstance(maker, Rectifier):
        return Phrase("The charge fuse and the regulator's plug and ground first, then the stator's AC volts with its plug off.")
    wires = [
        name
        for point, name in ((maker.l, "lamp"), (maker.ig, "ignition"), (maker.s, "sense"), (maker.bus, "bus"), (maker.f, "field"))
        if point
    ]
    return (
        Phrase("The charge fuse or link first, then the small wires: {wires}.", wires=together(wires))
        if wires
        else Phrase("The charge fuse or link first.")
    )


def judge_charge_drop(side: str, drop_v: float, amps: float | None, rated_a: float, system_v: float) -> Judged:
    """A drop from output to battery (`side` "plus") or housing to battery ("case") at `amps`, scaled to full output."""
    most = DROP_V[side] * system_v / 12
    limit = Phrase("{most:.2f} V at full output ({rated_a:.0f} A)", most=most, rated_a=rated_a)
    if not amps:
        return Judged(
            verdict=Verdict.OPEN,
            text=Phrase("{drop_v:.0f} mV, but without amps it proves nothing.", drop_v=drop_v * 1000),
            limit=limit,
            source=NO_SOURCE,
            next_step=Phrase("Loads on, clamp the output cable, read again."),
        )
    scaled = drop_v * rated_a / amps
    text = Phrase("{drop_v:.0f} mV at {amps:.0f} A is {scaled:.2f} V at full output.", drop_v=drop_v * 1000, amps=amps, scaled=scaled)
    if scaled > most:
        return Judged(verdict=Verdict.BAD, text=text, limit=limit, source=NO_SOURCE, next_step=Phrase("Halve the stretch."))
    if amps < LEAST_OUTPUT_SHARE * rated_a:
        return Judged(
            verdict=Verdict.OPEN,
            text=text + Phrase(" Scaled from little current."),
            limit=limit,
            source=NO_SOURCE,
            next_step=Phrase("Loads on, fast idle, read again."),
        )
    return Judged(verdict=Verdict.GOOD, text=text, limit=limit, source=NO_SOURCE)


def peak_to_peak_v(rms_v: float) -> float:
    """Peak-to-peak [V] of a ripple an AC meter shows as `rms_v`: a triangle's 2√3, to which a battery rounds a bridge's ripple."""
    return 2 * sqrt(3) * rms_v


def judge_ripple(ripple_v: float, system_v: float, output_share: float | None = None) -> Judged:
    """Peak-to-peak ripple across the battery while charging; `output_share` of the amps a sound machine gives there tells which diode."""
    most = DIODE_RIPPLE_V * system_v / 12
    bad = ripple_v > most
    text = Phrase("{ripple_v:.2f} V peak to peak: ", ripple_v=ripple_v) + (
        Phrase("a diode is open or shorted, unless the battery is parted.") if bad else Phrase("the bridge is whole.")
    )
    if bad and output_share is not None:
        nearer_open = abs(output_share - ONE_DIODE_OPEN[0]) < abs(output_share - ONE_DIODE_SHORTED[0])
        nearer = Phrase("one diode open") if nearer_open else Phrase("one diode shorted")
        text += Phrase(
            " {left:.0%} of the amps are left, nearer to {nearer} ({open:.0%} open, {shorted:.0%} shorted).",
            left=output_share, nearer=nearer, open=ONE_DIODE_OPEN[0], shorted=ONE_DIODE_SHORTED[0],
        )  # fmt: skip
    return Judged(verdict=Verdict.BAD if bad else Verdict.GOOD, text=text, limit=f"{most:.2f} V", source=NO_SOURCE)


def judge_on_purpose(posts_v: float, asked_v: float, system_v: float) -> Judged:
    """Volts at the posts in a state in which a module asks for `asked_v` of a 12 V system on purpose."""
    asked = asked_v * system_v / 12
    near = abs(posts_v - asked) < DEFAULT_WITHIN_V * system_v / 12
    text = Phrase("{posts_v:.2f} V where its module asks for about {asked:.1f} V on purpose: ", posts_v=posts_v, asked=asked) + (
        Phrase("it obeys.") if near else Phrase("it does not obey, or gives all it can.")
    )
    return Judged(
        verdict=Verdict.OPEN, text=text, limit=Phrase("about {asked:.1f} V while commanded", asked=asked), source=Phrase("common practice"),
        next_step=Phrase("Read the posts at fast idle, nothing asked on purpose."),
    )  # fmt: skip


def judge_commanded(posts_v: float, bus_v: float | None, system_v: float) -> Judged:
    """A machine commanded over a one-wire bus: does it obey, or does it hold its default voltage by itself."""
    blocks = system_v / 12
    limit = Phrase(
        "line rests over {rest_v:.1f} V while commanded; default about {default_v:.1f} V",
        rest_v=BUS_SHARE * system_v,
        default_v=DEFAULT_V * blocks,
    )
    source = Phrase("ISO 17987-4 recessive level (from memory); default voltage common practice")
    near = abs(posts_v - DEFAULT_V * blocks) < DEFAULT_WITHIN_V * blocks
    if bus_v is None:
        step = Phrase("Read the bus terminal in the same state.")
        return Judged(
            verdict=Verdict.OPEN,
            text=Phrase("{posts_v:.2f} V: may be its default.", posts_v=posts_v) if near else f"{posts_v:.2f} V.",
            limit=limit,
            source=source,
            next_step=step,
        )
    if bus_v < BUS_SHARE * system_v and near:
        return Judged(
            verdict=Verdict.BAD, text=Phrase("Default mode: it charges at {posts_v:.2f} V by itself, the bus is silent ({bus_v:.2f} V). Not the alternator.", posts_v=posts_v, bus_v=bus_v),
            limit=limit, source=source, next_step=Phrase("Follow the bus line: plugs and splices at front-end repairs, other members with codes, module power and ground, then a unit that never answers."),
        )  # fmt: skip
    if near:
        return Judged(
            verdict=Verdict.WEAK, text=Phrase("Bus at {bus_v:.2f} V, and yet it charges at its default {posts_v:.2f} V: it hears and does not answer.", bus_v=bus_v, posts_v=posts_v),
            limit=limit, source=source, next_step=Phrase("Levels along the line by scope; who has codes; then a replacement that does not match."),
        )  # fmt: skip
    return Judged(
        verdict=Verdict.GOOD if bus_v >= BUS_SHARE * system_v else Verdict.WEAK,
        text=Phrase("Bus at {bus_v:.2f} V.", bus_v=bus_v),
        limit=limit,
        source=source,
    )


@dataclass(frozen=True, slots=True)
class TimedVolts:
    """A voltage against minus with its time, and what the posts read beside it [V] (None: not read)."""

    volts: float
    at: datetime
    posts_v: float | None


def subtract(output: TimedVolts, battery: TimedVolts) -> float:
    """Drop [V] as output less battery; ReadingError when the source moved between the two, with times and values."""
    apart = abs(output.at - battery.at)
    said = f"{output.volts:.2f} V at {output.at:%H:%M:%S}, {battery.volts:.2f} V at {battery.at:%H:%M:%S}"
    moved = None if output.posts_v is None or battery.posts_v is None else abs(output.posts_v - battery.posts_v)
    if moved is not None and moved > SOURCE_MOVED_V:
        raise ReadingError(
            f"Not subtracted: the source moved by {moved:.2f} V between the two ({said}). Measure the drop directly, stud to post, with a long lead."
        )
    if moved is None and apart > timedelta(seconds=ONE_MOMENT_S):
        raise ReadingError(
            f"Not subtracted: {apart.total_seconds() / 60:.0f} min lie between the two ({said}) and the source may have moved. Measure the drop directly."
        )
    return output.volts - battery.volts


@dataclass(frozen=True, slots=True, kw_only=True)
class Balance:
    """Energy in one running state: what the machine can give at this speed [A], what the loads take, what is left for the battery
    (below zero it empties), and the hours to give back some amp-hours (None when nothing is left);
    `lasts_hours` until a battery that empties no longer starts it."""

    state: str
    can_give_a: float
    loads_a: float
    battery_a: float
    hours: float | None
    lasts_hours: float | None = None


def energy_balance(sheet: Sheet, at: Conditions, missing_ah: float) -> list[Balance]:
    """Work it out for every running state of the sound machine, the battery `missing_ah` [Ah] short of full."""
    found = []
    battery = next(e for e in sheet.elements if isinstance(e, Battery))
    for state in sheet.running_states():
        machine = good_machine(sheet, state, at)
        network = network_of(sheet, at)
        nominal = network.nominal[:, None]
        can = sum(float(full_output(g, sheet.states[state].rpm, nominal)[0]) for g in network.generators)
        into = machine.expected_amps(battery.id)[0]
        given = -sum(float(machine.solution.amps[g.branch, 0]) for g in network.generators)
        found.append(
            Balance(
                state=state,
                can_give_a=can,
                loads_a=given - into,
                battery_a=into,
                hours=missing_ah / CHARGE_GIVEN_BACK_SHARE / into if into > 0.5 else None,
                lasts_hours=TOTAL_LOSS_SHARE * battery.capacity_ah * battery.charge / -into if into < 0 else None,
            )
        )
    return found


@dataclass(frozen=True, slots=True, kw_only=True)
class Place:
    """A place worth reading on this design: leads, what it is, and what a sound machine shows by state [V]."""

    key: str
    title: str
    red: str
    black: str
    says: str
    good: tuple[tuple[str, float, float, float], ...]


def places_of(sheet: Sheet, at: Conditions, states: Sequence[str]) -> list[Place]:
    """The places of this design in signal order: output, drops, small wires, each with its good value and band in every state."""
    maker = maker_of(sheet)
    spots = [("posts", Phrase("Battery posts"), sheet.plus, sheet.minus, Phrase("is it charging at all")), ("output", Phrase("Output stud to housing"), maker.b, maker.case, Phrase("what the machine makes, read at itself")),
             ("plus", Phrase("Output stud to battery plus"), maker.b, sheet.plus, Phrase("loss on the way out: link, cable, joints")), ("case", Phrase("Housing to battery minus"), maker.case, sheet.minus, Phrase("loss on the way back: mounting, strap, ground cable"))]  # fmt: skip
    if isinstance(maker, Alternator):
        wires = [("l", maker.l, Phrase("Lamp terminal"), Phrase("key on: under 1.5 V and the lamp lit; running: as the output, lamp out")), ("ig", maker.ig, Phrase("Ignition terminal"), Phrase("near battery voltage with the key on")),
                 ("s", maker.s, Phrase("Sense terminal"), Phrase("what the regulator believes the battery has")), ("bus", maker.bus, Phrase("Bus terminal"), Phrase("rests near battery voltage while the module commands")),
                 ("f", maker.f, Phrase("Field terminal"), Phrase("what the regulator lets through to the field"))]  # fmt: skip
        spots += [(key, title, point, maker.case, says) for key, point, title, says in wires if point]
        outside = sheet.element(maker.regulator) if maker.regulator else None
        if isinstance(outside, FieldRegulator):
            spots += [
                (
                    "reg",
                    Phrase("Regulator feed"),
                    outside.feed,
                    outside.ground,
                    Phrase("its own power and ground: paint under it is a fault"),
                ),
                ("regg", Phrase("Regulator ground to battery minus"), outside.ground, sheet.minus, Phrase("its ground")),
            ]
    found = []
    for key, title, red, black, says in spots:
        good = tuple((state, *good_machine(sheet, state, at).expected(red, black)) for state in states)
        found.append(Place(key=key, title=title, red=red, black=black, says=says, good=good))
    return found


def room_v(good_v: float) -> float:
    """Volts beyond the band of sound machines that a reading may lie before it is odd: meter and contact."""
    return max(0.03, 0.02 * abs(good_v))


def has_charging(sheet: Sheet) -> bool:
    """Whether the machine makes its own current; one without lives on its battery (total loss)."""
    return any(isinstance(e, Alternator | Rectifier) for e in sheet.elements)


def maker_of(sheet: Sheet) -> Alternator | Rectifier:
    """The element that makes the charging current; ReadingError when the machine has none."""
    found = next((e for e in sheet.elements if isinstance(e, Alternator | Rectifier)), None)
    if found is None:
        raise ReadingError(f"{sheet.title} has no charging system on its sheet")
    return found
