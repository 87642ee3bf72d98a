"""Meters named on a command line."""

import pytest
from typer.testing import CliRunner

from iron_probe.cli import app
from iron_probe.core.errors import ReadingError
from iron_probe.core.meters.measured import Measured
from iron_probe.instruments.agent import SCPI_PORTS, found_at
from iron_probe.instruments.joining import offered_of
from iron_probe.instruments.stand_in import CLAMP, StandIn, plugged_in


def test_a_named_meter_is_asked_what_it_is() -> None:
    with plugged_in(StandIn(CLAMP, lambda selected, measured: 1.0)) as address:
        (one,) = offered_of([f"round the strap = {address}"], "amps")
    assert (one.name, one.measures) == ("round the strap", (Measured.AMPS,)) and "Clamp" in one.identity


@pytest.mark.parametrize(("named", "measures", "told"), [
    (["bench"], "amps", "names no meter"),
    (["=TCPIP::127.0.0.1::5025::SOCKET"], "amps", "names no meter"),
    ([], "amperes", "did you mean amps"),
])  # fmt: skip
def test_what_is_named_otherwise_is_told(named: list[str], measures: str, told: str) -> None:
    with pytest.raises(ReadingError, match=told):
        offered_of(named, measures)


@pytest.mark.parametrize(("arguments", "told"), [
    ([], "Name a meter"),
    (["--meter", "bench=TCPIP::127.0.0.1::1::SOCKET"], "Nothing answers at"),
])  # fmt: skip
def test_the_command_says_what_to_do(arguments: list[str], told: str) -> None:
    ran = CliRunner().invoke(app, ["meters", "http://127.0.0.1:1", *arguments])
    assert ran.exit_code == 2 and told in " ".join(ran.output.split())


def test_without_the_key_it_does_not_begin() -> None:
    with plugged_in(StandIn(CLAMP, lambda selected, measured: 1.0)) as address:
        ran = CliRunner().invoke(app, ["meters", "http://127.0.0.1:1", "--meter", f"clamp={address}"])
    assert ran.exit_code == 2 and "key is missing" in " ".join(ran.output.split())


def test_a_host_is_looked_through_where_meters_listen(monkeypatch: pytest.MonkeyPatch) -> None:
    with plugged_in(StandIn(CLAMP, lambda selected, measured: 1.0)) as address:
        port = int(address.split("::")[2])
        monkeypatch.setattr("iron_probe.instruments.agent.SCPI_PORTS", (1, port))
        assert list(found_at("127.0.0.1")) == [address]
    assert SCPI_PORTS[0] == 5025
