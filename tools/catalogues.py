"""The catalogue of all texts that pages are worded in: what it must hold today, for `tools.generated`."""

from collections.abc import Iterator
from pathlib import Path

from babel.messages.catalog import Catalog
from babel.messages.extract import extract_from_dir
from babel.messages.pofile import read_po, write_po

APP = Path(__file__).parent.parent / "iron_probe"
KEYWORDS = {"_": None, "N_": None, "_n": (1, 2), "Phrase": None}
METHODS = [("phrase.py", "ignore"), ("**.py", "python"), ("**.html", "jinja2")]
TEMPLATE = APP / "web" / "locale" / "iron_probe.pot"


def template() -> Catalog:
    """Every text of the code, with the files it stands in."""
    found = Catalog(project="Iron Probe", copyright_holder="", charset="utf-8", fuzzy=False)
    options = {"**.html": {"extensions": "jinja2.ext.i18n", "silent": "false"}}
    for part in ("core", "web"):
        for file, _, message, _, _ in extract_from_dir(APP / part, METHODS, options_map=options, keywords=KEYWORDS):
            found.add(message, locations=[(file, None)] if file not in {f for f, _ in _places(found, message)} else [])  # type: ignore[list-item]
    return found


def _places(catalogue: Catalog, message: str | tuple[str, ...]) -> list[tuple[str, int]]:
    known = catalogue.get(message)
    return list(known.locations) if known else []


def texts(catalogue: Catalog) -> dict[object, object]:
    """Texts with their translations, whatever stands around them."""
    return {m.id if isinstance(m.id, str) else tuple(m.id): m.string for m in catalogue if m.id}


def strays() -> Iterator[str]:
    """What is wrong with the catalogues as they are kept: the template is not today's, a translation is of a text that is gone."""
    now = texts(template())
    with TEMPLATE.open("rb") as file:
        if set(texts(read_po(file))) != set(now):
            yield f"{TEMPLATE.name} is not current"
    for file_ in sorted(TEMPLATE.parent.glob("*.po")):
        with file_.open("rb") as file:
            gone = [text for text in texts(read_po(file)) if text not in now]
        if gone:
            yield f"{file_.name} has a text that the code has no more: {gone[0]!r}"


def bring_up() -> None:
    """Write the template anew, and put what is new into every translation, untranslated."""
    made = template()
    with TEMPLATE.open("wb") as out:
        write_po(out, made, width=120, omit_header=False, sort_by_file=True)
    for path in sorted(TEMPLATE.parent.glob("*.po")):
        with path.open("rb") as file:
            kept = read_po(file, locale=path.stem)
        kept.update(made, no_fuzzy_matching=True)
        kept.obsolete.clear()
        with path.open("wb") as out:
            write_po(out, kept, width=120, sort_by_file=True)
