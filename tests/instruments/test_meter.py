"""A meter over pyvisa, against every stand-in and every way one fails."""

import socket
from collections.abc import Iterator

import pytest

from iron_probe.core.meters.measured import SHOWN_IN, Measured
from iron_probe.instruments.meter import Meter
from iron_probe.instruments.scpi import GarbledError, SilentError
from iron_probe.instruments.stand_in import BATTERY_TESTER, CLAMP, KINDS, MULTIMETER, RECORDER, Kind, Manner, StandIn, plugged_in

LEADS = {Measured.DC_VOLTS: 12.61, Measured.AC_VOLTS: 21.4, Measured.OHMS: 0.0052, Measured.AMPS: 41.3}


def shows(selected: str, measured: Measured) -> float | None:
    return LEADS[measured] if selected == "job 7" else None


@pytest.fixture
def multimeter() -> Iterator[tuple[StandIn, Meter]]:
    stand_in = StandIn(MULTIMETER, shows, seed=3)
    with plugged_in(stand_in) as address:
        meter = Meter(address, selects="job 7")
        yield stand_in, meter
        meter.close()


@pytest.mark.parametrize("kind", KINDS, ids=lambda kind: kind.name)
def test_round_trip_with_every_stand_in(kind: Kind) -> None:
    with plugged_in(StandIn(kind, shows)) as address:
        meter = Meter(address, selects="job 7")
        assert kind.name in meter.identity
        for channel, quantities in kind.channels.items():
            for measured in quantities:
                value = meter.read(measured, channel=channel, four_wire=kind.four_wire)
                assert value is not None
                true = LEADS[measured] / (kind.clamp_factor if measured is Measured.AMPS else 1)
                # four sigma of its gain, its zero, two of the coarsest digit it can show this on
                digit = (
                    1e-4
                    if kind.four_wire and measured is Measured.OHMS
                    else 0.1
                    if measured in (Measured.AC_VOLTS, Measured.OHMS)
                    else 0.02
                )
                assert value == pytest.approx(true, abs=4 * kind.share * true + kind.zero + digit)
        meter.close()


def test_what_it_cannot_measure_is_silence_and_an_error_of_its_own() -> None:
    with plugged_in(StandIn(CLAMP, shows)) as address:
        meter = Meter(address)
        meter.say("MEAS:VOLT:DC?")
        assert meter.ask("SYST:ERR?").startswith("-113") and meter.ask("SYST:ERR?").startswith("0,")
        meter.close()


def test_over_range_is_no_figure_and_no_error(multimeter: tuple[StandIn, Meter]) -> None:
    stand_in, meter = multimeter
    stand_in.shows = lambda selected, measured: None
    assert meter.read(Measured.OHMS) is None


def test_one_that_talks_garbage_is_told_and_is_heard_again(multimeter: tuple[StandIn, Meter]) -> None:
    stand_in, meter = multimeter
    stand_in.manner = Manner.GARBAGE
    with pytest.raises(GarbledError, match="no figure"):
        meter.read(Measured.DC_VOLTS)
    stand_in.manner = Manner.WELL
    assert meter.read(Measured.DC_VOLTS) == pytest.approx(12.61, abs=0.3)


@pytest.mark.parametrize("manner", [Manner.SILENT, Manner.HALF_LINE, Manner.HANGS_UP])
def test_one_that_falls_silent_is_told(multimeter: tuple[StandIn, Meter], manner: Manner) -> None:
    stand_in, meter = multimeter
    stand_in.manner = manner
    with pytest.raises(SilentError, match="Nothing answers at"):
        meter.read(Measured.DC_VOLTS)


def test_where_none_is_it_says_what_to_do() -> None:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))  # bound and not listening: nobody answers
        with pytest.raises(SilentError, match="address is like"):
            Meter(f"TCPIP::127.0.0.1::{taken.getsockname()[1]}::SOCKET")
    for address in ("", "the blue one", "TCPIP::127.0.0.1::SOCKET"):
        with pytest.raises(SilentError):
            Meter(address)


def test_gain_differs_by_meter_and_stays() -> None:
    one, other = StandIn(MULTIMETER, shows, seed=1), StandIn(MULTIMETER, shows, seed=2)
    assert one.gain != other.gain and one.gain == StandIn(MULTIMETER, shows, seed=1).gain


def test_every_stand_in_measures_something_with_a_unit() -> None:
    for kind in (MULTIMETER, CLAMP, RECORDER, BATTERY_TESTER):
        assert all(m in SHOWN_IN for quantities in kind.channels.values() for m in quantities)
