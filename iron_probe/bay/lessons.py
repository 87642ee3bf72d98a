"""Lessons: a way on a shipped circuit, solved by the engine's own solver as the learner breaks it, and a case of the bay to try it on."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from pathlib import Path

import yaml
from pydantic import BaseModel, ConfigDict, Field

from iron_probe.bay.case import Level
from iron_probe.core.answers import SolveAnswer, solve_answer
from iron_probe.core.circuit.network import network_of
from iron_probe.core.diagnose.fault_mode import FaultMode
from iron_probe.core.diagnose.fault_modes import fault_modes, find_mode
from iron_probe.core.errors import ReadingError
from iron_probe.machines import load_sheet

FILE = Path(__file__).parent / "lessons.yaml"
NOTCHES = 6
"""Steps of a knob from sound to its worst; a fault without a severity has one."""


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class Knob(_Part):
    """A fault that the learner sets: an element's mode, up to `most` where its worst would only be an open circuit [the mode's own unit]."""

    element: str
    mode: str
    most: float | None = None


class Task(_Part):
    """The case that is worked after the lesson."""

    level: Level
    sheet: str
    number: int


class Lesson(_Part):
    """One lesson: what is to be known, what to look at, the points of a way in order, others `also` shown, fuses whose `amps` are told."""

    id: str
    title: str
    theory: str
    see: str
    sheet: str
    path: tuple[str, ...] = Field(min_length=2)
    also: tuple[str, ...] = ()
    states: tuple[str, ...] = Field(min_length=1)
    knobs: tuple[Knob, ...] = Field(min_length=1)
    amps: tuple[str, ...] = ()
    task: Task


@dataclass(frozen=True, slots=True)
class Shown:
    """What the solver says as the learner has set it, beside the sound machine: volts by point (None where it hangs free), amps by
    element, what is heard; and what a meter between two points reads [V]."""

    volts: dict[str, float | None]
    sound_v: dict[str, float | None]
    amps: dict[str, float]
    heard: str
    meter_v: float | None


@cache
def lessons() -> tuple[Lesson, ...]:
    """All of them, in rising order."""
    return tuple(Lesson.model_validate(one) for one in yaml.safe_load(FILE.read_text()))


def lesson_named(name: str) -> Lesson:
    """One by its id. ReadingError where there is none."""
    found = next((one for one in lessons() if one.id == name), None)
    if found is None:
        raise ReadingError(f"There is no lesson “{name[:40]}”; there are {', '.join(one.id for one in lessons())}")
    return found


def mode_of(lesson: Lesson, knob: Knob) -> FaultMode:
    """The fault that a knob sets."""
    return find_mode(fault_modes(network_of(load_sheet(lesson.sheet))), knob.element, knob.mode)


def notches_of(lesson: Lesson, knob: Knob) -> tuple[float, ...]:
    """The severities of a knob, from the least to the worst, evenly apart by their ratio."""
    mode = mode_of(lesson, knob)
    most = min(mode.most, knob.most) if knob.most else mode.most
    if most <= mode.least:
        return (mode.least,)
    return tuple(mode.least * (most / mode.least) ** (k / (NOTCHES - 1)) for k in range(NOTCHES))


def shown(lesson: Lesson, state: str, notches: Sequence[int], red: str, black: str) -> Shown:
    """Solve it as it is set: the notch of each knob, 0 for sound. ReadingError for a state or notch that the lesson has not."""
    sheet = load_sheet(lesson.sheet)
    if state not in lesson.states or len(notches) != len(lesson.knobs):
        raise ReadingError(f"This lesson has the states {', '.join(lesson.states)} and {len(lesson.knobs)} knobs: use those of the page")
    faults = []
    for knob, notch in zip(lesson.knobs, notches, strict=True):
        steps = notches_of(lesson, knob)
        if not 0 <= notch <= len(steps):
            raise ReadingError(f"A knob goes from 0, sound, to {len(steps)}, worst")
        if notch:
            faults.append(f"{knob.element}={knob.mode}:{steps[notch - 1]:.6g}")
    solved, sound = solve_answer(sheet, state, faults), solve_answer(sheet, state)
    points = (*lesson.path, *lesson.also)
    volts = _volts(solved, (*points, red, black))
    upper, lower = volts.get(red), volts.get(black)
    return Shown(
        volts={p: volts[p] for p in points}, sound_v=_volts(sound, points), amps={e: solved.elements[e].amps for e in lesson.amps},
        heard=solved.symptoms[0] if solved.symptoms else "", meter_v=None if upper is None or lower is None else upper - lower,
    )  # fmt: skip


def _volts(answer: SolveAnswer, points: Sequence[str]) -> dict[str, float | None]:
    return {p: None if p in answer.floating else answer.nodes.get(p) for p in points if p}
