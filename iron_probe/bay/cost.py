"""What the customer pays: the yard's hours and the parts that were put in, by the price list."""

from collections.abc import Iterable
from functools import cache
from pathlib import Path

import yaml
from pydantic import BaseModel, ConfigDict, PositiveInt

from iron_probe.core.circuit.sheet import Sheet

FILE = Path(__file__).with_name("prices.yaml")


class Prices(BaseModel):
    """An hour of work, and a part by its type, in whole crowns."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    hour: PositiveInt
    parts: dict[str, PositiveInt]


@cache
def prices() -> Prices:
    """The list; raises pydantic's ValidationError where it is none."""
    return Prices.model_validate(yaml.safe_load(FILE.read_text()))


def cost(sheet: Sheet, minutes: float, parts: Iterable[str], fuses: int = 0) -> int:
    """Crowns for so many minutes, for parts of the sheet by id, each as often as it was put in, and for fuses that blew on trial."""
    list_ = prices()
    return round(list_.hour * minutes / 60) + sum(list_.parts[sheet.element(part).type] for part in parts) + fuses * list_.parts["fuse"]
