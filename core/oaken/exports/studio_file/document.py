"""What stands in the file of a whole studio: one model for each kind of line, all of them published as schemas."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field

from oaken.basis.limits import most
from oaken.basis.moments import Moment
from oaken.basis.names import AdviceKey, Clean, ThingName
from oaken.domain.catalogue import EquipmentKind, Exercise
from oaken.domain.people import Closed
from oaken.domain.people.record import Record
from oaken.domain.room import Room
from oaken.plan import HouseRule
from oaken.programme.course import Course

FORMAT: Literal["oaken-studio/1"] = "oaken-studio/1"

Key = Annotated[str, Field(max_length=60, pattern=r"^[-a-zA-Z0-9_]*$")]
Id = Annotated[int, Field(ge=1, le=2**53)]
Count = Annotated[int, Field(ge=0, le=2**31 - 1)]
Figure = Annotated[float, Field(allow_inf_nan=False)]
Said = Annotated[str, Field(max_length=150)]
Readings = Annotated[list[Figure], Field(max_length=600_000)]


class Packed(Closed):
    """One file inside: where it stands, how large it is, its SHA-256 in hexadecimal digits."""

    path: Annotated[str, Field(max_length=80)]
    bytes: Annotated[int, Field(ge=0)]
    sha256: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]


class Manifest(Closed):
    """`manifest.json`: whose studio this is, when it was taken out, and every other file with its checksum."""

    format: Literal["oaken-studio/1"]
    name: Annotated[str, Clean, Field(max_length=120)]
    made_at: Moment
    files: Annotated[list[Packed], Field(max_length=50_000)]


class Works(Closed):
    """Somebody who worked in the studio. Passwords stay where they are."""

    user: Said
    role: Literal["instructor", "assistant"]


class House(Closed):
    """`studio.json`: the studio itself, its rules, and who worked there."""

    name: ThingName
    time_zone: Annotated[str, Field(min_length=1, max_length=60)]
    house_rules: Annotated[list[HouseRule], Field(max_length=60)]
    load_rules: dict[str, Any]
    revision: Count
    works: Annotated[list[Works], Field(max_length=1000)]


class KeptRoom(Closed):
    """A line of `rooms.jsonl`."""

    room: Room
    revision: Count
    retired: bool


Decided = Literal["", "kept", "shipped"]
"""What was chosen about an own entry that is shipped now too: nothing yet, both, or the shipped one."""


class KeptExercise(Closed):
    """A line of `own-exercises.jsonl`: an exercise that was added to the catalogue."""

    exercise: Exercise
    retired: bool
    decided: Decided = ""


class KeptEquipment(Closed):
    """A line of `own-equipment.jsonl`: an equipment kind that was added to the catalogue."""

    equipment: EquipmentKind
    retired: bool
    decided: Decided = ""


class KeptBody(Closed):
    """Body mass and resting rate as they were written down on a day."""

    on: date
    body_mass_kg: Annotated[float, Field(ge=0, le=500)] | None = None
    resting_bpm: Annotated[int, Field(ge=0, le=300)] | None = None


class KeptGoal(Closed):
    """A best to reach by a day."""

    exercise: Key
    best_kg: Annotated[float, Field(ge=0, le=2000)]
    by: date


class KeptPerson(Closed):
    """A line of `people.jsonl`. `erased` marks the nameless stand-in of somebody who asked to be forgotten."""

    record: Record
    load_school: Annotated[str, Field(max_length=20)]
    erased: bool
    revision: Count
    bodies: Annotated[list[KeptBody], Field(max_length=20_000)]
    goals: Annotated[list[KeptGoal], Field(max_length=300)]


class KeptRead(Closed):
    """What was read before a class and decided, by whom and when."""

    revision: Count
    by: Said
    at: Moment
    items: Annotated[list[dict[str, Any]], Field(max_length=400)]


class ClassHead(Closed):
    """The first line of `classes/N.jsonl`. `course` is the number of the course it was written out from, `accepted`
    are keys of lines of its review."""

    key: Key
    archived: bool
    created_at: Moment
    course: Id | None = None
    course_week: Annotated[int, Field(ge=1, le=100)] | None = None
    course_meeting: Annotated[str, Field(max_length=60)]
    written_revision: Count | None = None
    written_from: Count | None = None
    read: Annotated[list[KeptRead], Field(max_length=5000)]
    accepted: Annotated[list[AdviceKey], Field(max_length=most("class.accepted"))] = []


class KeptRevision(Closed):
    """Every other line of `classes/N.jsonl`: a saved state of the plan, and what its forecast said at that time."""

    number: Annotated[int, Field(ge=1, le=100_000)]
    saved_at: Moment
    format: Literal["oaken-class/1", "oaken-class/2"]
    plan: dict[str, Any]
    length_s: Annotated[float, Field(ge=0, allow_inf_nan=False)]
    kcal_each: Figure
    outline: Annotated[list[dict[str, Any]], Field(max_length=200)]


class CourseHead(Closed):
    """The first line of `courses/N.jsonl`."""

    archived: bool
    created_at: Moment


class KeptCourse(Closed):
    """Every other line of `courses/N.jsonl`: a saved state of a course. Its bases are numbers of classes here."""

    number: Annotated[int, Field(ge=1, le=100_000)]
    saved_at: Moment
    course: Course


class KeptAttendance(Closed):
    """Somebody who came to a class, and what it came to for them."""

    person: Key
    figures: dict[Annotated[str, Field(max_length=60)], Figure]


class RunHead(Closed):
    """`runs/N.json`: a class as it was held; what happened stands in `runs/N.log.jsonl`, a run log.

    `known` is False where an earlier version did not keep what it was held with; the log then has no class.
    """

    of_class: Id
    revision: Annotated[int, Field(ge=1)]
    known: bool
    rebuilt: bool
    opened_at: Moment
    began_at: Moment | None = None
    ended_at: Moment | None = None
    people_count: Count
    kcal_total: Figure
    figures: Annotated[list[dict[str, Any]], Field(max_length=200)]
    unwritten: Count
    projected: Annotated[int, Field(ge=0, le=30_000)]
    came: Annotated[list[KeptAttendance], Field(max_length=200)]


class KeptHeart(Closed):
    """A line of `runs/N.hearts.jsonl`: a recording, or a few readings of a belt of a class that is not over. `seconds`
    count from the first reading."""

    person: Key
    kind: Literal["recording", "belt"]
    source: Annotated[str, Field(max_length=10)] = ""
    start: Moment | None = None
    offset_s: Figure | None = None
    seconds: Readings
    bpm: Readings
    at_work: dict[str, Any] | None = None


FOLDERS: dict[str, tuple[type[BaseModel], ...]] = {
    "studio.json": (House,),
    "rooms.jsonl": (KeptRoom,),
    "own-exercises.jsonl": (KeptExercise,),
    "own-equipment.jsonl": (KeptEquipment,),
    "people.jsonl": (KeptPerson,),
    "classes/N.jsonl": (ClassHead, KeptRevision),
    "courses/N.jsonl": (CourseHead, KeptCourse),
    "runs/N.json": (RunHead,),
    "runs/N.hearts.jsonl": (KeptHeart,),
}
"""What each file holds; where two are named, the first is its first line. Run logs and tables of sets have formats of
their own."""


def json_schema() -> dict[str, Any]:
    """The JSON Schemas of the manifest and of every line, by the file they stand in."""
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "The file of a studio, by what stands in it",
        "manifest.json": Manifest.model_json_schema(),
        **{path: [model.model_json_schema() for model in models] for path, models in FOLDERS.items()},
    }
