"""The changes that fitting tries: for each kind, amounts from the smallest to the largest."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import NamedTuple

from oaken.basis.words import counted, plural
from oaken.domain.catalogue import Catalogue, Exercise
from oaken.domain.prescription import MachineSetting, Segment, SetRun, Tempo
from oaken.domain.prescription.schemes import reshaped
from oaken.domain.room import Room
from oaken.plan import Block, CircuitBlock, ClassPlan, Group, SetsBlock, Slot, Station, TogetherBlock
from oaken.plan.changes import (
    LEAST_REST_PAIR_S,
    has_drops,
    on_blocks,
    on_sets,
    on_slots,
    scaled_rests,
    with_rest,
    with_segments,
    without_drops,
)

WARM_UP_FLOOR_S, COOL_DOWN_FLOOR_S = 300, 180
LEAST_WORK_S, LEAST_TURN_S, LEAST_CHANGE_S, LEAST_REPS = 20, 10, 10, 4


class Attempt(NamedTuple):
    """A changed plan, what was changed in words, and which share of the thing changed (0 to 1)."""

    plan: ClassPlan
    detail: str
    share: float


Tries = Callable[[ClassPlan, Catalogue, Room], Iterator[Attempt]]


def _own_sets(plan: ClassPlan) -> list[Slot]:
    return [slot for _, block in plan.of_kind(SetsBlock) for group in block.groups for slot in group.slots]


def _circuits(plan: ClassPlan) -> list[CircuitBlock]:
    return [block for _, block in plan.of_kind(CircuitBlock)]


def _on_circuits(plan: ClassPlan, change: Callable[[CircuitBlock], dict[str, object]]) -> ClassPlan:
    return on_blocks(
        plan, lambda block: block.model_copy(update=change(block)) if isinstance(block, CircuitBlock) else block
    )


def fewer_rounds(plan: ClassPlan, known: Catalogue, room: Room) -> Iterator[Attempt]:
    """Rounds of the stations, the block with most of them first."""
    most = max((block.rounds for block in _circuits(plan)), default=1)
    for left in range(most - 1, 0, -1):
        changed = _on_circuits(plan, lambda block, left=left: {"rounds": min(block.rounds, left)})  # type: ignore[misc]
        yield Attempt(changed, f"{counted(left, 'round')} of the stations instead of {most}", 1 - left / most)


def more_rounds(plan: ClassPlan, known: Catalogue, room: Room) -> Iterator[Attempt]:
    """Up to three rounds more of the stations."""
    most = max((block.rounds for block in _circuits(plan)), default=0)
    for more in range(1, 4 if most else 1):
        changed = _on_circuits(plan, lambda block, more=more: {"rounds": min(20, block.rounds + more)})  # type: ignore[misc]
        yield Attempt(changed, f"{counted(more, 'more round')} of the stations", more / max(most, 1))


def _with_sets_fewer(plan: ClassPlan, fewer: int) -> ClassPlan:
    return on_sets(
        plan,
        lambda _, slot: slot.model_copy(update={"sets": reshaped(slot.sets, min(40, max(1, slot.rounds - fewer)))}),
    )


def fewer_sets(plan: ClassPlan, known: Catalogue, room: Room) -> Iterator[Attempt]:
    """One, two or three sets fewer of everything at people's own pace; one always stays."""
    most = max((slot.rounds for slot in _own_sets(plan)), default=1)
    for fewer in range(1, min(most, 4)):
        yield Attempt(
            _with_sets_fewer(plan, fewer),
            f"{counted(fewer, 'set')} fewer of every exercise",
            fewer / most,
        )


def more_sets(plan: ClassPlan, known: Catalogue, room: Room) -> Iterator[Attempt]:
    """One or two sets more of everything at people's own pace."""
    most = max((slot.rounds for slot in _own_sets(plan)), default=0)
    for more in range(1, 3 if most else 1):
        changed = on_sets(
            plan,
            lambda _, slot, more=more: slot.model_copy(
                update={"sets": reshaped(slot.sets, min(40, slot.rounds + more))}
            ),  # type: ignore[misc]
        )
        yield Attempt(changed, f"{more} more {plural(more, 'set')} of every exercise", more / max(most, 1))


def shorter_rest(plan: ClassPlan, known: Catalogue, room: Room) -> Iterator[Attempt]:
    """Rests down to half, never below 15 s in a superset and 45 s behind a single exercise."""
    for percent in (90, 80, 70, 60, 50):
        yield Attempt(scaled_rests(plan, percent / 100), f"rests at {percent} % of what they are", 1 - percent / 100)


def longer_rest(plan: ClassPlan, known: Catalogue, room: Room) -> Iterator[Attempt]:
    """Rests up to double."""
    for percent in (110, 120, 135, 150, 175, 200):
        yield Attempt(scaled_rests(plan, percent / 100), f"rests at {percent} % of what they are", percent / 100 - 1)


