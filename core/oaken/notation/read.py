"""Reads a class, or one line of it, from text."""

from __future__ import annotations

import re
from collections.abc import Iterable
from typing import Any

from pydantic import ValidationError

from oaken.catalogue import Catalogue
from oaken.limits import in_words, most
from oaken.notation.dose import read_sets, read_station_manner, read_turn
from oaken.notation.faults import Fault, FaultyText, TextProblem, nearest
from oaken.notation.names import take_exercise
from oaken.notation.scan import Tokens
from oaken.notation.vocabulary import (
    AIMS,
    BLOCK_CLAUSES,
    BLOCK_WORDS,
    HEADER_WORDS,
    LEVELS,
    PURPOSES,
    WISH_WORDS,
)
from oaken.physiology.heat import Air
from oaken.plan import ClassPlan, Instead, Leg, Slot, Station

LONGEST_TEXT = most("text.class")
LONGEST_LINE = most("text.line")
_AIR = re.compile(r"(?P<warm>-?\d+(?:\.\d+)?)\s*°?\s*c?\s*,?\s+(?P<damp>\d+(?:\.\d+)?)\s*%?", re.IGNORECASE)
_BLOCK = re.compile(r"block\s+(?P<name>.+):\s*(?P<way>[^:]*)$", re.IGNORECASE)


def read_slot(line: str, catalogue: Catalogue, number: int = 1) -> Slot:
    """`leg press 4 x 12, 3-1-1, rest 60`. Raises FaultyText at the word that cannot be."""
    with _Faults() as faults, faults.of(number):
        return _slot(line, catalogue)
    raise AssertionError("a faulty line raises")


def read_station(line: str, catalogue: Catalogue, number: int = 1) -> Station:
    """`leg press @50%, 3-1-1`: a station takes its time from the clock."""
    with _Faults() as faults, faults.of(number):
        return _station(line, catalogue)
    raise AssertionError("a faulty line raises")


def read_leg(line: str, catalogue: Catalogue, number: int = 1) -> Leg:
    """`kettlebell swing 8 turns of 12, rest 60`."""
    with _Faults() as faults, faults.of(number):
        return _leg(line, catalogue)
    raise AssertionError("a faulty line raises")


def _bounded(line: str) -> str:
    if len(line) > LONGEST_LINE:
        words = line[:20].split()
        raise Fault(0, words[0] if words else "", f"this line has {len(line):,} characters: {in_words('text.line')}")
    return line


def _slot(line: str, catalogue: Catalogue) -> Slot:
    tokens = Tokens(_bounded(line))
    exercise = take_exercise(tokens, catalogue)
    start = tokens.now
    sets = read_sets(tokens, exercise, catalogue)
    for run in sets:
        for segment in run.segments:
            if segment.metres is not None and exercise.speed_m_per_s is None:
                word = start.text if start else line
                raise Fault(start.column if start else 0, word, f"{exercise.name} is not measured in metres", ["40 s"])
    return Slot(exercise=exercise.id, sets=sets)


def _station(line: str, catalogue: Catalogue) -> Station:
    tokens = Tokens(_bounded(line))
    exercise = take_exercise(tokens, catalogue)
    return Station(exercise=exercise.id, **read_station_manner(tokens, catalogue))


def _leg(line: str, catalogue: Catalogue) -> Leg:
    tokens = Tokens(_bounded(line))
    exercise = take_exercise(tokens, catalogue)
    turns = int(tokens.need_number("the number of turns", 1, 60))
    if not tokens.take("turns", "turn") or not tokens.take("of"):
        raise tokens.fault("a leg of a relay reads “8 turns of 12”", ["turns of"])
    turn, rest_s = read_turn(tokens, exercise)
    return Leg(exercise=exercise.id, turn=turn, turns=turns, rest_s=rest_s)


def read_class(text: str, catalogue: Catalogue, defaults: ClassPlan | None = None) -> ClassPlan:
    """A whole class. What the head leaves out is taken from `defaults`: name, slot, room, people and the rest.

    Raises FaultyText with every fault, each at its word.
    """
    if len(text) > LONGEST_TEXT:
        message = f"a class is at most {LONGEST_TEXT:,} characters long, this text has {len(text):,}"
        raise FaultyText([TextProblem(line=1, column=1, length=1, word=text[:20].split("\n")[0], message=message)])
    reader = _ClassReader(catalogue, defaults)
    with _Faults() as faults:
        for number, line in enumerate(text.split("\n"), 1):
            with faults.of(number):
                reader.line(_bounded(line.rstrip("\r")), number)
            if len(faults.found) >= most("text.faults"):
                break
        if not faults.found:
            faults.found += reader.missing(len(text.split("\n")))
    return reader.plan()


