"""What is left, asked for by element."""

import numpy as np

from iron_probe.core.diagnose.posterior import Posterior, Suspect


def test_an_element_that_is_no_suspect_holds_nothing() -> None:
    left = Posterior(
        suspects=(Suspect(element="fuse", p=0.4, mode="open", modes=(("open", 0.4),)),), eliminated=(), no_fault=0.0, off_sheet=0.6,
        unexplained=(), contradictory=(), found=None, pair=None, weights=np.ones(1),
    )  # fmt: skip
    assert (left.share("fuse"), left.share("bolt")) == (0.4, 0.0)
