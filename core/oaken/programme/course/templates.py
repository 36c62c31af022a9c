"""Whole courses made from what a room has and who comes: three schools, to be changed."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass
from datetime import date
from functools import cache
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from oaken.basis.data_files import shipped_json
from oaken.design.first_class import Manner, Wanted, empty_class, first_class
from oaken.design.generator import ClassFormat, ClassRequest, Day, Lately, NotInClass, best_for, generate
from oaken.design.generator.weighed import is_main_lift
from oaken.domain.catalogue import Catalogue, Exercise, OwnEntries
from oaken.domain.people import Person
from oaken.domain.room import Room
from oaken.plan import Aim, ClassPlan
from oaken.plan.blocks import Name, SetsBlock
from oaken.plan.changes import Change, InTurn, SetScheme, apply
from oaken.programme.course.document import MOST_WEEKS, Base, Course, Meeting, TimeOfDay, WeekChange
from oaken.programme.course.weeks import changes_in
from oaken.schedule.class_file.document import FORMAT, ClassFile
from oaken.schedule.timeline import Circumstances, Outlook, blocks_at, lengths
from oaken.schedule.timeline.schedule import NO_EQUIPMENT


class _Closed(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class _BaseOf(_Closed):
    id: str
    name: str
    parts: list[str]
    manner: Manner | None = None
    aim: Aim | None = None


class _MeetingOf(_Closed):
    base: str
    weekday: int


class _Phase(_Closed):
    weeks: list[int]
    name: str
    changes: list[Annotated[Change, Field(discriminator="do")]]


class Template(_Closed):
    """A school of courses: what it is, its base classes, when they are held, and its phases."""

    id: str
    name: str
    what: str
    manner: Manner
    aim: Aim
    slot_min: int
    meetings: list[_MeetingOf]
    bases: list[_BaseOf]
    phases: list[_Phase]


@cache
def templates() -> dict[str, Template]:
    """Every template by id, from the data file beside this module."""
    raw = shipped_json("oaken.programme.course", "templates.json")
    return {item["id"]: Template.model_validate(item) for item in raw["templates"]}


@dataclass(frozen=True, slots=True)
class TemplateMade:
    """A course with its base classes by id, nothing of it kept."""

    course: Course
    plans: dict[str, ClassPlan]


def template(
    kind: str, room: Room, people: Sequence[Person], catalogue: Catalogue, *, name: Name, starts: date, time: TimeOfDay,
    weeks: int = 12, generated: bool = False, lately: Sequence[Lately] = (),
) -> TemplateMade:  # fmt: skip
    """A course of a school from a room and people. Loads are left to the people's working loads. With `generated` its
    base classes are generated, each unlike the others and what was done `lately`. Raises KeyError for a school there is
    not.
    """
    chosen = templates()[kind]
    weeks = min(weeks, MOST_WEEKS)
    course = Course(
        name=name,
        note=chosen.what,
        starts=starts,
        weeks=weeks,
        bases=[Base(id=base.id, name=base.name) for base in chosen.bases],
        meetings=[
            Meeting(id=f"m{number}", base=meeting.base, weekday=meeting.weekday, time=time)
            for number, meeting in enumerate(chosen.meetings, 1)
        ],
        changes=[
            WeekChange(weeks=tuple(kept), change=change)
            for phase in chosen.phases
            for change in phase.changes
            if (kept := [week for week in phase.weeks if week <= weeks])
        ],
        names={week: phase.name for phase in chosen.phases for week in phase.weeks if week <= weeks},
    )
    plans: dict[str, ClassPlan] = {}
    unlike: list[list[str]] = []
    for base in chosen.bases:
        make = _Maker(chosen, base, course, room, people, catalogue, unlike, lately)
        plan = plans[base.id] = make.fitting(generated=generated)
        if generated:
            course = _with(course, make.in_turn(plan))
        main = plans[base.id].main_part()
        unlike.append([part.exercise for place, part in plans[base.id].placed() if main[int(place[1])]])
    return TemplateMade(course, plans)


DAYS: dict[Day, frozenset[str]] = {
    "front": frozenset(("front of the leg", "knee", "one leg", "inner thigh")),
    "back": frozenset(("back of the leg", "hinge", "hips", "side of the hip")),
}
"""The parts of a base class that make it a day for the front or the back; what has both is for the whole leg."""

FIRST: dict[Day, tuple[str, ...]] = {"front": ("quadriceps",), "back": ("hamstrings",)}
"""What a class for the whole leg has more of, by the part it begins with."""

GENERATED_AS: dict[str, ClassFormat] = {
    "stations": "stations", "partners": "partners", "pairs": "pairs", "straight sets": "straight sets",
}  # fmt: skip


MOST_IN_TURN = 3
"""So many accessories of a base class change in the second half of a course."""

SET_S = 25.0
"""About what a set of few repetitions takes (common practice, no source)."""

FILLED = 0.7
"""The share of a class in which a machine can be in use: warm-up, cool-down and ways are the rest."""

SHORTER = (1.0, 0.92, 0.84, 0.76, 0.68, 0.6)
"""Shares of the slot for which a base class is made, until its longest week fits."""


@dataclass(frozen=True)
class _Maker:
    """Makes one base class of a course; what it is to differ from, and what was done lately, matter if generated."""

    chosen: Template
    base: _BaseOf
    course: Course
    room: Room
    people: Sequence[Person]
    catalogue: Catalogue
    unlike: Sequence[Collection[str]]
    lately: Sequence[Lately]

    def fitting(self, *, generated: bool) -> ClassPlan:
        """A class that fits its slot in every week of the course, as far as that can be had; where nothing can be
        generated, the first class that uses the room."""
        plan: ClassPlan | None = None
        for share in SHORTER:
            slot_min = max(15, round(self.chosen.slot_min * share))
            for made in self._made(slot_min, generated=generated):
                plan = made.model_copy(update={"slot_min": self.chosen.slot_min})
                longest_s = _longest_s(plan, self.base.id, self.course, self.room, self.people, self.catalogue)
                if longest_s <= self.chosen.slot_min * 60:
                    return plan
        assert plan is not None
        return plan

    def _made(self, slot_min: int, *, generated: bool) -> Iterator[ClassPlan]:
        """Classes of this length: generated, then generated without what so many people would queue for; the first
        class that uses the room where nothing can be."""
        found = False
        for without in dict.fromkeys(((), self._busy())) if generated else ():
            # the second takes as long as the first: it is made only where the first does not fit
            plan = self._generated(slot_min, without)
            if plan is not None:
                found = True
                yield plan
        if not found:
            yield self._first(slot_min)

    def _busy(self) -> tuple[str, ...]:
        """Kinds of equipment on which everybody's sets of the longest scheme take longer than the class: few places
        for many people."""
        sets = (_longest_scheme(self.chosen).sets or 3) + 1
        kinds = {unit.kind for unit in self.room.units}
        return tuple(
            sorted(
                kind
                for kind in kinds
                if (known := self.catalogue.equipment.get(kind)) is not None
                and len(self.people) * sets * (SET_S + known.set_up_s + known.load_change_s)
                > max(1, len(self.room.working(kind))) * FILLED * 60 * self.chosen.slot_min
            )
        )

    def _wanted(self, slot_min: int) -> Wanted:
        return Wanted(
            name=f"{self.course.name}: {self.base.name}"[:120],
            room=self.room.id,
            people=[person.id for person in self.people],
            slot_min=slot_min,
            aim=self.base.aim or self.chosen.aim,
            manner=self.base.manner or self.chosen.manner,
            parts=tuple(self.base.parts),
            loads="working",
            scheme=_longest_scheme(self.chosen),
        )

    def in_turn(self, plan: ClassPlan) -> list[WeekChange]:
        """Other exercises in the place of some accessories in the second half, as far as every week still fits: the
        main lifts stay, so that they can progress."""
        weeks = tuple(range(self.course.weeks // 2 + 1, self.course.weeks + 1))
        known = self.catalogue.exercises
        chosen = [slot.exercise for _, block in plan.of_kind(SetsBlock) for slot in block.parts]
        taken = {known[name].equipment for name in chosen} - {NO_EQUIPMENT}
        without = {*chosen, *(name for other in self.unlike for name in other)}
        file, class_request = self._asked(plan.slot_min)
        found: list[WeekChange] = []
        for name in reversed(chosen):
            if len(found) == MOST_IN_TURN or not weeks or is_main_lift(known[name]) or not known[name].prime:
                continue
            crowded = {other.id for other in known.values() if other.equipment in taken - {known[name].equipment}}
            # two of one movement in a class are one too many
            moves = {known[item].pattern for item in chosen if item != name}
            alike = {other.id for other in known.values() if other.pattern in moves}
            other = best_for(known[name].prime[0], class_request, file, {*without, *crowded, *alike})
            if other is None or _counted_otherwise(other.exercise, known[name]):
                continue
            change = InTurn(exercise=name, other=other.exercise.id)
            more = [*found, WeekChange(weeks=weeks, bases=(self.base.id,), change=change)]
            fits_s = _longest_s(plan, self.base.id, _with(self.course, more), self.room, self.people, self.catalogue)
            if fits_s <= self.chosen.slot_min * 60:
                found = more
                without.add(other.exercise.id)
                taken.add(other.exercise.equipment)
        return found

    def _first(self, slot_min: int) -> ClassPlan:
        return first_class(self._wanted(slot_min), self.room, self.people, self.catalogue)

    def _generated(self, slot_min: int, without: tuple[str, ...] = ()) -> ClassPlan | None:
        file, class_request = self._asked(slot_min)
        # each class of a week has main lifts of its own, where the room has enough; a day for the breath has none
        known = self.catalogue.exercises
        easy = class_request.aim == "conditioning"
        had = tuple(
            name for other in ([list(known)] if easy else self.unlike) for name in other if is_main_lift(known[name])
        )
        class_request = class_request.model_copy(update={"leave_out": NotInClass(equipment=without)})
        others = class_request.model_copy(update={"leave_out": NotInClass(exercises=had, equipment=without)})
        told = generate(others, file, 0, self.unlike).generated
        if told is None or not (easy or told.figures.main_lifts):
            told = generate(class_request, file, 0, self.unlike).generated
        if told is None:
            return None
        # it is made to hold the longest scheme, and begins with that of the first week
        plan = told.plan
        for change in changes_in(self.course, self.base.id, 1):
            plan = apply(plan, change, self.catalogue)
        return plan

    def _asked(self, slot_min: int) -> tuple[ClassFile, ClassRequest]:
        """The request for a base class, and the empty class it is made for."""
        wanted, parts = self._wanted(slot_min), set(self.base.parts)
        both = parts & DAYS["front"] and parts & DAYS["back"]
        class_request = ClassRequest(
            **wanted.model_dump(include={"name", "room", "people", "slot_min", "aim"}),
            manner=GENERATED_AS[wanted.manner],
            day="whole" if both or not parts else "front" if parts & DAYS["front"] else "back",
            lately=tuple(self.lately),
            accents=((FIRST["front"] if self.base.parts[0] in DAYS["front"] else FIRST["back"]) if both else ()),
            sets=_longest_scheme(self.chosen).sets,
        )
        known = self.catalogue
        own = OwnEntries(
            exercises=[exercise for exercise in known.exercises.values() if exercise.id in known.own],
            equipment=[item for item in known.equipment.values() if item.id in known.own_equipment],
        )
        people = list(self.people)
        file = ClassFile(format=FORMAT, plan=empty_class(wanted), room=self.room, people=people, own=own)
        return file, class_request


def _counted_otherwise(other: Exercise, one: Exercise) -> bool:
    """Whether a dose of one exercise means nothing for the other: with load or without, held or in repetitions."""
    return other.takes_load != one.takes_load or other.is_static != one.is_static


def _with(course: Course, changes: Sequence[WeekChange]) -> Course:
    """The course with these changes before its own: a scheme then holds for what takes turns as well."""
    return course.model_copy(update={"changes": [*changes, *course.changes]})


def _longest_scheme(chosen: Template) -> SetScheme:
    """The scheme of its phases that takes longest."""
    schemes = [change for phase in chosen.phases for change in phase.changes if isinstance(change, SetScheme)]
    return max(
        schemes,
        key=lambda scheme: (scheme.sets or 3) * ((scheme.reps_to or scheme.reps or 10) * 4 + (scheme.rest_s or 60)),
    )


def _longest_s(
    plan: ClassPlan, base: str, course: Course, room: Room, people: Sequence[Person], catalogue: Catalogue
) -> float:
    around = Circumstances.of(room, list(people), catalogue)
    longest = 0.0
    for week in range(1, course.weeks + 1):
        changed = plan
        for change in changes_in(course, base, week):
            changed = apply(changed, change, catalogue)
        told = lengths(changed.blocks, blocks_at(changed.blocks, around), Outlook.EXPECTED)
        longest = max(longest, told.class_s)
    return longest
