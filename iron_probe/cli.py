"""The command line: iron-probe serve, meters, solve, compose, export-spice, check-sheet."""

import contextlib
import os
import shutil
import signal
import socket
import sys
import time
from collections.abc import Iterator
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

if TYPE_CHECKING:
    from iron_probe.core.circuit.sheet import Sheet

from iron_probe import keeping
from iron_probe.core.errors import IronProbeError
from iron_probe.settings import Settings

app = typer.Typer(no_args_is_help=True, add_completion=False, help="Fault finding on battery, starting and charging circuits.")


def fail(text: str) -> typer.Exit:
    """Say what is wrong on standard error; the exit code is 2."""
    typer.echo(text, err=True)
    return typer.Exit(2)


def read_settings() -> Settings:
    """Settings from the environment, or a plain word which cannot be used."""
    from pydantic import ValidationError

    try:
        return Settings()
    except ValidationError as error:
        told = "; ".join(
            f"IRON_PROBE_{str(e['loc'][0]).upper()} is “{e['input']}”: {e['msg'].lower()}" if e["loc"] else str(e["ctx"]["error"])
            for e in error.errors()
        )
        raise fail(f"{told}. Mend the environment and start again.") from error


def port_is_free(port: int, within_s: float = 6.0) -> bool:
    """Whether nothing listens on a port; processes of an app just killed are given a moment to go."""
    end = time.monotonic() + within_s
    while True:
        with socket.socket() as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                probe.bind(("127.0.0.1", port))
            except OSError:
                if time.monotonic() > end:
                    return False
            else:
                return True
        time.sleep(0.2)


WORKER_NICE = 5
"""How far a worker stands back for the processor: whoever waits at a page comes first."""


@app.command()
def serve(
    fresh: Annotated[bool, typer.Option(help="Throw the data away and start the demo anew.")] = False,
    accounts: Annotated[bool, typer.Option(help="A yard of your own: nobody gets in who has not signed in; no demo.")] = False,
    lan: Annotated[bool, typer.Option(help="Listen on the network too, with accounts and a TLS certificate.")] = False,
) -> None:
    """Start the database, the app on loopback and its worker, with the demo yard on first use."""
    from sqlalchemy.exc import SQLAlchemyError

    from iron_probe.opening import open_house
    from iron_probe.store.cluster import ClusterError

    os.environ |= {f"IRON_PROBE_{name}": "1" for name, wanted in (("ACCOUNTS", accounts or lan), ("LAN", lan)) if wanted}
    settings = read_settings()
    if not port_is_free(settings.port):
        raise fail(f"Port {settings.port} is in use: stop what runs there, or set IRON_PROBE_PORT to another port.")
    if fresh and settings.database_url:
        raise fail("--fresh only empties the private cluster; IRON_PROBE_DATABASE_URL is set. Empty that database yourself.")
    if fresh:
        for folder in ("postgres", "ensembles", "uploads"):
            shutil.rmtree(settings.data / folder, ignore_errors=True)
    signal.signal(signal.SIGTERM, signal.getsignal(signal.SIGINT))
    try:
        open_house(settings, typer.echo)
    except ClusterError as error:
        raise fail(str(error)) from error
    except SQLAlchemyError as error:
        told = str(getattr(error, "orig", None) or error).splitlines()[0][:300]
        raise fail(
            f"The database cannot be used: {told}. Check IRON_PROBE_DATABASE_URL and that the server runs, then start again."
        ) from error
    except OSError as error:
        raise fail(f"Could not start: {error}. Check free disk space and the rights on {settings.data}.") from error
    except KeyboardInterrupt:
        pass


@app.command("app", hidden=True)
def one_app(port: int) -> None:
    """One app process of the house, on a port it shares with the others."""
    import uvicorn

    from iron_probe.web.app import app_from_environment

    # named as TCP: only then does the loop send small answers at once, not after the 40 ms of a delayed acknowledgement
    listening = socket.socket(socket.AF_INET, socket.SOCK_STREAM, socket.IPPROTO_TCP)
    listening.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    listening.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEPORT, 1)
    settings = read_settings()
    listening.bind(("0.0.0.0" if settings.lan else "127.0.0.1", port))
    config = uvicorn.Config(
        app_from_environment, factory=True, log_level="warning", timeout_graceful_shutdown=3, timeout_keep_alive=75, backlog=512,
        ssl_certfile=settings.tls_cert, ssl_keyfile=settings.tls_key,
    )  # fmt: skip
    uvicorn.Server(config).run(sockets=[listening])


@app.command()
def worker() -> None:
    """Take slow work from the yard's list: captures to read, ensembles to work out. Any host may run one."""
    from sqlalchemy.exc import SQLAlchemyError

    from iron_probe.work.yard_queue import log_in_lines, work

    log_in_lines()
    settings = read_settings()
    if not settings.database_url:
        raise fail("A worker needs IRON_PROBE_DATABASE_URL, the database of the yard it works for; ./run starts one of its own.")
    os.nice(WORKER_NICE)
    try:
        work(settings.database_url, Path(os.environ.get("IRON_PROBE_SHARED", settings.data)) / "ensembles")
    except (SQLAlchemyError, OSError) as error:
        raise fail(f"The worker cannot go on: {str(error).splitlines()[0][:300]}. Check IRON_PROBE_DATABASE_URL.") from error
    except KeyboardInterrupt:
        pass