def shorter_work(plan: ClassPlan, known: Catalogue, room: Room) -> Iterator[Attempt]:
    """Work intervals 5 s shorter at a time, never below 20 s; of partners about so much, in whole seconds a turn."""
    longest = max((block.work_s for block in _circuits(plan)), default=0)
    for less in range(5, max(longest - LEAST_WORK_S, 0) + 1, 5):
        changed = _on_circuits(
            plan,
            lambda block, less=less: _worked(block, max(min(block.work_s, LEAST_WORK_S), block.work_s - less)),  # type: ignore[misc]
        )
        yield Attempt(changed, f"work intervals {less} s shorter", less / longest)


def longer_work(plan: ClassPlan, known: Catalogue, room: Room) -> Iterator[Attempt]:
    """Work intervals up to 20 s longer; of partners about so much, in whole seconds a turn."""
    longest = max((block.work_s for block in _circuits(plan)), default=0)
    for more in range(5, 25 if longest else 0, 5):
        changed = _on_circuits(
            plan,
            lambda block, more=more: _worked(block, block.work_s + more),  # type: ignore[misc]
        )
        yield Attempt(changed, f"work intervals {more} s longer", more / longest)


def _worked(block: CircuitBlock, work_s: int) -> dict[str, object]:
    """A work interval of about so long: partners keep their number of turns."""
    if not block.turn_s:
        return {"work_s": work_s}
    turns = block.work_s // block.turn_s
    turn_s = max(LEAST_TURN_S, round(work_s / turns))
    return {"work_s": turn_s * turns, "turn_s": turn_s}


def shorter_change(plan: ClassPlan, known: Catalogue, room: Room) -> Iterator[Attempt]:
    """Changes 5 s shorter at a time, never below 10 s."""
    longest = max((block.change_s for block in _circuits(plan)), default=0)
    for less in range(5, max(longest - LEAST_CHANGE_S, 0) + 1, 5):
        changed = _on_circuits(
            plan,
            lambda block, less=less: {"change_s": max(min(block.change_s, LEAST_CHANGE_S), block.change_s - less)},  # type: ignore[misc]
        )
        yield Attempt(changed, f"changes {less} s shorter", less / longest)


def fewer_reps(plan: ClassPlan, known: Catalogue, room: Room) -> Iterator[Attempt]:
    """Repetitions down to 60 %, never below 4."""

    def cut(segment: Segment, share: float) -> Segment:
        update: dict[str, object] = {}
        for name in ("reps", "reps_to"):
            count = getattr(segment, name)
            if count is not None:
                update[name] = min(count, max(LEAST_REPS, round(count * share)))
        if update.get("reps_to") is not None and update["reps_to"] == update["reps"]:
            update["reps_to"] = None
        return segment.model_copy(update=update)

    for percent in (90, 80, 70, 60):
        changed = on_sets(
            plan,
            lambda _, slot, percent=percent: with_segments(slot, lambda segment: cut(segment, percent / 100)),  # type: ignore[misc]
        )
        yield Attempt(changed, f"repetitions at {percent} % of what they are", 1 - percent / 100)


def faster_tempo(plan: ClassPlan, known: Catalogue, room: Room) -> Iterator[Attempt]:
    """Pauses on repetitions go first, then slow lowering becomes 2 s."""

    def paced(segment: Segment, exercise: Exercise, whole: bool) -> Segment:
        if segment.reps is None:
            return segment
        tempo = segment.tempo or exercise.tempo
        quick = Tempo(min(tempo.lowering_s, 2) if whole else tempo.lowering_s, 0, min(tempo.lifting_s, 1.5), 0)
        if quick.rep_s <= 0:
            return segment
        return segment.model_copy(update={"held_s": 0, "tempo": None if quick == exercise.tempo else quick})

    for whole in (False, True):
        changed = on_sets(
            plan,
            lambda _, slot, whole=whole: with_segments(  # type: ignore[misc]
                slot, lambda segment: paced(segment, known.exercises[slot.exercise], whole)
            ),
        )
        what = "repetitions without pauses" + (", lowered in 2 s" if whole else "")
        yield Attempt(changed, what, 0.6 if whole else 0.3)


def no_drops(plan: ClassPlan, known: Catalogue, room: Room) -> Iterator[Attempt]:
    """Sets end where their first lighter part would begin."""
    count = sum(has_drops(slot) for slot in _own_sets(plan))
    if count:
        changed = on_sets(plan, lambda _, slot: without_drops(slot))
        yield Attempt(changed, f"no drop sets ({counted(count, 'exercise')} had them)", 0.4)