class _ClassReader:
    """Takes a class line by line."""

    def __init__(self, catalogue: Catalogue, defaults: ClassPlan | None) -> None:
        self.catalogue = catalogue
        self.head: dict[str, Any] = {}
        if defaults is not None:
            self.head = {
                name: getattr(defaults, name)
                for name in ("name", "slot_min", "starts", "room", "people", "aim", "level", "choices", "note")
            }
        self.said: set[str] = set()
        self.notes: list[str] | None = None
        self.blocks: list[dict[str, Any]] = []
        self.block_lines: list[int] = []

    def line(self, line: str, number: int) -> None:
        """Take one line."""
        if not line.strip():
            return
        first = line.split(maxsplit=1)[0].lower()
        if first == "block":
            self._block(line, number)
        elif not self.blocks and first in HEADER_WORDS:
            self._head(first, line)
        elif not self.blocks:
            column = len(line) - len(line.lstrip())
            near = nearest(first, HEADER_WORDS)
            raise Fault(column, line.split()[0], "stands before the first block; a block begins with “block …:”",
                        near or ["block Sets: sets"])  # fmt: skip
        else:
            self._part(line)

    def _head(self, word: str, line: str) -> None:
        start = line.lower().index(word) + len(word)
        rest = line[start + 1 :] if word == "note" else line[start:].strip()
        column = start + 1
        if word not in ("note", "choose", *WISH_WORDS) and word in self.said:
            raise Fault(0, word, "stands twice")
        self.said.add(word)
        if word == "note":
            self.notes = [*(self.notes or []), rest]
            return
        if not rest:
            raise Fault(0, word, "says nothing: what stands behind it?")
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
                    raise Fault(column, rest, f"names at least two people: {word} marit, tobin")
                self.head.setdefault(word, []).append(company)
            case "instead":
                self.head.setdefault("instead", []).append(self._instead(line, start, rest))
            case "taken":
                self.head["taken"] = [*self.head.get("taken", []), *_names_in(rest)]
            case "air":
                self.head["air"] = _air(rest, column)
            case "slot":
                tokens = Tokens(line, start)
                self.head["slot_min"] = int(tokens.need_number("the slot (min)", 5, 240))
                tokens.take("min")
                if tokens.now is not None:
                    raise tokens.unknown()
            case "aim" | "level":
                known: Iterable[str] = AIMS if word == "aim" else LEVELS
                if rest.lower() not in known:
                    raise Fault(column, rest, f"is no {word}", nearest(rest, known) or list(known))
                self.head[word] = rest.lower()
            case "choose":
                question, _, school = (part.strip() for part in rest.partition(":"))
                asked = self.catalogue.questions.get(question)
                if asked is None:
                    raise Fault(column, question, "is no question of the catalogue",
                                nearest(question, self.catalogue.questions))  # fmt: skip
                schools = [one.id for one in asked.schools]
                if school not in schools:
                    raise Fault(line.rindex(school) if school else column, school or question,
                                f"is no answer to {question}", schools)  # fmt: skip
                if "choices" not in self.said:
                    self.head["choices"] = {}
                    self.said.add("choices")
                self.head["choices"][question] = school

    def _instead(self, line: str, start: int, rest: str) -> Instead:
        """`hack squat: leg press for marit, level beginner`."""
        said, _, whom = rest.rpartition(" for ")
        exercise, mark, _ = said.partition(":")
        if not mark or not whom.strip():
            right = "instead hack squat: leg press for marit"
            raise Fault(start + 1, rest, f"says what, what in its place, and for whom: {right}", [right])
        # blanks in place of what stands before keep every word at its column
        at = line.index(exercise.strip(), start)
        behind = line.index(":", at) + 1
        exercise_id = _only_exercise(" " * at + exercise.strip(), self.catalogue)
        other_id = _only_exercise(" " * behind + line[behind : line.rindex(" for ")], self.catalogue)
        people, level = [], None
        for one in _names_in(whom):
            if one.startswith("level "):
                level = one.removeprefix("level ").strip()
                if level not in LEVELS:
                    raise Fault(line.rindex(level), level, "is no level", nearest(level, LEVELS) or list(LEVELS))
            else:
                people.append(one)
        return Instead.model_validate({"exercise": exercise_id, "other": other_id, "people": people, "level": level})

    def _block(self, line: str, number: int) -> None:
        found = _BLOCK.match(line.strip())
        column = len(line) - len(line.lstrip())
        if found is None:
            raise Fault(column, line.strip(), "a block reads “block Name: sets, then 60”", ["block Sets: sets"])
        shift = column + found.start("way")
        clauses = [part for part in _with_places(found["way"], shift) if part[1]]
        if not clauses:
            raise Fault(shift, found["name"], "says no kind of block", BLOCK_WORDS)
        block = {"name": found["name"].strip(), **_way(*clauses[0])}
        for place, clause in clauses[1:]:
            _block_clause(block, place, clause)
        if block["kind"] == "circuit":
            block.setdefault("rounds", 1)
        self.blocks.append(block)
        self.block_lines.append(number)

    def _part(self, line: str) -> None:
        block = self.blocks[-1]
        match block["kind"]:
            case "circuit":
                block.setdefault("stations", []).append(_station(line, self.catalogue))
            case "relay":
                block.setdefault("legs", []).append(_leg(line, self.catalogue))
            case "together":
                block.setdefault("slots", []).append(_slot(line, self.catalogue))
            case "sets":
                groups = block.setdefault("groups", [])
                bare = line.lstrip()
                if not bare.startswith("+"):
                    groups.append({"slots": [_slot(line, self.catalogue)]})
                    return
                column = len(line) - len(bare)
                if not groups:
                    raise Fault(column, "+", "joins an exercise to the one above: there is none yet")
                # blanks in place of the mark keep every word at its column
                groups[-1]["slots"].append(_slot(line.replace("+", " ", 1), self.catalogue))

    def missing(self, last: int) -> list[TextProblem]:
        """What the text as a whole has not got."""
        found = []
        for block, number in zip(self.blocks, self.block_lines, strict=True):
            if not any(block.get(name) for name in ("stations", "legs", "slots", "groups")):
                found.append(Fault(0, block["name"], "this block has no exercise yet").at(number))
            for mark in block.get("stages", {}):
                if ord(mark) - ord("a") >= len(block.get("groups", [])):
                    found.append(Fault(0, block["name"], f"there is no group {mark.upper()} in this block").at(number))
        if not self.blocks:
            found.append(Fault(0, "", "no block yet: “block Sets: sets”, and an exercise below it",
                               ["block Sets: sets"]).at(last))  # fmt: skip
        for name, word in (("name", "class"), ("slot_min", "slot"), ("room", "room"), ("people", "people")):
            if not self.head.get(name):
                found.append(Fault(0, word, f"the line “{word} …” is missing").at(1))
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

    def _located(self, detail: Any) -> TextProblem:
        """A fault that only the whole class shows, at the line of its block or head."""
        location = [step for step in detail["loc"] if step not in ("circuit", "sets", "together", "relay")]
        message = str(detail["msg"]).removeprefix("Value error, ")
        if location and location[0] == "blocks" and len(location) > 1:
            number = self.block_lines[int(location[1])]
            word = str(self.blocks[int(location[1])]["name"])
            return Fault(0, word, f"{location[-1]}: {message}").at(number)
        return Fault(0, str(location[0]) if location else "class", message).at(1)


