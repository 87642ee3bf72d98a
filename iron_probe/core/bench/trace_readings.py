"""The means of a crank trace as readings on the circuit."""

from iron_probe.core.bench.cranking import CrankTrace
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.errors import CaptureError
from iron_probe.core.limits import SLOW_CRANK_SHARE


def crank_readings(trace: CrankTrace, sheet: Sheet, red: str = "", black: str = "") -> list[Reading]:
    """Amps at the battery, volts at the posts, a lead-to-lead drop between `red` and `black`, and what the speed amounts to.

    CaptureError when the sheet has no cranking state, or a drop was taken and its points are not named.
    """
    state = sheet.cranking_state()
    battery = next(iter(sheet.batteries), None)
    if state is None or battery is None:
        raise CaptureError(f"{sheet.title} has no cranking state to put these figures in")
    readings = [Reading(instrument=Instrument.CLAMP, branch=battery.id, state=state, value=round(trace.mean_a, 1), resolution=1.0)]
    if trace.mean_v is not None:
        readings.append(
            Reading(red=sheet.plus, black=sheet.minus, state=state, value=round(trace.mean_v, 2), resolution=0.02, amps=trace.mean_a)
        )
    if trace.drop_v is not None:
        if not red or not black or red == black:
            raise CaptureError("The drop was taken between two points: name where red and where black was")
        for point in (red, black):
            sheet.point(point)
        readings.append(Reading(red=red, black=black, state=state, value=round(trace.drop_v, 3), resolution=0.005, amps=trace.mean_a))
    if trace.rpm is not None:
        slow = trace.rpm < SLOW_CRANK_SHARE * sheet.engine.crank_rpm
        readings.append(Reading(instrument=Instrument.EYES, state=state, word="slow" if slow else "cranks"))
    return readings
