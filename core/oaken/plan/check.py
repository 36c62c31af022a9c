"""What a plan's document alone cannot know: whether every name it uses exists and fits; and what is left to guess."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, TypeVar

from oaken.basis.faults import Fault, place_in_words
from oaken.domain.catalogue import Catalogue, Exercise
from oaken.domain.people import Person
from oaken.domain.prescription import MachineSetting, Manner, Segment, SetRun, merged
from oaken.domain.room import Room
from oaken.plan.blocks import AnyPart, Block, Leg, Place, Slot, Station, segments_of
from oaken.plan.document import ClassPlan


def check(plan: ClassPlan, room: Room, people: list[Person], catalogue: Catalogue) -> list[Fault]:
    """What the document alone cannot know: whether every name it uses exists and fits."""
    found: list[Fault] = []

    document: dict[str, Any] = {}

    def report(path: Place, message: str, right: str) -> None:
        if not document:
            document.update(plan.model_dump())
        found.append(
            Fault(
                path=".".join(str(step) for step in ("plan", *path)),
                place=place_in_words(document, path) if len(path) > 1 else "the plan",
                field=str(path[-1]) if isinstance(path[-1], str) else str(path[-2]),
                message=message,
                right=right,
            )
        )

    def known_exercise(path: Place, exercise: str) -> bool:
        if exercise in catalogue.exercises:
            return True
        near = catalogue.closest_exercises(exercise)
        right = f"perhaps {', '.join(near)}" if near else "an exercise id from the catalogue"
        report(path, f"{exercise!r} is not in the catalogue", right)
        return False

    if plan.room != room.id:
        report(("room",), f"names the room {plan.room!r}", f"the room at hand is {room.id!r}")
    known = {person.id for person in people}
    for index, person in enumerate(plan.people):
        if person not in known:
            report(("people", index), f"nobody has the id {person!r}", "an id from the list of people")
        elif person in plan.people[:index]:
            report(("people", index), f"{person!r} is in the class twice", "each person once")
    for name in ("together", "apart"):
        for index, company in enumerate(getattr(plan, name)):
            for place, person in enumerate(company):
                if person not in plan.people:
                    report((name, index, place), f"nobody in the class has the id {person!r}", "an id from its people")
    for index, item in enumerate(plan.instead):
        known_exercise(("instead", index, "exercise"), item.exercise)
        known_exercise(("instead", index, "other"), item.other)
        for place, person in enumerate(item.people):
            if person not in plan.people:
                right = "an id from its people"
                report(("instead", index, "people", place), f"nobody in the class has the id {person!r}", right)
    for index, name in enumerate(plan.newcomers):
        if name not in plan.people:
            report(("newcomers", index), f"nobody in the class has the id {name!r}", "an id from its people")
    for index, own in enumerate(plan.settings):
        if own.person not in plan.people:
            report(
                ("settings", index, "person"), f"nobody in the class has the id {own.person!r}", "an id from its people"
            )
    for question, school in plan.choices.items():
        asked = catalogue.questions.get(question)
        if asked is None:
            report(("choices", question), "is no question of the catalogue", ", ".join(catalogue.questions))
        elif school not in (schools := [school.id for school in asked.schools]):
            report(("choices", question), f"{school!r} is no school of it", " or ".join(schools))
    for path, part in plan.placed():
        if not known_exercise((*path, "exercise"), part.exercise) or isinstance(part, Station):
            continue
        exercise = catalogue.exercises[part.exercise]
        for o, other in enumerate(part.others if isinstance(part, Slot) else []):
            if other.exercise is not None:
                known_exercise((*path, "others", o, "exercise"), other.exercise)
            for place, person in enumerate(other.people):
                if person not in plan.people:
                    right = "an id from its people"
                    report((*path, "others", o, "people", place), f"nobody in the class has the id {person!r}", right)
        for inside, segment in segments_of(part):
            if segment.metres is not None and exercise.speed_m_per_s is None:
                right = "seconds or repetitions, or an exercise that covers ground"
                report((*path, *inside, "metres"), f"{exercise.name} is not measured in metres", right)
        if isinstance(part, Slot):
            for r, run in enumerate(part.sets):
                if run.rest_doing is not None:
                    known_exercise((*path, "sets", r, "rest_doing"), run.rest_doing)
    return found


def settled(plan: ClassPlan, catalogue: Catalogue) -> ClassPlan:
    """The plan with nothing left to guess and nothing without a meaning: every count of a one-sided exercise says how
    it is meant, and no exercise has a load or a setting that it cannot take."""
    return plan.model_copy(update={"blocks": [_settled_block(block, catalogue) for block in plan.blocks]})


def settled_slot(slot: Slot, catalogue: Catalogue) -> Slot:
    """The slot with the sides of every count said, and without what its exercise cannot take."""

    def said(sets: list[SetRun], name: str) -> list[SetRun]:
        exercise = catalogue.exercises[name]
        sided = [
            run.model_copy(update={"segments": [_with_side(segment) for segment in run.segments]})
            if exercise.one_sided
            else run
            for run in sets
        ]
        return merged(fitted_sets(sided, exercise))

    others = [
        other
        if other.sets is None
        else other.model_copy(update={"sets": said(other.sets, other.exercise or slot.exercise)})
        for other in slot.others
    ]
    return slot.model_copy(update={"sets": said(slot.sets, slot.exercise), "others": others})


def fitted_sets(sets: Sequence[SetRun], exercise: Exercise) -> list[SetRun]:
    """The sets without what the exercise cannot take: loads where none is carried, settings its machine has not got."""
    return [
        run.model_copy(update={"segments": [fitted(segment, exercise) for segment in run.segments]}) for run in sets
    ]


AnyManner = TypeVar("AnyManner", bound=Manner)


def fitted(manner: AnyManner, exercise: Exercise) -> AnyManner:
    """How something is done without what the exercise cannot take."""
    update: dict[str, object] = {}
    if manner.load is not None and not exercise.can_take(manner.load):
        update["load"] = None
    if isinstance(manner, Segment) and manner.change is not None and not exercise.takes_load:
        update["change"] = None
    if manner.setting is not None:
        kept = {
            name: value
            for name, value in manner.setting.model_dump(exclude_none=True).items()
            if name in exercise.settings
        }
        update["setting"] = MachineSetting(**kept) if kept else None
    return manner.model_copy(update=update) if update else manner


def _with_side(segment: Segment) -> Segment:
    return segment if segment.sides is not None else segment.model_copy(update={"sides": "each_side"})


def _settled_block(block: Block, catalogue: Catalogue) -> Block:
    def settled_part(part: AnyPart) -> AnyPart:
        match part:
            case Slot():
                return settled_slot(part, catalogue)
            case Leg():
                exercise = catalogue.exercises[part.exercise]
                turn = fitted(part.turn, exercise)
                return part.model_copy(update={"turn": _with_side(turn) if exercise.one_sided else turn})
            case Station():
                return fitted(part, catalogue.exercises[part.exercise])

    return block.with_parts(settled_part) or block
