"""A sheet as text that is edited part by part: what is not touched keeps its line, its order and its comments."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from iron_probe.core.circuit.read_sheet import Path, read_yaml
from iron_probe.core.compose.naming import LONGEST_TITLE
from iron_probe.core.compose.write_sheet import flow
from iron_probe.core.errors import Mistake, SheetError, unknown_name

Data = dict[str, Any]
NAMED_AS_POINT = (
    "from", "to", "common", "make", "rest", "s", "b", "m", "case", "supply", "ground", "point", "fed_by", "ig", "l", "bus", "f", "feed",
    "p1", "p2", "p3", "star",
)  # fmt: skip
"""Where an element names a point by one word; `coil` and `ac` name several."""


@dataclass(frozen=True)
class SheetText:
    """The text of a sheet, right or wrong; SheetError when it is not YAML, or has no elements to edit."""

    text: str

    @cached_property
    def _read(self) -> tuple[Data, dict[Path, int]]:
        data, lines, _ = read_yaml(self.text)
        if not isinstance(data, dict) or not isinstance(data.get("elements"), list) or not isinstance(data.get("points"), dict):
            raise SheetError([Mistake(line=0, where="file", text="is no circuit sheet: it has no points and elements to edit")])
        if not data["elements"] or not data["points"]:
            raise SheetError([Mistake(line=0, where="file", text="has no parts yet")])
        for k, element in enumerate(data["elements"]):
            if not isinstance(element, dict) or not isinstance(element.get("id"), str):
                raise SheetError([Mistake(line=lines[("elements", k)], where=f"element number {k + 1}", text="has no id")])
        return data, lines

    @property
    def header(self) -> Data:
        """All of the sheet, as it is written."""
        return self._read[0]

    @property
    def points(self) -> dict[str, Data]:
        """Points by their names."""
        return {str(name): p if isinstance(p, dict) else {} for name, p in self._read[0]["points"].items()}

    def entries(self, section: str) -> dict[str, Data]:
        """The controls or states of it by their names, as they are written."""
        told = self._read[0].get(section)
        return {str(name): e if isinstance(e, dict) else {} for name, e in told.items()} if isinstance(told, dict) else {}

    @property
    def elements(self) -> list[Data]:
        """Elements in their order, as they are written."""
        return list(self._read[0]["elements"])

    def line_of(self, element_id: str) -> int:
        """The line an element begins on."""
        return self._read[1][("elements", self._number(element_id))]

    def element(self, element_id: str) -> Data:
        """An element as it is written; SheetError when there is none of that id."""
        return dict(self.elements[self._number(element_id)])

    def _number(self, element_id: str) -> int:
        ids = [e["id"] for e in self.elements]
        if element_id not in ids:
            raise SheetError([Mistake(line=0, where="element", text=unknown_name("element", element_id, ids))])
        return ids.index(element_id)

    def _span(self, element_id: str) -> tuple[int, int]:
        """First line and the one behind the last of an element, from 0."""
        number, (_, lines) = self._number(element_id), self._read
        start = lines[("elements", number)] - 1
        if number + 1 < len(self.elements):
            end = lines[("elements", number + 1)] - 1
        else:
            later = [line - 1 for path, line in lines.items() if len(path) == 1 and line - 1 > start]
            end = min(later, default=len(self.text.splitlines()))
        rows = self.text.splitlines()
        while end > start + 1 and (not rows[end - 1].strip() or rows[end - 1].lstrip().startswith("#")):
            end -= 1  # a heading before the next one is not this one's
        return start, end

    def _with_rows(self, start: int, end: int, rows: list[str]) -> "SheetText":
        all_rows = self.text.splitlines()
        return SheetText("\n".join([*all_rows[:start], *rows, *all_rows[end:]]) + "\n")

    def replaced(self, element_id: str, *elements: Data) -> "SheetText":
        """Other elements in the place of one; none takes it out."""
        return self._with_rows(*self._span(element_id), [f"  - {flow(e)}" for e in elements])

    def added(self, *elements: Data) -> "SheetText":
        """More elements at the end."""
        _, end = self._span(self.elements[-1]["id"])
        return self._with_rows(end, end, [f"  - {flow(e)}" for e in elements])

    def with_point(self, name: str, title: str, minutes: float) -> "SheetText":
        """One more point behind the others."""
        return self.with_entries("points", {name: {"title": title[:LONGEST_TITLE], "minutes": minutes}})

    def with_entries(self, section: str, entries: Mapping[str, Data]) -> "SheetText":
        """More points, controls or states behind the others of their section, which is begun where there is none."""
        if not entries:
            return self
        data, lines = self._read
        rows = [f"  {name}: {flow(entry)}" for name, entry in entries.items()]
        if not data.get(section):
            at = lines.get((section,))
            begun = [f"{section}:", *rows]
            return self._with_rows(at - 1, at, begun) if at else SheetText("\n".join([self.text.rstrip(), *begun]) + "\n")
        last = max(line for path, line in lines.items() if path[:1] == (section,))
        return self._with_rows(last, last, rows)

    def with_entry_changed(self, section: str, name: str, entry: Data) -> "SheetText":
        """Another entry in the place of one of a section."""
        lines = self._read[1]
        start = lines[(section, name)] - 1
        later = [line - 1 for path, line in lines.items() if len(path) <= 2 and line - 1 > start]
        return self._with_rows(start, min(later, default=start + 1), [f"  {name}: {flow(entry)}"])

    def without_points(self, names: set[str]) -> "SheetText":
        """Without points that nothing touches any more."""
        gone = {self._read[1][("points", n)] - 1 for n in names}
        return SheetText("\n".join(row for k, row in enumerate(self.text.splitlines()) if k not in gone) + "\n")

    def minutes_to(self, point: str) -> float:
        """Minutes to reach a point; a minute where the sheet does not say so in a number."""
        told = self.points.get(point, {}).get("minutes", 1.0)
        return float(told) if isinstance(told, int | float) and told > 0 else 1.0

    @property
    def system_v(self) -> float:
        """Volts of its system; 12 where the sheet does not say so in a number."""
        told = self.header.get("system_v")
        return float(told) if isinstance(told, int | float) and told > 0 else 12.0

    @property
    def titles(self) -> dict[str, str]:
        """Titles of its points by their names."""
        return {name: str(p.get("title", "")) for name, p in self.points.items()}


def point_fields(element: Any, path: tuple[Any, ...] = ()) -> Iterator[tuple[tuple[Any, ...], str]]:
    """Everywhere in an element that a point is named: the way to it, and the point."""
    if isinstance(element, dict):
        for key, value in element.items():
            if key in ("from", "to") and path:
                continue  # which rail a module pulls to
            if key in NAMED_AS_POINT and isinstance(value, str):
                yield (*path, key), value
            elif key in ("coil", "ac") and isinstance(value, list):
                yield from (((*path, key, k), p) for k, p in enumerate(value) if isinstance(p, str))
            elif key not in ("set", "closed_in", "awake_in", "on_in", "when"):
                yield from point_fields(value, (*path, key))
    elif isinstance(element, list):
        for k, value in enumerate(element):
            yield from point_fields(value, (*path, k))


def renamed(element: Data, old: str, new: str) -> Data:
    """An element with one point in place of another."""
    found = [path for path, point in point_fields(element) if point == old]
    made = _copied(element)
    for path in found:
        at = made
        for key in path[:-1]:
            at = at[key]
        at[path[-1]] = new
    return made


def _copied(value: Any) -> Any:
    if isinstance(value, dict):
        return {k: _copied(v) for k, v in value.items()}
    return [_copied(v) for v in value] if isinstance(value, list) else value
