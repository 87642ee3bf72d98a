"""Points typed line by line during a test: time and volts, with amps or watts where the load is not constant."""

import re

from iron_probe.core.errors import Mistake, ReadingError, SheetError

_SPLIT = re.compile(r"[;\t ]+")
MOST_LINES = 2000


def parse_points(text: str, columns: tuple[str, ...], optional: int = 0) -> list[tuple[float, ...]]:
    """Rows of numbers named by `columns`, the last `optional` of which may be left out; decimal comma or point.

    Raises SheetError listing every line that is no row, and ReadingError when there is none at all.
    """
    rows: list[tuple[float, ...]] = []
    mistakes: list[Mistake] = []
    for number, line in enumerate(text.splitlines(), start=1):
        cells = [c for c in _SPLIT.split(line.strip()) if c]
        if not cells:
            continue
        try:
            row = tuple(float(c.replace(",", ".")) for c in cells)
        except ValueError:
            mistakes.append(Mistake(line=number, where="points", text=f"“{line.strip()[:40]}” is not {' and '.join(columns)}"))
            continue
        if not len(columns) - optional <= len(row) <= len(columns):
            mistakes.append(
                Mistake(line=number, where="points", text=f"{len(row)} numbers; give {' and '.join(columns)}, parted by a space or tab")
            )
        elif any(abs(v) > 1e5 for v in row):
            mistakes.append(Mistake(line=number, where="points", text="a number beyond 100,000; check the decimal point"))
        else:
            rows.append(row)
    if len(rows) > MOST_LINES:
        mistakes.append(Mistake(line=MOST_LINES + 1, where="points", text=f"at most {MOST_LINES:,} lines; import a capture instead"))
    if mistakes:
        raise SheetError(mistakes)
    if not rows:
        raise ReadingError(
            f"No points yet. Type {' and '.join(columns)} on each line, such as “{' '.join(['5', '12.1', '24'][: len(columns)])}”."
        )
    return rows
