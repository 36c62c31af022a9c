"""A database of before there were studios: nothing is lost, and everything belongs to one studio afterwards."""

from __future__ import annotations

import json
import os
import sqlite3
import subprocess
import sys
from pathlib import Path

import pytest
from places import ROOT

BEFORE = (("studio", "0003"), ("people", "0001"), ("planning", "0002"))


def manage(data: Path, *arguments: str) -> str:
    """Run a command of the server on a database of its own."""
    run = subprocess.run(
        [sys.executable, str(ROOT / "server" / "manage.py"), *arguments],
        env={**os.environ, "OAKEN_DATA": str(data)},
        check=True,
        capture_output=True,
        text=True,
    )
    return run.stdout


@pytest.fixture
def old(tmp_path: Path) -> Path:
    """A database as an older version left it: a room, an own exercise, two people with bests, two classes."""
    for app, migration in BEFORE:
        manage(tmp_path, "migrate", app, migration, "--verbosity", "0")
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
    manage(old, "migrate", "--verbosity", "0")
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
    manage(tmp_path, "migrate", "--verbosity", "0")
    with sqlite3.connect(tmp_path / "oaken.sqlite3") as kept:
        assert kept.execute("select count(*) from studio_studio").fetchone() == (0,)
    told = manage(tmp_path, "load_demo")
    assert "12 people, 4 classes" in told
    assert "Sign in as ranger (instructor), password" in told
    with sqlite3.connect(tmp_path / "oaken.sqlite3") as kept:
        assert kept.execute("select name from studio_studio").fetchall() == [("Alder Mill",)]
        assert kept.execute("select count(*) from logbook_held").fetchone() == (3,)
