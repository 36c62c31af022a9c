"""How much a class asks for, counted before any of it is laid out."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable

from oaken.catalogue import Catalogue
from oaken.limits import in_words, limits, most
from oaken.plan import Block, CircuitBlock, ClassPlan, RelayBlock, SetsBlock, Slot, TogetherBlock
from oaken.problems import Problem
from oaken.room import Room
from oaken.timeline.bouts import Outlook, slot_time
from oaken.timeline.relay import relay_seconds


def bouts_in(plan: ClassPlan) -> int:
    """People × sets × parts of a set, over all blocks: what the work of computing a class grows with."""
    return len(plan.people) * sum(map(_bouts_each, plan.blocks))


def _bouts_each(block: Block) -> int:
    match block:
        case CircuitBlock():
            turns = block.work_s // block.turn_s if block.turn_s else 1
            return len(block.stations) * block.rounds * turns
        case RelayBlock():
            return sum(leg.turns for leg in block.legs)
        case SetsBlock() | TogetherBlock():
            return sum(run.times * len(run.segments) for slot in _slots(block) for run in slot.sets)


def _slots(block: SetsBlock | TogetherBlock) -> Iterable[Slot]:
    if isinstance(block, TogetherBlock):
        return block.slots
    return (slot for group in block.groups for slot in group.slots)


def size_problems(plan: ClassPlan, room: Room, known: Catalogue, *, searching: bool = False) -> list[Problem]:
    """What is too large of a class whose names are all known; `searching` asks for it to be tried many times over."""
    bouts = bouts_in(plan)
    bound = "search.bouts" if searching else "class.bouts"
    if bouts > most(bound):
        what = "too large to be tried many times over" if searching else "too large"
        return [_problem("blocks", f"is {what}: {len(plan.people)} people do {bouts:,} bouts", in_words(bound))]
    own_s = 0.0
    found = []
    for index, block in enumerate(plan.blocks):
        match block:
            case CircuitBlock():
                own_s += block.rounds * len(block.stations) * (block.work_s + block.change_s)
            case RelayBlock():
                own_s += relay_seconds(block, known, Outlook.EXPECTED)
            case SetsBlock() | TogetherBlock():
                asked: dict[str, float] = defaultdict(float)
                for slot in _slots(block):
                    kind = known.equipment[known.exercises[slot.exercise].equipment]
                    told = slot_time(slot.sets, known.exercises[slot.exercise], kind, Outlook.EXPECTED)
                    own_s += told.total_s
                    asked[kind.id] += told.total_s - told.rest_s
                if isinstance(block, SetsBlock):
                    found += _kinds_asked(index, block, asked, len(plan.people), room)
    if own_s > most("class.own_s"):
        hours = f"{own_s / 3600:.1f} h"
        found.append(_problem("blocks", f"takes one person {hours} without any waiting", _hours("class.own_s")))
    return found


def _kinds_asked(index: int, block: SetsBlock, asked: dict[str, float], crowd: int, room: Room) -> list[Problem]:
    found = []
    for kind, seconds in asked.items():
        places = len(room.working(kind))
        busy_s = seconds * crowd / max(1, places)
        if kind != "none" and busy_s > most("class.kind_s"):
            message = f"block {block.name!r} keeps every {kind} busy for {busy_s / 3600:.1f} h"
            found.append(_problem(f"blocks.{index}", message, _hours("class.kind_s")))
    return found


def _hours(name: str) -> str:
    return f"at most {limits()[name].most / 3600:.0f} h"


def _problem(path: str, message: str, right: str) -> Problem:
    return Problem(path=f"plan.{path}", place="the plan", field="blocks", message=message, right=right)
