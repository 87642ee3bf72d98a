"""The rooms of the app: one line each. Navigation, routes and what a machine's page says is not offered derive from here."""

from types import ModuleType

from iron_probe.web.battery import routes as battery
from iron_probe.web.bench import routes as bench
from iron_probe.web.captures import routes as captures
from iron_probe.web.charge import routes as charge
from iron_probe.web.control import routes as control
from iron_probe.web.drain import routes as drain
from iron_probe.web.fuse import routes as fuse
from iron_probe.web.intake import routes as intake
from iron_probe.web.machines import routes as machines
from iron_probe.web.repair import routes as repair
from iron_probe.web.report import routes as report
from iron_probe.web.screen import Screen
from iron_probe.web.sweep import routes as sweep
from iron_probe.web.yard import routes as yard

ROOMS: tuple[ModuleType, ...] = (yard, machines, intake, bench, battery, captures, control, charge, drain, sweep, fuse, repair, report)
SCREENS: tuple[Screen, ...] = tuple(sorted((room.SCREEN for room in ROOMS if hasattr(room, "SCREEN")), key=lambda s: s.aside))
"""Screens of a job, in the order of the navigation: those beside the work last."""
