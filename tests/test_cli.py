"""The command line: answers, JSON shapes, and refusals by line."""

import json
from pathlib import Path

import pytest
from typer.testing import CliRunner

from iron_probe.cli import app

READINGS = """\
- {instrument: eyes, state: crank, value: slow}
- {red: frame, black: frame.eye, state: crank, value: 1.9 V}
- {red: frame, black: frame.eye, branch: frame-bolt, state: crank, value: 1.9 V}
- {red: bat.plus, black: bat.minus, state: crank, value: "11,6"}
"""


def run(*args: str, code: int = 0) -> str:
    result = CliRunner().invoke(app, list(args))
    assert result.exit_code == code, result.output
    return result.output


def test_sheets_and_solve() -> None:
    sheets = json.loads(run("sheets", "--json"))
    assert len(sheets) >= 11
    solved = json.loads(run("solve", "crew-minibus", "--state", "crank", "--fault", "strap-block=high_resistance:0.02", "--json"))
    assert solved["symptoms"] == ["slow"]
    assert solved["elements"]["strap-block"]["drop_v"] == pytest.approx(0.02 * abs(solved["elements"]["strap-block"]["amps"]), rel=0.02)


def test_diagnose_a_file(tmp_path: Path) -> None:
    file = tmp_path / "readings.yaml"
    file.write_text(READINGS)
    answer = json.loads(run("diagnose", "green-mower", "--readings", str(file), "--json"))
    assert answer["found"] == "frame-bolt" and answer["found_beside"] is None
    again = "- {red: frame, black: frame.eye, state: crank, value: 1.88 V}\n"  # else the first look may have been a slip
    file.write_text(READINGS.replace("frame-bolt, state: crank, value: 1.9 V", "frame-bolt, state: crank, value: 4 mV") + again)
    answer = json.loads(run("diagnose", "green-mower", "--readings", str(file), "--json"))
    assert answer["found"] is None and answer["beside"]["frame-bolt"] > 0.1
    file.write_text(READINGS.replace("frame.eye", "frame.aye").replace("1.9 V", "lots"))
    assert "line 2, reading 2" in run("diagnose", "green-mower", "--readings", str(file), code=2)
    assert "is not a school" in run("diagnose", "green-mower", "--readings", str(file), "--school", "luck", code=2)
    assert "is not a kind of work" in run("diagnose", "green-mower", "--readings", str(file), "--work", "luck", code=2)


def test_diagnose_knows_charging_work_by_the_states_that_were_read(tmp_path: Path) -> None:
    file = tmp_path / "readings.yaml"
    file.write_text(
        "- {red: bat.plus, black: bat.minus, state: fast, value: 12.4 V}\n- {red: alt.B, black: alt.case, state: fast, value: 12.3}\n"
    )
    answer = json.loads(run("diagnose", "estate-car", "--readings", str(file), "--json"))
    assert answer["work"] == "charging" and answer["version"] == 3 and "alternator" in {s["element"] for s in answer["suspects"]}
    told = json.loads(run("diagnose", "estate-car", "--readings", str(file), "--work", "starting", "--json"))
    assert told["work"] == "starting" and "alternator" not in {s["element"] for s in told["suspects"]}


def test_netlist_names_its_nodes() -> None:
    assert "* node n" in run("export-spice", "pool-car", "--state", "crank")


def test_check_sheet(tmp_path: Path) -> None:
    broken = tmp_path / "broken.yaml"
    broken.write_text("format: iron-probe-sheet/1\nid: x\n")
    assert "field required" in run("check-sheet", str(broken), code=2)
    assert "cannot be read" in run("check-sheet", str(tmp_path / "none.yaml"), code=2)
    assert "no sheet is called" in run("solve", "tank", code=2)


def test_a_trial_tells_its_steps() -> None:
    assert "hidden:" in run("trial", "piste-sled", "--seed", "2")
