"""Names of people, rooms, machines, classes and studios: one type for all, and what people are called in short."""

from __future__ import annotations

import re
import unicodedata
from typing import Annotated, Any

from pydantic import BeforeValidator, Field

JOINERS = "\u200c\u200d"
"""Signs that are not seen by themselves and belong to the spelling of some scripts."""

SPACES = ("Zs", "Zl", "Zp")
UNSEEN = ("Cc", "Cf", "Cs", "Co")
"""Kinds of characters, as Unicode counts them: white space, and what is not seen at all (controls, signs that turn the
direction of the text, halves of characters)."""


def cleaned(name: str) -> str:
    """A name without what nobody sees: line ends and other white space are spaces, controls and signs that hide or turn
    what stands behind them are gone.

    >>> cleaned("  Ada\\u200b\\u202e\\r\\nByron ")
    'Ada  Byron'
    """
    seen = []
    for sign in name:
        kind = unicodedata.category(sign)
        if sign in "\t\n\v\f\r" or kind in SPACES:
            seen.append(" ")
        elif kind not in UNSEEN or sign in JOINERS:
            seen.append(sign)
    return "".join(seen).strip(f" {JOINERS}")


def _name(value: Any) -> Any:
    if not isinstance(value, str):
        return value
    found = cleaned(value)
    if value and not found:
        raise ValueError("a name has something in it that can be seen")
    return found


Clean = BeforeValidator(_name)
"""Makes a text a name: put it before the bounds of its length."""

PersonName = Annotated[str, Clean, Field(min_length=1, max_length=120)]
"""What somebody is called, in full."""

ThingName = Annotated[str, Clean, Field(min_length=1, max_length=120)]
"""What a room, a studio or a list is called."""

AdviceKey = Annotated[str, Field(pattern=r"^[0-9a-f]{16}$")]
"""By what a line of advice is known again until what it says changes."""

PLACEHOLDER = re.compile(r"^(?:[0-9]+|[A-Z]|#[0-9]+)$")
"""A second word that tells one placeholder from another: “Beginner 3”, “Guest B”."""


def first_name(name: str) -> str:
    """What somebody is called on the floor: the first word of the name, with the number behind a placeholder.

    >>> [first_name(name) for name in ("Tobin Askrigg", "Beginner 3", "Guest B", "Ada")]
    ['Tobin', 'Beginner 3', 'Guest B', 'Ada']
    """
    first, *others = name.split() or [name]
    return f"{first} {others[0]}" if others and PLACEHOLDER.match(others[0]) else first