@app.command()
def meters(
    yard: Annotated[str, typer.Argument(help="the yard's address, as a browser opens it")],
    meter: Annotated[list[str] | None, typer.Option(help="a meter as NAME=VISA-ADDRESS; may be given again")] = None,
    look: Annotated[str, typer.Option(help="a host to look through for meters; nothing is broadcast")] = "",
    name: Annotated[str, typer.Option(help="what this agent is called in the yard")] = "",
    measures: Annotated[str, typer.Option(help="what the meters named can be set to, by commas")] = "dc_volts,ac_volts,ohms,amps",
) -> None:
    """Join meters to a yard and stream what they show; the yard's key comes in IRON_PROBE_METER_KEY."""
    from iron_probe.instruments import joining

    with told_plainly():
        joining.join_meters(
            yard, os.environ.get("IRON_PROBE_METER_KEY", ""), name or socket.gethostname(), meter or [], look, measures, typer.echo
        )


@app.command("stand-ins", hidden=True)
def stand_ins(yard: str) -> None:
    """The practice bay's stand-in meters, joined to the yard of this machine."""
    from iron_probe.work.stand_ins import run_stand_ins

    os.nice(WORKER_NICE)
    run_stand_ins(yard, os.environ["IRON_PROBE_DATABASE_URL"])


app.command()(keeping.backup)
app.command()(keeping.restore)
app.command()(keeping.back_to)


@app.command("check-sheet")
def check_sheet(file: Path) -> None:
    """Check a circuit sheet and list every mistake by line and element."""
    from iron_probe.core.whole_sheet import overloads, read_whole_sheet

    with told_plainly():
        sheet = read_whole_sheet(read_text(file))
    for state, over in overloads(sheet):
        typer.echo(f"note: {over.element} carries {over.amps:.0f} A in state {state} and lasts at {over.allowed_a:.0f} A: check its size")
    typer.echo(f"{sheet.id}: {len(sheet.points)} points, {len(sheet.elements)} elements, {len(sheet.states)} states, no mistakes")


@app.command()
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


@app.command()
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


@app.command()
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


@app.command("export-spice")
def export_spice(sheet: SheetName, state: str = "crank", fault: Faults = None, temp: DegreesOption = 20.0) -> None:
    """Print a solved state as a SPICE netlist."""
    from iron_probe.core.answers import spice_answer
    from iron_probe.core.circuit.elements import Conditions

    with told_plainly():
        typer.echo(spice_answer(sheet_named(sheet), state, fault or [], Conditions(temp_degc=temp)))


@app.command()
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


@app.command()
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


@app.command("stand-in")
def stand_in(
    job: Annotated[int, typer.Argument(help="number of the job on the yard")],
    key: Annotated[str, typer.Option(help="the job's key, as its drain watch shows it")],
    sheet: Annotated[str, typer.Option(help="sheet of the machine the clamp lies on")] = "lift-shuttle",
    awake: Annotated[str, typer.Option(help="module that will not sleep, such as gate-controller")] = "",
    every: Annotated[float, typer.Option(min=0.2, help="seconds between totals")] = 2.0,
    faster: Annotated[float, typer.Option(min=1, help="how much faster its time runs")] = 30.0,
    count: Annotated[int, typer.Option(min=0, help="totals to send; 0 goes on until Ctrl-C")] = 0,
) -> None:
    """Stand in for a logging clamp: send the total of a machine falling asleep to a job's drain watch."""
    from iron_probe.instruments.clamp_stand_in import post_totals, totals

    url = f"http://127.0.0.1:{read_settings().port}/api/v1/jobs/{job}/totals"
    try:
        with told_plainly(), contextlib.suppress(KeyboardInterrupt):
            for said in post_totals(url, key, totals(sheet_named(sheet), awake), every, faster, count):
                typer.echo(said)
    except ConnectionError as error:
        raise fail(str(error)) from error


def read_text(file: Path) -> str:
    """Text of a file, or a plain word why not."""
    try:
        return file.read_text(encoding="utf-8")
    except (OSError, UnicodeDecodeError) as error:
        raise fail(f"{file} cannot be read: {error}") from error


@contextlib.contextmanager
def told_plainly() -> Iterator[None]:
    """Turn a refusal of the core into its text and exit code 2."""
    try:
        yield
    except IronProbeError as error:
        raise fail(str(error)) from error


def main() -> None:
    """Entry of the `iron-probe` command."""
    with contextlib.suppress(BrokenPipeError):
        app()
    os.set_blocking(sys.stdout.fileno(), True)


if __name__ == "__main__":
    main()
