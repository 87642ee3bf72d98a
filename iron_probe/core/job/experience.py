"""What a yard has found on a kind of machine, and how far that moves what the engine holds likely beforehand.

Each part is at fault in a share of jobs that is beta distributed, about the engine's own prior with the weight of `STRENGTH` jobs; confirmed jobs
of the yard are binomial trials on it. The factor on a prior is the mean after them over the mean before, within bounds: what was never found here
stays possible, and what was found often does not decide a case.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.errors import IronProbeError

STRENGTH = 40.0
"""Confirmed jobs that weigh as much as the engine's own priors (chosen here)."""
FLOOR, CEILING = 0.5, 6.0
"""The least and most a prior is multiplied by (chosen here): about what a code of a module or a tag on a part does."""


class ExperienceError(IronProbeError):
    """A yard has found nothing yet that a job could go by."""


@dataclass(frozen=True, slots=True)
class Experience:
    """On how many `confirmed` jobs of a kind of machine a part was repaired and the machine well after, and how often each, by its title."""

    confirmed: int = 0
    found: Mapping[str, int] = field(default_factory=dict)

    @staticmethod
    def of(kept: Mapping[str, Any]) -> "Experience":
        """As a job keeps it; none where it keeps none."""
        return Experience(int(kept.get("confirmed", 0)), dict(kept.get("found", {})))


def moved(priors: Mapping[str, float], titles: Mapping[str, str], experience: Experience) -> dict[str, float]:
    """Factors on the priors of elements: `priors` are their shares of all that may be wrong, `titles` what they are called."""
    by_title = {title.casefold(): count for title, count in experience.found.items()}
    factors = {}
    for element, share in priors.items():
        if share > 0:
            count = by_title.get(titles[element].casefold(), 0)
            after = (STRENGTH * share + count) / (STRENGTH + experience.confirmed)
            factors[element] = min(max(after / share, FLOOR), CEILING)
    return factors


def factors_on(ensemble: Ensemble, experience: Experience) -> dict[str, float]:
    """Factors on the priors of a circuit's elements; none where nothing was confirmed."""
    if not experience.confirmed:
        return {}
    whole = float(ensemble.weight.sum())
    priors = {element: float(ensemble.weight[numbers].sum()) / whole for element, numbers in ensemble.accusing.items()}
    return moved(priors, {e.id: e.title for e in ensemble.sheet.elements}, experience)
