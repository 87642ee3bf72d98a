"""What may be said of readings that were held against every hypothesis: who is found, who is struck out and by which of them."""

from collections.abc import Mapping, Sequence

import numpy as np

from iron_probe.core.circuit.elements import Battery, Fuse, Starter
from iron_probe.core.circuit.faults import DRAGGING, FED_ELSEWHERE
from iron_probe.core.circuit.network import Network
from iron_probe.core.circuit.wiring import joined_to, wiring_of
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.evidence import BRIDGES, Instrument, Reading
from iron_probe.core.diagnose.fault_mode import on_itself
from iron_probe.core.diagnose.fits import HeldFit
from iron_probe.core.diagnose.likelihood import predict
from iron_probe.core.diagnose.off_sheet import HEARD_AS_SOUND
from iron_probe.core.diagnose.own_test import proves, unproven
from iron_probe.core.diagnose.places import PlaceRead
from iron_probe.core.diagnose.posterior import Struck, Suspect
from iron_probe.core.solve.solution import Symptom

FOUND_SHARE = 0.85
"""Share an element must hold before its own test may call it found."""
FUSE_SHARE = 0.95
"""The same for an open fuse: what could have blown it must be out first."""
STRUCK_OUT = 0.003
"""An element below this share is struck out."""
AGREES = float(np.log(8))
"""An element's own test finds it when it is so much likelier with the fault than on a sound machine, as a logarithm."""


def share_to_find(network: Network, suspect: Suspect) -> float:
    """What an element must hold to be found: an open fuse more than others, as something has blown it."""
    blown = suspect.mode == "open" and isinstance(network.sheet.element(suspect.element), Fuse)
    return FUSE_SHARE if blown else FOUND_SHARE


def has_own_test(network: Network, suspect: Suspect, readings: Sequence[Reading]) -> bool:
    """Whether a test by which the suspect's fault is found was made, well enough to count."""
    return any(proves(network, suspect.element, suspect.mode, r) and not r.told and not r.disturbed for r in readings)


def found_by(ensemble: Ensemble, suspects: Sequence[Suspect], places: Sequence[PlaceRead], fits: Sequence[HeldFit]) -> str | None:
    """The leading element, once a test of its own agrees: one that it predicts and a sound machine does not. Of a conductor it is one with
    both probes on the part itself, as a joint the drawing lacks may lie at its end."""
    network = ensemble.network
    if not suspects or _held_with(network, suspects) < share_to_find(network, suspects[0]):
        return None
    element, mode = suspects[0].element, suspects[0].mode
    if isinstance(network.sheet.element(element), Starter) and mode == DRAGGING and _turns_well(places, fits):
        return None  # what starters draw differs by more than a worn bush asks for
    readings = [p.reading for p in places]
    for place, fit in zip(places, fits, strict=True):
        reading = place.reading
        if not has_own_test(network, suspects[0], [reading]):
            continue
        if on_itself(network, element, mode) and reading.instrument is Instrument.VOLTMETER and reading.itself != element:
            continue
        if reading.instrument not in BRIDGES and unproven(network, element, mode, reading.state, readings):
            continue
        if _speaks_well(ensemble, element, place):
            continue
        log = fit.fit.log.reshape(-1, ensemble.size)
        agrees = max(float(log[k].max()) for k in ensemble.accusing[element])
        if agrees - fit.sound > AGREES or (reading.instrument in BRIDGES and reading.word == Symptom.CRANKS):
            return element
    return None


def _held_with(network: Network, suspects: Sequence[Suspect]) -> float:
    """What the leading suspect holds; of a point fed from elsewhere together with all that is one metal with it, since the same volts stand there."""
    leader = suspects[0]
    if leader.mode != FED_ELSEWHERE:
        return leader.p
    sheet = network.sheet
    metal = joined_to(wiring_of(sheet), sheet.element(leader.element).points()[-1])
    fed = [(s, dict(s.modes).get(FED_ELSEWHERE, 0.0)) for s in suspects]
    return sum(p for s, p in fed if s.element == leader.element or sheet.element(s.element).points()[-1] in metal)


def _turns_well(places: Sequence[PlaceRead], fits: Sequence[HeldFit]) -> bool:
    """Whether the machine was heard, and did nothing in any attempt that a sound one does not."""
    heard = [fit.sound >= HEARD_AS_SOUND for place, fit in zip(places, fits, strict=True) if place.reading.instrument is Instrument.EYES]
    return bool(heard) and all(heard)


def _speaks_well(ensemble: Ensemble, element: str, place: PlaceRead) -> bool:
    """Whether volts at a battery's posts are as high as a sound one's or higher: they were read while it gave little, and condemn nothing."""
    reading, network = place.reading, ensemble.network
    if not isinstance(network.sheet.element(element), Battery) or reading.instrument is not Instrument.VOLTMETER:
        return False
    good = predict(reading, network, ensemble.first(reading.state), np.arange(ensemble.size))
    return float(np.abs(place.values).max()) >= float(np.median(np.abs(good)))


def struck_out(
    ensemble: Ensemble, places: Sequence[PlaceRead], fits: Sequence[HeldFit], total: Mapping[str, float], absent: set[str]
) -> tuple[Struck, ...]:
    """Elements that hold next to nothing of the `total`, each with the reading that lowered it most against the best."""
    if not places:
        return ()
    per = np.array([f.per for f in fits])
    order, starts = ensemble.by_element
    least_loss = np.maximum.reduceat((per - per.max(axis=1, keepdims=True))[:, order], starts, axis=1)
    struck = [
        Struck(element=element, by_reading=places[worst].numbers[-1])
        for element, worst in zip(ensemble.accusing, least_loss.argmin(axis=0), strict=True)
        if total.get(element, 0.0) < STRUCK_OUT and element not in absent
    ]
    return tuple(sorted(struck, key=lambda s: (s.by_reading, s.element)))


def not_sound(places: Sequence[PlaceRead], fits: Sequence[HeldFit], size: int) -> list[int]:
    """Numbers of the readings that sound machines (the first `size` variants) would call slips."""
    return [n for place, fit in zip(places, fits, strict=True) if float(fit.fit.slip[:size].mean()) > 0.5 for n in place.numbers]


def complaints_left(places: Sequence[PlaceRead], fits: Sequence[HeldFit]) -> tuple[str, ...]:
    """States in which a machine was heard to do what a sound one does not, and not since what a sound one does: a complaint stands until it was
    tried and did not come. What was only told, or heard with something done to the machine, does not count."""
    odd: dict[str, int] = {}
    well: dict[str, int] = {}
    for place, fit in zip(places, fits, strict=True):
        reading = place.reading
        if reading.instrument is Instrument.EYES and not reading.told and not reading.conditioned:
            heard = well if fit.sound >= HEARD_AS_SOUND else odd
            heard[reading.state] = max(heard.get(reading.state, 0), reading.crank or 0)
    return tuple(sorted(state for state, last in odd.items() if last > well.get(state, -1)))


def contradicting(places: Sequence[PlaceRead]) -> list[int]:
    """Numbers of the readings that disagree with another at the same place."""
    found: list[int] = []
    for place in places:
        if len(place.values) > 1 and place.values[-1] - place.values[0] > max(0.3, 0.15 * abs(place.values[-1])):
            found += place.numbers
    return sorted(found)
