"""What agent and app say to each other."""

import json

import pytest
from pydantic import ValidationError

from iron_probe.core.meters.measured import Measured
from iron_probe.instruments.messages import Offered, Shown
from iron_probe.work.stand_ins import AGENT

BENCH = Offered(name="Bench", address="TCPIP::192.0.2.7::5025::SOCKET", measures=(Measured.DC_VOLTS,))


def test_a_meter_is_the_same_tomorrow_and_another_elsewhere() -> None:
    assert BENCH.id_of("a") == BENCH.model_copy(update={"name": "Bench 2"}).id_of("a") != BENCH.id_of("b")
    assert BENCH.id_of("a") != BENCH.model_copy(update={"channel": 2}).id_of("a")
    one = BENCH.model_copy(update={"stand_in": True})
    assert one.id_of(AGENT) == one.model_copy(update={"address": "TCPIP::127.0.0.1::40000::SOCKET"}).id_of(AGENT)


@pytest.mark.parametrize("wrong", [
    {"values": ["a lot"]}, {"values": [1e400]}, {"at": [0.0] * 101}, {"job": "x"}, {"meter": 7}, {"step": 0}, {"first": -1}, {"more": 1}, {"lost": "x" * 301},
])  # fmt: skip
def test_what_is_not_agreed_is_refused(wrong: dict[str, object]) -> None:
    said = {"meter": str(BENCH.id_of("a")), "job": 7} | wrong
    with pytest.raises(ValidationError):
        Shown.model_validate_json(json.dumps(said))
