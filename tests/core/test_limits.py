"""Every limit carries what a technician may ask of it."""

import numpy as np
import pytest

from iron_probe.core import limits
from iron_probe.core.limits import Limit

ALL = {name: value for name, value in vars(limits).items() if isinstance(value, Limit)}
SOURCES = {value for name, value in vars(limits).items() if name.isupper() and isinstance(value, str)}


@pytest.mark.parametrize("name", ALL)
def test_a_limit_says_its_unit_its_meaning_and_a_known_source(name: str) -> None:
    it = ALL[name]
    assert it.unit and len(it.says) > 8 and it.source in SOURCES


def test_a_limit_goes_into_a_formula_as_the_number_it_is() -> None:
    it = Limit(1.1, "times rating", "a fuse holds this for long", limits.ISO_8820)
    assert it * 10 == pytest.approx(11.0) and f"{it:g}" == "1.1"
    assert (np.array([1.0, 2.0]) * it).tolist() == pytest.approx([1.1, 2.2])


def test_no_two_limits_of_one_meaning() -> None:
    said = [it.says for it in ALL.values()]
    assert len(said) == len(set(said))
