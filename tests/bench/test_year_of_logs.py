"""A year of three classes a week for forty people: how quickly it is read, how large it is; and a course forecast."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from datetime import date, timedelta
from typing import Any

import orjson
import pytest
from crowd import big_class
from django.db import connection
from django.test import Client
from django.utils import timezone
from logbook import progress
from logbook.models import Attendance, DoneSet, Run, RunEvent
from logbook.sets import VERSION, targets_of
from oaken.domain.catalogue import catalogue
from oaken.domain.room import Room
from oaken.forecast.in_short import _brief
from oaken.forecast.workload.columns import layout_workload
from oaken.plan import ClassPlan
from oaken.programme.course import Course, outlook, template
from oaken.schedule.class_file import check_class, read_class
from oaken.schedule.timeline.layout import block_length, laid_out
from people.models import Lift, Person
from planning import keeping as plans
from planning.models import PlannedClass
from pytest_django.plugin import DjangoDbBlocker
from showing import show
from studio.models import Member, Studio

PEOPLE, WEEKS, A_WEEK, SETS = 40, 52, 3, 48
EXERCISES = ("leg-press", "lying-leg-curl", "hack-squat", "hip-thrust", "leg-extension", "standing-calf-raise")


def _median(work: Callable[[], Any], rounds: int = 7) -> float:
    """Milliseconds, the median of some rounds after one that warms up."""
    work()
    taken = []
    for _ in range(rounds):
        began = time.perf_counter()
        work()
        taken.append(1000 * (time.perf_counter() - began))
    return sorted(taken)[rounds // 2]


@pytest.fixture(scope="module")
def year(django_db_setup: None, django_db_blocker: DjangoDbBlocker) -> Iterator[tuple[Studio, PlannedClass]]:
    """A studio with a year behind it, written straight into the tables: about 300,000 sets, a fifth of them with an
    event of their own, and the class file of every run."""
    with django_db_blocker.unblock():
        demo = Studio.objects.order_by("pk")[0]
        studio = Studio.objects.create(name="A year")
        Member.objects.create(studio=studio, user=demo.members.get(role="instructor").user, role="instructor")
        room = demo.rooms.get(key="saw-floor")
        units, zones = list(room.units.all()), list(room.zones.all())
        room.pk, room.studio = None, studio
        room.save()
        for unit in units:
            unit.pk, unit.room = None, room
            unit.save()
        for zone in zones:
            zone.pk, zone.room = None, room
            zone.save()
        people = Person.objects.bulk_create(
            Person(studio=studio, key=f"p{n}", name=f"Person {n}", age=30 + n % 30, body_mass_kg=60 + n)
            for n in range(PEOPLE)
        )
        Lift.objects.bulk_create(
            Lift(person=who, exercise=each_exercise, best_kg=120) for who in people for each_exercise in EXERCISES
        )
        document = plans.plan_of(demo.classes.get(key="machine-pairs").revisions.latest("number")).model_dump(
            mode="json"
        )
        document |= {"people": [who.key for who in people], "together": [], "apart": [], "instead": []}
        for block in document["blocks"]:
            block.pop("rotation", None)
            for number, group in enumerate(block.get("groups") or []):
                for at, slot in enumerate(group["slots"]):
                    slot["exercise"] = (
                        EXERCISES[(2 * number + at) % len(EXERCISES)] if block["kind"] == "sets" else slot["exercise"]
                    )
        planned = plans.create(studio, ClassPlan.model_validate(document)).planned_class
        revision = planned.revisions.get()
        file = plans.class_file_of(studio, plans.plan_of(revision)).model_dump(mode="json", exclude_none=True)
        _fill(studio, revision, people, file)
        yield studio, planned
        studio.delete()


def _fill(studio: Studio, revision: Any, people: list[Person], file: Any) -> None:
    start = timezone.now() - timedelta(weeks=WEEKS)
    for session in range(WEEKS * A_WEEK):
        began = start + timedelta(days=7 * (session // A_WEEK) + 2 * (session % A_WEEK))
        run = Run.objects.create(studio=studio, saved_as=revision, file=file, opened_at=began, began_at=began,
                                 ended_at=began + timedelta(hours=1), people_count=PEOPLE, projected=VERSION)  # fmt: skip
        rows, events = [], []
        for who in people:
            for number in range(SETS):
                exercise = EXERCISES[number // 8]
                load = 60 + 0.2 * (session // A_WEEK) + 2.5 * (number % 3)
                rows.append(DoneSet(run=run, person=who, exercise=exercise, on=began.date(), block="b", part=exercise,
                                    number=number % 8 + 1, unit="press-1", load_kg=load, reps=8 + number % 3, low=8,
                                    high=10, sets=8, volume_kg=8 * load, tension_s=32, planned_kg=load, ended="stopped"))  # fmt: skip
                if number % 5 == 0:
                    body = {"id": f"e{session}-{who.key}-{number}", "kind": "set_done", "person": who.key, "part": exercise,
                            "happened_at": began.isoformat(), "number": number + 1, "load_kg": load, "reps": 8}  # fmt: skip
                    events.append(
                        RunEvent(run=run, event_id=str(body["id"]), received_at=began, kind="set_done", body=body)
                    )
        DoneSet.objects.bulk_create(rows, batch_size=2000)
        RunEvent.objects.bulk_create(events, batch_size=2000)
        figures = {"session_effort": 250.0, "energy": 300.0, "work_share": 40.0}
        Attendance.objects.bulk_create(Attendance(run=run, person=who, figures=figures) for who in people)


def _get(studio: Studio, path: str) -> Any:
    client = Client(headers={"host": "127.0.0.1"})
    client.force_login(studio.members.get().user)
    session = client.session
    session["studio"] = studio.pk
    session.save()

    def ask() -> Any:
        answer = client.get(path)
        assert answer.status_code == 200, answer.content[:300]
        return orjson.loads(answer.content)

    return ask


@pytest.mark.django_db
def test_a_year_is_read_quickly(year: tuple[Studio, PlannedClass]) -> None:
    studio, planned = year
    sets = DoneSet.objects.filter(run__studio=studio).count()
    assert sets >= 280_000
    told = _get(studio, "/api/people/p7/progress")
    assert len(told()["exercises"]) == len(EXERCISES)
    progress._kept.clear()
    began = time.perf_counter()
    told()
    show("a person's progress after a year, asked for the first time", 1000 * (time.perf_counter() - began), "ms", 250)
    show("a person's progress after a year of three classes a week", _median(told), "ms", 100)
    plan = plans.plan_of(planned.revisions.get())
    room = studio.rooms.get().to_core()
    loads = progress.next_loads(studio, plan, room, date.today(), {})
    assert len({load.person for load in loads}) == PEOPLE
    show(
        f"next loads of {PEOPLE} people",
        _median(lambda: progress.next_loads(studio, plan, room, date.today(), {})),
        "ms",
        300,
    )
    file = plans.class_file_of(studio, plan)
    show(
        f"targets beside every set of {PEOPLE} people, from twelve weeks",
        _median(lambda: targets_of(studio, file, date.today())),
        "ms",
        500,
    )
    since = date.today() - timedelta(days=370)
    calendar = _get(studio, f"/api/calendar?since={since}&until={date.today()}")
    assert len(calendar()) >= WEEKS * A_WEEK - 5
    show("the calendar of a year", _median(calendar), "ms", 100)
    with connection.cursor() as cursor:
        cursor.execute("select page_count * page_size from pragma_page_count(), pragma_page_size()")
        size = cursor.fetchone()[0]
    show(f"the database with a year of {sets:,} sets", size / 1e6, "MB", 100)


def test_a_course_is_forecast_quickly() -> None:
    file = read_class(big_class(20, 60))
    room: Room = file.room
    made = template(
        "push-pull-legs", room, file.participants, catalogue(), name="Bench", starts=date(2026, 9, 7), time="18:30"
    )

    def told(course: Course) -> None:
        outlook(course, made.plans, lambda plan: check_class(file.model_copy(update={"plan": plan})), catalogue())

    def afresh() -> None:
        for kept in (_brief, laid_out, block_length, layout_workload):
            kept.cache_clear()
        told(made.course)

    show("a 12-week course of 3 classes a week for 20 people, forecast", _median(afresh, 3), "ms", 2000)
    edits = iter(range(1, 100))

    def edited() -> None:
        change = {"weeks": (5,), "change": {"do": "scale_rests", "factor": 1 + next(edits) / 100}}
        told(
            Course.model_validate(
                {**made.course.model_dump(), "changes": [*made.course.model_dump()["changes"], change]}
            )
        )

    show("one edit of that course", _median(edited, 5), "ms", 300)
