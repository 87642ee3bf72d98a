"""The feed map of each sheet: laid out once, its ink drawn once for each operating state."""

from functools import cache, lru_cache

from markupsafe import Markup

from iron_probe.core.circuit.network import SheetKey, network_of
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.draw.feed_map import FeedMap, lay_out
from iron_probe.core.draw.starting_side import starting_side
from iron_probe.core.solve.operate import solve_state
from iron_probe.web.page import templates


@cache
def _laid_out(key: SheetKey) -> FeedMap:
    return lay_out(network_of(starting_side(key.sheet)))


@lru_cache(maxsize=256)
def _ink(key: SheetKey, state: str) -> Markup:
    network = network_of(key.sheet)
    solved = solve_state(network, state)
    closed = {name: bool(solved.closed[number, 0]) for name, number in network.branch_row.items()}
    drawn = templates.get_template("_ink.html").render(d=_laid_out(key), sheet=key.sheet, closed=closed)
    return Markup(drawn)


def map_of(sheet: Sheet) -> FeedMap:
    """Coordinates of a sheet's map."""
    return _laid_out(SheetKey(sheet))


def ink_of(sheet: Sheet, state: str) -> Markup:
    """The wires and symbols of a sheet's map, with switches and contacts as a sound machine has them in that state."""
    return _ink(SheetKey(sheet), state)
