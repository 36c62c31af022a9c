"""What is shipped in the notation itself: the cheat sheet, and a template for each kind of block."""

from __future__ import annotations

from functools import cache
from typing import Any

from pydantic import BaseModel, ConfigDict

from oaken.basis.data_files import shipped_json
from oaken.domain.catalogue import Catalogue
from oaken.domain.catalogue import catalogue as shipped
from oaken.plan import Block
from oaken.plan.naming import EXERCISE_FIELDS
from oaken.plan.notation.read import read_class
from oaken.plan.notation.vocabulary import BLOCK_CLAUSES, BLOCK_WORDS, HEADER_WORDS, LINE_WORDS, STANCES


class WrittenScheme(BaseModel):
    """One entry of the cheat sheet: a scheme, how it is written, and what that says."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    scheme: str = ""
    line: str = ""
    lines: list[str] = []
    says: str


class CheatSheet(BaseModel):
    """The notation on one page, and the words that are completed while it is typed."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    slots: list[WrittenScheme]
    groups: list[WrittenScheme]
    heads: list[WrittenScheme]
    heading: list[WrittenScheme]
    words: list[str] = []


class BlockTemplate(BaseModel):
    """A block to begin with: its name, what it is for, and its text."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    id: str
    name: str
    what: str
    lines: list[str]

    def block(self, catalogue: Catalogue) -> Block:
        """The block, without ids. Its lines mean shipped exercises, whatever own entries are called."""
        head = "class BlockTemplate\nslot 60 min\nroom room\npeople somebody\n"
        (block,) = read_class(head + "\n".join(self.lines), shipped()).blocks
        document = _standing_as(block.model_dump(mode="json", exclude_none=True), catalogue)
        return type(block).model_validate(document) if catalogue.own else block


def _standing_as(document: Any, known: Catalogue) -> Any:
    """A block's document with the ids under which its shipped exercises stand in a catalogue with own entries."""
    if isinstance(document, list):
        return [_standing_as(item, known) for item in document]
    if not isinstance(document, dict):
        return document
    named = {key: known.standing_as(document[key]) for key in EXERCISE_FIELDS if isinstance(document.get(key), str)}
    return {key: named.get(key) or _standing_as(value, known) for key, value in document.items()}


def _read(name: str) -> Any:
    return shipped_json("oaken.plan.notation", name)


@cache
def cheat_sheet() -> CheatSheet:
    """The notation on one page, from the data file beside this module."""
    words = [*dict.fromkeys([*LINE_WORDS, *STANCES, *HEADER_WORDS, *BLOCK_WORDS, *BLOCK_CLAUSES])]
    return CheatSheet.model_validate({**_read("cheat_sheet.json"), "words": [word for word in words if len(word) > 2]})


@cache
def templates() -> list[BlockTemplate]:
    """A template for each kind of block, from the data file beside this module."""
    return [BlockTemplate.model_validate(row) for row in _read("templates.json")["templates"]]
