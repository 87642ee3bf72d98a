"""Reading a circuit sheet from YAML text, with every mistake found at once, by line and element."""

import re
import time
from collections.abc import Hashable
from typing import Any

import yaml
from pydantic import ValidationError

from iron_probe.core.circuit.check_sheet import mistakes_in
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.errors import Mistake, SheetError

Path = tuple[str | int, ...]


MOST_BYTES = 10_000_000
"""A sheet's text is refused unread above this: a machine of a thousand elements takes a fiftieth of it."""
MOST_DEPTH = 20
"""How deep lists and maps may lie in each other; a sheet needs eight."""
MOST_SECONDS = 10.0
"""Reading a sheet is given up after this time of the processor [s], however busy the machine is; a machine of a thousand elements takes one."""
MOST_ELEMENTS = 1500
"""Elements, and as many points: beyond, the drawing could neither be solved in a second nor read by a person."""


class TooMuch(yaml.YAMLError):
    """A text that is no sheet: repeats by alias, nested too deep, or taking too long."""


class PlainLoader(yaml.SafeLoader):
    """YAML as sheets use it: only true and false are truth values, so `off` and `on` stay words; no aliases, bounded in depth and time."""

    def __init__(self, text: str) -> None:
        super().__init__(text)
        self._until = time.thread_time() + MOST_SECONDS
        self._depth = 0

    def compose_node(self, parent: yaml.Node | None, index: Any) -> yaml.Node | None:
        """One more node, within the bounds."""
        if self.check_event(yaml.AliasEvent):
            line = self.peek_event().start_mark.line + 1  # type: ignore[no-untyped-call]
            raise TooMuch(f"line {line} repeats something by an alias (*name): write it out, sheets have no aliases")
        if time.thread_time() > self._until:
            raise TooMuch(f"it takes longer than {MOST_SECONDS:.0f} s to read: split it, or check that it is a circuit sheet")
        if self._depth >= MOST_DEPTH:
            raise TooMuch("it is nested too deep for a sheet")
        self._depth += 1
        try:
            return super().compose_node(parent, index)
        finally:
            self._depth -= 1


PlainLoader.yaml_implicit_resolvers = {
    first: [(tag, rule) for tag, rule in rules if tag != "tag:yaml.org,2002:bool"]
    for first, rules in yaml.SafeLoader.yaml_implicit_resolvers.items()
}
PlainLoader.add_implicit_resolver("tag:yaml.org,2002:bool", re.compile(r"^(?:true|false)$"), list("tf"))


def read_yaml(text: str) -> tuple[Any, dict[Path, int], list[Mistake]]:
    """Plain data of a YAML text, the line (from 1) of every path in it, and names given twice.

    Raises SheetError when the text is not YAML, or more than a sheet can be.
    """
    if len(text) > MOST_BYTES:
        told = f"is {len(text) / 1e6:.1f} MB long; a circuit sheet has at most {MOST_BYTES / 1e6:.0f} MB, and usually some kilobytes"
        raise SheetError([Mistake(line=0, where="file", text=told)])
    try:
        loader = PlainLoader(text)
    except yaml.YAMLError as error:  # characters that no text has
        raise SheetError([Mistake(line=0, where="file", text=f"is not YAML: {error}")]) from error
    try:
        root = loader.get_single_node()
        if root is None:
            raise SheetError([Mistake(line=0, where="file", text="is empty")])
        lines: dict[Path, int] = {}
        twice: list[Mistake] = []
        _note_lines(root, (), lines, twice)
        return loader.construct_document(root), lines, twice
    except yaml.MarkedYAMLError as error:
        line = error.problem_mark.line + 1 if error.problem_mark else 0
        raise SheetError([Mistake(line=line, where="file", text=f"is not YAML: {error.problem}")]) from error
    except TooMuch as error:
        raise SheetError([Mistake(line=0, where="file", text=f"is no sheet: {error}")]) from error
    except (yaml.YAMLError, ValueError) as error:
        raise SheetError([Mistake(line=0, where="file", text=f"is not YAML: {error}")]) from error
    except RecursionError as error:
        raise SheetError([Mistake(line=0, where="file", text="is nested too deep for a sheet")]) from error
    finally:
        loader.dispose()


def _note_lines(node: yaml.Node, path: Path, lines: dict[Path, int], twice: list[Mistake]) -> None:
    lines[path] = node.start_mark.line + 1
    if isinstance(node, yaml.MappingNode):
        seen: set[Hashable] = set()
        for key, value in node.value:
            name = str(key.value)
            if name in seen:
                twice.append(Mistake(line=key.start_mark.line + 1, where=name, text="is named twice here; keep one"))
            seen.add(name)
            _note_lines(value, (*path, name), lines, twice)
            lines[(*path, name)] = key.start_mark.line + 1
    elif isinstance(node, yaml.SequenceNode):
        for place, item in enumerate(node.value):
            _note_lines(item, (*path, place), lines, twice)


def line_of(path: Path, lines: dict[Path, int]) -> int:
    """Line of the longest known beginning of `path`."""
    for length in range(len(path), -1, -1):
        if path[:length] in lines:
            return lines[path[:length]]
    return 0


def validation_mistakes(error: ValidationError, data: Any, lines: dict[Path, int]) -> list[Mistake]:
    """Pydantic's findings as mistakes with line and element."""
    found = []
    for problem in error.errors():
        # a discriminated union puts the type's name into the path; the text has no such level
        path = tuple(part for place, part in enumerate(problem["loc"]) if not (place == 2 and problem["loc"][0] == "elements"))
        where = ".".join(str(part) for part in path) or "file"
        if len(path) > 1 and path[0] == "elements" and isinstance(path[1], int) and isinstance(data, dict):
            item = data["elements"][path[1]]
            name = item.get("id", f"number {path[1] + 1}") if isinstance(item, dict) else f"number {path[1] + 1}"
            where = f"element {name}" + (f", {'.'.join(str(p) for p in path[2:])}" if path[2:] else "")
        text = problem["msg"].removeprefix("Value error, ")
        found.append(Mistake(line=line_of(path, lines), where=where, text=text[0].lower() + text[1:]))
    return found


def read_sheet(text: str) -> Sheet:
    """Parse and check a circuit sheet; raises SheetError with all mistakes, by line and element."""
    data, lines, mistakes = read_yaml(text)
    try:
        sheet = Sheet.model_validate(data)
    except ValidationError as error:
        raise SheetError(mistakes + validation_mistakes(error, data, lines)) from error
    for part in ("elements", "points"):
        if (count := len(getattr(sheet, part))) > MOST_ELEMENTS:
            mistakes.append(
                Mistake(line=line_of((part,), lines), where=part, text=f"{count:,} are more than the {MOST_ELEMENTS:,} a sheet may have")
            )
    if mistakes:
        raise SheetError(mistakes)
    mistakes += mistakes_in(sheet, lambda *path: line_of(path, lines))
    if mistakes:
        raise SheetError(mistakes)
    return sheet
