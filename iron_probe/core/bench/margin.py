"""What a measured loss would do at another temperature: is enough left to turn the engine?"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from iron_probe.core.circuit.elements import Conditions, Starter
from iron_probe.core.circuit.heavy_path import heavy_path
from iron_probe.core.circuit.network import Network, network_of
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.errors import SolveError
from iron_probe.core.solve.operate import solve_state
from iron_probe.core.solve.solution import Symptom
from iron_probe.core.solve.symptom import SYMPTOMS, symptom_codes


@dataclass(frozen=True, slots=True, kw_only=True)
class CrankMargin:
    """Cranking at `temp_degc` [°C]: `starter_v` [V] from feed stud to case, `posts_v` [V], `amps` [A], and `speed` and `needed`
    as shares of the speed at rated volts; `volts` [V] by point for drawing."""

    temp_degc: float
    starter_v: float
    posts_v: float
    amps: float
    speed: float
    needed: float
    symptom: Symptom
    volts: dict[str, float]

    @property
    def starts(self) -> bool:
        """Whether the engine turns fast enough to start."""
        return self.speed >= self.needed


def _series_row(network: Network, element: str) -> int:
    """The row of the resistance an element puts into the heavy path: its own, or that of the contact the path goes through."""
    heavy = heavy_path(network)
    on_path = next((name for name in (*heavy.supply, *heavy.ground) if name.partition(".")[0] == element), element)
    return int(network.value[network.find_branch(on_path)])


def crank_margins(sheet: Sheet, conditions: Sequence[Conditions], extra_ohm: Mapping[str, float]) -> list[CrankMargin]:
    """Crank the sheet under each of the given conditions with `extra_ohm` [Ω] added to elements by id.

    Raises SolveError when the sheet has no starter or no cranking state.
    """
    state = sheet.cranking_state()
    starter = next((e for e in sheet.elements if isinstance(e, Starter)), None)
    if state is None or starter is None:
        raise SolveError(f"{sheet.title} has no cranking state to work out a margin for")
    networks = [network_of(sheet, at) for at in conditions]
    network = networks[0]  # they differ in their values only
    values = np.stack([n.nominal for n in networks], axis=1)
    for element, ohm in extra_ohm.items():
        values[_series_row(network, element)] += max(ohm, 0.0)
    solved = solve_state(network, state, values)
    symptoms, amps = symptom_codes(solved), solved.current(starter.id)
    feed = network.branches[network.branch_row[starter.id]]
    found = []
    for k, at in enumerate(conditions):
        volts = dict(zip(network.points, solved.volts[:, k].tolist(), strict=True))
        found.append(
            CrankMargin(
                temp_degc=at.temp_degc,
                starter_v=volts[feed.start] - volts[feed.end],
                posts_v=volts[sheet.plus] - volts[sheet.minus],
                amps=float(abs(amps[k])),
                speed=float(solved.turning[k]),
                needed=starter.start_above,
                symptom=SYMPTOMS[symptoms[k]],
                volts=volts,
            )
        )
    return found
