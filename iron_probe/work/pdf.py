"""HTML set as PDF, with nothing fetched from anywhere: pictures and fonts stand in the page as data."""

from base64 import b64encode
from functools import cache
from pathlib import Path

from PIL import ImageFile

FONTS = Path(__file__).parent.parent / "web" / "static" / "fonts"
SET_IN = (
    ("Barlow Condensed", 500, "barlow-condensed-latin-500-normal"),
    ("Barlow Condensed", 700, "barlow-condensed-latin-700-normal"),
    ("Plex Greek", 500, "ibm-plex-sans-greek-400-normal"),
    ("IBM Plex Sans", 400, "ibm-plex-sans-latin-400-normal"),
    ("IBM Plex Sans", 700, "ibm-plex-sans-latin-600-normal"),
)
"""Family, weight and file of the fonts that may be set in."""


@cache
def fonts() -> tuple[tuple[str, int, str], ...]:
    """Family, weight and data of each font, for the head of a page."""
    return tuple((family, weight, b64encode((FONTS / f"{file}.woff2").read_bytes()).decode()) for family, weight, file in SET_IN)


def pdf_of(text: str) -> bytes:
    """A page of HTML as PDF, tagged so that it can be read aloud."""
    half_read = ImageFile.LOAD_TRUNCATED_IMAGES
    from weasyprint import HTML  # noqa: PLC0415  # a second to load, and few ask for it
    from weasyprint.urls import URLFetcher  # noqa: PLC0415

    ImageFile.LOAD_TRUNCATED_IMAGES = half_read  # it has photos that were cut off be taken, in the whole process
    made: bytes = HTML(string=text, url_fetcher=URLFetcher(allowed_protocols=("data",))).write_pdf(pdf_variant="pdf/ua-1")
    return made
