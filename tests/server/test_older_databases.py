"""A database of before there were studios: nothing is lost, and everything belongs to one studio afterwards."""

from __future__ import annotations

import json
import sqlite3
from pathlib import Path

import pytest
from places import ROOT
from warm import manage

BEFORE = (("studio", "0003"), ("people", "0001"), ("planning", "0002"))


@pytest.fixture
def old(tmp_path: Path) -> Path:
    """A database as an older version left it: a room, an own exercise, two people with bests, two classes."""
    for app, migration in BEFORE:
        manage(tmp_path, "migrate", app, migration, "--verbosity", "0", check=True)
    plan = json.loads((ROOT / "examples" / "stretcher-legs.json").read_text(encoding="utf-8"))["plan"]
    with sqlite3.connect(tmp_path / "oaken.sqlite3") as kept:
        kept.execute("insert into studio_room (id, key, name, revision) values (1, 'attic', 'Attic', 4)")
        kept.execute(
            "insert into studio_ownentry (kind, key, document) values ('equipment', 'log', ?)",
            (json.dumps({"id": "log", "name": "Log", "set_up_s": 5, "load_change_s": 0}),),
        )
        for number, name in enumerate(("ada", "bo"), 1):
            kept.execute(
                "insert into people_person (id, key, name, age, body_mass_kg, sex, level, heart_medication) "
                "values (?, ?, ?, 40, 70, '', 'standard', 0)",
                (number, name, name.title()),
            )
            kept.execute(
                "insert into people_best (person_id, exercise, best_kg) values (?, 'leg-press', ?)",
                (number, 100 + number),
            )
        for number in (1, 2):
            kept.execute(
                "insert into planning_plannedclass (id, key, created_at) values (?, ?, '2026-01-01')",
                (number, "legs" if number == 1 else None),
            )
            kept.execute(
                "insert into planning_revision (planned_class_id, number, saved_at, format, document, length_s, "
                "kcal_each, outline) values (?, 1, '2026-01-01', 'oaken-class/2', ?, 1, 1, '[]')",
                (number, json.dumps(plan)),
            )
    return tmp_path


def test_everything_of_before_belongs_to_one_studio(old: Path) -> None:
    manage(old, "migrate", "--verbosity", "0", check=True)
    with sqlite3.connect(old / "oaken.sqlite3") as kept:
        ((studio, name),) = kept.execute("select id, name from studio_studio").fetchall()
        assert name == "Our studio"
        for table in ("studio_room", "studio_ownentry", "people_person", "planning_plannedclass"):
            assert {row[0] for row in kept.execute(f"select studio_id from {table}")} == {studio}, table
        assert kept.execute("select key, revision from studio_room").fetchall() == [("attic", 4)]
        assert kept.execute("select key from planning_plannedclass order by id").fetchall() == [("legs",), ("",)]
        lifts = kept.execute("select person_id, exercise, best_kg, working_kg from people_lift order by id").fetchall()
        assert lifts == [(1, "leg-press", 101.0, None), (2, "leg-press", 102.0, None)]
        person = kept.execute("select max_formula, careful, screening, erased from people_person").fetchone()
        assert person == ("tanaka", "[]", None, 0)
        assert kept.execute("select count(*) from planning_revision").fetchone() == (2,)


def test_an_empty_database_gets_no_studio_and_the_demo_makes_its_own(tmp_path: Path) -> None:
    manage(tmp_path, "migrate", "--verbosity", "0", check=True)
    with sqlite3.connect(tmp_path / "oaken.sqlite3") as kept:
        assert kept.execute("select count(*) from studio_studio").fetchone() == (0,)
    told = manage(tmp_path, "load_demo", "--without-weeks", check=True).stdout
    assert "12 people, 4 classes" in told
    assert "Sign in as ranger (instructor), password" in told
    with sqlite3.connect(tmp_path / "oaken.sqlite3") as kept:
        assert kept.execute("select name from studio_studio").fetchall() == [("Alder Mill",)]
        assert kept.execute("select count(*) from logbook_run").fetchone() == (4,)


