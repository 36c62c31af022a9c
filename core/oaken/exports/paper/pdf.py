"""Papers drawn as PDF, or as pictures of their pages, by Typst: no system package, the same bytes each time.

Typst keeps what it has drawn, so whoever prints much calls it in a process that ends
(`python -m oaken.exports.paper.pdf`).
"""

from __future__ import annotations

import io
import json
import re
import sys
from pathlib import Path
from typing import TYPE_CHECKING, Literal

import segno

from oaken.basis.lazily import when_used
from oaken.exports.paper.document import Format, Paper

if TYPE_CHECKING:
    import typst
else:
    typst = when_used("typst")


HERE = Path(__file__).parent
LONG_WORD = re.compile(r"\w{16,}")
"""Words that are broken where the line ends: nothing else breaks inside a word."""

MAY_BREAK = "\u200b"

CHARACTERS = frozenset((HERE / "fonts" / "characters.txt").read_text(encoding="utf-8"))
INSTEAD = str.maketrans({"→": ">", "≥": "at least ", "≤": "at most ", "✓": "x", "☐": "o"})
UNKNOWN = "?"
"""Stands for a letter of a script that the fonts of the papers do not have."""


def draw(paper: Paper, page: Format = "a4", drawn: Literal["pdf", "png"] = "pdf") -> list[bytes]:
    """A paper as one PDF, or as one PNG a page (72 dots an inch)."""
    inputs = {"paper": json.dumps(_breakable(paper.model_dump(mode="json")), ensure_ascii=False), "format": page}
    if paper.opens:
        inputs["code"] = code_of(paper.opens)
    found = typst.compile(
        HERE / "paper.typ",
        root=HERE,
        format=drawn,
        ppi=72.0 if drawn == "png" else None,
        sys_inputs=inputs,
        font_paths=[HERE / "fonts"],
        ignore_system_fonts=True,
    )
    return [item for item in (found if isinstance(found, list) else [found]) if item is not None]


def code_of(address: str) -> str:
    """A code to scan that opens an address, as SVG."""
    code = io.BytesIO()
    segno.make(address, error="m").save(code, kind="svg", border=2)
    return code.getvalue().decode("utf-8")


def _breakable(value: object) -> object:
    """Every long word with places to break, and a question mark for what the fonts have no sign for."""
    if isinstance(value, str):
        value = value.translate(INSTEAD)
        value = "".join(item if item in CHARACTERS or item in " \n" else UNKNOWN for item in value)
        return LONG_WORD.sub(lambda word: MAY_BREAK.join(re.findall(r"\w{1,8}", word[0])), value)
    if isinstance(value, list):
        return [_breakable(item) for item in value]
    if isinstance(value, dict):
        return {name: _breakable(item) if name not in ("part", "kind") else item for name, item in value.items()}
    return value


if __name__ == "__main__":
    given = json.load(sys.stdin)
    sys.stdout.buffer.write(draw(Paper.model_validate(given["paper"]), given["format"])[0])
