"""Moving house: a studio goes out as one file and comes in again with nothing lost; what is faulty leaves nothing."""

from __future__ import annotations

import io
import json
import random
import zipfile
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from typing import Any

import pytest
from django.contrib.auth.models import User
from django.db import transaction
from django.test import Client
from django.utils import timezone
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from logbook import keeping, runs
from logbook.models import DoneSet, ReadBeforeStart, Recording, Run, RunEvent
from moving import studio_import as moving
from moving.studio_export import export_studio
from moving.studio_import import import_studio, look
from oaken.basis.faults import FaultyInput
from people.models import BodyReading, LiftGoal, Person
from planning import courses
from planning import keeping as plans
from planning.models import Revision
from studio.models import Studio
from studio.own import house_catalogue, keep_exercise, set_entry

Send = Callable[..., Any]
NOW = datetime(2026, 11, 27, 8, 0, tzinfo=UTC)


def file_of(studio: Studio) -> bytes:
    out = io.BytesIO()
    export_studio(studio, out, NOW)
    return out.getvalue()


def inside(content: bytes) -> dict[str, bytes]:
    """Every file of a studio's file but for who worked there, who gets an account anew."""
    with zipfile.ZipFile(io.BytesIO(content)) as source:
        files = {name: source.read(name) for name in source.namelist() if name != "manifest.json"}
    house = json.loads(files["studio.json"])
    return {**files, "studio.json": json.dumps({**house, "works": []}).encode()}


def ranger() -> User:
    return User.objects.get(username="ranger")


# ---- nothing is lost ------------------------------------------------------------------------------------------------


def lived_in(studio: Studio, seed: int) -> None:
    """A studio in which this and that has happened, by chance."""
    chance = random.Random(seed)
    things: list[Callable[[Studio, random.Random], object]] = [
        somebody_new, somebody_erased, own_exercise, class_held, class_running, course_made, read_before, rules_made,
        older_plan, nobody_knows_what_it_was_held_with,
    ]  # fmt: skip
    for thing in chance.choices(things, k=5):
        thing(studio, chance)


def somebody_new(studio: Studio, chance: random.Random) -> None:
    person = Person.objects.create(
        studio=studio,
        key=f"new-{chance.randrange(10**6)}",
        name=chance.choice(["=Zoë Ødegård", "李雷", "O'Neil; “Bo”", "ß" * 100]),
        group="new",
        age=12,
        body_mass_kg=30.25,
        careful=["knee"],
        screening={"on": "2026-01-01", "some_yes": True, "advised": False},
        health_note="line one\nline two\t☂",
        load_school=chance.choice(["", "trend"]),
        revision=7,
    )
    BodyReading.objects.create(person=person, on="2026-10-01", body_mass_kg=30.5)
    LiftGoal.objects.create(person=person, exercise="leg-press", best_kg=80.5, by="2027-02-28")
    person.lifts.create(exercise="leg-press", best_kg=71.25, best_from="a set of 8")
    person.lifts.create(exercise="hack-squat", working_kg=40)
    person.settings.create(room="saw-floor", unit="press-1", name="seat", value="4")


def somebody_erased(studio: Studio, chance: random.Random) -> None:
    keeping.erase(chance.choice(list(studio.people.filter(erased=False))))


def own_exercise(studio: Studio, chance: random.Random) -> None:
    shipped = house_catalogue(studio).exercises["leg-press"]
    key = f"own-{chance.randrange(10**6)}"
    keep_exercise(studio, shipped.model_copy(update={"id": key, "name": f"Sled drag {key.translate(NO_DIGITS)}"}))
    set_entry(studio, key, retired=chance.random() < 0.5)


NO_DIGITS = str.maketrans("0123456789-", "abcdefghijk")


def class_held(studio: Studio, chance: random.Random) -> None:
    planned = studio.classes.get(key="machine-pairs")
    began = timezone.now() - timedelta(days=chance.randrange(1, 300), microseconds=chance.randrange(10**6))
    run = runs.simulate(studio, planned, began, chance.randrange(10**6))
    came = run.attendances.values_list("person__key", flat=True)
    if came:
        keeping.simulate(run, [chance.choice(list(came))])


def class_running(studio: Studio, chance: random.Random) -> None:
    planned = studio.classes.get(key="machine-pairs")
    run = runs.simulate(studio, planned, timezone.now(), chance.randrange(10**6), until_s=600)
    person = studio.people.filter(key__in=runs.people_of(run.pk)).first()
    assert person is not None
    run.live_hearts.create(person=person, first_at=timezone.now(), seconds=[0, 1.5], bpm=[88, 89])