def insert(kept: sqlite3.Connection, table: str, **values: object) -> None:
    """A row in which every other column that has to be there is empty."""
    for _, column, kind, must, default, key in kept.execute(f"pragma table_info({table})").fetchall():
        if must and default is None and not key and column not in values:
            values[column] = "" if "char" in kind or "text" in kind or "date" in kind else 0
    marks = ", ".join("?" for _ in values)
    names = ", ".join(f'"{name}"' for name in values)
    kept.execute(f"insert into {table} ({names}) values ({marks})", tuple(values.values()))


def test_classes_that_were_held_get_the_file_they_are_known_by_and_keep_it(tmp_path: Path) -> None:
    """A log of before: each class gets its whole file, marked as put together later, and its saved revision; one whose
    room is gone is kept without a file and stands in nobody's way."""
    manage(tmp_path, "migrate", "logbook", "0001", "--verbosity", "0", check=True)
    file = json.loads((ROOT / "examples" / "stretcher-legs.json").read_text(encoding="utf-8"))
    room, people = (
        json.loads((ROOT / "examples" / name).read_text(encoding="utf-8"))
        for name in ("alder-mill.json", "hill-team.json")
    )
    fit = {"rest_bpm": 99.5, "gain": 1, "rise_s": 40, "fall_s": 90, "max_bpm": 180, "vo2max": 45, "minutes": 30,
           "classes": 1, "error_bpm": 4, "bias_bpm": 0, "uncalibrated_error_bpm": 8}  # fmt: skip
    with sqlite3.connect(tmp_path / "oaken.sqlite3") as kept:
        insert(kept, "studio_studio", id=1, name="Mill", house_rules='[{"id": "a", "say": "look twice"}]')
        insert(kept, "studio_room", id=1, studio_id=1, key=room["id"], name=room["name"], revision=1)
        for number, unit in enumerate(room["units"], 1):
            plain = {name: unit[name] for name in ("kind", "name", "x_m", "y_m") if name in unit}
            insert(kept, "studio_machineunit", id=number, room_id=1, key=unit["id"], count=unit.get("count", 1),
                   people_at_once=unit.get("people_at_once", 1), settings="[]", **plain)  # fmt: skip
        for number, who in enumerate(people, 1):
            insert(kept, "people_person", id=number, studio_id=1, key=who["id"], name=who["name"], age=who["age"],
                   body_mass_kg=who["body_mass_kg"], level=who.get("level", "standard"), max_formula="tanaka",
                   careful='["knee"]', heart_fit=json.dumps(fit) if number == 1 else None)  # fmt: skip
            insert(kept, "people_lift", person_id=number, exercise="leg-press", best_kg=100 + number)
        for number, plan in enumerate((file["plan"], {**file["plan"], "room": "gone"}), 1):
            insert(kept, "planning_plannedclass", id=number, studio_id=1)
            for revision in (1, 2):
                insert(kept, "planning_revision", planned_class_id=number, number=revision, format="oaken-class/2",
                       document=json.dumps({**plan, "note": f"revision {revision}"}), outline="[]")  # fmt: skip
            insert(kept, "logbook_held", id=number, studio_id=1, planned_class_id=number, revision=2,
                   began_at="2026-01-01", people_count=2, kcal_total=500)  # fmt: skip
    manage(tmp_path, "migrate", "--verbosity", "0", check=True)
    told = manage(
        tmp_path, "shell", "--no-imports", "-c",
        "from logbook.models import Run; from logbook import runs; one = Run.objects.get(pk=1);"
        "file = runs.file_of(one); who = {each.id: each for each in file.people};"
        f"first, second = who[{people[0]['id']!r}], who[{people[1]['id']!r}];"
        "print(one.rebuilt, one.saved_as.number, file.plan.note, len(file.room.units),"
        " first.heart_fit.level_bpm, second.bests_kg, file.house_rules[0].say,"
        " Run.objects.get(pk=2).file, [event.kind for _, event in runs.events_of(one)].count('left'),"
        " [event.kind for _, event in runs.events_of(one) if event.kind != 'left'], one.kcal_total)",
    ).stdout  # fmt: skip
    # nobody was written down as having come: everybody of the plan was not there
    nobody = len(file["plan"]["people"])
    assert told.split() == (
        f"True 2 revision 2 {len(room['units'])} 99.5 {{'leg-press': 102.0}} look twice None {nobody}"
        " ['began', 'ended'] 500.0".split()
    )
    assert len(list((tmp_path / "copies").iterdir())) == 1
