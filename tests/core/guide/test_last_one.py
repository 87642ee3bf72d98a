"""The one part left: what holds nearly all that the drawing can explain, and nobody where several do."""

import numpy as np
import pytest

from iron_probe.core.diagnose.posterior import Posterior, Suspect
from iron_probe.core.guide.last_one import last_one


def left(shares: dict[str, float], off_sheet: float = 0.0, **beside: float) -> Posterior:
    return Posterior(
        suspects=tuple(Suspect(element=e, p=p, mode="open", modes=(("open", p),)) for e, p in shares.items()),
        eliminated=(), no_fault=0.0, off_sheet=off_sheet, unexplained=(), contradictory=(), found=None, pair=None,
        weights=np.zeros(0), beside=tuple(beside.items()),
    )  # fmt: skip


@pytest.mark.parametrize(
    ("of", "named"),
    [
        (left({"pump": 0.99, "wire": 0.01}), "pump"),
        (left({"strap": 0.49, "stud": 0.01}, 0.5), "strap"),
        (left({"link": 0.2}, 0.5, link=0.29), "link"),
        (left({}, 0.5, link=0.5), "link"),
        (left({"pump": 0.6, "wire": 0.4}), None),
        (left({"pump": 0.3}, 0.7), None),
        (left({}), None),
    ],
)
def test_who_holds_what_the_drawing_can_explain_is_the_last_one(of: Posterior, named: str | None) -> None:
    assert last_one(of) == named
