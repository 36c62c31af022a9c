"""Taking entries and rooms out: what anything kept still names is retired, what nothing names is deleted.

Retired means hidden from choosing; whatever names it goes on as it was, and it can be brought back.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from django.db import transaction
from oaken.basis.faults import Fault, FaultyInput, faults_in
from oaken.plan.naming import exercises_named
from people.models import Lift, UnitSetting
from planning.models import CourseRevision, Revision
from studio.models import Room, Studio
from studio.own import own_entries, own_entry_of, set_entry

from logbook.models import Run

Outcome = Literal["deleted", "retired"]
SHOWN = 5


@dataclass(frozen=True)
class Removal:
    """What became of an entry, and the first few things that still name it."""

    outcome: Outcome
    named_by: list[str]


def take_out_exercise(studio: Studio, key: str) -> Removal:
    """Take an own exercise out. Raises FaultyInput where it was not added here."""
    return _take_out(studio, "exercise", key, _names_of_exercise(studio, key))


def take_out_equipment(studio: Studio, key: str) -> Removal:
    """Take an own equipment kind out. Raises FaultyInput where it was not added here."""
    return _take_out(studio, "equipment", key, _names_of_equipment(studio, key))


def take_out_room(studio: Studio, key: str) -> Removal:
    """Take a room out. Raises FaultyInput for the last one that can be chosen."""
    with transaction.atomic():
        room = studio.rooms.get(key=key)
        if not room.retired and not studio.rooms.filter(retired=False).exclude(pk=room.pk).exists():
            raise FaultyInput([_fault(key, "is the only room there is", "another room first")])
        named = list(dict.fromkeys(_names_of_room(studio, key)))
        if named:
            Room.objects.filter(pk=room.pk).update(retired=True)
        else:
            room.delete()
    return Removal("retired" if named else "deleted", named[:SHOWN])


def bring_back_room(studio: Studio, key: str) -> None:
    """Let a retired room be chosen again."""
    studio.rooms.filter(key=key).update(retired=False)


def bring_back_entry(studio: Studio, kind: str, key: str) -> None:
    """Let a retired exercise or equipment kind be chosen again. Raises FaultyInput where it was not added here."""
    own_entry_of(studio, kind, key)
    set_entry(studio, key, retired=False)


def _take_out(studio: Studio, kind: str, key: str, names: Iterator[str]) -> Removal:
    with transaction.atomic():
        own_entry_of(studio, kind, key)
        named = list(dict.fromkeys(names))
        set_entry(studio, key, retired=True, delete=not named)
    return Removal("retired" if named else "deleted", named[:SHOWN])


def _names_of_exercise(studio: Studio, key: str) -> Iterator[str]:
    for document in CourseRevision.objects.filter(course__studio=studio).values_list("document", flat=True).iterator():
        if key in exercises_named(document):
            yield f"the course {document['name']}"
    for document in _documents(studio):
        if key in exercises_named(document):
            yield f"the class {document['name']}"
    for rule in studio.house_rules:
        if key in exercises_named(rule):
            yield f"the studio rule {rule['id']}"
    for each_exercise in own_entries(studio).exercises:
        if key in (*each_exercise.easier, *each_exercise.harder):
            yield each_exercise.name
    if Lift.objects.filter(person__studio=studio, exercise=key).exists():
        yield "somebody's lifts"


def _names_of_equipment(studio: Studio, key: str) -> Iterator[str]:
    yield from studio.rooms.filter(units__kind=key).values_list("name", flat=True)
    yield from (exercise.name for exercise in own_entries(studio).exercises if exercise.equipment == key)
    for run in Run.objects.filter(studio=studio).iterator():
        if run.file and any(unit["kind"] == key for unit in run.file["room"]["units"]):
            yield f"the class {run.file['plan']['name']}"


def _names_of_room(studio: Studio, key: str) -> Iterator[str]:
    for document in _documents(studio):
        if document.get("room") == key:
            yield f"the class {document['name']}"
    if UnitSetting.objects.filter(person__studio=studio, room=key).exists():
        yield "somebody's settings"


def _documents(studio: Studio) -> Iterator[dict[str, object]]:
    """The plans of every revision, newest first, and of every class that was held."""
    revisions = Revision.objects.filter(planned_class__studio=studio).order_by("-pk")
    yield from revisions.values_list("document", flat=True).iterator()
    for file in Run.objects.filter(studio=studio).values_list("file", flat=True).iterator():
        if file is not None:
            yield file["plan"]


def _fault(key: str, message: str, right: str) -> Fault:
    return faults_in(key)("id", message, right)
