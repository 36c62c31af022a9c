"""Reads a class from text."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any, get_args

from pydantic import ValidationError

from oaken.basis.limits import most
from oaken.domain.catalogue import Catalogue
from oaken.domain.room import SettingName
from oaken.physiology.heat import Air
from oaken.plan import ClassPlan, Instead, OwnSettings
from oaken.plan.notation.faults import FaultsByLine, FaultyText, Misread, TextFault, nearest
from oaken.plan.notation.kinds import KINDS, opened, take_clause
from oaken.plan.notation.names import take_exercise
from oaken.plan.notation.parts import bounded
from oaken.plan.notation.scan import Tokens
from oaken.plan.notation.vocabulary import AIMS, BLOCK_CLAUSES, BLOCK_WORDS, HEADER_WORDS, LEVELS, PURPOSES, WISH_WORDS

LONGEST_TEXT = most("text.class")
_AIR = re.compile(r"(?P<warm>-?\d+(?:\.\d+)?)\s*°?\s*c?\s*,?\s+(?P<damp>\d+(?:\.\d+)?)\s*%?", re.IGNORECASE)
_BLOCK = re.compile(r"block\s+(?P<name>.+):\s*(?P<way>[^:]*)$", re.IGNORECASE)


@dataclass(frozen=True)
class Names:
    """What there is to be named in a class: units of the room and people, by id. None where nobody knows."""

    units: frozenset[str] | None = None
    people: frozenset[str] | None = None


def read_class(
    text: str, catalogue: Catalogue, defaults: ClassPlan | None = None, names: Names | None = None
) -> ClassPlan:
    """A whole class. What the head leaves out is taken from `defaults`: name, slot, room, people and the rest; with
    `names` the units and people it names have to be there.

    Raises FaultyText with every fault, each at its word.
    """
    return read_class_noting(text, catalogue, defaults, names)[0]


def read_class_noting(
    text: str, catalogue: Catalogue, defaults: ClassPlan | None = None, names: Names | None = None
) -> tuple[ClassPlan, list[TextFault]]:
    """The same, and what words were read as where that is not to be seen at once. Raises FaultyText."""
    if len(text) > LONGEST_TEXT:
        message = f"a class is at most {LONGEST_TEXT:,} characters long, this text has {len(text):,}"
        raise FaultyText([TextFault(line=1, column=1, length=1, word=text[:20].split("\n")[0], message=message)])
    reader = _ClassReader(catalogue, defaults, names or Names())
    with FaultsByLine() as faults:
        for number, line in enumerate(text.split("\n"), 1):
            with faults.of(number):
                reader.line(bounded(line.rstrip("\r")), number)
            reader.told(number)
            if len(faults.found) >= most("text.faults"):
                break
        if not faults.found:
            faults.found += reader.missing(len(text.split("\n")))
    return reader.plan(), reader.notices


class _ClassReader:
    """Takes a class line by line."""

    def __init__(self, catalogue: Catalogue, defaults: ClassPlan | None, names: Names) -> None:
        self.catalogue = catalogue
        self.names = names
        self.notices: list[TextFault] = []
        self.noticed: list[Misread] = []
        self.lost = False
        self.head: dict[str, Any] = {}
        if defaults is not None:
            self.head = {
                name: getattr(defaults, name)
                for name in (
                    "name",
                    "slot_min",
                    "starts",
                    "room",
                    "people",
                    "aim",
                    "level",
                    "choices",
                    "note",
                    "reasons",
                )
            }
        self.said: set[str] = set()
        self.notes: list[str] | None = None
        self.blocks: list[dict[str, Any]] = []
        self.block_lines: list[int] = []

    def told(self, number: int) -> None:
        """Keep what the line that was read last had to say."""
        self.notices += [item.at(number) for item in self.noticed]
        self.noticed = []

    def line(self, line: str, number: int) -> None:
        """Take one line."""
        if not line.strip():
            return
        first = line.split(maxsplit=1)[0].lower()
        if first == "block":
            # below a head that cannot be read nothing can be said of the lines
            self.lost = True
            self._block(line, number)
            self.lost = False
        elif self.lost:
            return
        elif not self.blocks and first in HEADER_WORDS:
            self._head(first, line)
        elif not self.blocks:
            column = len(line) - len(line.lstrip())
            near = nearest(first, HEADER_WORDS)
            raise Misread(column, line.split()[0], "stands before the first block; a block begins with “block …:”",
                        near or ["block Sets: sets"])  # fmt: skip
        else:
            self._part(line)

    def _head(self, word: str, line: str) -> None:
        start = line.lower().index(word) + len(word)
        rest = line[start + 1 :] if word == "note" else line[start:].strip()
        column = start + 1
        if word not in ("note", "choose", *WISH_WORDS) and word in self.said:
            raise Misread(0, word, "stands twice")
        self.said.add(word)
        if word == "note":
            self.notes = [*(self.notes or []), rest]
            return
        if not rest:
            raise Misread(0, word, "says nothing: what stands behind it?")
        match word:
            case "class":
                self.head["name"] = rest
            case "starts":
                self.head["starts"] = rest
            case "room":
                self.head["room"] = rest
            case "people":
                self.head["people"] = _names_in(rest)
            case "together" | "apart":
                company = _names_in(rest)
                if len(company) < 2:
                    raise Misread(column, rest, f"names at least two people: {word} marit, tobin")
                self.head.setdefault(word, []).append(company)
            case "instead":
                self.head.setdefault("instead", []).append(self._instead(line, start, rest))
            case "taken":
                self._known(line, rest, self.names.units, "the room has no unit")
                self.head["taken"] = [*self.head.get("taken", []), *_names_in(rest)]
            case "new":
                self._known(line, rest, self.names.people, "nobody has the id")
                self.head["newcomers"] = [*self.head.get("newcomers", []), *_names_in(rest)]
            case "setting":
                self.head.setdefault("settings", []).append(self._setting(line, column, rest))
            case "air":
                self.head["air"] = _air(rest, column)
            case "slot":
                tokens = Tokens(line, start)
                self.head["slot_min"] = int(tokens.need_number("the class length (min)", 5, 240))
                tokens.take("min")
                if tokens.now is not None:
                    raise tokens.unknown()
            case "aim" | "level":
                known: Iterable[str] = AIMS if word == "aim" else LEVELS
                if rest.lower() not in known:
                    raise Misread(column, rest, f"is no {word}", nearest(rest, known) or list(known))
                self.head[word] = rest.lower()
            case "choose":
                question, _, school = (part.strip() for part in rest.partition(":"))
                asked = self.catalogue.questions.get(question)
                if asked is None:
                    raise Misread(column, question, "is no question of the catalogue",
                                nearest(question, self.catalogue.questions))  # fmt: skip
                schools = [school.id for school in asked.schools]
                if school not in schools:
                    raise Misread(line.rindex(school) if school else column, school or question,
                                f"is no answer to {question}", schools)  # fmt: skip
                if "choices" not in self.said:
                    self.head["choices"] = {}
                    self.said.add("choices")
                self.head["choices"][question] = school

    def _known(self, line: str, rest: str, known: frozenset[str] | None, message: str) -> None:
        """Raise Misread at a name that is none of those there are."""
        for name in _names_in(rest):
            if known is not None and name not in known:
                raise Misread(
                    line.index(name), name, f"{message} {name!r}", nearest(name, known, 0.4) or sorted(known)[:3]
                )

    def _setting(self, line: str, column: int, rest: str) -> OwnSettings:
        """`marit on press-1: seat 4, back 2`."""
        found = re.fullmatch(r"(?P<who>\S+)\s+on\s+(?P<unit>[^\s:]+)\s*:\s*(?P<values>.+)", rest)
        if found is None:
            right = "setting marit on press-1: seat 4"
            raise Misread(column, rest, f"says whose, on what, and what: {right}", [right])
        self._known(line, found["who"], self.names.people, "nobody has the id")
        self._known(line, found["unit"], self.names.units, "the room has no unit")
        values: dict[str, str] = {}
        for each_name in _names_in(found["values"]):
            name, value = next(
                (
                    (name, each_name[len(name) :].strip())
                    for name in _SETTING_NAMES
                    if each_name.lower().startswith(f"{name} ")
                ),
                ("", ""),
            )
            key = name.replace(" ", "_")
            if not value or key in values:
                raise Misread(
                    line.index(each_name),
                    each_name,
                    "is no setting: seat 4, back 2",
                    nearest(each_name.split()[0], _SETTING_NAMES),
                )
            values[key] = value
        return OwnSettings.model_validate({"person": found["who"], "unit": found["unit"], "values": values})

    def _instead(self, line: str, start: int, rest: str) -> Instead:
        """`hack squat: leg press for marit, level beginner`."""
        said, _, whom = rest.rpartition(" for ")
        exercise, mark, _ = said.partition(":")
        if not mark or not whom.strip():
            right = "instead hack squat: leg press for marit"
            raise Misread(start + 1, rest, f"says what, what in its place, and for whom: {right}", [right])
        # blanks in place of what stands before keep every word at its column
        at = line.index(exercise.strip(), start)
        behind = line.index(":", at) + 1
        exercise_id = _only_exercise(" " * at + exercise.strip(), self.catalogue)
        other_id = _only_exercise(" " * behind + line[behind : line.rindex(" for ")], self.catalogue)
        people, level = [], None
        for name in _names_in(whom):
            if name.startswith("level "):
                level = name.removeprefix("level ").strip()
                if level not in LEVELS:
                    raise Misread(line.rindex(level), level, "is no level", nearest(level, LEVELS) or list(LEVELS))
            else:
                people.append(name)
        return Instead.model_validate({"exercise": exercise_id, "other": other_id, "people": people, "level": level})

    def _block(self, line: str, number: int) -> None:
        column = len(line) - len(line.lstrip())
        line, note = _with_note_apart(line)
        found = _BLOCK.match(line.strip())
        if found is None:
            raise Misread(column, line.strip(), "a block reads “block Name: sets, then 60”", ["block Sets: sets"])
        shift = column + found.start("way")
        clauses = [part for part in _with_places(found["way"], shift) if part[1]]
        if not clauses:
            raise Misread(shift, found["name"], "says no kind of block", BLOCK_WORDS)
        block = {"name": found["name"].strip(), **opened(*clauses[0])}
        if note:
            block["note"] = note
        for place, clause in clauses[1:]:
            _block_clause(block, place, clause)
        self.blocks.append(block)
        self.block_lines.append(number)

    def _part(self, line: str) -> None:
        block = self.blocks[-1]
        KINDS[block["kind"]].part(block, line, self.catalogue, self.noticed)

    def missing(self, last: int) -> list[TextFault]:
        """What the text as a whole has not got."""
        found = []
        for block, number in zip(self.blocks, self.block_lines, strict=True):
            if not any(block.get(name) for name in ("stations", "legs", "slots", "groups")):
                found.append(Misread(0, block["name"], "this block has no exercise yet").at(number))
            for mark in block.get("stages", {}):
                if ord(mark) - ord("a") >= len(block.get("groups", [])):
                    found.append(
                        Misread(0, block["name"], f"there is no group {mark.upper()} in this block").at(number)
                    )
        if not self.blocks:
            found.append(Misread(0, "", "no block yet: “block Sets: sets”, and an exercise below it",
                               ["block Sets: sets"]).at(last))  # fmt: skip
        for name, word in (("name", "class"), ("slot_min", "slot"), ("room", "room"), ("people", "people")):
            if not self.head.get(name):
                found.append(Misread(0, word, f"the line “{word} …” is missing").at(1))
        return found

    def plan(self) -> ClassPlan:
        """The class that was read."""
        for block in self.blocks:
            for mark, stage in block.pop("stages", {}).items():
                block["groups"][ord(mark) - ord("a")]["stage"] = stage
        if self.notes is not None:
            self.head["note"] = "\n".join(self.notes)
        try:
            return ClassPlan.model_validate({**self.head, "blocks": self.blocks})
        except ValidationError as error:
            raise FaultyText([self._located(detail) for detail in error.errors(include_url=False)]) from error

    def _located(self, detail: Any) -> TextFault:
        """A fault that only the whole class shows, at the line of its block or head."""
        location = [step for step in detail["loc"] if step not in KINDS]
        message = str(detail["msg"]).removeprefix("Value error, ")
        if location and location[0] == "blocks" and len(location) > 1:
            number = self.block_lines[int(location[1])]
            word = str(self.blocks[int(location[1])]["name"])
            return Misread(0, word, f"{location[-1]}: {message}").at(number)
        return Misread(0, str(location[0]) if location else "class", message).at(1)


def _air(said: str, column: int) -> Air:
    """`31 °C, 60 %`."""
    found = _AIR.fullmatch(said)
    if found is None:
        right = "air 31 °C, 60 %"
        raise Misread(column, said, f"says the temperature and the humidity: {right}", [right])
    try:
        return Air(temperature_c=float(found["warm"]), humidity_percent=float(found["damp"]))
    except ValidationError as error:
        raise Misread(column, said, "is no air of a room: −5 to 50 °C, 1 to 100 %") from error


_SETTING_NAMES = sorted((name.replace("_", " ") for name in get_args(SettingName)), key=len, reverse=True)


def _with_note_apart(line: str) -> tuple[str, str]:
    """A head without the note in quotes at its end, and the note."""
    found = re.search(r"""\s*,?\s*["“](?P<note>[^"”]*)["”]\s*$""", line)
    if found is None:
        return line, ""
    note = " ".join(found["note"].split())
    if not note or len(note) > 200:
        raise Misread(found.start(), found["note"][:20], "a note has 1 to 200 characters")
    return line[: found.start()], note


def _names_in(rest: str) -> list[str]:
    return [item.strip() for item in rest.split(",") if item.strip()]


def _only_exercise(line: str, catalogue: Catalogue) -> str:
    """The exercise that a part of a line names, and nothing else."""
    tokens = Tokens(bounded(line))
    exercise = take_exercise(tokens, catalogue)
    if tokens.now is not None:
        raise tokens.unknown()
    return exercise.id


def _with_places(way: str, shift: int) -> list[tuple[int, str]]:
    found = []
    for part in way.split(","):
        found.append((shift + len(part) - len(part.lstrip()), part.strip()))
        shift += len(part) + 1
    return found


def _block_clause(block: dict[str, Any], column: int, clause: str) -> None:
    if take_clause(block, column, clause):
        return
    said = " ".join(clause.lower().split())
    if said.startswith("for "):
        purpose = said.removeprefix("for ").strip().replace(" ", "-")
        if purpose not in PURPOSES:
            raise Misread(column + 4, clause[4:], "is no purpose of a block", nearest(purpose, PURPOSES) or [*PURPOSES])
        block["purpose"] = PURPOSES[purpose]
    else:
        raise Misread(column, clause, "is not understood in the head of a block", nearest(said, BLOCK_CLAUSES))
