"""Readings by point."""

from iron_probe.core.diagnose.evidence import Reading


def volts(red: str, black: str, state: str, value: float) -> Reading:
    return Reading(red=red, black=black, state=state, value=value)
