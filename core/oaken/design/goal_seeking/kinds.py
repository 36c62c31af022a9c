"""The kinds of change by which a figure is moved: those of fit to slot in finer amounts, more kinds besides, and each
for one block alone where a class has several."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import cache, partial
from typing import Any, NamedTuple

from oaken.basis.data_files import shipped_json
from oaken.basis.words import counted
from oaken.design.adjustments import Attempt, Kind, cost_of, kinds
from oaken.design.adjustments.edits import ADDITIONS, CUTS, Tries
from oaken.domain.catalogue import Catalogue, Exercise
from oaken.domain.people.conditions import kind_to
from oaken.domain.prescription import Load, Segment
from oaken.domain.prescription.schemes import reshaped
from oaken.domain.room import Room
from oaken.plan import AnyPart, Block, CircuitBlock, ClassPlan, Group, SetsBlock, Slot, Station
from oaken.plan.changes import on_blocks, on_sets, scaled_rests, swap, with_segments
from oaken.schedule.arrange.search import BlockSearch
from oaken.schedule.class_file import ClassFile
from oaken.schedule.timeline import Circumstances, Outlook
from oaken.schedule.timeline.lineup import line_up

ROTATION_EFFORT = 0.02
MOST_REPS_MORE, MOST_STATIONS_MORE = 10, 3
BREATH = ("bike", "rower", "stair-climber", "elliptical", "battle-ropes", "marching")
"""Stations for the breath, the likeliest first (common practice, no source)."""

BLOCK_KINDS = (
    "fewer_rounds", "more_rounds", "fewer_sets", "more_sets", "shorter_rest", "longer_rest", "shorter_work",
    "longer_work", "shorter_change", "fewer_reps", "more_reps",
)  # fmt: skip
"""Kinds that are also tried on one block of the main part alone, where they change several."""


class Adjustment(NamedTuple):
    """A kind of change as it is tried: its id, what it is called, and its amounts from small to large."""

    id: str
    kind: Kind
    name: str
    tries: Callable[[ClassPlan], Iterator[Attempt]]

    def cost(self, attempt: Attempt, plan: ClassPlan, known: Catalogue) -> float:
        """Weight for the class's aim × the share that changes, 0 to 100."""
        return cost_of(self.kind, attempt, plan, known)


@cache
def own_kinds() -> dict[str, Kind]:
    """The kinds that are only known here."""
    return {row["id"]: Kind.model_validate(row) for row in _data()["kinds"]}


def usually(figure: str) -> list[str]:
    """The kinds that serve a figure most often, by id."""
    told: dict[str, list[str]] = _data()["usually"]
    return told.get(figure, told["otherwise"])


@cache
def _data() -> dict[str, Any]:
    raw: dict[str, Any] = shipped_json("oaken.design.goal_seeking", "kinds.json")
    return raw


def adjustments_of(file: ClassFile, *, orders_at_once: bool = True) -> list[Adjustment]:
    """Every adjustment of a class; another rotation as it is had at once, or is looked for longer."""
    known, room, people = file.catalogue(), file.room_today, file.participants
    named = {**kinds(), **own_kinds()}

    def kind_here(exercise: Exercise) -> bool:
        there = exercise.equipment == "none" or bool(room.working(exercise.equipment))
        return there and kind_to(people, exercise) and exercise.id not in known.retired

    of_plan: dict[str, Callable[[ClassPlan], Iterator[Attempt]]] = {
        name: partial(_of_fit, tries, known, room) for name, tries in (CUTS | ADDITIONS).items()
    }
    of_plan |= {
        "shorter_rest": partial(_rests, tuple(range(95, 45, -5))),
        "longer_rest": partial(_rests, (*range(105, 155, 5), *range(160, 210, 10))),
        "lighter": partial(_loads, (0.975, 0.95, 0.925, 0.9, 0.875, 0.85, 0.8, 0.75, 0.7), known),
        "heavier": partial(_loads, (1.025, 1.05, 1.075, 1.1, 1.125, 1.15, 1.2), known),
        "more_reps": _more_reps,
        "longer_change": partial(_circuits_by, "change_s", tuple(range(5, 45, 5))),
        "shorter_round_rest": partial(_circuits_by, "round_rest_s", tuple(range(-10, -130, -10))),
        "longer_round_rest": partial(_circuits_by, "round_rest_s", tuple(range(15, 135, 15))),
        "easier_variants": partial(_variants, "easier", known, kind_here),
        "harder_variants": partial(_variants, "harder", known, kind_here),
        "breath_station": partial(_breath, known, kind_here),
        "more_sets_of_some": partial(_sets_of_some, 1, known),
        "fewer_sets_of_some": partial(_sets_of_some, -1, known),
        "another_order": partial(_another_order, file, orders_at_once),
    }
    found = [Adjustment(name, named[name], named[name].name, tries) for name, tries in of_plan.items()]
    main = [block for block, counts in zip(file.plan.blocks, file.plan.main_part(), strict=True) if counts]
    for name in BLOCK_KINDS:
        alone = [
            Adjustment(f"{name}@{block.id}", named[name], f"{named[name].name} in “{block.name}”", tries)
            for block in main
            for tries in [partial(_of_block, of_plan[name], block.id)]
            if next(tries(file.plan), None) is not None
        ]
        found += alone if len(alone) > 1 else []
    return found


