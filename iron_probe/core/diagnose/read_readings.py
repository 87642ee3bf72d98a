"""A list of readings as a YAML file: one entry a reading, errors by line."""

from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter, ValidationError

from iron_probe.core.bench.typed_value import parse_quantity
from iron_probe.core.circuit.network import Network
from iron_probe.core.circuit.read_sheet import line_of, read_yaml
from iron_probe.core.diagnose.evidence import LARGEST_OF, UNIT, Aid, Instrument, Reading, check_reading, shows_figure, word_meant
from iron_probe.core.errors import Mistake, ReadingError, SheetError
from iron_probe.core.solve.solution import Symptom


class ReadingEntry(BaseModel):
    """One entry of a reading file.

    `value` is a number with or without its unit (`1.44`, `1440 mV`, `OL`, `<0.01`, `about 11.5`, `11.2 to 11.6`, `over 20`, `beep`), or a word
    for instruments that answer with one (lamps: off, dim, bright; function: dead, weak, works, or pass and fail; looks: good, green, loose,
    burnt, warm, chafed; a module: silent, answers; a lamp in place of the charge lamp and a forced field: no_change, charges, or the volts at the
    posts; the field wire off: stops, charges; eyes and bridges: nothing, click, chatter, no_turn, slow, cranks). Readings of
    one crank or one key-on have the same `crank` number in the same state; `heard` is what the machine did in it. What was not as drawn: an
    element `parted` (its plug off, or taken out), a jumper left across two points (`jumpered`), a charger or booster on the posts (`aided`).
    """

    model_config = ConfigDict(extra="forbid")

    instrument: Instrument = Instrument.VOLTMETER
    red: str | None = None
    black: str | None = None
    branch: str | None = None
    state: str
    value: Annotated[str | int | float, Field(description="number, number with unit, or word")]
    disturbed: bool = False
    told: bool = False
    unsteady: bool | None = None
    crank: Annotated[int, Field(ge=1, description="number of the attempt at this state")] | None = None
    heard: Symptom | None = None
    parted: str | None = None
    jumpered: tuple[str, str] | None = None
    aided: Aid | None = None


READINGS: TypeAdapter[list[ReadingEntry]] = TypeAdapter(list[ReadingEntry])


def as_reading(entry: ReadingEntry) -> Reading:
    """An entry as a reading; raises ReadingError when its value or its leads do not fit its instrument."""
    given: dict[str, Any] = entry.model_dump(exclude={"value"})
    if shows_figure(entry.instrument, str(entry.value)):
        quantity = parse_quantity(str(entry.value), UNIT.get(entry.instrument, "V"), LARGEST_OF.get(entry.instrument))
        given |= {"value": quantity.value, "resolution": quantity.resolution, "bound": quantity.bound}
    else:
        given["word"] = word_meant(entry.instrument, str(entry.value))
    try:
        return Reading.model_validate(given)
    except ValidationError as error:
        raise ReadingError(error.errors()[0]["msg"].removeprefix("Value error, ")) from error


def read_readings(text: str, network: Network) -> list[Reading]:
    """Readings of a YAML list for a sheet; raises SheetError with every mistake by line."""
    data, lines, mistakes = read_yaml(text)
    try:
        entries = READINGS.validate_python(data)
    except ValidationError as error:
        for problem in error.errors():
            path = tuple(problem["loc"][:2])
            where = f"reading {int(path[0]) + 1}" if path and isinstance(path[0], int) else "file"
            field = f", {path[1]}" if len(path) > 1 else ""
            mistakes.append(Mistake(line=line_of(path, lines), where=where + field, text=problem["msg"].lower()))
        raise SheetError(mistakes) from error
    readings = []
    for number, entry in enumerate(entries):
        try:
            reading = as_reading(entry)
            check_reading(reading, network)
            readings.append(reading)
        except ReadingError as error:
            mistakes.append(Mistake(line=line_of((number,), lines), where=f"reading {number + 1}", text=str(error)))
    if mistakes:
        raise SheetError(mistakes)
    return readings
