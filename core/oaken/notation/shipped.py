"""What is shipped in the notation itself: the cheat sheet, and a template for each kind of block."""

from __future__ import annotations

import json
from functools import cache
from importlib.resources import files
from typing import Any

from pydantic import BaseModel, ConfigDict

from oaken.catalogue import Catalogue
from oaken.notation.read import read_class
from oaken.notation.vocabulary import BLOCK_CLAUSES, BLOCK_WORDS, HEADER_WORDS, LINE_WORDS, STANCES
from oaken.plan import Block


class Scheme(BaseModel):
    """One entry of the cheat sheet: a scheme, how it is written, and what that says."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    scheme: str = ""
    line: str = ""
    lines: list[str] = []
    says: str


class CheatSheet(BaseModel):
    """The notation on one page, and the words that are completed while it is typed."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    slots: list[Scheme]
    groups: list[Scheme]
    heads: list[Scheme]
    heading: list[Scheme]
    words: list[str] = []


class Template(BaseModel):
    """A block to begin with: its name, what it is for, and its text."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    id: str
    name: str
    what: str
    lines: list[str]

    def block(self, catalogue: Catalogue) -> Block:
        """The block, without ids."""
        head = "class Template\nslot 60 min\nroom room\npeople somebody\n"
        (block,) = read_class(head + "\n".join(self.lines), catalogue).blocks
        return block


def _read(name: str) -> Any:
    return json.loads(files("oaken.notation").joinpath(name).read_text(encoding="utf-8"))


@cache
def cheat_sheet() -> CheatSheet:
    """The notation on one page, from the data file beside this module."""
    words = [*dict.fromkeys([*LINE_WORDS, *STANCES, *HEADER_WORDS, *BLOCK_WORDS, *BLOCK_CLAUSES])]
    return CheatSheet.model_validate({**_read("cheat_sheet.json"), "words": [one for one in words if len(one) > 2]})


@cache
def templates() -> list[Template]:
    """A template for each kind of block, from the data file beside this module."""
    return [Template.model_validate(row) for row in _read("templates.json")["templates"]]
