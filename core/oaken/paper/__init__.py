"""What is printed of a class, as data; `paper.pdf` draws it."""

from collections.abc import Callable

from oaken.paper.document import (
    Cell,
    Format,
    LoadPicture,
    Paper,
    PaperCard,
    PaperFacts,
    PaperKind,
    PaperLines,
    PaperTable,
    Part,
)
from oaken.paper.on_the_floor import person_cards, poster, run_sheet, station_cards
from oaken.paper.scene import Printed

PAPERS: dict[PaperKind, tuple[str, Callable[[Printed], Paper]]] = {
    "run-sheet": ("the run sheet: times, blocks, what has to stand ready", run_sheet),
    "poster": ("the rotation, to hang on the wall", poster),
    "stations": ("a card for every station", station_cards),
    "people": ("a card for everybody, with boxes to write in", person_cards),
}
"""Every paper of a class: what it is, and how it is made."""

__all__ = [
    "PAPERS",
    "Cell",
    "Format",
    "LoadPicture",
    "Paper",
    "PaperCard",
    "PaperFacts",
    "PaperKind",
    "PaperLines",
    "PaperTable",
    "Part",
    "Printed",
    "person_cards",
    "poster",
    "run_sheet",
    "station_cards",
]
