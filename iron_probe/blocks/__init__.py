"""The pattern book that ships: kinds of machine, the questions, the blocks they are put together from, and a library of variants."""

from functools import cache
from importlib.resources import files
from importlib.resources.abc import Traversable

from iron_probe.core.compose.pattern_book import STAGES, Block, PatternBook, read_block, read_kinds, read_library, read_questions


@cache
def pattern_book() -> PatternBook:
    """The book, read once."""
    here = files(__name__)

    def text(name: str) -> str:
        return (here / name).read_text(encoding="utf-8")

    def blocks_of(folder: Traversable) -> dict[str, Block]:
        return {
            f"{folder.name}/{f.name.removesuffix('.yaml')}": read_block(f.read_text(encoding="utf-8"))
            for f in sorted(folder.iterdir(), key=lambda f: f.name)
            if f.name.endswith(".yaml")
        }

    blocks = {name: block for stage in STAGES for name, block in blocks_of(here / stage).items()}
    return PatternBook(read_kinds(text("kinds.yaml")), read_questions(text("questions.yaml")), blocks, read_library(text("library.yaml")))
