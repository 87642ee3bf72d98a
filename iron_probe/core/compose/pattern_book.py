"""What machines are put together from: kinds with their usual answers, the questions, and blocks of circuit with open ends.

All three are data. A block joins the circuit at open ends: `<plus>` in place of a point is whatever an earlier block gave as its end called
`plus`; `$name` in place of a figure is a size worked out for this machine. A new design is a new block file and a choice that names it.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Annotated, Any, TypeVar

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from iron_probe.core.circuit.read_sheet import read_yaml, validation_mistakes
from iron_probe.core.errors import Mistake, SheetError, unknown_name

Figure = float | str
"""A size of a machine, or a word that stands in its titles and cautions."""
Condition = dict[str, list[str]]
"""Answers that must have been given: a question's name and the choices of it that will do."""


Model = TypeVar("Model", bound=BaseModel)


class _Strict(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class Stage(StrEnum):
    """The order in which blocks are put together; a block's stage is the folder its file lies in."""

    BATTERY = "battery"
    SWITCH = "switch"
    GROUND = "ground"
    WAY = "way"
    HOUSE = "house"
    BOXES = "boxes"
    COMMAND = "command"
    IGNITION = "ignition"
    BUTTON = "button"
    AGREE = "agree"
    STARTER = "starter"
    DRIVE = "drive"
    READS = "reads"
    RUNNING = "running"
    CHARGE = "charge"
    MORE = "more"


STAGES = tuple(Stage)


class BlockState(_Strict):
    """An operating state a block brings: `like` another one, with more controls set."""

    title: str
    like: str | None = None
    set: dict[str, str] = {}
    minutes: float = 0.2
    cranking: bool = False
    rpm: Figure = 0
    cautions: list[str] = []


class Also(_Strict):
    """What a block adds to a module of an earlier one: more that an output needs, and the resistors of those inputs."""

    element: str
    output: str
    needs: list[dict[str, Any]] = []
    pulls: list[dict[str, Any]] = []


class Block(_Strict):
    """A piece of circuit: its points, controls, states and elements as they stand in a sheet, and the ends it `gives` to those after it.

    `cranks_with` says where its controls must stand while the machine is cranked.
    """

    title: str
    says: str = ""
    points: dict[str, dict[str, Any]] = {}
    controls: dict[str, dict[str, Any]] = {}
    states: dict[str, BlockState] = {}
    cranks_with: dict[str, str] = {}
    elements: list[dict[str, Any]] = []
    also: list[Also] = []
    gives: dict[str, str] = {}


class BlockChoice(_Strict):
    """A block a choice brings only `when` some answers are given."""

    block: str
    when: Condition = {}
    unless: Condition = {}


class Choice(_Strict):
    """One answer to a question: the blocks it brings, the figures it sets, and which earlier answers it goes with (`only`, `unless`)."""

    title: str
    says: str = ""
    blocks: list[str | BlockChoice] = []
    figures: dict[str, Figure] = {}
    only: Condition = {}
    unless: Condition = {}


class Question(_Strict):
    """A question about the machine: one choice, several (`many`), or a `text` such as a table of fuses; `told` in what the sheet says about
    the machine."""

    title: str
    says: str = ""
    many: bool = False
    text: bool = False
    told: bool = False
    choices: dict[str, Choice] = {}


class Kind(_Strict):
    """A kind of machine: how such machines are generally wired, the usual answers, and figures of its size."""

    title: str
    says: str
    usual: dict[str, str | list[str]]
    figures: dict[str, Figure] = {}


class Variant(_Strict):
    """A machine of the library: what is different about it, and its answers."""

    title: str
    says: str
    answers: dict[str, str | list[str]]


@dataclass(frozen=True, slots=True)
class PatternBook:
    """Kinds, questions in the order they are asked, blocks by `stage/name`, and the library of variants."""

    kinds: Mapping[str, Kind]
    questions: Mapping[str, Question]
    blocks: Mapping[str, Block]
    library: tuple[Variant, ...] = ()

    def kind(self, name: str) -> Kind:
        """The kind of that name; SheetError when there is none."""
        if name not in self.kinds:
            raise SheetError([Mistake(line=0, where="kind", text=unknown_name("kind", name, list(self.kinds)))])
        return self.kinds[name]


class _Kinds(_Strict):
    kinds: dict[Annotated[str, Field(pattern=r"^[a-z0-9\-]+$")], Kind]


class _Questions(_Strict):
    questions: dict[str, Question]


class _Library(_Strict):
    library: list[Variant]


def read_library(text: str) -> tuple[Variant, ...]:
    """The variants of a library file; SheetError with all mistakes."""
    return tuple(_read(text, _Library).library)


def read_kinds(text: str) -> dict[str, Kind]:
    """Kinds from their file; SheetError with all mistakes."""
    return _read(text, _Kinds).kinds


def read_questions(text: str) -> dict[str, Question]:
    """Questions from their file; SheetError with all mistakes."""
    return _read(text, _Questions).questions


def read_block(text: str) -> Block:
    """A block from its file; SheetError with all mistakes."""
    return _read(text, Block)


def _read(text: str, model: type[Model]) -> Model:
    data, lines, mistakes = read_yaml(text)
    try:
        made = model.model_validate(data)
    except ValidationError as error:
        raise SheetError(mistakes + validation_mistakes(error, data, lines)) from error
    if mistakes:
        raise SheetError(mistakes)
    return made
