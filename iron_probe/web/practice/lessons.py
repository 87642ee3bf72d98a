"""Lessons of the practice bay: one drawn screen each, its figures by the solver as the learner sets it, then a case."""

from dataclasses import dataclass
from typing import Any

from fastapi import APIRouter, HTTPException, Request, Response

from iron_probe.bay.lessons import Knob, Lesson, Shown, lesson_named, lessons, mode_of, notches_of, shown
from iron_probe.core.errors import ReadingError
from iron_probe.machines import load_sheet
from iron_probe.web import fault_words
from iron_probe.web.page import is_fragment, templates

router = APIRouter()
WIDTH, HEIGHT, LEFT, RIGHT, FOOT = 940.0, 350.0, 54.0, 130.0, 146.0
"""The drawing, its edges, and the room for the names of points below it and beside the last."""


@dataclass(frozen=True, slots=True)
class KnobShown:
    """A knob as it is set: the part and its fault in words, its notch of how many."""

    knob: Knob
    title: str
    fault: str
    notch: int
    most: int
    severity: float | None


@dataclass(frozen=True, slots=True)
class Station:
    """A point of the way in the drawing: its volts now and of the sound machine as heights, None where it hangs free."""

    point: str
    title: str
    x: float
    y: float | None
    sound_y: float | None
    volts: float | None


@router.get("/practice/lessons")
def listed(request: Request) -> Response:
    """All lessons in their order."""
    return templates.TemplateResponse(request, "practice/lessons.html", {"lessons": lessons()})


@router.get("/practice/lessons/{lesson}")
def one(request: Request, lesson: str, state: str = "", knobs: str = "", red: str = "", black: str = "") -> Response:
    """A lesson as it is set: the state, the notches of its knobs by commas, where the leads are."""
    try:
        found = lesson_named(lesson)
    except ReadingError as error:
        raise HTTPException(404, str(error)) from error
    notches = [int(n) for n in (request.query_params.getlist("knob") or knobs.split(",")) if n.isdecimal() and len(n) < 3]
    notches = notches if len(notches) == len(found.knobs) else [0] * len(found.knobs)
    state = state if state in found.states else found.states[0]
    points = (*found.path, *found.also)
    red, black = (p if p in points else at for p, at in ((red, found.path[0]), (black, found.path[-1])))
    solved = shown(found, state, [min(n, len(notches_of(found, k))) for n, k in zip(notches, found.knobs, strict=True)], red, black)
    context = _context(found, solved, state, notches, red, black)
    name = "practice/_lesson.html" if is_fragment(request) else "practice/lesson.html"
    return templates.TemplateResponse(request, name, context)


def _context(lesson: Lesson, solved: Shown, state: str, notches: list[int], red: str, black: str) -> dict[str, Any]:
    sheet, place = load_sheet(lesson.sheet), [one.id for one in lessons()].index(lesson.id)
    top = max([v for v in (*solved.volts.values(), *solved.sound_v.values()) if v is not None] or [sheet.system_v])
    return {
        "lesson": lesson, "sheet": sheet, "solved": solved, "state": state, "red": red, "black": black, "number": place + 1,
        "knobs": [_knob(lesson, k, n) for k, n in zip(lesson.knobs, notches, strict=True)], "stations": _stations(lesson, solved, top),
        "onward": lessons()[place + 1] if place + 1 < len(lessons()) else None, "size": (WIDTH, HEIGHT), "foot": FOOT,
    }  # fmt: skip


def _knob(lesson: Lesson, knob: Knob, notch: int) -> KnobShown:
    steps, mode = notches_of(lesson, knob), mode_of(lesson, knob)
    notch = min(notch, len(steps))
    title = load_sheet(lesson.sheet).element(knob.element).title
    severity = steps[notch - 1] if notch and mode.most > mode.least else None
    return KnobShown(knob, title, fault_words.mode(knob.mode), notch, len(steps), severity)


def _stations(lesson: Lesson, solved: Shown, top_v: float) -> list[Station]:
    points, sheet = (*lesson.path, *lesson.also), load_sheet(lesson.sheet)
    pitch = (WIDTH - LEFT - RIGHT) / max(len(points) - 1, 1)

    def height(volts: float | None) -> float | None:
        return None if volts is None else 34 + (HEIGHT - FOOT - 34) * (1 - max(volts, 0.0) / top_v)

    return [
        Station(p, sheet.points[p].title, LEFT + k * pitch, height(solved.volts[p]), height(solved.sound_v[p]), solved.volts[p])
        for k, p in enumerate(points)
    ]