def _of_fit(tries: Tries, known: Catalogue, room: Room, plan: ClassPlan) -> Iterator[Attempt]:
    yield from tries(plan, known, room)


def _of_block(tries: Callable[[ClassPlan], Iterator[Attempt]], block_id: str, plan: ClassPlan) -> Iterator[Attempt]:
    """The amounts of a kind on one block alone."""
    at = next((number for number, block in enumerate(plan.blocks) if block.id == block_id), None)
    if at is None:
        return
    alone = plan.model_copy(update={"blocks": [plan.blocks[at]]})
    for attempt in tries(alone):
        if len(attempt.plan.blocks) != 1 or attempt.plan.blocks[0] == plan.blocks[at]:
            continue
        blocks = [attempt.plan.blocks[0] if number == at else block for number, block in enumerate(plan.blocks)]
        # half the class changes half as much
        yield attempt._replace(plan=plan.model_copy(update={"blocks": blocks}), share=attempt.share / 2)


def _rests(percents: tuple[int, ...], plan: ClassPlan) -> Iterator[Attempt]:
    last = plan
    for percent in percents:
        changed = scaled_rests(plan, percent / 100)
        if changed != last:
            last = changed
            yield Attempt(changed, f"rests at {percent} % of what they are", abs(percent / 100 - 1))


def _loads(factors: tuple[float, ...], known: Catalogue, plan: ClassPlan) -> Iterator[Attempt]:
    """All loads that are said as a share of best or in kilograms, so much lighter or heavier."""

    def scaled(load: Load | None, factor: float) -> Load | None:
        if load is None:
            return None
        if load.share_of_best is not None:
            return Load(share_of_best=round(min(1.2, load.share_of_best * factor), 3))
        return Load(load_kg=round(min(600, load.load_kg * factor), 1)) if load.load_kg is not None else load

    main = plan.main_part()
    for factor in factors:

        def changed(part: AnyPart, factor: float = factor) -> AnyPart:
            if isinstance(part, Slot):
                return with_segments(part, lambda item: item.model_copy(update={"load": scaled(item.load, factor)}))
            return part.model_copy(update={"load": scaled(part.load, factor)}) if isinstance(part, Station) else part

        blocks: list[Block] = [
            (block.with_parts(changed) or block) if main[at] else block for at, block in enumerate(plan.blocks)
        ]
        other = plan.model_copy(update={"blocks": blocks})
        if other != plan:
            yield Attempt(other, f"loads at {100 * factor:g} % of what they are", abs(factor - 1) * 2)


def _more_reps(plan: ClassPlan) -> Iterator[Attempt]:
    for more in range(1, MOST_REPS_MORE + 1):

        def longer(segment: Segment, more: int = more) -> Segment:
            if segment.reps is None:
                return segment
            to = None if segment.reps_to is None else segment.reps_to + more
            return segment.model_copy(update={"reps": segment.reps + more, "reps_to": to})

        changed = on_sets(plan, lambda _, slot, longer=longer: with_segments(slot, longer))  # type: ignore[misc]
        if changed != plan:
            yield Attempt(changed, f"{counted(more, 'repetition')} more in every set", more / 10)