def course_made(studio: Studio, chance: random.Random) -> None:
    # whoever is still there: others may have been erased before
    people = list(studio.people.filter(erased=False).order_by("key").values_list("key", flat=True)[:2])
    made = courses.make_template(
        studio, "waves", "saw-floor", people, "Winter", datetime(2026, 12, 1, tzinfo=UTC).date(), "18:30", 4
    )
    courses.materialise(made.course, 1)
    courses.save(made.course, 1, courses.course_of(made).model_copy(update={"dropped": [2]}))


def read_before(studio: Studio, chance: random.Random) -> None:
    planned = chance.choice(list(studio.classes.all()))
    items = [{"item": "knee", "person": "tobin", "message": "…", "decision": "goes"}]
    ReadBeforeStart.objects.create(planned_class=planned, revision=1, by=ranger(), items=items)


def rules_made(studio: Studio, chance: random.Random) -> None:
    studio.house_rules = [{"id": "shoes", "say": "Closed shoes", "tag": "free_bar"}]
    studio.load_rules = {"school": "trend"}
    studio.time_zone = chance.choice(["Europe/Berlin", "Pacific/Chatham"])
    studio.revision += 1
    studio.save()


def older_plan(studio: Studio, chance: random.Random) -> None:
    planned = chance.choice(list(studio.classes.all()))
    latest = planned.revisions.latest("number")
    plans.save(planned, latest.number, plans.plan_of(latest).model_copy(update={"name": "Renamed"}))
    planned.archived, planned.accepted = True, ["0123456789abcdef"]
    planned.save(update_fields=["archived", "accepted"])


def nobody_knows_what_it_was_held_with(studio: Studio, chance: random.Random) -> None:
    Run.objects.filter(pk__in=studio.runs.values_list("pk", flat=True)[:1]).update(file=None)


@settings(max_examples=12, suppress_health_check=list(HealthCheck))
@given(st.integers(0, 10**6))
def test_a_studio_goes_out_and_comes_in_with_nothing_lost(demo: Studio, seed: int) -> None:
    with transaction.atomic():
        lived_in(demo, seed)
        content = file_of(demo)
        before = table_counts(demo)
        arrived = import_studio(io.BytesIO(content), ranger())
        assert inside(file_of(arrived)) == inside(content)
        assert table_counts(arrived) == before
        assert arrived.arriving_since is None
        facts = [planned_class.facts for planned_class in demo.classes.order_by("pk")]
        assert [planned_class.facts for planned_class in arrived.classes.order_by("pk")] == facts
        transaction.set_rollback(True)


def table_counts(studio: Studio) -> dict[str, int]:
    """How many rows there are of everything that is kept of a studio."""
    return {
        "people": studio.people.count(),
        "revisions": Revision.objects.filter(planned_class__studio=studio).count(),
        "courses": studio.courses.count(),
        "events": RunEvent.objects.filter(run__studio=studio).count(),
        "sets": DoneSet.objects.filter(run__studio=studio).count(),
        "recordings": Recording.objects.filter(run__studio=studio).count(),
        "came": sum(run.attendances.count() for run in studio.runs.all()),
        "units": sum(room.units.count() for room in studio.rooms.all()),
    }


def test_a_course_that_moved_names_the_classes_that_moved_with_it(demo: Studio) -> None:
    course_made(demo, random.Random(1))
    arrived = import_studio(io.BytesIO(file_of(demo)), ranger())
    course = courses.course_of(arrived.courses.get().revisions.latest("number"))
    here = set(arrived.classes.values_list("pk", flat=True))
    assert {int(base.id) for base in course.bases} <= here
    assert {meeting.base for meeting in course.meetings} <= {base.id for base in course.bases}
    assert courses.outlook_of(arrived, course).weeks
    assert arrived.classes.filter(course=arrived.courses.get()).exists()


# ---- what is faulty leaves nothing ------------------------------------------------------------------------------------


def changed(content: bytes, path: str, change: Callable[[bytes], bytes]) -> io.BytesIO:
    """The file of a studio in which one file says something else, with checksums that are right again."""
    from oaken.exports.studio_file import StudioWriter

    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(content)) as source, StudioWriter(out, "Alder Mill", NOW) as target:
        for name in source.namelist():
            if name != "manifest.json":
                inner = source.read(name)
                target.write(name, [change(inner) if name == path else inner])
    return out


