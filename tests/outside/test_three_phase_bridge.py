"""Three-phase bridge: mean, ripple, and what one open or shorted diode leaves.

source: ngspice 39, transient of the same bridge; mean 3√2/π of the line voltage: any power-electronics handbook (from memory).
"""

import re
import subprocess

import numpy as np
import pytest

from iron_probe.core.bench.judged import Verdict
from iron_probe.core.bench.stator import bridge_mean_v, judge_pair_volts
from iron_probe.core.circuit.network import network_of
from iron_probe.core.diagnose.fault_modes import fault_modes, find_mode
from iron_probe.machines import load_sheet

HZ = 100.0
STAR_RMS = 9.0


def transient(load: str, without: int | None = None, shorted: int | None = None, phase_ohm: float = 0.15) -> dict[str, float]:
    """Mean volts and amps of the output, its ripple, by ngspice; diodes numbered 0..5: up from a, b, c, then down."""
    lines = ["* bridge"]
    for k, phase in enumerate("abc"):
        lines += [f"V{phase} s{phase} n SIN(0 {STAR_RMS * np.sqrt(2):.9g} {HZ} 0 0 {-120 * k})", f"R{phase} s{phase} {phase} {phase_ohm}"]
    ends = [(p, "plus") for p in "abc"] + [("0", p) for p in "abc"]
    for k, (anode, cathode) in enumerate(ends):
        if k == shorted:
            lines.append(f"RS{k} {anode} {cathode} 1m")
        elif k != without:
            lines.append(f"D{k} {anode} {cathode} ideal")
    lines += ["RN n 0 1meg", ".model ideal D(IS=1e-9 N=0.05 RS=1m)", load, ".control", "set numdgt=9", "tran 20u 120m 40m 20u"]
    for what, expression in (("mean", "avg v(plus)"), ("low", "min v(plus)"), ("high", "max v(plus)"), ("amps", "avg i(vm)")):
        lines.append(f"meas tran {what} {expression} from=60m to=120m")
    lines += ["quit", ".endc", ".end", ""]
    done = subprocess.run(["ngspice", "-n", "-b"], input="\n".join(lines), text=True, capture_output=True, timeout=60, check=False)
    return {m[0]: float(m[1]) for m in re.findall(r"^(mean|low|high|amps)\s*=\s*([-+\d.e]+)", done.stdout, re.MULTILINE)}


RESISTOR = "VM plus m 0\nRL m 0 200"
BATTERY = "VM plus m 0\nRX m e 0.02\nVX e 0 13.6"


def test_mean_is_the_handbooks() -> None:
    found = transient(RESISTOR, phase_ohm=1e-4)
    assert found["mean"] == pytest.approx(bridge_mean_v(STAR_RMS * np.sqrt(3)), rel=0.01)
    assert bridge_mean_v(1.0) == pytest.approx(1.3505, abs=1e-4)
    sound = STAR_RMS * np.sqrt(6)
    assert found["high"] - found["low"] == pytest.approx(sound * (1 - np.cos(np.pi / 6)), rel=0.15)  # sixth part of a turn


@pytest.mark.parametrize(("mode", "change"), [("diode_open", {"without": 1}), ("diode_shorted", {"shorted": 1})])
def test_what_a_bad_diode_leaves_of_the_charging_current(mode: str, change: dict[str, int]) -> None:
    """Our share of output and times of ripple lie by the bridge's own, within what designs differ."""
    sound, bad = transient(BATTERY), transient(BATTERY, **change)
    network = network_of(load_sheet("estate-car"))
    effects = find_mode(fault_modes(network), "alternator", mode).effects
    assert abs(effects[0].amount - bad["amps"] / sound["amps"]) < 0.2
    ripple = (bad["high"] - bad["low"]) / (sound["high"] - sound["low"])
    assert ripple > 2
    assert effects[1].amount > 2


def test_a_lost_phase_leaves_two_pairs_down() -> None:
    """Open phase 2: pairs 1-2 and 2-3 show next to nothing, 3-1 the full line voltage."""
    line = STAR_RMS * np.sqrt(3)
    judged = judge_pair_volts([0.2, 0.3, line], rpm=1000, per_krpm=line)
    assert judged.verdict is Verdict.BAD
    assert "phase 2" in judged.text
