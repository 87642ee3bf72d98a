"""Between a page's field and the bay's meter: the reading that a form stands at, and a reading as one types it."""

from collections.abc import Mapping
from typing import Any

from iron_probe.core.bench.typed_value import Bound
from iron_probe.core.diagnose.evidence import UNIT, WORDS, Instrument, Reading


def asked_by(sent: Mapping[str, object]) -> Reading:
    """The reading that a form stands at."""
    kind = Instrument(str(sent["instrument"]))
    told: dict[str, Any] = {"instrument": kind, "state": sent["state"]}
    told |= {"value": 0.0} if kind in UNIT else {"word": (WORDS[kind])[0]}
    names = ("red", "black", "branch") if sent.get("red") and sent.get("black") else ("branch",)
    if kind is Instrument.VOLTMETER:
        told |= {"red": sent["red"], "black": sent["black"], "branch": sent.get("itself") or None}
    elif kind is not Instrument.EYES:
        told |= {n: sent.get(n) or None for n in names}
    return Reading.model_validate(told)


def typed(taken: Reading) -> dict[str, str]:
    """A reading as one types it."""
    said: dict[str, str] = {}
    if taken.value is not None:
        said["value"] = "OL" if taken.bound is Bound.AT_LEAST else f"{taken.value:.3f}" if abs(taken.value) < 2 else f"{taken.value:.2f}"
    else:
        said["word"] = taken.word or ""
    if taken.unsteady:
        said["unsteady"] = "1"
    if taken.heard:
        said["heard"] = taken.heard.value
    return said