def _air(said: str, column: int) -> Air:
    """`31 °C, 60 %`."""
    found = _AIR.fullmatch(said)
    if found is None:
        right = "air 31 °C, 60 %"
        raise Fault(column, said, f"says the temperature and the humidity: {right}", [right])
    try:
        return Air(temperature_c=float(found["warm"]), humidity_percent=float(found["damp"]))
    except ValidationError as error:
        raise Fault(column, said, "is no air of a room: −5 to 50 °C, 1 to 100 %") from error


def _names_in(rest: str) -> list[str]:
    return [one.strip() for one in rest.split(",") if one.strip()]


def _only_exercise(line: str, catalogue: Catalogue) -> str:
    """The exercise that a part of a line names, and nothing else."""
    tokens = Tokens(_bounded(line))
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


def _way(column: int, clause: str) -> dict[str, Any]:
    words = clause.lower().split()
    if words == ["sets"]:
        return {"kind": "sets"}
    if words == ["together"]:
        return {"kind": "together"}
    if words[0] == "stations":
        found = re.fullmatch(r"stations\s+(\d+)\s*[/:]\s*(\d+)", clause.lower())
        if found is None:
            raise Fault(column, clause, "says work and change in seconds: stations 40/20", ["stations 40/20"])
        work_s, change_s = int(found[1]), int(found[2])
        _in_range(column, found[1], work_s, "work", 5, 3600)
        _in_range(column, found[2], change_s, "change", 0, 1800)
        return {"kind": "circuit", "work_s": work_s, "change_s": change_s}
    if words[0] == "relay":
        found = re.fullmatch(r"relay\s+of\s+(\d+)", clause.lower())
        if found is None:
            raise Fault(column, clause, "says how many make a team: relay of 2", ["relay of 2"])
        _in_range(column, found[1], int(found[1]), "a team", 2, 8)
        return {"kind": "relay", "team_size": int(found[1])}
    raise Fault(column, clause, "is no kind of block", nearest(words[0], BLOCK_WORDS) or BLOCK_WORDS)


