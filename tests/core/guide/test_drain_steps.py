"""The step of a drain hunt, from an open door to a sum that closes, and after a repair."""

from dataclasses import replace
from datetime import UTC, datetime

import pytest

from iron_probe.core.bench.drain.currents import Way
from iron_probe.core.bench.drain.suspects import DrainProbe
from iron_probe.core.bench.judged import Verdict
from iron_probe.core.guide.drain_steps import DrainFacts, drain_step
from iron_probe.core.guide.route import Leg
from iron_probe.core.guide.step import Act, How, Why

OPEN = DrainFacts(
    latched=False, until=None, total=None, level=False, no_sleeper=False, probes=(), inner=(), culprits=(), closes=False, recorded=False
)
ASLEEP = replace(OPEN, latched=True)
DROP, PART = (DrainProbe(where="f3", way=way, title="Fuse F3", bits=1.0, minutes=1.0, good_a=0.001) for way in (Way.DROP, Way.PART))
FOUND = replace(ASLEEP, total=Verdict.BAD, level=True, probes=(DROP,), culprits=("radio",))


def test_it_is_closed_up_waited_for_and_then_read() -> None:
    until = datetime(2026, 1, 1, 12, tzinfo=UTC)
    assert drain_step(OPEN, False).act is Act.LATCH
    waits = drain_step(replace(OPEN, latched=True, until=until), False)
    assert (waits.act, waits.until) == (Act.WAIT, until)
    assert drain_step(ASLEEP, False).act is Act.TOTAL


def test_a_total_over_the_limit_is_split_whenever_it_was_read() -> None:
    for known in (FOUND, replace(FOUND, latched=False)):
        step = drain_step(replace(known, culprits=()), False)
        assert (step.act, step.leg, step.probe) == (Act.PROBE, Leg.SPLIT, DROP)
    assert drain_step(replace(FOUND, probes=(PART,)), False).leg is Leg.PART
    assert drain_step(replace(FOUND, no_sleeper=True), False).why is Why.NO_SLEEPER


@pytest.mark.parametrize("left", [{"closes": True}, {"probes": ()}])
def test_what_draws_is_mended_once_the_sum_closes_or_nothing_parts_it_further(left: dict[str, object]) -> None:
    step = drain_step(replace(FOUND, **left), False)  # type: ignore[arg-type]
    assert (step.act, step.parts, step.how) == (Act.REPAIR, ("radio",), How.DRAWS)
    assert drain_step(replace(FOUND, culprits=(), probes=()), False).act is Act.LOOK
    assert drain_step(replace(FOUND, closes=True, inner=(PART,)), False).probe == PART  # the fuse is named, what draws behind it is not


def test_a_normal_total_is_recorded_and_then_let_go_and_after_a_repair_it_is_the_end() -> None:
    normal = replace(ASLEEP, total=Verdict.GOOD)
    assert drain_step(normal, False).act is Act.RECORD
    assert drain_step(replace(normal, recorded=True), False).why is Why.NOT_REPRODUCED
    assert (drain_step(normal, True).act, drain_step(normal, True).why) == (Act.CLOSE, Why.PASSED)
    assert drain_step(ASLEEP, True).leg is Leg.RETEST
    assert drain_step(FOUND, True).act is Act.PROBE
