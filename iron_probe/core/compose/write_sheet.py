"""A composed sheet as text: one point, state or element a line, as sheets are written by hand."""

from collections.abc import Iterator
from typing import Any

import yaml

from iron_probe.core.compose.plan import Data, Plan

POSITIONED = ("closed_in", "awake_in", "on_in", "when")
"""Where an element names positions of controls."""


def write_sheet(header: Data, plan: Plan) -> str:
    """The text of a sheet."""
    return "\n".join(_lines(header, plan)) + "\n"


def _lines(header: Data, plan: Plan) -> Iterator[str]:
    for key, value in header.items():
        yield f"{key}: {flow(value)}"
    for part in ("controls", "states", "points"):
        yield ""
        yield f"{part}:" if getattr(plan, part) else f"{part}: {{}}"
        for name, value in getattr(plan, part).items():
            yield f"  {name}: {flow(value)}"
    yield ""
    yield "elements:"
    for element in plan.elements:
        yield f"  - {flow(positions_there(element, plan))}"


def positions_there(value: Any, plan: Plan) -> Any:
    """An element without the positions a control of this machine does not have: a key that only switches on has none to crank."""
    if isinstance(value, list):
        return [positions_there(v, plan) for v in value]
    if not isinstance(value, dict):
        return value
    return {key: _there(v, plan) if key in POSITIONED else positions_there(v, plan) for key, v in value.items()}


def _there(wanted: Data, plan: Plan) -> Data:
    return {c: [p for p in positions if p in plan.controls[c]["positions"]] for c, positions in wanted.items() if c in plan.controls}


def flow(value: Any) -> str:
    """Anything as one line of YAML."""
    if isinstance(value, float) and value == int(value):
        value = int(value)
    if isinstance(value, str | int | float):
        return str(yaml.safe_dump(value, width=10_000).splitlines()[0])
    return str(yaml.safe_dump(_plain(value), default_flow_style=True, sort_keys=False, width=10_000, allow_unicode=True)).strip()


def _plain(value: Any) -> Any:
    """Whole numbers without their point."""
    if isinstance(value, dict):
        return {k: _plain(v) for k, v in value.items()}
    if isinstance(value, list):
        return [_plain(v) for v in value]
    return int(value) if isinstance(value, float) and value == int(value) else value