def _in_range(column: int, word: str, value: int, what: str, low: int, high: int) -> None:
    if not low <= value <= high:
        raise Fault(column, word, f"{what} is {low} to {high}")


_FIGURES = {
    # clause: field, kinds of block, what, lowest, highest
    r"(\d+)\s+rounds?": ("rounds", {"circuit"}, "rounds", 1, 20),
    r"round\s+rest\s+(\d+)(?:\s*s)?": ("round_rest_s", {"circuit"}, "the rest between rounds (s)", 0, 1800),
    r"turn\s+(\d+)(?:\s*s)?": ("turn_s", {"circuit"}, "a turn (s)", 5, 300),
    r"within\s+(\d+)(?:\s*s)?": ("within_s", {"sets"}, "the time of the block (s)", 60, 14_400),
    r"tag\s+(\d+)(?:\s*s)?": ("change_s", {"relay"}, "a tag (s)", 0, 60),
    r"then\s+(\d+)(?:\s*s)?": ("move_on_s", {"circuit", "sets", "together", "relay"}, "moving on (s)", 0, 1800),
}


def _block_clause(block: dict[str, Any], column: int, clause: str) -> None:
    said = " ".join(clause.lower().split())
    for pattern, (name, kinds, what, low, high) in _FIGURES.items():
        found = re.fullmatch(pattern, said)
        if found:
            if block["kind"] not in kinds:
                raise Fault(column, clause, f"has no meaning in a block of {block['kind']}")
            _in_range(column, found[1], int(found[1]), what, low, high)
            block[name] = int(found[1])
            return
    if block["kind"] == "sets" and said == "whole circuit":
        block["rounds_run"] = "whole_circuit"
    elif block["kind"] == "sets" and said == "in order":
        block["start"] = "in_order"
    elif block["kind"] == "sets" and said == "hold machines":
        block["sharing"] = "hold"
    elif block["kind"] == "sets" and (waves := re.fullmatch(r"(\d+)\s+waves?\s+every\s+(\d+)(?:\s*s)?", said)):
        _in_range(column, waves[1], int(waves[1]), "the number of waves", 1, 12)
        _in_range(column, waves[2], int(waves[2]), "the time between waves (s)", 0, 1800)
        block |= {"waves": int(waves[1]), "wave_gap_s": int(waves[2])}
    elif block["kind"] == "sets" and re.fullmatch(r"[a-t](\s+[a-t])*(\s+before(\s+[a-t])+)+", said):
        stages = {}
        for stage, letters in enumerate(said.split("before"), 1):
            for mark in letters.split():
                if mark in stages:
                    raise Fault(column, clause, f"names the group {mark.upper()} twice")
                stages[mark] = stage
        block["stages"] = stages
    elif said.startswith("for "):
        purpose = said.removeprefix("for ").strip().replace(" ", "-")
        if purpose not in PURPOSES:
            raise Fault(column + 4, clause[4:], "is no purpose of a block", nearest(purpose, PURPOSES) or [*PURPOSES])
        block["purpose"] = PURPOSES[purpose]
    else:
        raise Fault(column, clause, "is not understood in the head of a block", nearest(said, BLOCK_CLAUSES))


class _Faults:
    """Collects the faults of all lines and raises them together at the end."""

    def __init__(self) -> None:
        self.found: list[TextProblem] = []
        self.number = 1

    def of(self, number: int) -> _Faults._Line:
        """What goes wrong inside belongs to this line."""
        return _Faults._Line(self, number)

    def __enter__(self) -> _Faults:
        return self

    def __exit__(self, kind: object, error: BaseException | None, trace: object) -> None:
        if error is None and self.found:
            raise FaultyText(self.found)

    class _Line:
        def __init__(self, faults: _Faults, number: int) -> None:
            self.faults, self.number = faults, number

        def __enter__(self) -> None:
            return None

        def __exit__(self, kind: object, error: BaseException | None, trace: object) -> bool:
            if isinstance(error, Fault):
                self.faults.found.append(error.at(self.number))
                return True
            if isinstance(error, ValidationError):
                message = str(error.errors(include_url=False)[0]["msg"]).removeprefix("Value error, ")
                self.faults.found.append(Fault(0, "", message).at(self.number))
                return True
            return False
