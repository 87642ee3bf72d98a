"""Questions about a circuit from the command line: checked, composed, solved, written as SPICE, held against readings, tried."""

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from iron_probe.plainly import fail, told_plainly

if TYPE_CHECKING:
    from iron_probe.core.circuit.sheet import Sheet


def check_sheet(file: Path) -> None:
    """Check a circuit sheet and list every mistake by line and element."""
    from iron_probe.core.whole_sheet import overloads, read_whole_sheet

    with told_plainly():
        sheet = read_whole_sheet(read_text(file))
    for state, over in overloads(sheet):
        typer.echo(f"note: {over.element} carries {over.amps:.0f} A in state {state} and lasts at {over.allowed_a:.0f} A: check its size")
    typer.echo(f"{sheet.id}: {len(sheet.points)} points, {len(sheet.elements)} elements, {len(sheet.states)} states, no mistakes")


def compose(
    answers: Annotated[Path | None, typer.Argument(help="a file of answers; left out, --kind alone says what machine it is")] = None,
    kind: Annotated[str, typer.Option(help="a kind of machine, with what is usual of it")] = "",
    ask: Annotated[bool, typer.Option(help="print what can be answered instead, with the usual answers")] = False,
) -> None:
    """Put a circuit sheet together from answers about a machine, and print it."""
    from iron_probe.blocks import pattern_book
    from iron_probe.core.compose.answers_file import read_answers, write_answers
    from iron_probe.core.compose.compose import compose as put_together

    book = pattern_book()
    with told_plainly():
        said, title = read_answers(read_text(answers)) if answers else ({}, "")
        composed = put_together(book, {**said, **({"kind": kind} if kind else {})}, title=title)
    if ask:
        usual = {n: a if isinstance(a, str) else list(a) for n, a in composed.settled.answers.items()}
        typer.echo(write_answers({"kind": composed.settled.kind_name, **usual}), nl=False)
        for name, question in book.questions.items():
            typer.echo(f"# {name}: {' | '.join(question.choices) or 'a text'}")
        return
    if composed.mistakes:
        raise fail("\n".join(str(m) for m in composed.mistakes))
    typer.echo(composed.text, nl=False)


SheetName = Annotated[str, typer.Argument(help="a shipped sheet's id, or a sheet file")]
Faults = Annotated[list[str] | None, typer.Option(help="element=mode or element=mode:severity; may be given again")]
DegreesOption = Annotated[float, typer.Option(help="temperature of air and oil, °C")]
AsJson = Annotated[bool, typer.Option("--json", help="print JSON")]


def sheet_named(name: str) -> "Sheet":
    """A shipped sheet by id, or one read from a file."""
    from iron_probe.core.whole_sheet import read_whole_sheet
    from iron_probe.machines import load_sheet, sheet_ids

    return load_sheet(name) if name in sheet_ids() or not Path(name).exists() else read_whole_sheet(read_text(Path(name)))


def sheets(as_json: AsJson = False) -> None:
    """List the shipped circuit sheets."""
    import json

    from iron_probe.core.answers import sheet_answer
    from iron_probe.machines import load_sheet, sheet_ids

    if as_json:
        typer.echo(json.dumps([sheet_answer(load_sheet(i)).model_dump(by_alias=True) for i in sheet_ids()]))
        return
    for sheet_id in sheet_ids():
        sheet = load_sheet(sheet_id)
        typer.echo(f"{sheet_id:20s} {sheet.system_v:2d} V  {len(sheet.points):3d} points  states: {', '.join(sheet.states)}")


def solve(sheet: SheetName, state: str = "crank", fault: Faults = None, temp: DegreesOption = 20.0, as_json: AsJson = False) -> None:
    """Solve an operating state: volts by node, amps and drop by element, what is heard."""
    from iron_probe.core.answers import solve_answer
    from iron_probe.core.circuit.elements import Conditions

    with told_plainly():
        answer = solve_answer(sheet_named(sheet), state, fault or [], Conditions(temp_degc=temp))
    if as_json:
        typer.echo(answer.model_dump_json())
        return
    typer.echo(f"heard: {', '.join(answer.symptoms)}")
    for node, volts in answer.nodes.items():
        told = f" ± {answer.unsteady[node]:.3f}, unsteady" if node in answer.unsteady else ""
        typer.echo(f"{node:22s} {'  hangs free' if node in answer.floating else f'{volts:9.3f} V{told}'}")
    for name, flow in answer.elements.items():
        typer.echo(f"{name:28s} {flow.amps:10.3f} A {flow.drop_v:9.3f} V")


def export_spice(sheet: SheetName, state: str = "crank", fault: Faults = None, temp: DegreesOption = 20.0) -> None:
    """Print a solved state as a SPICE netlist."""
    from iron_probe.core.answers import spice_answer
    from iron_probe.core.circuit.elements import Conditions

    with told_plainly():
        typer.echo(spice_answer(sheet_named(sheet), state, fault or [], Conditions(temp_degc=temp)))


