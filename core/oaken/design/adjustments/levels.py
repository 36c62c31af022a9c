"""Beginner and advanced versions of a class, derived by stated rules and editable afterwards."""

from __future__ import annotations

from pydantic import BaseModel

from oaken.domain.catalogue import Catalogue, Exercise
from oaken.domain.people import Level
from oaken.domain.prescription import Load, LoadChange, Segment, each_set, merged
from oaken.domain.prescription.schemes import reshaped
from oaken.domain.room import Room
from oaken.plan import Block, CircuitBlock, ClassPlan, Group, SetsBlock, Slot, Station
from oaken.plan.changes import has_drops, on_blocks, on_sets, on_slots, swap, with_rest, with_segments, without_drops

BEGINNER_LOAD, BEGINNER_REST = 0.85, 1.5
BEGINNER_SINGLE_REST_S = 60
BEGINNER_REPS_LEFT = 2
ADVANCED_REST = 0.85
LIGHTEST_SHARE = 0.2

RULES: dict[Level, list[str]] = {
    "beginner": [
        "one machine at a time: supersets become straight sets with at least 60 s of rest",
        "a set and a round fewer",
        "rests half as long again",
        "no drop sets, nothing to failure",
        "loads at 85 % of what they are, two repetitions more left where a load says how hard",
        "easier variants where the room has them, on machines or on the floor as the class has chosen",
    ],
    "standard": ["the class as it is"],
    "advanced": [
        "a set and a round more",
        "rests at 85 %, never below 15 s",
        "one drop of 20 % to failure on the last set of every group's last machine exercise",
    ],
}
"""What each level does, in words (common practice, no source)."""


class Levelled(BaseModel):
    """A class for another level, with what was changed in it."""

    plan: ClassPlan
    rules: list[str]
    changed: list[str]


def at_level(plan: ClassPlan, level: Level, catalogue: Catalogue, room: Room) -> Levelled:
    """The class for a level. Its people, room and slot stay; its name says the level."""
    changed: list[str] = []
    made = plan
    if level == "beginner":
        made = _beginner(plan, catalogue, room, changed)
    elif level == "advanced":
        made = _advanced(plan, catalogue)
    name = plan.name.removesuffix(f" ({plan.level})")
    title = name if level == "standard" else f"{name[: 118 - len(level)]} ({level})"
    made = made.model_copy(update={"level": level, "name": title})
    return Levelled(plan=ClassPlan.model_validate(made.model_dump()), rules=RULES[level], changed=changed)


def _beginner(plan: ClassPlan, catalogue: Catalogue, room: Room, changed: list[str]) -> ClassPlan:
    def eased(slot: Slot) -> Slot:
        if not catalogue.exercises[slot.exercise].is_work:
            return slot
        slot = with_segments(without_drops(slot), _light)
        slot = with_rest(slot, lambda rest: round(rest * BEGINNER_REST / 5) * 5)
        sets = [run for run in slot.sets if not run.if_able] or slot.sets
        total = sum(run.times for run in sets)
        return slot.model_copy(update={"sets": reshaped(sets, max(1, total - 1))})

    def station(one: Station) -> Station:
        return one if one.load is None else one.model_copy(update={"load": _lighter(one.load)})

    def split(block: Block) -> Block:
        if isinstance(block, CircuitBlock):
            update: dict[str, object] = {"rounds": max(1, block.rounds - 1)}
            if block.round_rest_s is not None:
                update["round_rest_s"] = round(block.round_rest_s * BEGINNER_REST / 5) * 5
            return block.model_copy(update=update)
        if not isinstance(block, SetsBlock):
            return block
        groups: list[Group] = []
        for group in block.groups:
            if len(group.slots) == 1:
                groups.append(group)
                continue
            for place, slot in enumerate(group.slots):
                alone = with_rest(slot, lambda rest: max(rest, BEGINNER_SINGLE_REST_S))
                groups.append(Group(id=group.id if place == 0 else "", slots=[alone]))
        return block.model_copy(update={"groups": groups[:20]})

    # rests grow first: what a superset's members then rest at least is not to grow again
    made = on_blocks(on_sets(on_slots(plan, lambda slot: slot, station), lambda _, slot: eased(slot)), split)
    for part in list(made.parts()):
        exercise = catalogue.exercises.get(getattr(part, "exercise", ""))
        if exercise is None or not exercise.is_work:
            continue
        easier = _easier(exercise, plan, catalogue, room)
        if easier is not None:
            made = swap(made, part.id, easier)
            changed.append(f"{exercise.name.lower()} → {easier.name.lower()}")
    return made


