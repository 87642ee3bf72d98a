"""What of a log can be held against a circuit."""

from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.job.fits import ANY, fits_of
from iron_probe.core.job.lines import TestLine


def test_a_reading_fits_while_its_points_are_there(minibus: Sheet) -> None:
    fits = fits_of(minibus)
    here = Reading(red=minibus.plus, black=minibus.minus, state="crank", value=10.0)
    assert fits.reading(here)
    gone = [here.model_copy(update=u) for u in ({"red": "gone"}, {"state": "gone"})]
    gone.append(Reading(instrument=Instrument.CLAMP, branch="gone", state="crank", value=3.0))
    assert not any(fits.reading(r) for r in gone)
    assert all(ANY.reading(r) for r in gone)


def test_a_test_of_a_part_that_is_gone_stands_aside(minibus: Sheet) -> None:
    fits = fits_of(minibus)
    battery = minibus.batteries[0].id
    assert fits.test(TestLine(screen="battery", subject=battery, test="rest", typed={}))
    assert not fits.test(TestLine(screen="battery", subject="gone", test="rest", typed={}))
