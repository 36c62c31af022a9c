"""Reads one line: a slot with what may stand in its place, several of them as a superset, a station or a leg."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Literal

from oaken.basis.limits import in_words, most
from oaken.domain.catalogue import Catalogue, Exercise
from oaken.plan import Branch, Leg, Other, Slot, Station
from oaken.plan.notation.dose import WrittenDose, read_dose, read_station_manner, read_turn
from oaken.plan.notation.faults import FaultsByLine, Misread, TextFault, nearest
from oaken.plan.notation.names import take_exercise
from oaken.plan.notation.scan import Tokens
from oaken.plan.notation.vocabulary import LEVELS

LONGEST_LINE = most("text.line")

Notices = list[Misread]


def read_slot(line: str, catalogue: Catalogue, number: int = 1) -> Slot:
    """`leg press 4 x 12, 3-1-1, rest 60`. Raises FaultyText at the word that cannot be."""
    with FaultsByLine() as faults, faults.of(number):
        return slot_in(line, catalogue, [])
    raise AssertionError("a faulty line raises")


def read_station(line: str, catalogue: Catalogue, number: int = 1) -> Station:
    """`leg press @50%, 3-1-1`: a station takes its time from the clock."""
    with FaultsByLine() as faults, faults.of(number):
        return station_in(line, catalogue, [])
    raise AssertionError("a faulty line raises")


def read_leg(line: str, catalogue: Catalogue, number: int = 1) -> Leg:
    """`kettlebell swing 8 turns of 12, rest 60`."""
    with FaultsByLine() as faults, faults.of(number):
        return leg_in(line, catalogue, [])
    raise AssertionError("a faulty line raises")


def read_part(
    kind: Literal["slot", "station", "leg"], line: str, catalogue: Catalogue
) -> tuple[Slot | Station | Leg, list[TextFault]]:
    """A line of this kind, and what its words were read as where that is not to be seen at once. Raises FaultyText."""
    read: dict[str, Callable[[str, Catalogue, Notices], Slot | Station | Leg]] = {
        "slot": slot_in,
        "station": station_in,
        "leg": leg_in,
    }
    notices: Notices = []
    with FaultsByLine() as faults, faults.of(1):
        return read[kind](line, catalogue, notices), [notice.at(1) for notice in notices]
    raise AssertionError("a faulty line raises")


def bounded(line: str) -> str:
    """The line, if it is short enough. Raises Misread."""
    if len(line) > LONGEST_LINE:
        words = line[:20].split()
        raise Misread(0, words[0] if words else "", f"this line has {len(line):,} characters: {in_words('text.line')}")
    return line


def slots_in(line: str, catalogue: Catalogue, notices: Notices) -> list[Slot]:
    """The slots of a line: one, or several that are done in turn, joined by `+`. What says no sets has those of the
    last. Raises Misread."""
    pieces = _in_turn(bounded(line))
    if len(pieces) == 1:
        return [slot_in(line, catalogue, notices)]
    bare = [piece for piece in pieces if _only_a_name(piece, catalogue)]
    if not bare or bare[-1] is pieces[-1]:
        return [slot_in(piece, catalogue, notices) for piece in pieces]
    # “leg extension + leg curl 3 x 12, rest 60”: both do three times twelve, and rest after the second
    last = slot_in(pieces[-1], catalogue, notices)
    return [
        *(
            _with_dose_of(pieces[-1], piece, catalogue) if piece in bare else slot_in(piece, catalogue, notices)
            for piece in pieces[:-1]
        ),
        last,
    ]


def _with_dose_of(piece: str, name: str, catalogue: Catalogue) -> Slot:
    """The exercise of a bare name with the sets that another piece of the line says, read anew for it: what it cannot
    take is a fault there, and its sides are its own. Raises Misread."""
    dosed = _alternatives(piece)[0]
    tokens = Tokens(dosed)
    take_exercise(tokens, catalogue)
    exercise = take_exercise(Tokens(name), catalogue)
    dose = _dose(tokens, exercise, catalogue, dosed)
    return Slot(exercise=exercise.id, sets=[run.unrested() for run in dose.sets])


def _in_turn(line: str) -> list[str]:
    """The exercises of a line that are joined by `+`, each at its own column."""
    cuts = [0]
    tokens = Tokens(line)
    depth = 0
    for place, token in enumerate(tokens.listed):
        depth += {"(": 1, ")": -1}.get(token.text, 0)
        after = tokens.listed[place + 1] if place + 1 < len(tokens.listed) else None
        starts_a_name = after is not None and after.kind == "word" and after.text.lower() not in _NO_NAME
        if token.text == "+" and depth == 0 and place > 0 and starts_a_name:
            cuts.append(token.end)
    return [
        _blanked(line, first, last)
        for first, last in zip(cuts, [cut - 1 for cut in cuts[1:]] + [len(line)], strict=True)
    ]


_NO_NAME = {"max", "hold", "ramp", "until"}


def _blanked(line: str, first: int, last: int) -> str:
    """A part of a line with blanks before it, so that every word stays at its column."""
    return " " * first + line[first:last]


def _only_a_name(piece: str, catalogue: Catalogue) -> bool:
    tokens = Tokens(piece)
    if any(token.kind not in ("word", "other") for token in tokens.listed):
        return False
    take_exercise(tokens, catalogue)
    return tokens.now is None


def slot_in(line: str, catalogue: Catalogue, notices: Notices) -> Slot:
    """A slot as a line writes it, with what may stand in its place behind “or”. Raises Misread."""
    line, decisions = _decisions(bounded(line))
    first, *others = _alternatives(line)
    tokens = Tokens(first)
    exercise = take_exercise(tokens, catalogue)
    dose = _dose(tokens, exercise, catalogue, first)
    notices += tokens.notices
    slot = Slot(exercise=exercise.id, sets=dose.sets, note=dose.note, after_last=dose.after_last)
    for other in others:
        slot = with_other(slot, other, catalogue, notices)
    return slot.model_copy(update={"decisions": decisions})


QUESTION = re.compile(
    r"\bif\s+(?!able\b)(?P<when>(?:(?!\bif\b)[^:\"])+):\s*(?P<then>(?:(?!\bif\b)[^:\"])*)", re.IGNORECASE
)


def _decisions(line: str) -> tuple[str, list[Branch]]:
    """A line without the decisions at its end, and these: `if twelve easy: add a plate`. What stands in quotes is a
    note."""
    begins = QUESTION.search(line, line.rfind('"') + 1)
    if begins is None:
        return line, []
    return line[: begins.start()], read_decisions(line[begins.start() :], begins.start())


def read_decisions(text: str, column: int) -> list[Branch]:
    """Decisions in words, one behind another, which begin at a column of their line. Raises Misread."""
    found = []
    at = 0
    while text[at:].strip():
        read = QUESTION.match(text, at + len(text[at:]) - len(text[at:].lstrip()))
        when, then = (" ".join(read[name].split()) for name in ("when", "then")) if read else ("", "")
        if read is None or not then or max(len(when), len(then)) > LONGEST_ASKED:
            word = text[at:].strip()[:40]
            message = f"a decision says what is looked at and what is done then, each in at most {LONGEST_ASKED} signs"
            raise Misread(column + at, word, message, ["if twelve easy: add a plate"])
        found.append(Branch(when=when, then=then))
        at = read.end()
    if len(found) > MOST_DECISIONS:
        raise Misread(column, "if", f"an exercise has at most {MOST_DECISIONS} decisions")
    return found


LONGEST_ASKED, MOST_DECISIONS = 80, 4


def _dose(tokens: Tokens, exercise: Exercise, catalogue: Catalogue, line: str) -> WrittenDose:
    start = tokens.now
    dose = read_dose(tokens, exercise, catalogue)
    for run in dose.sets:
        for segment in run.segments:
            if segment.metres is not None and exercise.speed_m_per_s is None:
                word = start.text if start else line
                raise Misread(
                    start.column if start else 0, word, f"{exercise.name} is not measured in metres", ["40 s"]
                )
    return dose


def _alternatives(line: str) -> list[str]:
    """A line cut at every “or”; each part at its own column."""
    marks = [token for token in Tokens(line).listed if token.kind == "word" and token.text.lower() == "or"]
    ends = [*(mark.column for mark in marks), len(line)]
    return [_blanked(line, first, last) for first, last in zip([0, *(mark.end for mark in marks)], ends, strict=True)]


def with_other(slot: Slot, text: str, catalogue: Catalogue, notices: Notices) -> Slot:
    """A slot with one more choice: `hack squat 3 x 10, @60%`, `2 x 15, @50% for level beginner`. Raises Misread."""
    said, people, level = _for_whom(text)
    tokens = Tokens(said)
    first = tokens.now
    if first is None:
        raise tokens.fault("what stands behind “or”? another exercise, or other sets for somebody")
    named = first.kind in ("word", "other") and first.text.lower() not in _NO_NAME
    exercise = take_exercise(tokens, catalogue) if named else catalogue.exercises[slot.exercise]
    dose = _dose(tokens, exercise, catalogue, said) if tokens.now is not None else None
    notices += tokens.notices
    if dose is not None and (dose.note or dose.after_last):
        raise Misread(first.column, first.text, "a note stands with the exercise before “or”")
    if not named and not people and level is None:
        message = "other sets of the same exercise are for somebody: “for level beginner”, “for marit”"
        raise Misread(first.column, first.text, message, ["for level beginner"])
    if any(
        other.people == people and other.level == level and other.exercise == (exercise.id if named else None)
        for other in slot.others
    ):
        raise Misread(first.column, first.text, "is said twice for the same people")
    other = Other(exercise=exercise.id if named else None, sets=dose.sets if dose else None, people=people, level=level)
    if len(slot.others) >= 6:
        raise Misread(first.column, first.text, "an exercise has at most six other choices")
    return slot.model_copy(update={"others": [*slot.others, other]})


_WHOM = re.compile(r"\sfor\s+(?P<whom>[^\d\"“”@(][^\"“”@(]*)$", re.IGNORECASE)


def _for_whom(text: str) -> tuple[str, list[str], str | None]:
    """What stands before “for”, and the people and the level behind it."""
    found = _WHOM.search(text)
    if found is None:
        return text, [], None
    people: list[str] = []
    level: str | None = None
    for item in (part.strip() for part in found["whom"].split(",")):
        bare = item.lower().removesuffix("s")
        if item.lower().startswith("level "):
            level = item[6:].strip().lower()
            if level not in LEVELS:
                raise Misread(found.start("whom"), item, "is no level", nearest(level, LEVELS) or [*LEVELS])
        elif bare in LEVELS or bare.removeprefix("the ") in LEVELS:
            level = bare.removeprefix("the ")
        elif re.fullmatch(r"[A-Za-z0-9._-]{1,60}", item):
            people.append(item)
        else:
            raise Misread(found.start("whom"), item or "for", "for whom? ids of people, or a level: for level beginner")
    return text[: found.start()], people, level


def station_in(line: str, catalogue: Catalogue, notices: Notices) -> Station:
    """A station as a line writes it. Raises Misread."""
    tokens = Tokens(bounded(line))
    exercise = take_exercise(tokens, catalogue)
    said = read_station_manner(tokens, exercise, catalogue)
    notices += tokens.notices
    return Station(exercise=exercise.id, **said)


def leg_in(line: str, catalogue: Catalogue, notices: Notices) -> Leg:
    """A leg of a relay as a line writes it. Raises Misread."""
    tokens = Tokens(bounded(line))
    exercise = take_exercise(tokens, catalogue)
    turns = int(tokens.need_number("the number of turns", 1, 60))
    if not tokens.take("turns", "turn") or not tokens.take("of"):
        raise tokens.fault("a leg of a relay reads “8 turns of 12”", ["turns of"])
    said = read_turn(tokens, exercise, catalogue)
    notices += tokens.notices
    return Leg(exercise=exercise.id, turns=turns, **said)
