"""What is printed, as data: papers of cards and parts, drawn once as PDF and once on the screen from the same.

Nothing here knows fonts or pages. A cell that is None is an empty box to write in.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field

ClassPaper = Literal["run-sheet", "before-start", "people", "stations", "set-up", "poster", "log-sheet"]
PaperKind = ClassPaper | Literal["programme", "person"]
Format = Literal["a4", "letter"]
Cell = str | None


class PaperTable(BaseModel):
    """Rows under a head that every page repeats; `widths` are shares of the line, `strong` the columns in bold."""

    part: Literal["table"] = "table"
    head: list[str]
    widths: list[float]
    rows: list[list[Cell]]
    strong: list[int] = []


class PaperFacts(BaseModel):
    """Names and what they are: short, side by side."""

    part: Literal["facts"] = "facts"
    pairs: list[tuple[str, Cell]]


class PaperLines(BaseModel):
    """Lines of text under a heading; `checks` puts a box to tick before each."""

    part: Literal["lines"] = "lines"
    heading: str = ""
    lines: list[str]
    checks: bool = False


class LoadPicture(BaseModel):
    """A load as it is set, drawn: the plates of one side of a bar from the inside out, or where the pin of a stack is.

    `plates` are the numbers that stand on them, `pin` the one that stands at the hole; `words` say the same.
    """

    part: Literal["load"] = "load"
    words: str
    plates: list[float] = []
    pin: float | None = None


Part = Annotated[PaperTable | PaperFacts | PaperLines | LoadPicture, Field(discriminator="part")]


class PaperCard(BaseModel):
    """What is cut out or read together: it is never divided between two pages unless it is longer than one.

    `badge` is what is seen from afar (a number or a letter).
    """

    badge: str = ""
    title: str
    under: str = ""
    parts: list[Part] = []


class Paper(BaseModel):
    """One document to print. `columns` is how many cards stand side by side, `whole`: one card a page.

    `wall`: it may hang where everybody reads it, so nothing in it is about anybody's health. `opens` is the address
    behind a code to scan; empty where there is none.
    """

    kind: PaperKind
    title: str
    under: str = ""
    landscape: bool = False
    columns: Literal[1, 2, 3] = 1
    whole: bool = False
    poster: bool = False
    wall: bool = False
    opens: str = ""
    cards: list[PaperCard]
    foot: str = ""
