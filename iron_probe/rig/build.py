"""Machines as they come out of the yard: sound ones with their spreads, their battery as charged as it happens to be, their damp."""

from collections.abc import Iterable

import numpy as np

from iron_probe.core.circuit.sheet import Sheet
from iron_probe.rig.block import Block
from iron_probe.rig.machine import Machine
from iron_probe.rig.parts import sound_machine
from iron_probe.rig.plant import Plant
from iron_probe.rig.spice import Spice

CHARGED = (0.8, 1.0)
"""Charge of a battery nobody complains of."""
DRY_OHM, DAMP_OHM, DAMP_SHARE = (5e6, 2e8), (1e5, 5e6), 0.1
"""Insulation of a wire to either side, dry and damp, and how many are damp."""


USUAL_OHM = (1e8, 1e10)
"""Insulation of a machine as its sheet says it: to minus and to plus [Ω]."""


def machine_of(sheet: Sheet, temp_degc: float = 20.0, rng: np.random.Generator | None = None) -> Machine:
    """A sound machine; drawn from the spreads of its parts, or as its sheet says without `rng`."""
    charge = float(rng.uniform(*CHARGED)) if rng is not None else 0.95
    return Machine(
        sheet=sheet,
        temp_degc=temp_degc,
        values=sound_machine(sheet, temp_degc, rng),
        blocks={b.id: Block(charge=charge) for b in sheet.batteries},
        damp={p: _insulation(rng) if rng is not None else USUAL_OHM for p in sheet.points},
    )


def _insulation(rng: np.random.Generator) -> tuple[float, float]:
    def side() -> float:
        least, most = DAMP_OHM if rng.random() < DAMP_SHARE else DRY_OHM
        return float(least * (most / least) ** rng.random())

    return side(), side()


def peaks_of(sheet: Sheet, spice: Spice, states: Iterable[str]) -> dict[str, float]:
    """The most current [A] each branch carries in some states of the sound machine."""
    plant = Plant(machine_of(sheet), spice)
    most: dict[str, float] = {}
    for state in states:
        plant.go(state)
        for instant in plant.instants:
            for branch, amps in instant.amps.items():
                most[branch] = max(most.get(branch, 0.0), abs(amps))
    return most
