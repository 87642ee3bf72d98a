"""A circuit sheet checked whole before it is kept: what reads well must also solve, in every state, and allow some work."""

from iron_probe.core.bench.drop_board import good_machine
from iron_probe.core.circuit.ampacity import Overload, overload
from iron_probe.core.circuit.elements import Conditions
from iron_probe.core.circuit.heavy_path import heavy_path
from iron_probe.core.circuit.network import network_of
from iron_probe.core.circuit.read_sheet import read_sheet
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.fault_modes import fault_modes
from iron_probe.core.diagnose.scope import Scope
from iron_probe.core.errors import Mistake, SheetError, SolveError

UNFIT_V = 1e4
"""A sound machine never reads so much [V]: where it does, the figures of the sheet do not belong together."""


def read_whole_sheet(text: str) -> Sheet:
    """Parse and check a circuit sheet and try what the app will do with it; raises SheetError with all mistakes found."""
    sheet = read_sheet(text)
    mistakes = [*_path_mistakes(sheet), *_state_mistakes(sheet)]
    if not mistakes and not any(fault_modes(network_of(sheet), work) for work in Scope):
        mistakes.append(Mistake(line=0, where="elements", text="nothing on this sheet can fail: no work can use it"))
    if mistakes:
        raise SheetError(mistakes)
    return sheet


def overloads(sheet: Sheet) -> list[tuple[str, Overload]]:
    """Cables and fuses that carry more in some state of the sound machine than they last at, with that state."""
    network, found = network_of(sheet), []
    for name, state in sheet.states.items():
        amps = good_machine(sheet, name, Conditions()).solution.amps[:, 0]
        over = [overload(owner, float(a), state.cranking) for owner, a in zip(network.owners, amps, strict=True)]
        found += [(name, o) for o in over if o is not None]
    return found


def _path_mistakes(sheet: Sheet) -> list[Mistake]:
    try:
        heavy_path(network_of(sheet))
    except SolveError as error:
        return [Mistake(line=0, where="elements", text=str(error))]
    return []


def _state_mistakes(sheet: Sheet) -> list[Mistake]:
    found = []
    for state in sheet.states:
        try:
            volts = good_machine(sheet, state, Conditions()).solution.volts
        except (SolveError, ArithmeticError) as error:
            found.append(Mistake(line=0, where=f"state {state}", text=f"cannot be solved: {error}"))
            continue
        if not (abs(volts) < UNFIT_V).all():
            found.append(
                Mistake(line=0, where=f"state {state}", text="solves to impossible volts: check the figures of batteries and loads")
            )
    return found
