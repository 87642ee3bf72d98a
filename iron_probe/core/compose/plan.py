"""A sheet while it is put together: parts so far, and the open ends the next block may join."""

from dataclasses import dataclass, field
from typing import Any

from iron_probe.core.compose.naming import LONGEST_TITLE
from iron_probe.core.compose.pattern_book import Block, Figure
from iron_probe.core.errors import Mistake, SheetError

Data = dict[str, Any]


@dataclass(slots=True)
class Plan:
    """Points, controls, states and elements in the order of the sheet; `ends` by their names; `came_from` says which question brought an
    element; `cranks_with` where controls stand while cranking; `switched` the controls of consumers with a switch of their own."""

    figures: dict[str, Figure]
    points: dict[str, Data] = field(default_factory=dict)
    controls: dict[str, Data] = field(default_factory=dict)
    states: dict[str, Data] = field(default_factory=dict)
    elements: list[Data] = field(default_factory=list)
    ends: dict[str, str] = field(default_factory=dict)
    came_from: dict[str, str] = field(default_factory=dict)
    cranks_with: dict[str, str] = field(default_factory=dict)
    switched: list[str] = field(default_factory=list)
    _like: dict[str, str] = field(default_factory=dict)

    def add(self, block: Block, name: str, question: str) -> None:
        """Join a block; SheetError when it asks for an end or a figure that nothing before it has given."""
        self.points |= self._filled(block.points, name)
        self.controls |= block.controls
        for element in block.elements:
            self.put(self._filled(element, name), question)
        for more in block.also:
            self._extend(more.element, more.output, self._filled(more.needs, name), self._filled(more.pulls, name), name)
        for state_id, state in block.states.items():
            made = self._filled(state.model_dump(exclude_defaults=True), name)
            made["minutes"] = state.minutes
            if "cautions" in made:
                made["cautions"] = [c for c in made["cautions"] if c]
            self.add_state(state_id, made)
        self.cranks_with |= block.cranks_with
        self.ends |= self._filled(block.gives, name)

    def add_state(self, state_id: str, state: Data) -> None:
        """A state, with what the one it is like sets under its own; left out where that one is not there."""
        base = state.pop("like", None)
        if base is not None:
            if base not in self.states:
                return
            state = {**state, "set": {**self.states[base].get("set", {}), **state.get("set", {})}}
            if self.states[base].get("rpm") and "rpm" not in state:
                state["rpm"] = self.states[base]["rpm"]
            self._like[state_id] = base
        self.states[state_id] = {**state, "title": str(state["title"])[:LONGEST_TITLE]}

    def put(self, element: Data, question: str) -> None:
        """One more element."""
        self.elements.append(element)
        self.came_from[element["id"]] = question

    def tries_to_crank(self, state_id: str) -> bool:
        """Whether a state is cranking, or like one."""
        return self.states[state_id].get("cranking", False) or self._like.get(state_id) == "crank"

    def _extend(self, element_id: str, output: str, needs: list[Data], pulls: list[Data], name: str) -> None:
        module = next((e for e in self.elements if e["id"] == element_id), None)
        if module is None:
            raise SheetError([Mistake(line=0, where=f"block {name}", text=f"adds to {element_id}, which no block before it has brought")])
        for one in module["outputs"]:
            if one["name"] == output:
                one["needs"] = [*one.get("needs", []), *needs]
        module["pulls"] = [*module.get("pulls", []), *pulls]

    def _filled(self, value: Any, name: str) -> Any:
        """A part of a block with its open ends and figures put in."""
        if isinstance(value, dict):
            return {key: self._filled(v, name) for key, v in value.items()}
        if isinstance(value, list):
            return [self._filled(v, name) for v in value]
        if isinstance(value, str) and value.startswith("$"):
            return self._named(self.figures, value[1:], name, "figure")
        if isinstance(value, str) and value.startswith("<") and value.endswith(">"):
            return self._named(self.ends, value[1:-1], name, "open end")
        return value

    def _named(self, known: dict[str, Any], wanted: str, name: str, what: str) -> Any:
        if wanted not in known:
            told = f"asks for the {what} “{wanted}”; there are {', '.join(sorted(known)) or 'none'}"
            raise SheetError([Mistake(line=0, where=f"block {name}", text=told)])
        return known[wanted]
