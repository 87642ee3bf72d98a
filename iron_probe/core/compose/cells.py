"""Cells of a pasted table: parted, rid of their quotes, and read as figures."""

import csv
from math import isfinite

FORMULA = ("=", "+", "-", "@")
"""What a spreadsheet would work out begins with one of these."""
TABLE_FORMULA = "holds a formula of a spreadsheet: paste the values"


def cells_of(row: str) -> list[str]:
    """The cells of a row, parted by tabs, else by semicolons, else by commas; what stands between quotes stays together."""
    sign = "\t" if "\t" in row else ";" if ";" in row else ","
    return [c.strip() for c in next(csv.reader([row], delimiter=sign, skipinitialspace=True))]


def is_formula(cell: str) -> bool:
    """Whether a spreadsheet would work a cell out; a lone dash says that there is nothing."""
    return len(cell) > 1 and cell.startswith(FORMULA)


def whole(figure: float) -> float | int:
    """A figure without its point where it is a whole one."""
    return int(figure) if figure.is_integer() else figure


def figure_of(said: str) -> float | None:
    """A figure as it was typed, with point or comma; None where it is none, or is not finite."""
    try:
        figure = float(said.strip().replace(",", "."))
    except ValueError:
        return None
    return figure if isfinite(figure) else None
