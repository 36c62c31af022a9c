"""Whose recording a file is, by its name."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Mapping

_PARTS = re.compile(r"[^\W\d_]+")


def person_named(file: str, people: Mapping[str, str]) -> str | None:
    """The id of the only one of `people` (names by id) whom a file's name names by id, by full name, or by first name;
    None where it names nobody, or several alike. “2026-11-24_Ines-Vale.fit” and “ines.csv” are hers."""
    words = _words(file.rsplit("/", 1)[-1].rsplit(".", 1)[0])
    for told in (_by_name, _by_id, _by_first_name):
        found = [key for key, name in people.items() if told(words, key, name)]
        if found:
            return found[0] if len(found) == 1 else None
    return None


def _by_name(words: list[str], key: str, name: str) -> bool:
    own = _words(name)
    return len(own) > 1 and all(word in words for word in own)


def _by_id(words: list[str], key: str, name: str) -> bool:
    own = _words(key)
    return bool(own) and any(words[at : at + len(own)] == own for at in range(len(words)))


def _by_first_name(words: list[str], key: str, name: str) -> bool:
    return _words(name)[:1] != [] and _words(name)[0] in words


def _words(text: str) -> list[str]:
    plain = unicodedata.normalize("NFKD", text.casefold())
    return _PARTS.findall("".join(sign for sign in plain if not unicodedata.combining(sign)))
