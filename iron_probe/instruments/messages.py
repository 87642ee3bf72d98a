"""What the agent beside the meters and the app say to each other: JSON, one message a line of a websocket."""

from typing import Annotated
from uuid import UUID, uuid5

from pydantic import BaseModel, ConfigDict, Field

from iron_probe.core.meters.measured import Measured

PATH = "/meters/agent"
KEY_HEADER = "X-Meter-Key"
LONGEST = 16_000
"""A message of more characters is refused."""
MOST_METERS, MOST_AT_ONCE = 64, 100
_METERS = UUID("0e8f0b8e-52c1-4f1e-9f6b-0c6b7d1d9a42")


class _Message(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class Offered(_Message):
    """A meter (or one channel of it) that an agent has: its VISA `address`, what it calls itself, what it can be set to; a stand-in is
    told which job it reads."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    address: Annotated[str, Field(max_length=200)]
    identity: Annotated[str, Field(max_length=120)] = ""
    measures: Annotated[tuple[Measured, ...], Field(min_length=1)]
    channel: Annotated[int, Field(ge=0, le=99)] = 0
    four_wire: bool = False
    factor: float = 1.0
    stand_in: bool = False

    def id_of(self, agent: str) -> UUID:
        """The same meter of the same agent is the same one tomorrow; a stand-in's port changes with every start, its name does not."""
        return uuid5(_METERS, f"{agent}\n{self.name if self.stand_in else self.address}\n{self.channel}")


class Hello(_Message):
    """The first word of an agent: its name and the meters that answer it."""

    agent: Annotated[str, Field(min_length=1, max_length=60)]
    meters: Annotated[tuple[Offered, ...], Field(max_length=MOST_METERS)]


class Use(_Message):
    """A meter in use on a job, as it is set there: `reset` counts how often its least and greatest were begun anew."""

    meter: UUID
    job: int
    measured: Measured
    factor: float = 1.0
    zero: float = 0.0
    reset: int = 0


class Uses(_Message):
    """All that an agent's meters are used for now: it streams these, and no others."""

    uses: tuple[Use, ...]


Finite = Annotated[float, Field(allow_inf_nan=False)]


class Caught(_Message):
    """A crank or a load in the stream: mean after its inrush, value farthest from where it stood, how long it lasted [s], whether it does yet, and how
    long ago it ended [s]."""

    mean: Finite | None = None
    far: Finite | None = None
    lasted_s: Finite = 0.0
    runs: bool = False
    ago_s: Finite = 0.0


class Shown(_Message):
    """Figures a meter showed one after the other, in V, A or Ω, None over range: `first` is the count of the first since the stream
    began, `at` their times [s since 1970]; least, greatest and mean since the reset; what it holds steady; what it caught; or why nothing is shown."""

    meter: UUID
    job: int
    first: Annotated[int, Field(ge=0)] = 0
    at: Annotated[tuple[Finite, ...], Field(max_length=MOST_AT_ONCE)] = ()
    values: Annotated[tuple[Finite | None, ...], Field(max_length=MOST_AT_ONCE)] = ()
    least: Finite | None = None
    greatest: Finite | None = None
    mean: Finite | None = None
    held: Finite | None = None
    caught: Caught | None = None
    step: Annotated[float, Field(gt=0, allow_inf_nan=False)] = 0.001
    lost: Annotated[str, Field(max_length=300)] = ""
