"""Reads what is asked of a class from a few words: “back day, 14, 45 min, no jumps, keep leg press”."""

from __future__ import annotations

import re
from functools import cache
from typing import Any

from pydantic import BaseModel

from oaken.basis.data_files import shipped_json
from oaken.design.generator.request import ClassRequest, NotInClass
from oaken.domain.catalogue import Catalogue

LONGEST = 400
"""Characters of a request in words."""


class Asked(BaseModel):
    """The request with what was read put in, what was read in words, and what could not be read, with why."""

    class_request: ClassRequest
    read: list[str]
    unread: list[str]


@cache
def _words() -> dict[str, Any]:
    found: dict[str, Any] = shipped_json("oaken.design.generator", "asked.json")
    return found


def read_request(text: str, begun: ClassRequest, known: Catalogue) -> Asked:
    """Phrases apart by commas or lines, in any order; what is not said stays as it is in `begun`.

    A number alone is how many come: the first so many of `begun`'s people. What is not understood is told and changes
    nothing.
    """
    reading = _Reading(begun, known)
    for phrase in re.split(r"[,;\n]|\band\b", text[:LONGEST].lower()):
        if phrase.strip():
            reading.phrase(" ".join(phrase.split()))
    return Asked(class_request=reading.request, read=reading.read, unread=reading.unread)


class _Reading:
    def __init__(self, begun: ClassRequest, known: Catalogue) -> None:
        self.request, self.known = begun, known
        self.read: list[str] = []
        self.unread: list[str] = []

    def phrase(self, said: str) -> None:
        """Read one phrase."""
        without = re.match(r"(?:no|not|without|leave out|avoid) (.+)", said)
        if without:
            self._without(without[1])
            return
        kept = re.match(r"(?:with|keep|has to have) (.+)", said)
        if kept and self._kept(kept[1]):
            return
        more = re.match(r"more (?:for )?(?:the )?(.+)", said)
        if more:
            self._more(more[1])
            return
        left = self._length(said)
        left = self._crowd(left)
        for field in ("manner", "day", "aim", "level"):
            left = self._choice(field, left)
        rest = [word for word in left.split() if word not in _words()["glue"]]
        if rest:
            self.unread.append(f"“{' '.join(rest)}” is not understood")

    def _set(self, words: str, **fields: object) -> None:
        self.request = self.request.model_copy(update=fields)
        self.read.append(words)

    def _length(self, said: str) -> str:
        for found in re.finditer(r"(\d+(?:\.5)?) ?(h|hours?|min|minutes?|')(?!\w)", said):
            minutes = float(found[1]) * (60 if found[2].startswith("h") else 1)
            if not 5 <= minutes <= 240:
                self.unread.append(f"“{found[0]}”: a class takes 5 to 240 min")
            else:
                self._set(f"{minutes:.0f} min", slot_min=round(minutes))
            said = said.replace(found[0], " ")
        return said

    def _crowd(self, said: str) -> str:
        found = re.search(r"(?<![\w.])(\d+)(?: people| persons| of us)?(?![\w.])", said)
        if not found:
            return said
        many = int(found[1])
        if 1 <= many <= len(self.request.people):
            self._set(f"{many} people: the first of the list", people=list(self.request.people[:many]))
        else:
            self.unread.append(f"“{found[0]}”: the list has {len(self.request.people)} people")
        return said.replace(found[0], " ")

    def _choice(self, field: str, said: str) -> str:
        for value, pattern in _words()[field].items():
            found = re.search(rf"(?<!\w)(?:{pattern})(?!\w)", said)
            if found:
                names = {"manner": "format", "day": "part of the leg"}
                self._set(f"{names.get(field, field)}: {value}", **{field: value})
                return said[: found.start()] + " " + said[found.end() :]
        return said

    def _without(self, said: str) -> None:
        out = self.request.leave_out
        for tag, pattern in _words()["tags"].items():
            if re.fullmatch(pattern, said):
                self._leave(f"without {said}", out, "tags", tag)
                return
        kinds = {name: kind.id for kind in self.known.equipment.values() for name in _plurals(kind.name)}
        patterns = {name: key for key in self.known.patterns for name in _plurals(key.replace("_", " "))}
        if said in kinds:
            self._leave(f"without {said}", out, "equipment", kinds[said])
        elif said in patterns:
            self._leave(f"without {said}", out, "patterns", patterns[said])
        elif (exercise := self._exercise(said)) is not None:
            self._leave(f"without {self.known.exercises[exercise].name.lower()}", out, "exercises", exercise)
        else:
            self.unread.append(f"“no {said}”: no exercise, equipment, movement or kind of load is called so")

    def _leave(self, words: str, out: NotInClass, field: str, value: str) -> None:
        now = tuple(dict.fromkeys((*getattr(out, field), value)))
        self._set(words, leave_out=out.model_copy(update={field: now}))

    def _kept(self, said: str) -> bool:
        exercise = self._exercise(said)
        if exercise is None:
            return False
        self._set(
            f"keep {self.known.exercises[exercise].name.lower()}",
            pinned=tuple(dict.fromkeys((*self.request.pinned, exercise))),
        )
        return True

    def _more(self, said: str) -> None:
        muscles = {name: muscle.id for muscle in self.known.muscles.values() for name in _plurals(muscle.name)}
        if said in muscles:
            self._set(f"more for {said}", accents=tuple(dict.fromkeys((*self.request.accents, muscles[said]))))
        else:
            self.unread.append(f"“more {said}”: no muscle is called so")

    def _exercise(self, said: str) -> str | None:
        meant = self.known.spoken_of_all.known(said)
        return None if meant is None else meant.exercise


def _plurals(name: str) -> list[str]:
    """A name as it is said of one or of several."""
    low = name.lower()
    return [low, f"{low}s", f"{low}es", low.removesuffix("s")]
