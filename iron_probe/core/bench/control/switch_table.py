"""Switches by position: which terminals should be live, what was read, the odd one; and continuity with the plug off."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from iron_probe.core.circuit.elements import Switch
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.limits import CONTACT_CLOSED_OHM, CONTACT_OPEN_OHM, TERMINAL_DEAD_SHARE, TERMINAL_LIVE_SHARE
from iron_probe.core.phrase import Phrase, together


@dataclass(frozen=True, slots=True, kw_only=True)
class Cell:
    """A terminal in a position: whether it should be live (or the contact closed), in which state to read it, what was read, and whether that is odd."""

    point: str
    state: str | None
    wanted: bool
    seen: float | None
    odd: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class SwitchTable:
    """A switch: its poles by title, its control's positions, and a cell for each; `finding` names the odd one."""

    part: str
    control: str
    positions: tuple[str, ...]
    feed: str
    poles: tuple[tuple[Switch, tuple[Cell, ...]], ...]
    finding: str


def switches_of(sheet: Sheet) -> list[list[Switch]]:
    """The switches of the starting side, poles of one part together."""
    parts: dict[str, list[Switch]] = {}
    for element in sheet.elements:
        if isinstance(element, Switch) and element.role in ("ignition", "start", "interlock") and element.closed_in:
            parts.setdefault(element.part or element.id, []).append(element)
    return list(parts.values())


def state_with(sheet: Sheet, control: str, position: str) -> str | None:
    """The first state in which a control stands in a position, the others preferably as for cranking."""
    rest = sheet.controls[control].positions[0]
    fitting = [s for s, state in sheet.states.items() if state.set.get(control, rest) == position]
    crank = sheet.cranking_state()
    return crank if crank in fitting else next(iter(fitting), None)


def live_table(sheet: Sheet, poles: Sequence[Switch], readings: Sequence[Reading]) -> SwitchTable:
    """Terminals live by position against battery minus; the newest reading of each counts."""

    def odd(seen: float, wanted: bool) -> bool:
        return abs(seen) < TERMINAL_LIVE_SHARE * sheet.system_v if wanted else abs(seen) > TERMINAL_DEAD_SHARE * sheet.system_v

    rows = _rows(sheet, poles, lambda pole, state: _newest(readings, pole.end, sheet.minus, state), odd)
    return _table(sheet, poles, rows, _finding(sheet, poles, rows, readings))


def continuity_table(sheet: Sheet, poles: Sequence[Switch], readings: Sequence[Reading]) -> SwitchTable:
    """Contacts closed by position with the plug off, by ohms across each pole."""

    def ohms(pole: Switch, state: str | None) -> float | None:
        ends = {pole.start, pole.end}
        taken = (r for r in reversed(readings) if r.instrument is Instrument.OHMMETER and {r.red, r.black} == ends and r.state == state)
        return next((r.value for r in taken), None)

    rows = _rows(sheet, poles, ohms, lambda seen, wanted: seen > CONTACT_CLOSED_OHM if wanted else seen < CONTACT_OPEN_OHM)
    odd_poles = [pole.title for pole, cells in rows if any(c.odd for c in cells)]
    taken = any(c.seen is not None for _, cells in rows for c in cells)
    finding = Phrase("As the table says so far.") if taken else ""
    if odd_poles:
        finding = Phrase("{odd_poles}: not as the table says; the switch is at fault.", odd_poles=together(odd_poles))
    return _table(sheet, poles, rows, finding)


SwitchRows = list[tuple[Switch, tuple[Cell, ...]]]


def _rows(
    sheet: Sheet, poles: Sequence[Switch], read: Callable[[Switch, str | None], float | None], odd: Callable[[float, bool], bool]
) -> SwitchRows:
    """A row a pole, a cell a position: what the sheet wants there, what was read, and whether that is odd."""
    control = next(iter(poles[0].closed_in))
    rows: SwitchRows = []
    for pole in poles:
        cells = []
        for position in sheet.controls[control].positions:
            state, wanted = state_with(sheet, control, position), position in pole.closed_in.get(control, [])
            seen = read(pole, state)
            cells.append(Cell(point=pole.end, state=state, wanted=wanted, seen=seen, odd=seen is not None and odd(seen, wanted)))
        rows.append((pole, tuple(cells)))
    return rows


def _table(sheet: Sheet, poles: Sequence[Switch], rows: SwitchRows, finding: str) -> SwitchTable:
    control = next(iter(poles[0].closed_in))
    return SwitchTable(
        part=poles[0].part or poles[0].title, control=control, positions=tuple(sheet.controls[control].positions), feed=poles[0].start,
        poles=tuple(rows), finding=finding,
    )  # fmt: skip


def _newest(readings: Sequence[Reading], point: str, minus: str, state: str | None) -> float | None:
    return next(
        (
            r.value
            for r in reversed(readings)
            if r.instrument is Instrument.VOLTMETER and {r.red, r.black} == {point, minus} and r.state == state
        ),
        None,
    )


def _finding(sheet: Sheet, poles: Sequence[Switch], rows: Sequence[tuple[Switch, tuple[Cell, ...]]], readings: Sequence[Reading]) -> str:
    odd = [(pole, cell) for pole, cells in rows for cell in cells if cell.odd]
    if not odd:
        return Phrase("As the table says so far.") if any(c.seen is not None for _, cells in rows for c in cells) else ""
    pole, cell = odd[0]
    if not cell.wanted:
        return Phrase(
            "{title}: live where it should be dead: stuck contact, or fed back from elsewhere. Unplug the switch to tell.", title=pole.title
        )
    feed = _newest(readings, poles[0].start, sheet.minus, cell.state)
    if feed is None:
        return Phrase(
            "{title}: dead where it should be live. Read the feed ({feed}) in the same position before blaming the switch.",
            title=pole.title,
            feed=sheet.point(poles[0].start).title,
        )
    if abs(feed) < TERMINAL_LIVE_SHARE * sheet.system_v:
        return Phrase("{title} is dead, and so is its feed: the fault lies before the switch.", title=pole.title)
    return Phrase(
        "{title}: fed and dead where it should be live: this contact. Prove it with the plug off, or bridge it.", title=pole.title
    )
