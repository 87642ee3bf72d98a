"""Arrays are named by what they hold."""

import numpy as np
import pytest

from iron_probe.core import arrays


@pytest.mark.parametrize(("name", "kind"), [("Floats", np.float64), ("Singles", np.float32), ("Ints", np.int64), ("Bools", np.bool_)])
def test_each_name_is_one_kind(name: str, kind: type) -> None:
    assert getattr(arrays, name).__args__[1].__args__[0] is kind
