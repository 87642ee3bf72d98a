"""Reading an uploaded file."""

import gzip

import pytest

from iron_probe.core.errors import CaptureError
from iron_probe.work.import_capture import PIECE, unpacked

TEXT = b"time,amps\n" + b"0.1,2\n" * 5000


def in_blocks(data: bytes, size: int = 1000) -> list[bytes]:
    return [data[k : k + size] for k in range(0, len(data), size)]


def test_plain_packed_and_packed_in_several_pieces_read_the_same() -> None:
    packed = gzip.compress(TEXT, mtime=0)
    for sent in (TEXT, packed, gzip.compress(TEXT[:700]) + gzip.compress(TEXT[700:])):
        assert b"".join(unpacked(in_blocks(sent))) == TEXT


def test_a_packed_file_is_never_held_whole() -> None:
    bomb = gzip.compress(b"0" * (8 * PIECE))
    assert max(len(piece) for piece in unpacked(in_blocks(bomb))) <= PIECE


@pytest.mark.parametrize(
    ("data", "told"),
    [
        (gzip.compress(TEXT, mtime=0)[:-20], "ends in the middle"),
        (gzip.compress(TEXT, mtime=0) + b"rest", "something else"),
        (b"\x1f\x8b" + b"x" * 500, "broken"),
    ],
    ids=["cut", "more", "broken"],
)
def test_a_damaged_one_says_so(data: bytes, told: str) -> None:
    with pytest.raises(CaptureError, match=told):
        b"".join(unpacked(in_blocks(data)))
