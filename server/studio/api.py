"""Endpoints of the rooms and of the catalogue."""

from typing import Annotated, Literal

from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Router, Status
from oaken.basis.estimate import Method, methods
from oaken.basis.faults import Faults
from oaken.design.first_class import FirstRoom, first_room, things
from oaken.domain.catalogue import (
    Activity,
    Condition,
    EquipmentKind,
    Exercise,
    MuscleMassClass,
    NamedEntry,
    Pattern,
    Question,
    also_called,
)
from oaken.domain.people.conditions import CarefulAbout, CareQuestion, asked, conditions
from oaken.domain.people.roster import fresh_id
from oaken.domain.prescription import Stance, stance_claims
from oaken.domain.room import Room as CoreRoom
from oaken.physiology.derivation import Derivation, derivation_of
from oaken.plan import Block
from oaken.plan.notation.shipped import CheatSheet, cheat_sheet, templates
from pydantic import BaseModel, Field

from studio import rooms
from studio.access import Number, needs, studio_of
from studio.answers import Answer
from studio.documents import Stale, StaleSave
from studio.models import Room
from studio.own import Decision, collisions, decide, house_catalogue, keep_equipment, keep_exercise

router = Router(tags=["studio"])


class CollisionOut(Answer):
    """An own entry whose id or name a shipped one has now too, and how that one is called beside it."""

    id: str
    kind: Literal["exercise", "equipment"]
    name: str
    by: Literal["id", "name"]
    shipped: str
    shipped_name: str


class DecisionIn(BaseModel):
    """What becomes of an own entry that is shipped now too: both stay, the shipped one is used, or it gets a `name`."""

    decision: Decision
    name: Annotated[str, Field(max_length=60)] = ""


class CatalogueOut(BaseModel):
    """What can be put into a class, and the questions on which practitioners disagree. `own` are the exercises added
    here, `retired` those of them that are no longer to be chosen, and likewise for equipment kinds; `spoken` is what
    else exercises are called on the floor, `stance_claims` where positions of the feet are said to shift the work: a
    claim that no figure counts. `collisions` are own entries that are shipped now too, not decided yet."""

    exercises: list[Exercise]
    equipment: list[EquipmentKind]
    muscles: list[NamedEntry]
    patterns: list[Pattern]
    muscle_mass: list[MuscleMassClass]
    activities: list[Activity]
    questions: list[Question]
    own: list[str]
    retired: list[str]
    own_equipment: list[str]
    retired_equipment: list[str]
    collisions: list[CollisionOut]
    spoken: dict[str, list[str]]
    stance_claims: dict[Stance, str]


class CareOut(BaseModel):
    """What an exercise asks of a condition (0 nothing, 1 little, 2 some, 3 much; None where nobody has said), why, and
    how it is done with less of it."""

    condition: Condition
    name: str
    asks: int | None
    why: str
    say: str


class ExerciseDetail(BaseModel):
    """One exercise with how its demand was derived, what could stand in its place, nearest first, and what it asks of
    people who have to be careful."""

    exercise: Exercise
    derivation: Derivation
    substitutes: list[str]
    care: list[CareOut]


class TemplateOut(BaseModel):
    """A block to begin with."""

    id: str
    name: str
    what: str
    lines: list[str]
    block: Block


class RoomListed(CoreRoom):
    """A room of the list; a retired one is no longer to be chosen."""

    retired: bool


@router.get("/rooms", response=list[RoomListed], auth=needs("run_classes"))
def list_rooms(request: HttpRequest) -> list[RoomListed]:
    """Every room with its units, retired ones last."""
    rooms = studio_of(request).rooms.prefetch_related("units", "zones").order_by("retired", "name")
    return [RoomListed(**dict(room.to_core()), retired=room.retired) for room in rooms]


class RoomOut(BaseModel):
    """A room with the number of its state."""

    room: CoreRoom
    revision: int


class RoomSave(BaseModel):
    """A room to keep, and the state it was made from."""

    based_on: Number
    room: CoreRoom


class RoomIn(BaseModel):
    """A new room."""

    room: CoreRoom


@router.post("/rooms", response={201: RoomOut, 422: Faults})
def post_room(request: HttpRequest, given: RoomIn) -> Status[RoomOut]:
    """Keep a new room."""
    return Status(201, _room_out(rooms.create_room(studio_of(request), given.room)))


class ThingOut(BaseModel):
    """Something that may stand in a first room."""

    kind: str
    name: str
    group: str
    most: int


@router.get("/rooms/things", response=list[ThingOut])
def list_things(request: HttpRequest) -> list[ThingOut]:
    """The short list from which a first room is told."""
    kinds = house_catalogue(studio_of(request)).equipment
    return [
        ThingOut(kind=thing.kind, name=kinds[thing.kind].name, group=thing.group, most=thing.most) for thing in things()
    ]


