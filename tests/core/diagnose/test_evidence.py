"""What a reading must say, and what a circuit lets it say."""

import pytest
from pydantic import ValidationError

from iron_probe.core.circuit.network import Network
from iron_probe.core.diagnose.evidence import Instrument, Reading, check_reading
from iron_probe.core.errors import ReadingError


@pytest.mark.parametrize(
    "given",
    [
        {"red": "a", "black": "b", "value": 1.0},  # no state
        {"red": "a", "state": "crank", "value": 1.0},  # one lead only
        {"red": "a", "black": "a", "state": "crank", "value": 1.0},  # both leads on one point
        {"instrument": "clamp", "state": "crank", "value": 1.0},  # around nothing
        {"instrument": "eyes", "state": "crank", "word": "sings"},  # no word of the trade
        {"red": "a", "black": "b", "state": "crank"},  # nothing read
    ],
)
def test_a_reading_that_says_too_little_is_refused(given: dict[str, object]) -> None:
    with pytest.raises(ValidationError):
        Reading.model_validate(given)


def test_points_states_and_branches_must_be_on_the_sheet(minibus_network: Network) -> None:
    plus, minus = minibus_network.sheet.plus, minibus_network.sheet.minus
    good = Reading(red=plus, black=minus, state="crank", value=10.5)
    check_reading(good, minibus_network)
    wrong = [good.model_copy(update=u) for u in ({"red": "nowhere"}, {"state": "flying"})]
    wrong.append(Reading(instrument=Instrument.CLAMP, branch="nowhere", state="crank", value=1.0))
    for reading in wrong:
        with pytest.raises(ReadingError, match=r"nowhere|flying"):
            check_reading(reading, minibus_network)
