"""Words and answers of SCPI."""

import pytest

from iron_probe.core.meters.measured import Measured
from iron_probe.instruments.scpi import GarbledError, figure, question


def test_questions() -> None:
    assert question(Measured.DC_VOLTS) == "MEAS:VOLT:DC?" and question(Measured.DC_VOLTS, channel=2) == "MEAS:VOLT:DC? (@2)"
    assert question(Measured.OHMS, four_wire=True) == "MEAS:FRES?" and question(Measured.AMPS, four_wire=True) == "MEAS:CURR:DC?"


@pytest.mark.parametrize(
    ("answer", "value"), [("+1.26100E+01", 12.61), (" -.5 ", -0.5), ("12.\n", 12.0), ("9.9E37", None), ("-9.900000E+37", None)]
)
def test_figures(answer: str, value: float | None) -> None:
    assert figure(answer) == value


@pytest.mark.parametrize("answer", ["", "12.6 V", "nan", "inf", "1e", "1_0", "0x1f", "12,6", "٣", "1" * 300])
def test_what_is_no_figure(answer: str) -> None:
    with pytest.raises(GarbledError):
        figure(answer)