def pair_up(plan: ClassPlan, known: Catalogue, room: Room) -> Iterator[Attempt]:
    """Neighbouring straight sets for different muscles become supersets, one pair more at a time."""
    for pairs in range(1, 7):
        left = pairs
        names: list[str] = []

        def paired(block: Block, names: list[str] = names) -> Block:
            nonlocal left
            if not isinstance(block, SetsBlock):
                return block
            groups: list[Group] = []
            for group in block.groups:
                before = groups[-1] if groups else None
                if left and before and len(before.slots) == len(group.slots) == 1 and _apart(before, group, known):
                    first = with_rest(before.slots[0], lambda rest: min(rest, LEAST_REST_PAIR_S))
                    groups[-1] = before.model_copy(update={"slots": [first, *group.slots]})
                    names.append(" + ".join(known.exercises[slot.exercise].name.lower() for slot in groups[-1].slots))
                    left -= 1
                else:
                    groups.append(group)
            return block.model_copy(update={"groups": groups})

        changed = on_blocks(plan, paired)
        if left:
            return
        yield Attempt(changed, f"superset of {', '.join(names)}", pairs * 0.2)


def _apart(one: Group, other: Group, known: Catalogue) -> bool:
    here, there = (set(known.exercises[group.slots[0].exercise].prime) for group in (one, other))
    return bool(here) and bool(there) and not here & there


def leave_out(plan: ClassPlan, known: Catalogue, room: Room) -> Iterator[Attempt]:
    """The exercise whose muscles are trained most elsewhere, then the next."""
    parts: list[Slot | Station] = [
        *_own_sets(plan),
        *(station for block in _circuits(plan) for station in block.stations),
    ]
    working = [part for part in parts if known.exercises[part.exercise].is_work]
    covered: dict[str, int] = {}
    for part in working:
        for muscle in known.exercises[part.exercise].prime:
            covered[muscle] = covered.get(muscle, 0) + 1
    mass = {"two_leg_compound": 3, "whole_body": 3, "one_leg_compound": 2}

    def worth(part: Slot | Station) -> tuple[float, str]:
        exercise = known.exercises[part.exercise]
        rarest = min((covered[muscle] for muscle in exercise.prime), default=9)
        return (mass.get(exercise.muscle_mass, 1) - rarest, part.id)

    spare = sorted(working, key=worth)
    for count in range(1, min(4, len(spare))):
        gone = {part.id for part in spare[:count]}
        changed = on_slots(
            plan,
            lambda slot, gone=gone: None if slot.id in gone else slot,  # type: ignore[misc]
            lambda item, gone=gone: None if item.id in gone else item,  # type: ignore[misc]
        )
        names = " and ".join(known.exercises[part.exercise].name.lower() for part in spare[:count])
        yield Attempt(changed, f"without {names}", 1.5 * count / len(working))


def _ends(plan: ClassPlan) -> list[TogetherBlock]:
    found = []
    for place, block in enumerate(plan.blocks):
        end = place in (0, len(plan.blocks) - 1) or block.purpose in ("warm_up", "cool_down", "stretching", "rolling")
        if isinstance(block, TogetherBlock) and end:
            found.append(block)
    return found


def _scaled_ends(plan: ClassPlan, known: Catalogue, factor: float) -> ClassPlan:
    ends = {block.id: place for place, block in enumerate(_ends(plan))}

    def timed(segment: Segment) -> Segment:
        if segment.seconds is None:
            return segment
        step = 5 if segment.seconds >= 20 else 1
        return segment.model_copy(update={"seconds": max(step, round(segment.seconds * factor / step) * step)})

    def on_block(block: Block) -> Block:
        if block.id not in ends or not isinstance(block, TogetherBlock):
            return block
        changed = block.model_copy(update={"slots": [with_segments(slot, timed) for slot in block.slots]})
        floor = WARM_UP_FLOOR_S if block is plan.blocks[0] else COOL_DOWN_FLOOR_S
        return changed if factor >= 1 or _seconds(changed, known) >= floor else block

    return on_blocks(plan, on_block)


def _seconds(block: TogetherBlock, known: Catalogue) -> float:
    total = 0.0
    for slot in block.slots:
        for run in slot.sets:
            for segment in run.segments:
                twice = 2 if segment.sides == "each_side" else 1
                each = segment.seconds or (segment.reps or 0) * known.exercises[slot.exercise].tempo.rep_s
                total += run.times * each * twice
            total += run.times * run.rest_s
    return total


def shorter_ends(plan: ClassPlan, known: Catalogue, room: Room) -> Iterator[Attempt]:
    """Warm-up not below five minutes, cool-down not below three."""
    for percent in (90, 80, 70, 60):
        changed = _scaled_ends(plan, known, percent / 100)
        yield Attempt(changed, f"warm-up and cool-down at {percent} % of their length", 1 - percent / 100)


