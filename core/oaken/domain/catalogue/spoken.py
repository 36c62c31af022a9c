"""What is meant by a name as it is spoken: one exercise where only one can be, a few to choose from otherwise."""

from __future__ import annotations

import json
import re
from collections.abc import Iterable
from difflib import get_close_matches
from functools import cache, lru_cache
from typing import NamedTuple

from pydantic import BaseModel, ConfigDict

from oaken.basis.data_files import shipped_text
from oaken.domain.catalogue.entries import Exercise

LONGEST_NAME = 60
"""Longest name of an exercise, in characters; of an unknown one no more is compared."""

MOST_CHOICES = 3
"""So many exercises are offered at most where a name could mean several."""


class Meaning(NamedTuple):
    """`exercise` is the one that is meant for sure; otherwise `choices` are what may be meant, the likeliest first.

    `known` says whether the words are a name at all; otherwise the choices only look like them.
    """

    exercise: str | None
    choices: list[str]
    known: bool


class _Words(BaseModel):
    """The data file of spoken words."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    source: str
    phrases: dict[str, str]
    words: dict[str, str]
    fillers: list[str]
    general: dict[str, list[str]]
    also: dict[str, list[str]]


@cache
def _table() -> _Words:
    text = shipped_text("oaken.domain.catalogue", "data", "spoken.json")
    return _Words.model_validate(json.loads(text))


def _singular(word: str) -> str:
    if word in _table().words or len(word) < 3 or word.endswith("ss") or not word.endswith("s"):
        return word
    if word.endswith("ies"):
        return f"{word[:-3]}y"
    return word[:-2] if word.endswith(("sses", "shes", "ches", "xes")) else word[:-1]


def _by_word(said: str) -> str:
    plain = re.sub(r"[^a-z]+", " ", said.lower().replace("'", "").replace("’", ""))
    return " ".join(_table().words.get(word, word) for word in map(_singular, plain.split()))


@cache
def _phrases() -> list[tuple[re.Pattern[str], str]]:
    by_length = sorted(_table().phrases.items(), key=lambda pair: -len(pair[0]))
    return [(re.compile(rf"\b{re.escape(_by_word(said))}\b"), _by_word(meant)) for said, meant in by_length]


@lru_cache(maxsize=4096)
def heard(said: str) -> tuple[str, ...]:
    """The words of a name with nothing left of how it happened to be written: plurals, hyphens, short forms."""
    words = _by_word(said)
    for pattern, meant in _phrases():
        words = pattern.sub(meant, words)
    return tuple(words.split())


def _bag(words: Iterable[str]) -> frozenset[str]:
    found = frozenset(words)
    return found - frozenset(_table().fillers) or found


def _id_as_words(exercise: Exercise) -> list[str]:
    """An id is a name as well, but for a shipped exercise that stands beside an own one of that id."""
    return [exercise.id] if exercise.is_own or exercise.shipped_id == exercise.id else []


class Spoken:
    """Every name of the exercises of a catalogue, and what each means.

    A name in full means its exercise whatever else it could be; then what the data file calls general, which has to be
    chosen from; then the same words in any spelling, order, number, or with words that say nothing.
    """

    def __init__(self, exercises: Iterable[Exercise]) -> None:
        self._exact: dict[str, str] = {}
        self._joined: dict[str, dict[str, None]] = {}
        self._ordered: dict[tuple[str, ...], dict[str, None]] = {}
        self._bags: dict[frozenset[str], dict[str, None]] = {}
        self._plain: dict[str, str] = {}
        table = _table()
        known: dict[str, Exercise] = {exercise.id: exercise for exercise in exercises}
        for item in known.values():
            for name in (item.name, *item.aliases):
                self._exact[" ".join(name.lower().split())] = item.id
            for name in (item.name, *item.aliases, *_id_as_words(item), *table.also.get(item.shipped_id, [])):
                words = heard(name)
                self._plain.setdefault(" ".join(words), item.id)
                self._joined.setdefault("".join(words), {})[item.id] = None
                self._ordered.setdefault(tuple(sorted(words)), {})[item.id] = None
                self._bags.setdefault(_bag(words), {})[item.id] = None
        # by the ids of the data file, whatever id a shipped exercise stands under beside an own one
        shipped = {item.shipped_id: item.id for item in known.values() if not item.is_own}
        general = [
            (heard(said), [shipped[name] for name in meant if name in shipped]) for said, meant in table.general.items()
        ]
        self._general = {"".join(words): meant for words, meant in general if meant}
        self._general_bags = {_bag(words): meant for words, meant in general if meant}

    def meaning(self, said: str) -> Meaning:
        """What these words mean. Never a guess: what could be two exercises is both of them; what is no name at all
        comes with what looks like it."""
        found = self.known(said)
        if found is not None:
            return found
        words = heard(" ".join(said[:LONGEST_NAME].lower().split()))
        return Meaning(None, self._near(words, _bag(words)) if words else [], False)

    def known(self, said: str) -> Meaning | None:
        """What these words mean; None where they are no name."""
        said = " ".join(said[:LONGEST_NAME].lower().split())
        if said in self._exact:
            return Meaning(self._exact[said], [self._exact[said]], True)
        words = heard(said)
        if not words:
            return None
        joined, ordered, bag = "".join(words), tuple(sorted(words)), _bag(words)
        for meant in (
            self._general.get(joined),
            self._joined.get(joined),
            self._ordered.get(ordered),
            self._general_bags.get(bag),
            self._bags.get(bag),
        ):
            if meant:
                found = list(meant)
                return Meaning(found[0] if len(found) == 1 else None, found[:MOST_CHOICES], True)
        return None

    def _near(self, words: tuple[str, ...], bag: frozenset[str]) -> list[str]:
        holding = sorted((len(known), name) for known, names in self._bags.items() if bag < known for name in names)
        within = sorted((-len(known), name) for known, names in self._bags.items() if known < bag for name in names)
        alike = get_close_matches(" ".join(words), self._plain, n=2 * MOST_CHOICES, cutoff=0.6)
        sure = [self._plain[name] for name in get_close_matches(" ".join(words), self._plain, n=1, cutoff=0.85)]
        listed = [
            *sure,
            *(name for _, name in holding),
            *(name for _, name in within),
            *(self._plain[name] for name in alike),
        ]
        return list(dict.fromkeys(listed))[:MOST_CHOICES]


def also_called(exercises: Iterable[Exercise]) -> dict[str, list[str]]:
    """Everything else that exercises are called on the floor, by id: names of their own, and those they share."""
    table = _table()
    shared: dict[str, list[str]] = {}
    for said, meant in table.general.items():
        for name in meant:
            shared.setdefault(name, []).append(said)
    called = (
        (exercise.id, [*table.also.get(exercise.shipped_id, []), *shared.get(exercise.shipped_id, [])])
        for exercise in exercises
    )
    return {key: words for key, words in called if words}


def faults_of_the_table(exercises: Iterable[str]) -> list[str]:
    """The ids that the data file of spoken words names and the catalogue has not got."""
    known = set(exercises)
    table = _table()
    return sorted({name for names in table.general.values() for name in names if name not in known} |
                  {name for name in table.also if name not in known})  # fmt: skip
