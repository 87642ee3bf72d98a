"""What the field of the Bench holds: from the address, from a form that was refused, or from a reading that is to be corrected."""

from dataclasses import dataclass

from starlette.datastructures import FormData

from iron_probe.core.job.fold import LoggedReading
from iron_probe.web.entry import moment_text
from iron_probe.web.page import field


@dataclass(frozen=True, slots=True, kw_only=True)
class Typed:
    """What the field holds: from the address, or from a form that was refused."""

    red: str = ""
    black: str = ""
    branch: str = ""
    state: str = ""
    instrument: str = ""
    value: str = ""
    word: str = ""
    amps: str = ""
    corrects: str = ""
    itself: str = ""
    heard: str = ""
    same_crank: bool = False
    disturbed: bool = False
    unsteady: bool = False
    told: bool = False
    aided: str = ""
    parted: str = ""
    jumper_from: str = ""
    jumper_to: str = ""
    read_at: str = ""
    open: str = ""
    """Tracks of the map that were opened, by name, with commas between."""
    volts: str = ""
    """Whether the map says what each point should read."""

    @property
    def conditioned(self) -> bool:
        """Whether anything was not as drawn while it was read."""
        return bool(self.aided or self.parted or self.jumper_from or self.jumper_to)

    @staticmethod
    def of(form: FormData) -> "Typed":
        """Everything a refused form held, so that nothing typed is lost."""

        def text(name: str) -> str:
            return field(form, name)[:200]

        return Typed(
            red=text("red"), black=text("black"), branch=text("branch"), state=text("state"), instrument=text("instrument"),
            value=text("value"), word=text("word"), amps=text("amps"), corrects=text("corrects"), itself=text("itself"), heard=text("heard"),
            same_crank=bool(text("same_crank")), disturbed=bool(text("disturbed")), told=bool(text("told")),
            unsteady=bool(text("unsteady")), aided=text("aided"), parted=text("parted"),
            jumper_from=text("jumper_from"), jumper_to=text("jumper_to"), read_at=text("read_at"),
            open=text("open"), volts=text("volts"),
        )  # fmt: skip

    @staticmethod
    def correcting(old: LoggedReading) -> "Typed":
        """The field filled with a reading that is to be corrected."""
        r = old.reading
        jumper = r.jumpered or ("", "")
        return Typed(
            red=r.red or "", black=r.black or "", branch=r.branch or "", state=r.state, instrument=r.instrument.value,
            value=old.typed if r.value is not None else "", word=r.word or "", amps="" if r.amps is None else f"{r.amps:g}",
            corrects=str(old.id), itself=r.itself or "", heard=r.heard or "", same_crank=True, disturbed=r.disturbed, told=r.told, unsteady=bool(r.unsteady),
            aided=r.aided or "", parted=r.parted or "", jumper_from=jumper[0], jumper_to=jumper[1],
            read_at=moment_text(old.at),
        )  # fmt: skip
