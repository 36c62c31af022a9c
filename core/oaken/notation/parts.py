"""Reads one line: a slot, a station or a leg."""

from __future__ import annotations

from oaken.basis.limits import in_words, most
from oaken.catalogue import Catalogue
from oaken.notation.dose import read_sets, read_station_manner, read_turn
from oaken.notation.faults import FaultsByLine, Misread
from oaken.notation.names import take_exercise
from oaken.notation.scan import Tokens
from oaken.plan import Leg, Slot, Station

LONGEST_LINE = most("text.line")


def read_slot(line: str, catalogue: Catalogue, number: int = 1) -> Slot:
    """`leg press 4 x 12, 3-1-1, rest 60`. Raises FaultyText at the word that cannot be."""
    with FaultsByLine() as faults, faults.of(number):
        return slot_in(line, catalogue)
    raise AssertionError("a faulty line raises")


def read_station(line: str, catalogue: Catalogue, number: int = 1) -> Station:
    """`leg press @50%, 3-1-1`: a station takes its time from the clock."""
    with FaultsByLine() as faults, faults.of(number):
        return station_in(line, catalogue)
    raise AssertionError("a faulty line raises")


def read_leg(line: str, catalogue: Catalogue, number: int = 1) -> Leg:
    """`kettlebell swing 8 turns of 12, rest 60`."""
    with FaultsByLine() as faults, faults.of(number):
        return leg_in(line, catalogue)
    raise AssertionError("a faulty line raises")


def bounded(line: str) -> str:
    """The line, if it is short enough. Raises Misread."""
    if len(line) > LONGEST_LINE:
        words = line[:20].split()
        raise Misread(0, words[0] if words else "", f"this line has {len(line):,} characters: {in_words('text.line')}")
    return line


def slot_in(line: str, catalogue: Catalogue) -> Slot:
    """A slot as a line writes it. Raises Misread."""
    tokens = Tokens(bounded(line))
    exercise = take_exercise(tokens, catalogue)
    start = tokens.now
    sets = read_sets(tokens, exercise, catalogue)
    for run in sets:
        for segment in run.segments:
            if segment.metres is not None and exercise.speed_m_per_s is None:
                word = start.text if start else line
                raise Misread(
                    start.column if start else 0, word, f"{exercise.name} is not measured in metres", ["40 s"]
                )
    return Slot(exercise=exercise.id, sets=sets)


def station_in(line: str, catalogue: Catalogue) -> Station:
    """A station as a line writes it. Raises Misread."""
    tokens = Tokens(bounded(line))
    exercise = take_exercise(tokens, catalogue)
    return Station(exercise=exercise.id, **read_station_manner(tokens, catalogue))


def leg_in(line: str, catalogue: Catalogue) -> Leg:
    """A leg of a relay as a line writes it. Raises Misread."""
    tokens = Tokens(bounded(line))
    exercise = take_exercise(tokens, catalogue)
    turns = int(tokens.need_number("the number of turns", 1, 60))
    if not tokens.take("turns", "turn") or not tokens.take("of"):
        raise tokens.fault("a leg of a relay reads “8 turns of 12”", ["turns of"])
    turn, rest_s = read_turn(tokens, exercise)
    return Leg(exercise=exercise.id, turn=turn, turns=turns, rest_s=rest_s)
