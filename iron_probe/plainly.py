"""What goes wrong on the command line, said plainly: one line on standard error, exit code 2."""

import contextlib
from collections.abc import Iterator

import typer

from iron_probe.core.errors import IronProbeError


def fail(text: str) -> typer.Exit:
    """Say what is wrong on standard error; the exit code is 2."""
    typer.echo(text, err=True)
    return typer.Exit(2)


@contextlib.contextmanager
def told_plainly() -> Iterator[None]:
    """Turn a refusal of the core into its text and exit code 2."""
    try:
        yield
    except IronProbeError as error:
        raise fail(str(error)) from error
