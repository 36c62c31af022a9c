"""What is printed of a class, as data; `paper.pdf` draws it."""

from collections.abc import Callable
from datetime import date

from oaken.exports.paper.about_somebody import kept_on
from oaken.exports.paper.before_and_after import log_sheet, pre_class_sheet, set_up_cards
from oaken.exports.paper.document import (
    Cell,
    ClassPaper,
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
from oaken.exports.paper.of_a_course import programme
from oaken.exports.paper.on_the_floor import person_cards, poster, run_sheet, station_cards
from oaken.exports.paper.scene import Printed

PAPERS: dict[ClassPaper, tuple[str, Callable[[Printed, date], Paper]]] = {
    "run-sheet": ("the run sheet: times, blocks, what has to stand ready", lambda printed, today: run_sheet(printed)),
    "before-start": ("the list to read before the start, for the instructor alone", pre_class_sheet),
    "people": ("a card for everybody, with boxes to write in", lambda printed, today: person_cards(printed)),
    "stations": ("a card for every station", lambda printed, today: station_cards(printed)),
    "set-up": (
        "a card for every machine: who comes when, with which load",
        lambda printed, today: set_up_cards(printed),
    ),
    "poster": ("the rotation, to hang on the wall", lambda printed, today: poster(printed)),
    "log-sheet": ("a sheet to log sets on, exercise by exercise", lambda printed, today: log_sheet(printed)),
}
"""Every paper of a class: what it is, and how it is made on a day."""

__all__ = [
    "PAPERS",
    "Cell",
    "ClassPaper",
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
    "kept_on",
    "log_sheet",
    "person_cards",
    "poster",
    "pre_class_sheet",
    "programme",
    "run_sheet",
    "set_up_cards",
    "station_cards",
]