@router.post("/rooms/first", response={201: RoomOut, 422: Faults})
def post_first_room(request: HttpRequest, told: FirstRoom) -> Status[RoomOut]:
    """Keep a room from a short list of what stands there, everything placed sensibly, to be dragged."""
    studio = studio_of(request)
    key = fresh_id(told.name, studio.rooms.values_list("key", flat=True))
    return Status(201, _room_out(rooms.create_room(studio, first_room(told, key, house_catalogue(studio)))))


@router.get("/rooms/{key}", response=RoomOut, auth=needs("run_classes"))
def read_room(request: HttpRequest, key: str) -> RoomOut:
    """A room to work on."""
    return _room_out(get_object_or_404(studio_of(request).rooms.prefetch_related("units", "zones"), key=key))


@router.put("/rooms/{key}", response={200: RoomOut, 409: Stale[RoomOut], 422: Faults})
def put_room(request: HttpRequest, key: str, given: RoomSave) -> Status[RoomOut] | Status[Stale[RoomOut]]:
    """Keep a changed room; 409 with the newest state when it was made from an older."""
    get_object_or_404(studio_of(request).rooms, key=key)
    try:
        return Status(200, _room_out(rooms.save_room(studio_of(request), key, given.based_on, given.room)))
    except StaleSave as stale:
        return Status(409, Stale[RoomOut](message=str(stale), latest=_room_out(stale.latest)))


def _room_out(room: Room) -> RoomOut:
    return RoomOut(room=room.to_core(), revision=room.revision)


@router.get("/catalogue", response=CatalogueOut, auth=needs("run_classes"))
def read_catalogue(request: HttpRequest) -> CatalogueOut:
    """Exercises, equipment kinds, muscles, patterns and questions."""
    known = house_catalogue(studio_of(request))
    return CatalogueOut(
        exercises=sorted(known.exercises.values(), key=lambda exercise: exercise.name),
        equipment=list(known.equipment.values()),
        muscles=list(known.muscles.values()),
        patterns=list(known.patterns.values()),
        muscle_mass=list(known.muscle_mass.values()),
        activities=list(known.activities.values()),
        questions=list(known.questions.values()),
        own=sorted(known.own),
        retired=sorted(known.retired),
        own_equipment=sorted(known.own_equipment),
        retired_equipment=sorted(known.retired_equipment),
        collisions=[CollisionOut.model_validate(collision) for collision in collisions(studio_of(request))],
        spoken=also_called(known.exercises.values()),
        stance_claims=stance_claims(),
    )


@router.get("/catalogue/exercises/{key}", response={200: ExerciseDetail, 404: Faults}, auth=needs("run_classes"))
def read_exercise(request: HttpRequest, key: str) -> ExerciseDetail | Status[Faults]:
    """One exercise with its derivation and substitutes."""
    known = house_catalogue(studio_of(request))
    exercise = known.exercises.get(key)
    if exercise is None:
        return Status(404, Faults(faults=[]))
    return ExerciseDetail(
        exercise=exercise,
        derivation=derivation_of(exercise, known),
        substitutes=[substitute.id for substitute in known.substitutes(exercise)],
        care=[_care(about, asked(about.id, exercise)) for about in conditions().values()] if exercise.is_work else [],
    )


def _care(about: CarefulAbout, told: CareQuestion | None) -> CareOut:
    if told is None:
        return CareOut(condition=about.id, name=about.name, asks=None, why="nobody has said how it suits", say="")
    return CareOut(condition=about.id, name=about.name, asks=told.asks, why=told.why, say=told.say)


@router.put("/catalogue/exercises", response={200: Exercise, 422: Faults})
def put_exercise(request: HttpRequest, exercise: Exercise) -> Exercise:
    """Add or replace an exercise of one's own."""
    return keep_exercise(studio_of(request), exercise)


@router.put("/catalogue/equipment", response={200: EquipmentKind, 422: Faults})
def put_equipment(request: HttpRequest, kind: EquipmentKind) -> EquipmentKind:
    """Add or replace an equipment kind of one's own."""
    return keep_equipment(studio_of(request), kind)


@router.post("/catalogue/own/{key}/decision", response={204: None, 422: Faults})
def decide_collision(request: HttpRequest, key: str, given: DecisionIn) -> Status[None]:
    """Decide about an own entry that the shipped catalogue has now too."""
    decide(studio_of(request), key, given.decision, given.name)
    return Status(204, None)


@router.get("/methods", response=list[Method], auth=needs("run_classes"))
def list_methods(request: HttpRequest) -> list[Method]:
    """How each figure is reached: formula, source and range."""
    return list(methods().values())


@router.get("/cheat-sheet", response=CheatSheet, auth=needs("run_classes"))
def read_cheat_sheet(request: HttpRequest) -> CheatSheet:
    """The written notation on one page."""
    return cheat_sheet()


@router.get("/templates", response=list[TemplateOut], auth=needs("run_classes"))
def list_templates(request: HttpRequest) -> list[TemplateOut]:
    """A block to begin with, for each kind."""
    known = house_catalogue(studio_of(request))
    return [TemplateOut(**template.model_dump(), block=template.block(known)) for template in templates()]
