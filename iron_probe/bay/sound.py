"""The sound machine of a sheet, solved once and kept: what others are held against, and what each of its ways carries at the most."""

from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.kept import Kept
from iron_probe.rig.build import machine_of, peaks_of
from iron_probe.rig.plant import Plant
from iron_probe.rig.spice import Spice

_machines: Kept[tuple[str, float], Plant] = Kept("sound machines", 32)
_peaks: Kept[str, dict[str, float]] = Kept("peaks", 64)


def sound_beside(plant: Plant) -> Plant:
    """A sound machine of the same sheet at the same temperature, with every state it was brought to before; asked of the same ngspice, by one
    pair of hands at a time. RigError when ngspice has one."""
    sheet, temp_degc = plant.machine.sheet, plant.machine.temp_degc
    sound = _machines.get((sheet.fingerprint, temp_degc), lambda: Plant(machine_of(sheet, temp_degc), plant.spice))
    sound.spice = plant.spice  # the one it was made with may have ended
    return sound


def sound_peaks(sheet: Sheet, spice: Spice) -> dict[str, float]:
    """The most current [A] each branch of a sound machine carries in any of its states."""
    return _peaks.get(sheet.fingerprint, lambda: peaks_of(sheet, spice, list(sheet.states)))
