"""HTML set as PDF."""

import io

from PIL import ImageFile
from pypdf import PdfReader

from iron_probe.work.pdf import fonts, pdf_of


def test_a_page_is_set_with_its_words_and_nothing_is_fetched() -> None:
    made = pdf_of(
        '<html lang="en"><title>Plate</title><p>12.6 V, 3 Ω</p><img src="http://127.0.0.1:9/x.png" alt="far"><img src="file:///etc/hostname" alt="near"></html>'
    )
    page = PdfReader(io.BytesIO(made)).pages[0]
    assert "12.6 V, 3 Ω" in page.extract_text() and not page.images
    assert not ImageFile.LOAD_TRUNCATED_IMAGES  # what takes photos in still refuses those that were cut off


def test_the_fonts_of_the_house_stand_in_the_page() -> None:
    assert {family for family, _, _ in fonts()} == {"Barlow Condensed", "Plex Greek", "IBM Plex Sans"} and all(data for *_, data in fonts())