def longer_ends(plan: ClassPlan, known: Catalogue, room: Room) -> Iterator[Attempt]:
    """Warm-up and cool-down up to half as long again."""
    for percent in (110, 120, 130, 150) if _ends(plan) else ():
        changed = _scaled_ends(plan, known, percent / 100)
        yield Attempt(changed, f"warm-up and cool-down at {percent} % of their length", percent / 100 - 1)


def shorter_breaks(plan: ClassPlan, known: Catalogue, room: Room) -> Iterator[Attempt]:
    """Talk, water and moves to the next block."""

    def eased(slot: Slot, share: float) -> Slot:
        if known.exercises[slot.exercise].nature != "pause":
            return slot
        return with_segments(
            slot,
            lambda item: (
                item
                if item.seconds is None
                else item.model_copy(update={"seconds": max(10, round(item.seconds * share))})
            ),
        )

    for percent in (75, 50):
        share = percent / 100
        moved = on_blocks(
            plan,
            lambda block, share=share: block.model_copy(  # type: ignore[misc]
                update={"move_on_s": min(block.move_on_s, max(20, round(block.move_on_s * share / 5) * 5))}
            ),
        )
        changed = on_slots(moved, lambda slot, share=share: eased(slot, share))  # type: ignore[misc]
        yield Attempt(changed, f"talk and moving on at {percent} % of their time, moves not below 20 s", 1 - share)


def no_finisher(plan: ClassPlan, known: Catalogue, room: Room) -> Iterator[Attempt]:
    """Without the blocks that are meant as finishers."""
    names = [block.name for block in plan.blocks if block.purpose == "finisher"]
    if names and len(names) < len(plan.blocks):
        changed = on_blocks(plan, lambda block: None if block.purpose == "finisher" else block)
        yield Attempt(changed, f"without {' and '.join(names)}", 0.8)


def spread_out(plan: ClassPlan, known: Catalogue, room: Room) -> Iterator[Attempt]:
    """People begin at different groups instead of all at the first."""
    blocks = [block for block in plan.blocks if isinstance(block, SetsBlock) and block.start == "in_order"]
    if blocks:
        changed = on_blocks(
            plan, lambda block: block.model_copy(update={"start": "spread"}) if isinstance(block, SetsBlock) else block
        )
        yield Attempt(changed, f"everybody begins {blocks[0].name} at another group", 0.5)


def add_finisher(plan: ClassPlan, known: Catalogue, room: Room) -> Iterator[Attempt]:
    """Rounds of a hard minute on the bike and jump lunges, or without a bike of swings; before the cool-down."""
    if any(block.purpose == "finisher" for block in plan.blocks):
        return
    bike = bool(room.working("bike"))
    taken = {part.id for part in plan.parts()}
    base = "finisher"
    while base in taken:
        base += "-x"
    for rounds in range(1, 5):
        hard = Segment(seconds=60, setting=MachineSetting(power_w=180)) if bike else Segment(seconds=40)
        jumps = Segment(reps=20, sides="in_all")
        block = SetsBlock(
            id=base,
            kind="sets",
            name="Finisher",
            purpose="finisher",
            move_on_s=45,
            groups=[
                Group(
                    id=f"{base}-group",
                    slots=[
                        Slot(
                            id=f"{base}-hard",
                            exercise="bike" if bike else "high-knees",
                            sets=[SetRun(times=rounds, segments=[hard])],
                        ),
                        Slot(
                            id=f"{base}-jumps",
                            exercise="jump-lunge",
                            sets=[SetRun(times=rounds, segments=[jumps], rest_s=120)],
                        ),
                    ],
                )
            ],
        )
        at = max(len(plan.blocks) - 1, 0)
        changed = plan.model_copy(update={"blocks": [*plan.blocks[:at], block, *plan.blocks[at:]]})
        what = "a hard minute on the bike" if bike else "40 s of high knees"
        yield Attempt(changed, f"{counted(rounds, 'round')} of {what} and 20 jump lunges", rounds * 0.25)


CUTS: dict[str, Tries] = {
    "fewer_rounds": fewer_rounds,
    "fewer_sets": fewer_sets,
    "shorter_rest": shorter_rest,
    "shorter_work": shorter_work,
    "shorter_change": shorter_change,
    "fewer_reps": fewer_reps,
    "faster_tempo": faster_tempo,
    "no_drops": no_drops,
    "pair_up": pair_up,
    "leave_out": leave_out,
    "shorter_ends": shorter_ends,
    "shorter_breaks": shorter_breaks,
    "no_finisher": no_finisher,
    "spread_out": spread_out,
}

ADDITIONS: dict[str, Tries] = {
    "more_rounds": more_rounds,
    "more_sets": more_sets,
    "longer_rest": longer_rest,
    "longer_work": longer_work,
    "longer_ends": longer_ends,
    "add_finisher": add_finisher,
}
