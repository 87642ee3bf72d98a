"""Reading capture columns: from the bytes of a file, a piece at a time, to even samples in V and A; odd lines counted and listed."""

import codecs
import io
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from itertools import chain

import numpy as np
import pyarrow as pa
from numpy.typing import NDArray
from pyarrow import csv

from iron_probe.core.arrays import Singles
from iron_probe.core.errors import CaptureError
from iron_probe.core.trace.layout import SECONDS_PER, Layout, Role

MOST_SAMPLES = 10_000_000
LISTED_ODD = 50
MOST_ODD_SHARE = 0.05
"""With more odd lines than this share, the layout is wrong, not the lines."""
SHORTEST_S, LONGEST_S = 1e-9, 1e6
"""Steps between samples that a scope or logger can take [s]."""
UNEVEN_SHARE = 0.5
"""Steps may stray this share of a step from even (what a logger rounds) before the record is put on an even grid."""


@dataclass(frozen=True, slots=True)
class OddLine:
    """A line that is no sample: its number in the file from 1, its text, and why."""

    line: int
    text: str
    why: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Samples:
    """Even samples: `start_s` of the first and `step_s` between them [s]; `data` (channels of the layout) in V or A, single precision.

    `odd` are the first odd lines, `odd_count` all of them; `uneven` whether the record was put on an even grid.
    """

    start_s: float
    step_s: float
    data: tuple[Singles, ...]
    odd: tuple[OddLine, ...]
    odd_count: int
    uneven: bool
    turned: tuple[bool, ...]

    @property
    def count(self) -> int:
        return len(self.data[0])


def as_text(pieces: Iterable[bytes]) -> Iterator[bytes]:
    """The bytes of a file as UTF-8, whatever its byte order mark says it was written in; without null characters, which no text has."""
    pieces = iter(pieces)
    first = next(pieces, b"")
    if not first.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)):
        for piece in chain([first.removeprefix(codecs.BOM_UTF8)], pieces):
            yield piece.replace(b"\x00", b"")
        return
    decoder = codecs.getincrementaldecoder("utf-16")(errors="replace")
    for piece in chain([first], pieces):
        yield decoder.decode(piece).replace("\x00", "").encode()


def read_samples(pieces: Iterable[bytes], layout: Layout, told: Callable[[int], None] | None = None) -> Samples:
    """Read a file given piece by piece; `told` hears the number of samples read so far.

    Raises CaptureError for too many samples, too few, none of the layout's columns, or time that runs backwards.
    """
    if not layout.channels:
        raise CaptureError("No column is taken: name at least one as amps, volts or drop.")
    wanted = [c.column for c in layout.channels] + ([] if layout.time == "rate" else [layout.time_column or 0])
    gathered: list[list[Singles]] = [[] for _ in layout.channels]
    times: list[NDArray[np.float64]] = []
    odd: list[OddLine] = []
    odd_count = count = 0
    for block, first_line in _whole_lines(as_text(pieces), layout.skip):
        columns, strange = _parse(block, first_line, layout, wanted)
        odd_count += len(strange)
        odd += strange[: LISTED_ODD - len(odd)]
        count += len(columns[0])
        if count > MOST_SAMPLES:
            raise CaptureError(f"More than {MOST_SAMPLES:,} samples: export a shorter stretch or a lower sample rate.")
        if odd_count > 1000 and odd_count > MOST_ODD_SHARE * (count + odd_count):
            raise CaptureError(_mostly_odd(odd, odd_count, count))
        for place, column in enumerate(columns[: len(layout.channels)]):
            gathered[place].append(column.astype(np.float32))
        if layout.time != "rate" and len(columns[-1]):
            times.append(columns[-1])
        if told is not None:
            told(count)
    if count < 2 or odd_count > MOST_ODD_SHARE * (count + odd_count):
        raise CaptureError(_mostly_odd(odd, odd_count, count))
    scaled: list[Singles] = []
    for place, channel in enumerate(layout.channels):
        data = np.concatenate(gathered[place])
        gathered[place] = []
        data *= np.float32(channel.scale * (-1 if channel.inverted else 1))
        scaled.append(data)
    turned = tuple(_turn_over(d, c.role) for d, c in zip(scaled, layout.channels, strict=True))
    start, step, uneven = 0.0, 1 / layout.rate_hz if layout.rate_hz else 1.0, False
    if layout.time == "clock":  # carried on past midnight
        clock = np.concatenate(times)
        times = [clock + 86_400 * np.cumsum(np.diff(clock, prepend=clock[0]) < -43_200)]
    if layout.time != "rate":
        start, step, uneven = _even(times)
        if uneven:
            stamps = np.concatenate(times)
            grid = start + step * np.arange(count)
            scaled = [np.interp(grid, stamps, d).astype(np.float32) for d in scaled]
    return Samples(start_s=start, step_s=step, data=tuple(scaled), odd=tuple(odd), odd_count=odd_count, uneven=uneven, turned=turned)


def _whole_lines(pieces: Iterable[bytes], skip: int) -> Iterator[tuple[bytes, int]]:
    """Blocks that end with a line, with the number of their first line; the header left out."""
    rest, line = b"", 1
    for piece in pieces:
        cut = piece.rfind(b"\n") + 1
        if not cut:
            rest += piece
            continue
        block, rest = rest + piece[:cut], piece[cut:]
        first = line
        line += block.count(b"\n")
        while first <= skip and block:
            _, _, block = block.partition(b"\n")
            first += 1
        if block:
            yield block, first
    if rest.strip() and line > skip:
        yield rest, line