def _easier(exercise: Exercise, plan: ClassPlan, catalogue: Catalogue, room: Room) -> Exercise | None:
    """An easier variant the room has: for what needs balance, a free bar or a jump; machines stay as they are."""
    if not {"balance", "free_bar", "impact", "spinal_load"} & set(exercise.tags):
        return None
    options = [catalogue.exercises[name] for name in exercise.easier]
    options = [option for option in options if option.id not in catalogue.retired]
    options = [option for option in options if option.equipment == "none" or room.working(option.equipment)]
    machines = plan.school("machines-or-free", catalogue) == "machines-first"
    if machines:
        supported = [
            substitute
            for substitute in catalogue.substitutes(exercise)
            if "supported" in substitute.tags
            and substitute.sides == exercise.sides
            and room.working(substitute.equipment)
        ]
        options = [*supported, *options] if exercise.takes_load else options
    return options[0] if options else None


def _light(segment: Segment) -> Segment:
    update: dict[str, object] = {"to_failure": False}
    if segment.load is not None:
        update["load"] = _lighter(segment.load)
    return segment.model_copy(update=update)


def _lighter(load: Load) -> Load:
    if load.share_of_best is not None:
        share = max(LIGHTEST_SHARE, round(load.share_of_best * BEGINNER_LOAD * 20) / 20)
        return Load(share_of_best=min(load.share_of_best, share))
    if load.reps_left is not None:
        return Load(reps_left=min(10.0, load.reps_left + BEGINNER_REPS_LEFT))
    if load.rep_max is not None:
        return Load(rep_max=min(30, load.rep_max + 2 * BEGINNER_REPS_LEFT))
    if load.effort is not None:
        least = 1 if load.effort.of == 10 else 6
        return Load(effort=load.effort.model_copy(update={"value": max(least, load.effort.value - BEGINNER_REPS_LEFT)}))
    if load.a_side_kg is not None:
        return Load(a_side_kg=round(load.a_side_kg * BEGINNER_LOAD * 2) / 2)
    return Load(load_kg=round((load.load_kg or 0) * BEGINNER_LOAD * 2) / 2)


def _advanced(plan: ClassPlan, catalogue: Catalogue) -> ClassPlan:
    def more(block: Block) -> Block:
        if isinstance(block, CircuitBlock):
            return block.model_copy(update={"rounds": min(20, block.rounds + 1)})
        if not isinstance(block, SetsBlock):
            return block
        groups = [
            group.model_copy(
                update={"slots": [_harder(slot, catalogue, slot is group.slots[-1]) for slot in group.slots]}
            )
            for group in block.groups
        ]
        return block.model_copy(update={"groups": groups})

    return on_blocks(plan, more)


def _harder(slot: Slot, catalogue: Catalogue, last: bool) -> Slot:
    exercise = catalogue.exercises[slot.exercise]
    if not exercise.is_work:
        return slot
    slot = with_rest(slot, lambda rest: min(rest, max(15, round(rest * ADVANCED_REST / 5) * 5)))
    slot = slot.model_copy(update={"sets": reshaped(slot.sets, min(40, slot.rounds + 1))})
    holds = catalogue.equipment[exercise.equipment].holds
    if not last or has_drops(slot) or holds not in ("stack", "plates") or not exercise.takes_load:
        return slot
    runs = each_set(slot.sets)
    final = runs[-1]
    reps = final.segments[-1].reps
    if reps is None:
        return slot
    drop = final.segments[-1].model_copy(
        update={
            "reps": max(4, round(reps * 0.7)),
            "reps_to": None,
            "to_failure": True,
            "load": None,
            "change": LoadChange(percent=-20),
        }
    )
    dropped = final.model_copy(update={"segments": [*final.segments, drop]})
    return slot.model_copy(update={"sets": merged([*runs[:-1], dropped])})
