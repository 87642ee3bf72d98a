"""The rooms of the app: one line each. Navigation, routes and what a machine's page says is not offered derive from here."""

from dataclasses import dataclass
from types import ModuleType

from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.guide.route import Concern
from iron_probe.web import readings
from iron_probe.web.archive import routes as archive
from iron_probe.web.battery import routes as battery
from iron_probe.web.bench import routes as bench
from iron_probe.web.captures import routes as captures
from iron_probe.web.charge import routes as charge
from iron_probe.web.compose import routes as compose
from iron_probe.web.control import routes as control
from iron_probe.web.drain import routes as drain
from iron_probe.web.fuse import routes as fuse
from iron_probe.web.history import routes as history
from iron_probe.web.intake import routes as intake
from iron_probe.web.machines import exports
from iron_probe.web.machines import routes as machines
from iron_probe.web.meters import routes as meters
from iron_probe.web.people import routes as people
from iron_probe.web.photos import routes as photos
from iron_probe.web.practice import lessons
from iron_probe.web.practice import routes as practice
from iron_probe.web.repair import routes as repair
from iron_probe.web.report import routes as report
from iron_probe.web.screen import Screen
from iron_probe.web.sweep import routes as sweep
from iron_probe.web.workbench import routes as workbench
from iron_probe.web.yard import routes as yard

ROOMS: tuple[ModuleType, ...] = (
    yard,
    machines,
    exports,
    compose,
    workbench,
    intake,
    bench,
    battery,
    captures,
    control,
    charge,
    readings,
    drain,
    sweep,
    fuse,
    repair,
    photos,
    report,
    archive,
    history,
    practice,
    lessons,
    meters,
    people,
)
SCREENS: tuple[Screen, ...] = tuple(sorted((room.SCREEN for room in ROOMS if hasattr(room, "SCREEN")), key=lambda s: s.aside))
"""Screens of a job, in the order of the navigation: those beside the work last."""

NEEDED: dict[Concern, tuple[ModuleType, ...]] = {
    Concern.STARTING: (bench, battery, control, captures, repair, report),
    Concern.CHARGING: (charge, battery, bench, repair, report),
    Concern.DRAIN: (battery, drain, bench, repair, report),
    Concern.FUSE: (fuse, bench, captures, repair, report),
}
"""The screens that a concern needs, in the order of its route."""


@dataclass(frozen=True, slots=True)
class Tabs:
    """Screens of a job as its navigation shows them: those its work needs, with the one that is looked at, and the others folded."""

    needed: tuple[Screen, ...]
    folded: tuple[Screen, ...]


def tabs_of(concern: Concern, sheet: Sheet, here: str) -> Tabs:
    """The navigation of a job; a screen its machine has no use for is in neither part."""
    offered = [s for s in SCREENS if not s.refuses(sheet)]
    needed = [room.SCREEN for room in NEEDED[concern] if room.SCREEN in offered]
    needed += [s for s in offered if s.name == here and s not in needed]
    return Tabs(tuple(needed), tuple(s for s in offered if s not in needed))