def _parse(block: bytes, first_line: int, layout: Layout, wanted: list[int]) -> tuple[list[NDArray[np.float64]], list[OddLine]]:
    """Columns of a block; at once when every line is sound, line by line when one is not."""
    if layout.delimiter != " ":
        names = [str(k) for k in range(layout.columns)]
        text = layout.time_column if layout.time == "clock" else None
        types = {str(k): pa.string() if k == text else pa.float64() for k in wanted}
        try:
            table = csv.read_csv(
                io.BytesIO(block),
                read_options=csv.ReadOptions(column_names=names),
                parse_options=csv.ParseOptions(delimiter=layout.delimiter),
                convert_options=csv.ConvertOptions(
                    column_types=types, include_columns=[str(k) for k in wanted], decimal_point=layout.decimal, null_values=[]
                ),
            )
            columns = [table.column(place) for place in range(len(wanted))]
            found = [_clock(c) if k == text else c.to_numpy() for k, c in zip(wanted, columns, strict=True)]
            whole = len(columns[0]) == block.count(b"\n") + (not block.endswith(b"\n"))  # no blank line was passed over
            if whole and all(np.isfinite(f).all() for f in found):
                seconds = SECONDS_PER.get(layout.time, 1.0)
                return [*found[: len(layout.channels)], *(f * seconds for f in found[len(layout.channels) :])], []
        except (pa.ArrowInvalid, ValueError):
            pass  # some line is no sample: which, is found line by line
    return _line_by_line(block, first_line, layout, wanted)


def _line_by_line(block: bytes, first_line: int, layout: Layout, wanted: list[int]) -> tuple[list[NDArray[np.float64]], list[OddLine]]:
    rows, odd = [], []
    clock = layout.time_column if layout.time == "clock" else None
    seconds = SECONDS_PER.get(layout.time, 1.0)
    for number, raw in enumerate(block.decode("utf-8", errors="replace").splitlines(), start=first_line):
        cells = raw.split() if layout.delimiter == " " else raw.split(layout.delimiter)
        if len(cells) != layout.columns:
            odd.append(
                OddLine(number, raw[:80], "blank line" if not raw.strip() else f"{len(cells)} columns where {layout.columns} are expected")
            )
            continue
        try:
            row = [_seconds(cells[k]) if k == clock else float(cells[k].strip().strip('"').replace(layout.decimal, ".")) for k in wanted]
        except ValueError:
            odd.append(OddLine(number, raw[:80], "a cell is not a number"))
            continue
        if not np.isfinite(row).all():
            odd.append(OddLine(number, raw[:80], "a cell has no finite value"))
            continue
        rows.append(row)
    table = np.array(rows, dtype=np.float64).reshape(-1, len(wanted))
    if layout.time != "rate" and clock is None:
        table[:, -1] *= seconds
    return [table[:, k] for k in range(len(wanted))], odd


def _seconds(cell: str) -> float:
    parts = cell.strip().strip('"').replace(",", ".").replace("T", " ").split(" ")[-1].split(":")
    hours, minutes, seconds = (*parts, "0")[:3] if len(parts) > 1 else ("x", "x", "x")
    return 3600 * float(hours) + 60 * float(minutes) + float(seconds)


def _clock(column: pa.ChunkedArray) -> NDArray[np.float64]:
    return np.array([_seconds(c) for c in column.to_pylist()], dtype=np.float64)


def _turn_over(data: Singles, role: Role) -> bool:
    """Turn a clamp that was put on the wrong way round: cranking draws more one way than anything does the other. True if turned."""
    if role is not Role.AMPS:
        return False
    some = data[:: max(len(data) // 200_000, 1)]
    low, high = np.percentile(some, [0.5, 99.5])
    turned = bool(-low > abs(high) and -low > 5)
    if turned:
        np.negative(data, out=data)
    return turned


def _even(times: list[NDArray[np.float64]]) -> tuple[float, float, bool]:
    """Start and step [s], and whether the steps stray; block by block, as a record may be long. CaptureError when time does not run on."""
    before, number = times[0][0], 0
    for block in times:
        steps = np.diff(block, prepend=before)
        if (steps < 0).any():
            at = int(np.argmax(steps < 0))
            raise CaptureError(
                f"Time runs backwards at sample {number + at + 1:,}: {block[at]:g} s after {block[at] - steps[at]:g} s. Is another column the time?"
            )
        before, number = block[-1], number + len(block)
    step = float((times[-1][-1] - times[0][0]) / (number - 1))
    if step <= 0:
        raise CaptureError("All samples have the same time: name the time column, or give the sample rate instead.")
    if not SHORTEST_S <= step <= LONGEST_S:
        raise CaptureError(f"Samples {step:.3g} s apart come from no scope or logger: is another column the time, or its unit another?")
    astray = sum(int((np.abs(np.diff(block) - step) > UNEVEN_SHARE * step + 1e-12).sum()) for block in times)
    return float(times[0][0]), step, astray > 0.02 * number


def _mostly_odd(odd: list[OddLine], odd_count: int, count: int) -> str:
    first = f" Line {odd[0].line}: {odd[0].why} (“{odd[0].text}”)." if odd else ""
    return f"{odd_count:,} of {odd_count + count:,} lines do not fit the layout.{first} Check separator, decimal sign and columns."
