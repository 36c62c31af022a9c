"""Advice on order and pairing, by the schools the class has chosen (common practice, no source)."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import pairwise

from oaken.domain.catalogue import Catalogue, Exercise
from oaken.domain.room import Room
from oaken.forecast.cautions.in_order import REAL_WORK, Work, caution_at, works_of
from oaken.forecast.cautions.room import working_substitutes
from oaken.forecast.report import Caution, Fix
from oaken.plan import CircuitBlock, ClassPlan, SetsBlock, TogetherBlock
from oaken.plan.changes import AddBlock, MoveSlot, ShortenHolds, SwapExercise

SHORT_HOLD_S = 8
"""Longest static hold before the work (common practice, no source)."""


def order_cautions(plan: ClassPlan, room: Room, catalogue: Catalogue) -> list[Caution]:
    """Everything that stands in an unlucky place."""
    works = works_of(plan, catalogue)
    return [
        *_squat_on_tired_legs(plan, room, catalogue, works),
        *_hinge_after_hinge(plan, works),
        *_when_tired(plan, room, catalogue, works),
        *_compound_first(plan, catalogue, works),
        *_calves(plan, catalogue, works),
        *_pairs(plan, catalogue),
        *_static_first(plan, catalogue, works),
        *_equipment_habits(works),
        *_beginning_and_end(plan),
    ]


def _supported(exercise: Exercise, room: Room, catalogue: Catalogue) -> Exercise | None:
    options = working_substitutes(exercise, room, catalogue)
    return next((option for option in options if "supported" in option.tags), None)


def _squat_on_tired_legs(plan: ClassPlan, room: Room, catalogue: Catalogue, works: list[Work]) -> Iterator[Caution]:
    """Heavy squats after pre-exhausted legs."""
    for place, work in enumerate(works):
        if "spinal_load" not in work.exercise.tags or work.exercise.pattern not in ("squat", "hinge"):
            continue
        before = [
            work.exercise.name.lower()
            for work in works[:place]
            if work.exercise.pattern in ("knee_extension", "knee_flexion") and work.exercise.loads_muscle
        ]
        if not before:
            continue
        other = _supported(work.exercise, room, catalogue)
        wanted = plan.school("order", catalogue) == "pre-exhaust"
        yield caution_at(
            "caution",
            work,
            f"{work.exercise.name.lower()} on legs that {before[-1]} has tired" + (" (as chosen)" if wanted else ""),
            f"{other.name.lower() if other else 'a supported press'}, or safety pins set and a partner near",
            f"Use {other.name.lower()}" if other else "",
            SwapExercise(slot=work.id, exercise=other.id) if other else None,
        )


def _hinge_after_hinge(plan: ClassPlan, works: list[Work]) -> Iterator[Caution]:
    """A hinge straight after another on a tired back; stations on the clock follow one another in a circle."""
    chains = []
    for index, block in enumerate(plan.blocks):
        own = [work for work in works if work.block == index]
        chains.append([*own, own[0]] if isinstance(block, CircuitBlock) and len(own) > 2 else own)
    for chain in chains:
        for here, there in pairwise(chain):
            if "back" not in here.exercise.tags or "back" not in there.exercise.tags:
                continue
            calm = [item for item in chain if "back" not in item.exercise.tags and item.group != there.group]
            if there.group == here.group and here.group >= 0:
                calm = []
            yield caution_at(
                "caution",
                there,
                f"{there.exercise.name.lower()} straight after {here.exercise.name.lower()}: the back is tired",
                "core or another pattern between them, or split the set",
                "Move it apart" if calm else "",
                MoveSlot(slot=there.id, to="behind", behind=calm[-1].id) if calm else None,
            )


def _when_tired(plan: ClassPlan, room: Room, catalogue: Catalogue, works: list[Work]) -> Iterator[Caution]:
    """Balance and overhead work late in the class; a circuit has no late station, everybody begins at another one."""
    listed = [work for work in works if work.exercise.nature in REAL_WORK]
    for place, work in enumerate(listed):
        tag = next((item for item in ("overhead", "balance") if item in work.exercise.tags), None)
        if tag is None or place < 3 or place * 2 < len(listed) or isinstance(plan.blocks[work.block], CircuitBlock):
            continue
        stable = [
            working_substitute
            for working_substitute in working_substitutes(work.exercise, room, catalogue)
            if tag not in working_substitute.tags
            and "impact" not in working_substitute.tags
            and working_substitute.sides == work.exercise.sides
        ]
        easier = [catalogue.exercises[name] for name in work.exercise.easier if name not in catalogue.retired]
        stable += [item for item in easier if tag not in item.tags]
        what = "a load overhead" if tag == "overhead" else "balance"
        yield caution_at(
            "caution",
            work,
            f"{work.exercise.name.lower()} asks for {what} when people are tired",
            f"earlier in the class, or {stable[0].name.lower()}" if stable else "earlier in the class",
            f"Use {stable[0].name.lower()}" if stable else "Put it first",
            SwapExercise(slot=work.id, exercise=stable[0].id) if stable else MoveSlot(slot=work.id, to="first"),
        )


def _compound_first(plan: ClassPlan, catalogue: Catalogue, works: list[Work]) -> Iterator[Caution]:
    school = plan.school("order", catalogue)
    for index, _ in plan.of_kind(SetsBlock):
        heads: dict[int, Work] = {}
        for work in works:
            if (
                work.block == index
                and work.rank < 4
                and (work.group not in heads or work.rank < heads[work.group].rank)
            ):
                heads[work.group] = work
        ordered = [heads[group] for group in sorted(heads)]
        for place, work in enumerate(ordered):
            if school == "compound-first":
                lesser = [item for item in ordered[:place] if item.rank == 3 and work.rank <= 1]
                message = "stands behind {}, a single joint"
            else:
                lesser = [item for item in ordered[place + 1 :] if item.rank == 3 and work.rank <= 1 and place == 0]
                message = "comes before {}: nothing is pre-exhausted"
            if lesser:
                to_first = school == "compound-first"
                yield caution_at(
                    "note",
                    work,
                    f"{work.exercise.name.lower()} " + message.format(lesser[0].exercise.name.lower()),
                    "the compound first, while fresh" if to_first else "the single joint first, as chosen",
                    "Put it first" if to_first else "Put it last",
                    MoveSlot(slot=work.id, to="first" if to_first else "last"),
                )
                break


def _calves(plan: ClassPlan, catalogue: Catalogue, works: list[Work]) -> Iterator[Caution]:
    school = plan.school("calves", catalogue)
    for index, block in enumerate(plan.blocks):
        own = [work for work in works if work.block == index]
        calves = [work for work in own if work.exercise.pattern == "calf_raise" and work.exercise.takes_load]
        if not calves or not isinstance(block, SetsBlock):
            continue
        work = calves[0]
        alone = sum(item.group == work.group for item in own) == 1
        groups = [item.group for item in own]
        if school == "last" and work.group != max(groups) and alone:
            message = "calves stand before other work; this class trains them last"
            move = MoveSlot(slot=work.id, to="last")
            yield caution_at("note", work, message, "last, so that ankles are steady", "Put it last", move)
        elif school == "first" and work.group != min(groups) and alone:
            message = "calves stand behind other work; this class trains them first"
            move = MoveSlot(slot=work.id, to="first")
            yield caution_at("note", work, message, "first, while fresh", "Put it first", move)
        elif school == "woven" and alone:
            yield caution_at("note", work, "calves stand alone; this class weaves them in as superset partners",
                           "join it to another exercise with +")  # fmt: skip


def _pairs(plan: ClassPlan, catalogue: Catalogue) -> Iterator[Caution]:
    """Supersets of another kind than the chosen one."""
    school = plan.school("superset-pairs", catalogue)
    for index, block in enumerate(plan.blocks):
        for group in block.groups if isinstance(block, SetsBlock) else []:
            if len(group.slots) != 2:
                continue
            one, other = (catalogue.exercises[slot.exercise] for slot in group.slots)
            same = set(one.prime) & set(other.prime)
            if not one.loads_muscle or not other.loads_muscle:
                continue
            if school == "opposites" and same:
                muscles = " and ".join(sorted(catalogue.muscles[muscle].name.lower() for muscle in same))
                message, safer = (
                    f"both exercises of the pair work the {muscles}",
                    "opposites: one rests while the other works",
                )
            elif school == "same-muscle" and not same:
                message, safer = "the pair works different muscles", "two exercises for the same muscle, as chosen"
            else:
                continue
            yield Caution(severity="note", block=index, slots=[slot.id for slot in group.slots], people=[],
                          message=message, safer=safer)  # fmt: skip


def _static_first(plan: ClassPlan, catalogue: Catalogue, works: list[Work]) -> Iterator[Caution]:
    """Long holds before the work."""
    first = next((place for place, work in enumerate(works) if work.rank < 6), 0)
    for work in works[:first]:
        part = work.part
        if work.exercise.pattern != "stretch" or not isinstance(plan.blocks[work.block], TogetherBlock):
            continue
        assert not isinstance(part, CircuitBlock)
        holds = [segment.seconds or 0 for run in getattr(part, "sets", []) for segment in run.segments]
        if max(holds, default=0) > SHORT_HOLD_S:
            yield caution_at(
                "note",
                work,
                f"holds of {max(holds)} s before the work cost a little strength",
                f"dynamic stretching, or holds of {SHORT_HOLD_S} s at most",
                f"Holds of {SHORT_HOLD_S} s",
                ShortenHolds(slot=work.id, seconds=SHORT_HOLD_S),
            )


_HABITS = {
    "free_bar": ("free bars", "collars on, plates equal on both sides, hooks one notch below the shoulders"),
    "spinal_load": ("bars on the back", "on the upper back, never on the neck; safety pins set; no bounce"),
    "treadmill": ("treadmills", "safety clip on, feet astride before the belt starts"),
}  # fmt: skip


def _equipment_habits(works: list[Work]) -> Iterator[Caution]:
    for tag, (what, habit) in _HABITS.items():
        slots = [work.id for work in works if tag in work.exercise.tags]
        if slots:
            yield Caution(severity="note", block=-1, slots=slots, people=[], message=f"{what} are used", safer=habit)


def _beginning_and_end(plan: ClassPlan) -> Iterator[Caution]:
    first, last = plan.blocks[0], plan.blocks[-1]
    if not isinstance(first, TogetherBlock) and first.purpose not in ("warm_up", "activation"):
        yield Caution(
            severity="note", block=-1, slots=[], people=[], message="the class begins without a warm-up",
            safer="5–10 min of easy cardio and dynamic stretching, to about 100–110 bpm",
            fix=Fix(label="Add a warm-up", change=AddBlock(template="warm_up")),
        )  # fmt: skip
    if not isinstance(last, TogetherBlock) and last.purpose not in ("cool_down", "tidy_up"):
        yield Caution(
            severity="note", block=-1, slots=[], people=[], message="the class ends without a cool-down",
            safer="easy cardio and held stretches",
            fix=Fix(label="Add a cool-down", change=AddBlock(template="cool_down")),
        )  # fmt: skip
