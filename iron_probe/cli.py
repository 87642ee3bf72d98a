"""The command line: iron-probe serve, meters, solve, compose, export-spice, check-sheet."""

import contextlib
import gc
import os
import shutil
import signal
import socket
import sys
import time
from pathlib import Path
from typing import Annotated

import typer

from iron_probe import circuit_commands, keeping
from iron_probe.plainly import fail, told_plainly
from iron_probe.settings import Settings

app = typer.Typer(no_args_is_help=True, add_completion=False, help="Fault finding on battery, starting and charging circuits.")


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
YOUNG_OBJECTS = 10_000
"""Objects made before the newest are looked through for what nothing holds: a page makes thousands (chosen here)."""


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
    config.load()
    gc.collect()
    gc.freeze()  # what was imported stays: looked through again and again, it costs pauses of a third of a second
    gc.set_threshold(YOUNG_OBJECTS, 10, 10)
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
    rate: Annotated[int, typer.Option(help="figures a second, as far as the meter keeps up", min=1, max=20)] = 10,
) -> None:
    """Join meters to a yard and stream what they show; the yard's key comes in IRON_PROBE_METER_KEY."""
    from iron_probe.instruments import joining

    with told_plainly():
        joining.join_meters(
            yard, os.environ.get("IRON_PROBE_METER_KEY", ""), name or socket.gethostname(), meter or [], look, measures, rate, typer.echo
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


app.command("check-sheet")(circuit_commands.check_sheet)
app.command()(circuit_commands.compose)
app.command()(circuit_commands.sheets)
app.command()(circuit_commands.solve)
app.command("export-spice")(circuit_commands.export_spice)
app.command()(circuit_commands.diagnose)
app.command()(circuit_commands.trial)


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
            for said in post_totals(url, key, totals(circuit_commands.sheet_named(sheet), awake), every, faster, count):
                typer.echo(said)
    except ConnectionError as error:
        raise fail(str(error)) from error


def main() -> None:
    """Entry of the `iron-probe` command."""
    with contextlib.suppress(BrokenPipeError):
        app()
    os.set_blocking(sys.stdout.fileno(), True)


if __name__ == "__main__":
    main()
