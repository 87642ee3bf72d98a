"""A circuit sheet: the machine's points, elements, controls and operating states."""

import hashlib
from functools import cached_property
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from iron_probe.core.circuit.elements import Alternator, Battery, Element, Positions
from iron_probe.core.errors import SolveError, unknown_name

Name = Annotated[str, Field(pattern=r"^[A-Za-z0-9][A-Za-z0-9.+\-]*$", max_length=40)]
Title = Annotated[str, Field(min_length=1, max_length=60)]


class _Strict(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class Point(_Strict):
    """A place a probe can touch; `minutes` to get there, `disturbs` if reaching it may move the fault."""

    title: Title
    minutes: Annotated[float, Field(gt=0)] = 1.0
    disturbs: bool = False


class Control(_Strict):
    """Something the operator sets: its `positions`, the first being at rest."""

    title: Title
    positions: Annotated[list[str], Field(min_length=2)]


class State(_Strict):
    """An operating state: where each control stands; `minutes` to bring it about; cautions by name.

    Controls not named stand in their first position.
    """

    title: Title
    set: dict[str, str] = {}
    minutes: Annotated[float, Field(ge=0)] = 0.2
    cranking: bool = False
    rpm: Annotated[float, Field(ge=0, le=12000, description="engine speed; 0 when it stands or is cranked")] = 0
    cautions: list[str] = []


class Engine(_Strict):
    """What the starter turns."""

    fuel: Literal["petrol", "diesel", "gas"]
    cylinders: Annotated[int, Field(ge=1, le=16)]
    strokes: Literal[2, 4] = 4
    crank_rpm: Annotated[float, Field(gt=0)] = 220


class Allowance(_Strict):
    """The machine's own figures for drops while cranking [V], where its maker gives them."""

    joint_v: Annotated[float, Field(gt=0)]
    cable_v: Annotated[float, Field(gt=0)]
    side_v: Annotated[float, Field(gt=0)]


class Sheet(_Strict):
    """One machine's circuit. `minus` is the battery minus post all voltages are counted from, `plus` the plus post."""

    format: Literal["iron-probe-sheet/1"]
    id: Annotated[str, Field(pattern=r"^[a-z0-9\-]+$", max_length=40)]
    title: Title
    about: str = ""
    system_v: Literal[6, 12, 24]
    engine: Engine
    minus: Name
    plus: Name
    controls: dict[Name, Control]
    states: Annotated[dict[Name, State], Field(min_length=1, max_length=60)]
    allowance: Allowance | None = None
    drain_limit_ma: Annotated[float, Field(gt=0, description="most the machine may draw asleep, where its maker says")] | None = None
    sleep_minutes: Annotated[float, Field(gt=0, le=1440, description="longest its modules take to fall asleep")] = 25
    points: dict[Name, Point]
    elements: list[Element]

    @cached_property
    def fingerprint(self) -> str:
        """Hash of all it says: two sheets of one fingerprint are the same circuit."""
        return hashlib.sha256(self.model_dump_json().encode()).hexdigest()

    def changed(self, **update: object) -> "Sheet":
        """This sheet with some of its parts replaced, not checked again."""
        return Sheet.model_construct(**{name: getattr(self, name) for name in Sheet.model_fields} | update)

    def element(self, element_id: str) -> Element:
        """The element of that id; SolveError when there is none."""
        if element_id not in self._by_id:
            raise SolveError(unknown_name("element", element_id, list(self._by_id)))
        return self._by_id[element_id]

    @cached_property
    def batteries(self) -> tuple[Battery, ...]:
        """Its batteries, in the order of the sheet."""
        return tuple(e for e in self.elements if isinstance(e, Battery))

    def volts_between(self, start: str, end: str) -> int:
        """Volts of the battery whose posts two points are; the system's for any others."""
        return next((b.volts for b in self.batteries if {b.start, b.end} == {start, end}), self.system_v)

    @cached_property
    def _by_id(self) -> dict[str, Element]:
        return {e.id: e for e in self.elements}

    def state(self, state_id: str) -> State:
        """The operating state of that name; SolveError when there is none."""
        if state_id not in self.states:
            raise SolveError(unknown_name("state", state_id, list(self.states)))
        return self.states[state_id]

    def point(self, point_id: str) -> Point:
        """The point of that name; SolveError when there is none."""
        if point_id not in self.points:
            raise SolveError(unknown_name("point", point_id, list(self.points)))
        return self.points[point_id]

    def in_position(self, wanted: Positions, state_id: str) -> bool:
        """Whether every control named in `wanted` stands in one of its listed positions in that state."""
        state = self.state(state_id)
        return all(state.set.get(control, self.controls[control].positions[0]) in positions for control, positions in wanted.items())

    def asked_v(self, alternator: Alternator, state_id: str) -> float | None:
        """What its module asks of an alternator in a state on purpose [V of 12]; None where it is left to hold its own."""
        return next((c.asks_v for c in alternator.commands if self.in_position(c.when, state_id)), None)

    def cranking_state(self) -> str | None:
        """The first state in which the starter is meant to turn, if the sheet has one."""
        return next((name for name, state in self.states.items() if state.cranking), None)

    def running_states(self) -> list[str]:
        """The states in which the engine runs, slowest first."""
        return sorted((name for name, state in self.states.items() if state.rpm > 0), key=lambda name: self.states[name].rpm)
