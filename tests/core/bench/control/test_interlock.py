"""The chain from key to solenoid."""

from iron_probe.core.bench.control.interlock import chain_of
from iron_probe.core.circuit.network import network_of
from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.machines import load_sheet
from tests.core.bench.control.readings import volts


def test_the_chain_runs_as_the_command_does() -> None:
    order = [link.element.id for link in chain_of(network_of(load_sheet("verge-tractor")), None)]
    wanted = ["key-crank-pole", "clutch-switch", "pto-switch", "seat-switch", "start-relay", "solenoid"]
    assert [e for e in order if e in wanted] == wanted


def test_the_chain_shows_what_is_proven() -> None:
    ensemble = Ensemble(load_sheet("green-mower"))
    readings = [
        Reading(instrument=Instrument.EYES, state="crank", word="nothing"),
        volts("brake.out", "bat.minus", "crank", 12.4),
        volts("brake.out", "blade.out", "crank", 12.4),
    ]
    words = {link.element.id: link.word for link in chain_of(ensemble.network, Case(ensemble).posterior(readings))}
    assert words["blade-switch"] in ("found", "suspect")
    assert words["brake-switch"] == words["key-crank-pole"] == "proven"
