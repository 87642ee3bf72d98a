"""What a learner reads, against ngspice run by itself on the same faulted netlist: within the stand-in's stated error, on a hundred cases. Mark: reference package."""

import re
import subprocess
from collections.abc import Iterator

import numpy as np
import pytest

from iron_probe.bay.in_bay import InBay
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.meters.measured import Measured, last_digit
from iron_probe.instruments.stand_in import MULTIMETER, StandIn
from iron_probe.machines import load_sheet, sheet_ids
from iron_probe.rig.build import machine_of, peaks_of
from iron_probe.rig.catalogue import draw_fault
from iron_probe.rig.errors import RigError
from iron_probe.rig.machine import Bypass
from iron_probe.rig.meters import VOLT_SHARE
from iron_probe.rig.netlist import netlist
from iron_probe.rig.plant import HELD_S
from iron_probe.rig.spice import PRECISE, Spice
from iron_probe.store.meters import Placing
from iron_probe.work.stand_in_leads import seen_of

CASES, SIGMAS = 100, 5
KINDS = ("resistance", "open", "short", "contact", "coil", "battery flat", "battery dead cell", "ground ways", "charging")
_NODE = re.compile(r"^v\((n\d+)\) = (\S+)$|^(n\d+) = (\S+)$", re.M)


def by_itself(bay: InBay, red: str, black: str) -> float:
    """Volts between two points with a meter's 10 MΩ on them, by a program started for this one question."""
    plant = bay.plant
    circuit = netlist(plant.machine, plant.devices, [*plant.attached, Bypass(red, black, 10e6)], HELD_S)
    start = [f".nodeset V({circuit.node[p]})={v:.6g}" for p, v in plant.instants[-1].volts.items() if circuit.node[p] != "0"]
    asked = "\n".join(
        ["* one case", PRECISE, *circuit.lines, *start, ".control", "set numdgt=12", "op", "print all", "quit", ".endc", ".end", ""]
    )
    said = subprocess.run(["ngspice", "-n", "-b"], input=asked, text=True, capture_output=True, timeout=30, check=True).stdout
    volts = {m[1] or m[3]: float(m[2] or m[4]) for m in _NODE.finditer(said)}
    node = circuit.node
    return (0.0 if node[red] == "0" else volts[node[red]]) - (0.0 if node[black] == "0" else volts[node[black]])


@pytest.fixture(scope="module")
def spice() -> Iterator[Spice]:
    with Spice() as one:
        yield one


@pytest.mark.parametrize("sheet_id", sheet_ids())
def test_what_a_learner_reads_is_what_ngspice_says(sheet_id: str, spice: Spice) -> None:
    sheet, place = load_sheet(sheet_id), sheet_ids().index(sheet_id)
    rng = np.random.default_rng((17, place))
    peaks = peaks_of(sheet, spice, list(sheet.states))
    share = CASES // len(sheet_ids()) + (place < CASES % len(sheet_ids()))
    done = 0
    while done < share:
        try:
            hidden = draw_fault(machine_of(sheet, 20.0, rng), peaks, rng, KINDS[int(rng.integers(len(KINDS)))])
            bay = InBay(sheet, int(rng.integers(10**6)), peaks, spice, [hidden])
        except RigError:
            continue
        state = list(sheet.states)[int(rng.integers(len(sheet.states)))]
        red, black = (str(p) for p in rng.choice(list(sheet.points), 2, replace=False))
        typed = bay.read(Reading(instrument=Instrument.VOLTMETER, red=red, black=black, state=state, value=0.0))
        bay.plant.go(state)
        if bay.plant.chatters is not None:
            continue  # a rattle has no operating point
        true = by_itself(bay, red, black)
        assert typed.value is not None
        assert typed.value == pytest.approx(true, abs=SIGMAS * VOLT_SHARE * abs(true) + 0.011), (hidden.element, state, red, black)
        placed = Placing(job_id=None, state=state, instrument="voltmeter", red=red, black=black)  # type: ignore[arg-type]
        seen = seen_of(bay, placed, Measured.DC_VOLTS, state)
        assert seen is not None and seen[0] == seen[1]
        streamed = StandIn(MULTIMETER, lambda selected, measured, volts=seen[0]: volts, seed=done + 1)  # type: ignore[misc]
        shown = float(streamed.answer("MEAS:VOLT:DC?", "1", []) or "nan")
        digit = last_digit(Measured.DC_VOLTS, true)
        assert shown == pytest.approx(true, abs=SIGMAS * MULTIMETER.share * abs(true) + 3 * digit), (hidden.element, state, red, black)
        done += 1