def _circuits_by(field: str, steps: tuple[int, ...], plan: ClassPlan) -> Iterator[Attempt]:
    """The stations' change or rest between rounds, so many seconds more or fewer."""
    words = {"change_s": "to change", "round_rest_s": "between rounds"}[field]
    for step in steps:

        def changed(block: Block, step: int = step) -> Block:
            if not isinstance(block, CircuitBlock):
                return block
            now = getattr(block, field)
            if now is None:
                now = block.change_s
            if field == "round_rest_s" and block.rounds < 2:
                return block
            then = max(block.change_s if field == "round_rest_s" else 10, now + step)
            return block.model_copy(update={field: min(1800, then)})

        other = on_blocks(plan, changed)
        if other != plan:
            yield Attempt(other, f"{abs(step)} s {'more' if step > 0 else 'fewer'} {words}", min(1.0, abs(step) / 60))


def _variants(way: str, known: Catalogue, kind_here: Callable[[Exercise], bool], plan: ClassPlan) -> Iterator[Attempt]:
    """One exercise after the other in an easier or harder variant that can be done here."""
    main, changed = plan.main_part(), plan
    here = {part.exercise for _, part in plan.placed()}
    names: list[str] = []
    for place, part in plan.placed():
        if not main[int(place[1])]:
            continue
        listed = [
            known.exercises[name] for name in getattr(known.exercises[part.exercise], way) if name in known.exercises
        ]
        other = next((item for item in listed if kind_here(item) and item.id not in here), None)
        if other is None:
            continue
        here.add(other.id)
        changed = swap(changed, part.id, other)
        names.append(other.name.lower())
        yield Attempt(changed, ", ".join(names), len(names) / max(4, len(here)))


def _breath(known: Catalogue, kind_here: Callable[[Exercise], bool], plan: ClassPlan) -> Iterator[Attempt]:
    """One to three stations more that are there for the breath."""
    here = {part.exercise for _, part in plan.placed()}
    found = [known.exercises[name] for name in BREATH if name in known.exercises and name not in here]
    chosen = [item for item in found if kind_here(item)][:MOST_STATIONS_MORE]
    at = next((number for number, block in enumerate(plan.blocks) if isinstance(block, CircuitBlock)), None)
    if at is None:
        return
    block = plan.blocks[at]
    assert isinstance(block, CircuitBlock)
    for many in range(1, len(chosen) + 1):
        stations = [*block.stations, *(Station(exercise=item.id) for item in chosen[:many])]
        more = block.model_copy(update={"stations": stations, "circle": None})
        blocks = [more if number == at else block for number, block in enumerate(plan.blocks)]
        names = " and ".join(item.name.lower() for item in chosen[:many])
        yield Attempt(plan.model_copy(update={"blocks": blocks}), names, many / 4)


def _sets_of_some(by: int, known: Catalogue, plan: ClassPlan) -> Iterator[Attempt]:
    """A set more or fewer of the first exercise, of the first two, and so on."""
    slots = [slot for _, block in plan.of_kind(SetsBlock) for group in block.groups for slot in group.slots]
    for many in range(1, len(slots)):
        some = {slot.id for slot in slots[:many]}

        def changed(_: Group, slot: Slot, some: set[str] = some) -> Slot:
            rounds = min(40, slot.rounds + by)
            return slot.model_copy(update={"sets": reshaped(slot.sets, rounds)}) if slot.id in some and rounds else slot

        other = on_sets(plan, changed)
        if other != plan:
            names = ", ".join(known.exercises[slot.exercise].name.lower() for slot in slots[:many][:3])
            what = f"a set {'more' if by > 0 else 'fewer'} of {names}"
            yield Attempt(other, what + (f" and {many - 3} more" if many > 3 else ""), many / len(slots) / 3)


def _another_order(file: ClassFile, at_once: bool, plan: ClassPlan) -> Iterator[Attempt]:
    """A better order of everybody's visits in every block of sets."""
    around = Circumstances.of(file.room_today, file.participants, file.catalogue(), plan.wishes())
    changed: list[Block] = []
    better = False
    for block in plan.blocks:
        if isinstance(block, SetsBlock):
            search = BlockSearch(line_up(block, around, Outlook.EXPECTED), ROTATION_EFFORT)
            best = search.at_once() if at_once or plan != file.plan else search.run()
            if best.rank < search.before.rank:
                better = True
                changed.append(block.model_copy(update={"rotation": best.rotation}))
                continue
        changed.append(block)
    if better:
        yield Attempt(plan.model_copy(update={"blocks": changed}), "another order of the visits", 1.0)