FAULTY: list[tuple[str, Callable[[bytes], bytes], str]] = [
    ("studio.json", lambda was: was.replace(b'"UTC"', b'"Moon/Crater"'), "no time zone"),
    ("studio.json", lambda was: b"[]", "studio.json"),
    ("rooms.jsonl", lambda was: was.replace(b'"kind":"leg-press"', b'"kind":"catapult"'), "rooms.jsonl, line 1.*catapult"),
    ("people.jsonl", lambda was: was.replace(b'"age":41', b'"age":410'), "people.jsonl, line 2.*too large"),
    ("people.jsonl", lambda was: was + was.split(b"\n")[0] + b"\n", "contradicts itself"),
    ("people.jsonl", lambda was: b"", "there is nobody"),
    ("classes/1.jsonl", lambda was: was.split(b"\n")[0] + b"\n", "a class without a plan"),
    ("classes/1.jsonl", lambda was: was.replace(b'"blocks":[', b'"blocks":[{"kind":"dance"},'), "classes/1.jsonl, line 2"),
    ("classes/1.jsonl", lambda was: b"", "is empty"),
    ("runs/1.json", lambda was: was.replace(b'"revision": 1', b'"revision": 77'), "no revision 77 of class"),
    ("runs/1.log.jsonl", lambda was: b"", "is empty"),
    ("runs/1.log.jsonl", lambda was: was.replace(b'"kind":"began"', b'"kind":"sang"'), "runs/1.log.jsonl, line"),
    ("runs/1.log.jsonl", lambda was: b"null\n", "runs/1.log.jsonl, line 1"),
    ("runs/1.sets.csv", lambda was: b"a,b\r\n", "other columns"),
    ("runs/1.sets.csv", lambda was: was.replace(b",stopped,", b",stopped,,"), "too many cells"),
    ("runs/1.sets.csv", lambda was: was.replace(b",no,no,", b",no,maybe,"), "cannot be read"),
    ("runs/1.sets.csv", lambda was: was + b'"' + b"x" * 200_000 + b'"\n', "cannot be read: field larger"),
    ("runs/1.sets.csv", lambda was: was.replace(b"leg-press", b'"' + b"x" * 200_000 + b'"'), "cannot be read"),
]  # fmt: skip


@pytest.mark.parametrize(("path", "change", "said"), FAULTY)
def test_what_is_faulty_is_told_at_its_place_and_leaves_nothing(
    demo: Studio, path: str, change: Callable[[bytes], bytes], said: str
) -> None:
    runs.simulate(demo, demo.classes.get(key="machine-pairs"), timezone.now(), 3)
    content = file_of(demo)
    with zipfile.ZipFile(io.BytesIO(content)) as source:
        path = path if path in source.namelist() else next(n for n in source.namelist() if n.endswith(path[6:]))
        assert change(source.read(path)) != source.read(path), "the change has to hit something"
    studios = Studio.objects.count()
    with pytest.raises(FaultyInput, match=f"(?s){said}"):
        import_studio(changed(content, path, change), ranger())
    assert Studio.objects.count() == studios


def test_what_was_cut_off_is_taken_away_by_the_next_one(demo: Studio) -> None:
    left = Studio.objects.create(name="Half", arriving_since=timezone.now() - moving.LEFT_BEHIND * 2)
    going_on = Studio.objects.create(name="On its way", arriving_since=timezone.now())
    import_studio(io.BytesIO(file_of(demo)), ranger())
    assert not Studio.objects.filter(pk=left.pk).exists()
    assert Studio.objects.filter(pk=going_on.pk).exists()


def test_a_file_is_looked_at_without_keeping_anything(demo: Studio) -> None:
    told = look(io.BytesIO(file_of(demo)))
    assert (told.name, told.people, told.classes) == ("Alder Mill", 12, demo.classes.count())
    assert told.works == ["ranger", "helper"]
    assert Studio.objects.count() == 1


# ---- over HTTP --------------------------------------------------------------------------------------------------------


def test_an_instructor_moves_a_studio_over_http(demo: Studio, client: Client, send: Send, upload: Send) -> None:
    answer = client.get("/api/studio/file")
    content = answer.getvalue()
    assert answer["Content-Disposition"].startswith('attachment; filename="alder-mill-20')
    assert len(content) == int(answer["Content-Length"])
    status, told = upload("/api/studio/file/look", content)
    assert (status, told["people"]) == (200, 12)
    status, made = upload("/api/studio/file", content)
    assert status == 201
    assert send("POST", "/api/me/studio", {"studio": made["id"]})[0] == 200
    assert len(send("GET", "/api/people")[1]) == 12
    for wrong in (b" ", b"no zip", content[:-500]):
        for path in ("/api/studio/file/look", "/api/studio/file"):
            status, told = upload(path, wrong)
            assert (status, bool(told["faults"][0]["right"])) == (422, True)


def test_a_file_goes_only_where_files_are_taken(client: Client) -> None:
    for path, kind in (("/api/studio/file", "application/json"), ("/api/heat", "application/octet-stream")):
        assert client.generic("POST", path, b"{}", content_type=kind).status_code == 415
    form = client.generic("POST", "/api/studio/file", b"a", content_type="multipart/form-data; boundary=x")
    assert form.status_code == 415
