"""Answers about a machine as a file, open to read and write: what was said, and nothing of what is only usual."""

from typing import Any

import yaml

from iron_probe.core.circuit.read_sheet import read_yaml
from iron_probe.core.compose.settle import Said
from iron_probe.core.errors import Mistake, SheetError

FORMAT = "iron-probe-answers/1"


def read_answers(text: str) -> tuple[dict[str, str | list[str]], str]:
    """What a file of answers says, and the title it gives the machine; SheetError with every line that cannot be taken."""
    data, lines, mistakes = read_yaml(text)
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise SheetError([Mistake(line=1, where="format", text=f"a file of answers begins with “format: {FORMAT}”")])
    said: dict[str, str | list[str]] = {}
    for name, value in data.items():
        if name in ("format", "title"):
            continue
        if (told := _told(value)) is None:
            text_of = "an answer is a word, a list of words, or a text"
            mistakes.append(Mistake(line=lines.get((str(name),), 0), where=str(name), text=text_of))
        else:
            said[str(name)] = told
    if mistakes:
        raise SheetError(mistakes)
    return said, str(data.get("title", ""))


def _told(value: Any) -> str | list[str] | None:
    if isinstance(value, str | int | float):
        return str(value)
    if isinstance(value, list) and all(isinstance(v, str | int | float) for v in value):
        return [str(v) for v in value]
    return None


def write_answers(said: Said, title: str = "") -> str:
    """The file of what was said."""
    data = {"format": FORMAT, **({"title": title} if title else {}), **{k: v if isinstance(v, str) else list(v) for k, v in said.items()}}
    return str(yaml.dump(data, Dumper=_Blocks, sort_keys=False, allow_unicode=True, width=200))


class _Blocks(yaml.SafeDumper):
    """Texts of several lines as they were typed, a line a line."""


def _text(dumper: yaml.SafeDumper, value: str) -> yaml.Node:
    return dumper.represent_scalar("tag:yaml.org,2002:str", value, style="|" if "\n" in value else None)


_Blocks.add_representer(str, _text)
