"""A photo is pixels and nothing else, or it is refused."""

import io
import zlib

import pytest
from PIL import Image

from iron_probe.core.errors import ReadingError
from iron_probe.work.photos import LONG_SIDE, MOST_BYTES, made_anew


def photo(form: str = "JPEG", size: tuple[int, int] = (640, 480), **said: object) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", size, (90, 120, 60)).save(out, form, **said)
    return out.getvalue()


@pytest.mark.parametrize("form", ["JPEG", "PNG", "WEBP"])
def test_the_three_formats_become_jpeg_at_a_size_that_prints(form: str) -> None:
    data, width, height = made_anew(photo(form, (4000, 3000)))
    assert data.startswith(b"\xff\xd8") and (width, height) == (LONG_SIDE, LONG_SIDE * 3 // 4)


def test_what_the_camera_wrote_is_gone_and_the_photo_upright() -> None:
    said = Image.Exif()
    said[0x0112], said[0x010F] = 6, "camera of somebody"  # turned by a quarter; its maker
    said.get_ifd(0x8825)[1] = "N"
    data, width, height = made_anew(photo(exif=said, comment=b"where it was taken"))
    assert (width, height) == (480, 640)
    with Image.open(io.BytesIO(data)) as kept:
        assert not dict(kept.getexif()) and "comment" not in kept.info
    assert b"somebody" not in data and b"taken" not in data


@pytest.mark.parametrize(
    "data",
    [
        b"",
        b"<svg xmlns='http://www.w3.org/2000/svg'><script>1</script></svg>",
        b"%PDF-1.7",
        b"GIF89a" + bytes(40),
        photo()[:200],
        photo("PNG")[:60],
    ],
    ids=["empty", "svg", "pdf", "gif", "half a jpeg", "half a png"],
)
def test_what_is_no_photo_is_refused_in_words(data: bytes) -> None:
    with pytest.raises(ReadingError, match="JPEG, PNG and WebP"):
        made_anew(data)


def test_too_large_is_refused_before_it_is_unpacked() -> None:
    with pytest.raises(ReadingError, match="at most 15 MB"):
        made_anew(bytes(MOST_BYTES + 1))
    head = b"\x89PNG\r\n\x1a\n" + (b"\x00\x00\x00\rIHDR" + (30000).to_bytes(4) + (30000).to_bytes(4) + b"\x08\x02\x00\x00\x00")
    bomb = head + zlib.crc32(head[12:]).to_bytes(4) + b"\x00\x00\x00\x00IDAT" + zlib.crc32(b"IDAT").to_bytes(4)
    with pytest.raises(ReadingError):
        made_anew(bomb)


def test_what_is_seen_through_becomes_white_paper() -> None:
    out = io.BytesIO()
    Image.new("RGBA", (40, 40), (0, 0, 0, 0)).save(out, "PNG")
    with Image.open(io.BytesIO(made_anew(out.getvalue())[0])) as kept:
        assert min(kept.convert("L").getextrema()) > 250
