"""Keeping the yard: the commands that write it into a file and put it back."""

import contextlib
from collections.abc import Iterator
from datetime import datetime
from pathlib import Path
from typing import Annotated

import typer

from iron_probe.core.errors import IronProbeError
from iron_probe.settings import Settings

NAME = "iron-probe-%Y%m%d-%H%M%S.backup"


@contextlib.contextmanager
def _yard_url(settings: Settings) -> Iterator[str]:
    """The database of the yard: the one named, the private one that runs, or the private one started for this."""
    from iron_probe.store.cluster import cluster, running_url

    base = settings.data / "postgres"
    if url := settings.database_url or running_url(base):
        yield url
        return
    if not base.is_dir():
        raise NoYardError(f"There is no yard in {settings.data}: set IRON_PROBE_DATA or IRON_PROBE_DATABASE_URL")
    with cluster(base) as url:
        yield url


class NoYardError(IronProbeError):
    """No yard where one was looked for."""


def backup(
    file: Annotated[Path, typer.Argument(help="a file, or a folder in which one is named by the time")],
    keep: Annotated[int, typer.Option(min=1, help="in a folder: how many of the newest stay")] = 30,
) -> None:
    """Write the whole yard into a file; the app may run meanwhile. Read through before it counts."""
    from iron_probe.store.backup import backup as write

    folder = file if file.is_dir() else None
    target = folder / datetime.now().astimezone().strftime(NAME) if folder else file
    with _told(), _yard_url(Settings()) as url:
        size = write(url, target)
    typer.echo(f"{target}: {size / 1e6:,.1f} MB, read through")
    if folder:
        for old in sorted(folder.glob("iron-probe-*.backup"))[:-keep]:
            old.unlink()
            old.with_name(f"{old.name}.sha256").unlink(missing_ok=True)


def restore(file: Annotated[Path, typer.Argument(help="a file that backup wrote")]) -> None:
    """Put a backup in the place of the yard: all of it, or nothing is changed. Stop the app first."""
    from iron_probe.store.backup import restore as put_back

    with _told(), _yard_url(Settings()) as url:
        put_back(url, file)
    typer.echo(f"The yard is as it was when {file} was written")


def back_to(revision: Annotated[str, typer.Argument(help="the newest schema the older code knows, such as 0012")]) -> None:
    """Take the yard's schema back for older code. Stop the app and take a backup first: what only the newer schema holds is lost."""
    from iron_probe.store.database import connect
    from iron_probe.store.migrate import MIGRATIONS, OLDEST, migrate

    known = sorted(f.name[:4] for f in (MIGRATIONS / "versions").glob("0*.py"))
    with _told():
        if revision not in known or revision < OLDEST:
            raise NoYardError(
                f"The schema can be taken back to {OLDEST} at the oldest, {known[-1]} is today's; “{revision[:20]}” is none of them"
            )
        with _yard_url(Settings()) as url:
            engine = connect(url, 120_000)
            migrate(engine, revision, back=True)
            engine.dispose()
    typer.echo(f"The yard has the schema {revision}: start the code that knows it")


@contextlib.contextmanager
def _told() -> Iterator[None]:
    """A refusal as one line and exit code 2."""
    from iron_probe.store.cluster import ClusterError

    try:
        yield
    except (IronProbeError, ClusterError) as error:
        typer.echo(str(error), err=True)
        raise typer.Exit(2) from error
