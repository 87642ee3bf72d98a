"""One deep discharge condemns nothing: what must have been seen before a battery may be called bad."""

from collections.abc import Sequence
from dataclasses import dataclass

from iron_probe.core.bench.judged import Verdict
from iron_probe.core.limits import RETEST_CHARGE
from iron_probe.core.phrase import Phrase, Sentences


@dataclass(frozen=True, slots=True, kw_only=True)
class MadeTest:
    """A test in the order it was made: its `kind`, verdict, the charge 0..1 known before it (None: unknown), and whether it named a lost cell."""

    kind: str
    verdict: Verdict
    charge: float | None
    cell_lost: bool = False


PROVING = ("load", "capacity", "conductance")
"""Tests that judge a battery once it is known to be charged; rest and cranking volts alone do not."""
SELF_PROVING = ("accepted",)
"""Tests that charge it themselves."""


class NotCondemned(Sentences):
    """Why a battery cannot be condemned yet."""

    WAS_FLAT = Phrase("It was flat: one deep discharge condemns nothing. Recharge, rest, and repeat a load or capacity test.")
    NOT_TESTED = Phrase("No test that judges it has failed on a charged battery: rest volts, then a load or capacity test.")


def why_not_condemned(tests: Sequence[MadeTest]) -> NotCondemned | None:
    """Why the battery cannot be condemned yet, or None when it can: a test that judges failed on a charged battery."""
    failed = [t for t in tests if t.verdict is Verdict.BAD]
    if any(t.cell_lost or t.kind in SELF_PROVING or (t.kind in PROVING and (t.charge or 0.0) >= RETEST_CHARGE) for t in failed):
        return None
    was_flat = any(t.charge is not None and t.charge < RETEST_CHARGE for t in tests)
    if was_flat:
        return NotCondemned.WAS_FLAT
    return NotCondemned.NOT_TESTED
