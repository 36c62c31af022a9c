"""How each kind of block is written in the notation: its opening words, its figures, its parts. A new kind is entered
here."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

from oaken.domain.catalogue import Catalogue
from oaken.plan import Block, CircuitBlock, RelayBlock, SetsBlock, Slot
from oaken.plan.notation.faults import Misread, nearest
from oaken.plan.notation.parts import (
    MOST_DECISIONS,
    Notices,
    leg_in,
    read_decisions,
    slots_in,
    station_in,
    with_other,
)
from oaken.plan.notation.vocabulary import BLOCK_WORDS

Document = dict[str, Any]
"""A block as it is read so far."""

PartReader = Callable[[Document, str, Catalogue, Notices], None]


GROUP_LETTERS = "ABCDEFGHIJKLMNOPQRST"
"""The letters by which groups are called."""


@dataclass(frozen=True, slots=True)
class WrittenFigure:
    """A clause with one number: the field it gives, what that is, its least and its most."""

    name: str
    what: str
    least: int
    most: int


def _no_phrase(block: Document, column: int, clause: str) -> bool:
    return False


@dataclass(frozen=True, slots=True)
class TextKind:
    """A kind of block in the notation.

    `opening` gives the fields that the first clause says, None where it opens another kind; `figures` are the further
    clauses with a number, by their pattern; `phrase` takes any other clause and says whether it did; `part` reads a
    line into the block; `way` writes the clauses again.
    """

    opening: Callable[[int, str], Document | None]
    part: PartReader
    way: Callable[[Any], list[str]]
    figures: Mapping[str, WrittenFigure] = field(default_factory=dict)
    phrase: Callable[[Document, int, str], bool] = _no_phrase


def in_range(column: int, word: str, value: int, what: str, low: int, high: int) -> None:
    """Raise Misread where a number is out of its range."""
    if not low <= value <= high:
        raise Misread(column, word, f"{what} is {low} to {high}")


def _listed(name: str, read: Callable[[str, Catalogue, Notices], Any]) -> PartReader:
    def take(block: Document, line: str, catalogue: Catalogue, notices: Notices) -> None:
        if _decided(block.get(name, []), line):
            return
        if _or(line) is not None:
            _other(block.get(name, []), line, catalogue, notices)
        else:
            block.setdefault(name, []).append(read(line, catalogue, notices))

    return take


def _or(line: str) -> str | None:
    """What stands behind “or” at the beginning of a line, at its own column."""
    found = re.match(r"\s*or\b", line, re.IGNORECASE)
    return None if found is None else " " * found.end() + line[found.end() :]


def _decided(parts: list[Any], line: str) -> bool:
    """Whether a line is a decision of the exercise above it: `if twelve easy: add a plate`."""
    bare = line.lstrip()
    if re.match(r"if\b(?!\s+able\b)", bare, re.IGNORECASE) is None:
        return False
    column = len(line) - len(bare)
    if not parts or not isinstance(parts[-1], Slot):
        raise Misread(column, "if", "a decision stands below an exercise with sets")
    found = [*parts[-1].decisions, *read_decisions(bare, column)]
    if len(found) > MOST_DECISIONS:
        raise Misread(column, "if", f"an exercise has at most {MOST_DECISIONS} decisions")
    parts[-1] = parts[-1].model_copy(update={"decisions": found})
    return True


def _other(parts: list[Any], line: str, catalogue: Catalogue, notices: Notices) -> None:
    text = _or(line)
    assert text is not None
    if not parts or not isinstance(parts[-1], Slot):
        raise Misread(len(line) - len(line.lstrip()), "or", "another choice stands below an exercise with sets")
    parts[-1] = with_other(parts[-1], text, catalogue, notices)


def _slots_together(block: Document, line: str, catalogue: Catalogue, notices: Notices) -> None:
    if _decided(block.get("slots", []), line):
        return
    if _or(line) is not None:
        _other(block.get("slots", []), line, catalogue, notices)
    else:
        block.setdefault("slots", []).extend(slots_in(line, catalogue, notices))


# ---- stations ---------------------------------------------------------------------------------------------------


def _open_stations(column: int, clause: str) -> Document | None:
    if clause.lower().split()[0] != "stations":
        return None
    found = re.fullmatch(r"stations\s+(\d+)\s*[/:]\s*(\d+)", clause.lower())
    if found is None:
        raise Misread(column, clause, "says work and change in seconds: stations 40/20", ["stations 40/20"])
    work_s, change_s = int(found[1]), int(found[2])
    in_range(column, found[1], work_s, "work", 5, 3600)
    in_range(column, found[2], change_s, "change", 0, 1800)
    return {"kind": "circuit", "work_s": work_s, "change_s": change_s, "rounds": 1}


def _stations_way(block: CircuitBlock) -> list[str]:
    way = [f"stations {block.work_s}/{block.change_s}", f"{block.rounds} rounds"]
    if block.round_rest_s is not None:
        way.append(f"round rest {block.round_rest_s}")
    if block.turn_s is not None:
        way.append(f"turn {block.turn_s}")
    return way


STATIONS = TextKind(
    _open_stations,
    _listed("stations", station_in),
    _stations_way,
    {
        r"(\d+)\s+rounds?": WrittenFigure("rounds", "rounds", 1, 20),
        r"round\s+rest\s+(\d+)(?:\s*s)?": WrittenFigure("round_rest_s", "the rest between rounds (s)", 0, 1800),
        r"turn\s+(\d+)(?:\s*s)?": WrittenFigure("turn_s", "a turn (s)", 5, 300),
    },
)

# ---- sets -------------------------------------------------------------------------------------------------------


def _sets_part(block: Document, line: str, catalogue: Catalogue, notices: Notices) -> None:
    groups = block.setdefault("groups", [])
    bare = line.lstrip()
    if _decided(groups[-1]["slots"] if groups else [], line):
        return
    if _or(line) is not None:
        _other(groups[-1]["slots"] if groups else [], line, catalogue, notices)
        return
    if not bare.startswith("+"):
        # the group is there even if its line is faulty: what is joined to it is not faulty for that
        groups.append({"slots": []})
        groups[-1]["slots"] += slots_in(line, catalogue, notices)
        return
    if not groups:
        raise Misread(len(line) - len(bare), "+", "joins an exercise to the one above: there is none yet")
    # blanks in place of the mark keep every word at its column
    groups[-1]["slots"] += slots_in(line.replace("+", " ", 1), catalogue, notices)


_PHRASES = {
    "whole circuit": {"rounds_run": "whole_circuit"},
    "in order": {"start": "in_order"},
    "hold machines": {"sharing": "hold"},
}


def _sets_phrase(block: Document, column: int, clause: str) -> bool:
    said = " ".join(clause.lower().split())
    if said in _PHRASES:
        block |= _PHRASES[said]
    elif waves := re.fullmatch(r"(\d+)\s+waves?\s+every\s+(\d+)(?:\s*s)?", said):
        in_range(column, waves[1], int(waves[1]), "the number of waves", 1, 12)
        in_range(column, waves[2], int(waves[2]), "the time between waves (s)", 0, 1800)
        block |= {"waves": int(waves[1]), "wave_gap_s": int(waves[2])}
    elif re.fullmatch(r"[a-t](\s+[a-t])*(\s+before(\s+[a-t])+)+", said):
        stages: dict[str, int] = {}
        for stage, letters in enumerate(said.split("before"), 1):
            for mark in letters.split():
                if mark in stages:
                    raise Misread(column, clause, f"names the group {mark.upper()} twice")
                stages[mark] = stage
        block["stages"] = stages
    else:
        return False
    return True


def _sets_way(block: SetsBlock) -> list[str]:
    way = ["sets"]
    if block.rounds_run == "whole_circuit":
        way.append("whole circuit")
    if block.start == "in_order":
        way.append("in order")
    if block.sharing == "hold":
        way.append("hold machines")
    if block.waves > 1:
        way.append(f"{block.waves} waves every {block.wave_gap_s}")
    if block.log_s:
        way.append(f"log {block.log_s}")
    if block.plates_back_s:
        way.append(f"plates back {block.plates_back_s}")
    if block.within_s is not None:
        way.append(f"within {block.within_s}")
    if stages := _stages(block):
        way.append(stages)
    return way


def _stages(block: SetsBlock) -> str:
    """`A B before C`: the groups of each stage by their letters."""
    by_stage: dict[int, list[str]] = {}
    for index, group in enumerate(block.groups):
        if group.stage is not None:
            by_stage.setdefault(group.stage, []).append(GROUP_LETTERS[index])
    return " before ".join(" ".join(letters) for _, letters in sorted(by_stage.items()))


SETS = TextKind(
    lambda _, clause: {"kind": "sets"} if clause.lower().split() == ["sets"] else None,
    _sets_part,
    _sets_way,
    {
        r"within\s+(\d+)(?:\s*s)?": WrittenFigure("within_s", "the time of the block (s)", 60, 14_400),
        r"log\s+(\d+)(?:\s*s)?": WrittenFigure("log_s", "writing a set down (s)", 1, 120),
        r"plates\s+back\s+(\d+)(?:\s*s)?": WrittenFigure("plates_back_s", "plates back (s)", 1, 300),
    },
    _sets_phrase,
)

# ---- together, relay --------------------------------------------------------------------------------------------

TOGETHER = TextKind(
    lambda _, clause: {"kind": "together"} if clause.lower().split() == ["together"] else None,
    _slots_together,
    lambda _: ["together"],
)


def _open_relay(column: int, clause: str) -> Document | None:
    if clause.lower().split()[0] != "relay":
        return None
    found = re.fullmatch(r"relay\s+of\s+(\d+)", clause.lower())
    if found is None:
        raise Misread(column, clause, "says how many make a team: relay of 2", ["relay of 2"])
    in_range(column, found[1], int(found[1]), "a team", 2, 8)
    return {"kind": "relay", "team_size": int(found[1])}


def _relay_way(block: RelayBlock) -> list[str]:
    return [f"relay of {block.team_size}", f"tag {block.change_s}"]


RELAY = TextKind(
    _open_relay,
    _listed("legs", leg_in),
    _relay_way,
    {r"tag\s+(\d+)(?:\s*s)?": WrittenFigure("change_s", "a tag (s)", 0, 60)},
)

KINDS: dict[str, TextKind] = {"circuit": STATIONS, "sets": SETS, "together": TOGETHER, "relay": RELAY}

_EVERYWHERE = {r"then\s+(\d+)(?:\s*s)?": WrittenFigure("move_on_s", "moving on (s)", 0, 1800)}


def opened(column: int, clause: str) -> Document:
    """The block that a first clause opens. Raises Misread where it opens none."""
    for kind in KINDS.values():
        block = kind.opening(column, clause)
        if block is not None:
            return block
    raise Misread(column, clause, "is no kind of block", nearest(clause.split()[0], BLOCK_WORDS) or BLOCK_WORDS)


def take_clause(block: Document, column: int, clause: str) -> bool:
    """Take a further clause into a block; False where it is none of its kind or of any."""
    said = " ".join(clause.lower().split())
    own = KINDS[block["kind"]]
    for kind in (own, *(other for other in KINDS.values() if other is not own)):
        for pattern, figure in {**_EVERYWHERE, **kind.figures}.items():
            found = re.fullmatch(pattern, said)
            if found is None:
                continue
            if kind is not own:
                raise Misread(column, clause, f"has no meaning in a block of {block['kind']}")
            in_range(column, found[1], int(found[1]), figure.what, figure.least, figure.most)
            block[figure.name] = int(found[1])
            return True
    return own.phrase(block, column, clause)


def way_of(block: Block) -> list[str]:
    """The clauses that say how a block goes."""
    return KINDS[block.kind].way(block)