def diagnose(
    sheet: SheetName,
    readings: Annotated[Path, typer.Option(help="YAML list of readings")],
    school: Annotated[str, typer.Option(help="best, dead_part or source")] = "best",
    work: Annotated[str, typer.Option(help="starting or charging; left out, what the states of the readings say")] = "",
    temp: DegreesOption = 20.0,
    as_json: AsJson = False,
) -> None:
    """Hold a list of readings against a sheet: suspects, what is struck out, what to measure next."""
    from iron_probe.core.answers import diagnose_answer, work_told_by
    from iron_probe.core.circuit.elements import Conditions
    from iron_probe.core.circuit.network import network_of
    from iron_probe.core.diagnose.case import Case
    from iron_probe.core.diagnose.ensemble import Ensemble
    from iron_probe.core.diagnose.next_test import Order
    from iron_probe.core.diagnose.read_readings import read_readings
    from iron_probe.core.diagnose.scope import Scope
    from iron_probe.core.diagnose.test_book import TestBook

    if school not in {o.value for o in Order}:
        raise fail(f"“{school}” is not a school. Use {', '.join(o.value for o in Order)}.")
    if work and work not in set(Scope):
        raise fail(f"“{work}” is not a kind of work. Use {', '.join(Scope)}.")
    with told_plainly():
        circuit, at = sheet_named(sheet), Conditions(temp_degc=temp)
        listed = read_readings(read_text(readings), network_of(circuit, at))
        ensemble = Ensemble(circuit, at, Scope(work) if work else work_told_by(circuit, listed))
        book = TestBook(ensemble)
        answer = diagnose_answer(Case(ensemble, unseen=book.unseen), book, listed, Order(school))
    if as_json:
        typer.echo(answer.model_dump_json())
        return
    found = answer.found or (
        f"a joint beside {answer.found_beside} that the drawing lacks"
        if answer.found_beside
        else f"the way of {', '.join(answer.way)}"
        if answer.way
        else "nothing wrong in what was tested"
        if answer.sound
        else "nothing yet"
    )
    typer.echo(
        f"found: {found}"
        + (f"; unexplained: {answer.unexplained}" if answer.unexplained else "")
        + (f"; read while it was away: {answer.away}" if answer.away else "")
    )
    if answer.pair:
        typer.echo(f"two faults at once: {' and '.join(answer.pair)} ({answer.pair_share:.0%}, which counts in the share of both)")
    for s in answer.suspects:
        typer.echo(f"{s.p:7.1%}  {s.element} ({s.mode})")
    for t in answer.next:
        typer.echo(f"next: {t.instrument} {t.red or t.branch or ''} {t.black or ''} in {t.state}: {t.why}")


def trial(sheet: SheetName, seed: int = 1, as_json: AsJson = False) -> None:
    """Hide a fault, work it to the end, and tell how it went."""
    import json

    import numpy as np

    from iron_probe.core.diagnose.case import Case
    from iron_probe.core.diagnose.ensemble import Ensemble
    from iron_probe.core.diagnose.next_test import next_tests
    from iron_probe.core.diagnose.test_book import TestBook
    from iron_probe.core.diagnose.trial import hide_one, work

    with told_plainly():
        ensemble = Ensemble(sheet_named(sheet))
        hidden = hide_one(ensemble.network, ensemble.modes, np.random.default_rng(seed))
    book = TestBook(ensemble)
    case = Case(ensemble, unseen=book.unseen)
    outcome = work(case, hidden, lambda case, left, taken: next(iter(next_tests(case, book, left, taken, most=1)), None))
    faults = [f"{m.element}={m.name}:{s:.3g}" for m, s in hidden.faults]
    if as_json:
        steps = [r.model_dump(mode="json", exclude_none=True) for r in outcome.readings]
        typer.echo(
            json.dumps(
                {
                    "hidden": faults,
                    "named": outcome.named,
                    "p": outcome.share,
                    "found": outcome.found,
                    "minutes": outcome.minutes,
                    "readings": steps,
                }
            )
        )
        return
    for number, r in enumerate(outcome.readings, start=1):
        typer.echo(f"{number:2d} {r.instrument.value} {r.red or r.branch or ''} {r.black or ''} in {r.state}: {r.word or r.value}")
    typer.echo(
        f"named {outcome.named} with {outcome.share:.0%}, own test {'made' if outcome.found else 'not made'}, {outcome.minutes:.1f} min; hidden: {', '.join(faults)}"
    )


def read_text(file: Path) -> str:
    """Text of a file, or a plain word why not."""
    try:
        return file.read_text(encoding="utf-8")
    except (OSError, UnicodeDecodeError) as error:
        raise fail(f"{file} cannot be read: {error}") from error
