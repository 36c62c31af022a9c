"""How much a class asks for, counted before any of it is laid out."""

from __future__ import annotations

from collections import defaultdict

from oaken.basis.faults import Fault, faults_in
from oaken.basis.limits import in_words, limits, most
from oaken.basis.words import counted
from oaken.domain.catalogue import Catalogue
from oaken.domain.room import Room
from oaken.plan import Block, ClassPlan
from oaken.schedule.timeline.bouts import Outlook
from oaken.schedule.timeline.kinds import kind_of

_fault = faults_in("the plan", "plan.")


def bouts_in(plan: ClassPlan) -> int:
    """People × sets × parts of a set, over all blocks: what the work of computing a class grows with."""
    return len(plan.people) * sum(kind_of(block).bouts(block) for block in plan.blocks)


def size_faults(plan: ClassPlan, room: Room, known: Catalogue, *, searching: bool = False) -> list[Fault]:
    """What is too large of a class whose names are all known; `searching` asks for it to be tried many times over."""
    bouts = bouts_in(plan)
    bound = "search.bouts" if searching else "class.bouts"
    if bouts > most(bound):
        what = "too large to be tried many times over" if searching else "too large"
        crowd = counted(len(plan.people), "person does", "people do")
        return [
            _fault(
                "blocks",
                f"is {what}: {crowd} {bouts:,} bouts",
                in_words(bound),
            )
        ]
    own_s = 0.0
    found = []
    for index, block in enumerate(plan.blocks):
        kind = kind_of(block)
        own_s += kind.own_s(block, known)
        if kind.shares_machines:
            found += _kinds_asked(index, block, known, len(plan.people), room)
    if own_s > most("class.own_s"):
        hours = f"{own_s / 3600:.1f} h"
        found.append(_fault("blocks", f"takes one person {hours} without any waiting", _hours("class.own_s")))
    return found


def _kinds_asked(index: int, block: Block, known: Catalogue, crowd: int, room: Room) -> list[Fault]:
    asked: dict[str, float] = defaultdict(float)
    for part in block.parts:
        told = kind_of(block).part_time(part, block, known, Outlook.EXPECTED)
        asked[known.exercises[part.exercise].equipment] += told.total_s - told.rest_s
    found = []
    for kind, seconds in asked.items():
        places = len(room.working(kind))
        busy_s = seconds * crowd / max(1, places)
        if kind != "none" and busy_s > most("class.kind_s"):
            message = f"block {block.name!r} keeps every {kind} busy for {busy_s / 3600:.1f} h"
            found.append(_fault(f"blocks.{index}", message, _hours("class.kind_s")))
    return found


def _hours(name: str) -> str:
    return f"at most {limits()[name].most / 3600:.0f} h"
