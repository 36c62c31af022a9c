"""Tables of a studio: out, with every row that is kept, and back with a preview."""

from __future__ import annotations

import csv
import io
from collections.abc import Callable
from datetime import timedelta
from typing import Any

import pytest
from django.test import Client
from django.utils import timezone
from logbook import keeping, runs
from logbook.models import DoneSet, Run
from oaken.exports.tables import tables
from people.models import Lift, Person, UnitSetting
from studio.models import Studio

Send = Callable[..., Any]


@pytest.fixture
def held(demo: Studio) -> Run:
    """A class that was held, with a recording."""
    run = runs.simulate(demo, demo.classes.get(key="machine-pairs"), timezone.now() - timedelta(hours=2), 5)
    keeping.simulate(run, ["tobin"])
    return run


def table(client: Client, name: str, **asked: str) -> list[dict[str, str]]:
    answer = client.get(f"/api/tables/{name}", asked)
    content = answer.getvalue()
    assert answer.status_code == 200, content[:300]
    assert answer["Content-Type"] == "text/csv; charset=utf-8"
    rows = list(csv.DictReader(io.StringIO(content.decode("utf-8-sig"), newline="")))
    head = next(csv.reader(io.StringIO(content.decode("utf-8-sig"), newline="")))
    assert head == tables()[name].head
    return rows


@pytest.mark.parametrize("name", list(tables()))
def test_every_table_goes_out_whole_and_of_one_person(name: str, held: Run, client: Client) -> None:
    rows = table(client, name)
    counts = {
        "sets": DoneSet.objects.count(),
        "attendance": sum(run.attendances.count() for run in Run.objects.all()),
        "hearts": sum(len(recording.seconds) for run in Run.objects.all() for recording in run.recordings.all()),
        "loads": Lift.objects.count(),
        "settings": UnitSetting.objects.count(),
    }
    assert len(rows) == counts.get(name, len(rows))
    own = table(client, name, person="tobin")
    if name == "forecasts":
        assert rows == own == []  # none of the demo's classes without its weeks has a date
    else:
        assert 0 < len(own) < len(rows) or name == "hearts"
        assert {row["person_id"] for row in own} == {"tobin"}


def test_a_table_is_of_the_days_that_were_asked_for(held: Run, client: Client) -> None:
    # two hours ago may be yesterday
    assert held.began_at is not None
    day = timezone.localdate(held.began_at, held.studio.zone).isoformat()
    rows = table(client, "attendance", since=day)
    assert str(held.pk) in {row["run"] for row in rows}
    assert min(row["on"] for row in rows) == day
    assert table(client, "sets", until="2020-01-01") == []
    assert client.get("/api/tables/sets?since=2026-02-01&until=2026-01-01").status_code == 422
    assert client.get("/api/tables/everything").status_code == 422


def test_forecasts_are_those_of_the_class(demo: Studio, client: Client, send: Send) -> None:
    planned = demo.classes.get(key="machine-pairs")
    latest = send("GET", f"/api/classes/{planned.pk}")[1]
    plan = {**latest["plan"], "starts": "2026-12-01 18:30"}
    assert send("PUT", f"/api/classes/{planned.pk}", {"based_on": latest["revision"], "plan": plan})[0] == 200
    _, told = send("POST", "/api/forecast", {"plan": plan})
    tobin = next(item for item in told["people"] if item["id"] == "tobin")["figures"]["energy"]
    rows = table(client, "forecasts", since="2026-12-01", until="2026-12-01")
    (row,) = (row for row in rows if row["person_id"] == "tobin" and row["figure"] == "energy")
    assert (float(row["value"]), row["unit"], row["method"]) == (
        pytest.approx(tobin["value"], abs=0.01),
        "kcal",
        tobin["method"],
    )
    assert [row for row in rows if not row["person_id"]]


def test_loads_come_back_row_by_row(demo: Studio, client: Client, send: Send, upload: Send) -> None:
    before = list(Lift.objects.order_by("pk").values_list("person", "exercise", "best_kg", "best_from", "working_kg"))
    content = client.get("/api/tables/loads").getvalue()
    status, told = upload("/api/tables/loads", content, keep=True)
    assert (status, told["kept"]) == (200, 0)
    assert {row["outcome"] for row in told["rows"]} <= {"the same", "says nothing"}
    after = list(Lift.objects.order_by("pk").values_list("person", "exercise", "best_kg", "best_from", "working_kg"))
    assert after == before
    file = "person;exercise;best_kg;working_kg\nTobin Askrigg;leg press;201,5;-\nTobin Askrigg;juggling;5;\nines;leg-press;-;-\n"
    status, told = upload("/api/tables/loads", file)
    assert [row["outcome"] for row in told["rows"]] == ["clears", "faulty", "clears"]
    assert upload("/api/tables/loads", file, keep=True)[0] == 422
    revision = Person.objects.get(key="tobin").revision
    status, told = upload("/api/tables/loads", file, keep=True, only_right=True)
    assert (status, told["kept"]) == (200, 2)
    tobin = Lift.objects.get(person__key="tobin", exercise="leg-press")
    assert (tobin.best_kg, tobin.working_kg) == (201.5, None)
    assert not Lift.objects.filter(person__key="ines", exercise="leg-press").exists()
    assert Person.objects.get(key="tobin").revision == revision + 1


def test_settings_come_back_row_by_row(demo: Studio, client: Client, upload: Send) -> None:
    content = client.get("/api/tables/settings").getvalue()
    status, told = upload("/api/tables/settings", content, keep=True)
    assert (status, told["kept"]) == (200, 0), told
    one = UnitSetting.objects.filter(person__key="tobin").first()
    assert one is not None
    file = f"person,room,unit,setting,value\ntobin,{one.room},{one.unit},{one.name},-\n"
    status, told = upload("/api/tables/settings", file, keep=True)
    assert (status, told["rows"][0]["outcome"], told["kept"]) == (200, "clears", 1)
    assert not UnitSetting.objects.filter(pk=one.pk).exists()
    status, told = upload("/api/tables/settings", file.replace(",-\n", ",7\n"), keep=True)
    assert (
        told["rows"][0]["outcome"],
        UnitSetting.objects.get(person__key="tobin", unit=one.unit, name=one.name).value,
    ) == ("new", "7")
    assert upload("/api/tables/sets", file)[0] == 422


def test_what_a_roster_clears_is_gone_and_the_rest_stays(send: Send, upload: Send, demo: Studio) -> None:
    tobin = Person.objects.get(key="tobin")
    tobin.group, tobin.resting_bpm = "ropes", 60
    tobin.save()
    file = f"id,name,age,mass_kg,resting_bpm,group,best leg-press kg\ntobin,{tobin.name},{tobin.age},80,-,-,-\n"
    assert upload("/api/people/roster", file)[0] == 200
    record = send("GET", "/api/people/tobin")[1]["record"]
    assert (record["person"]["resting_bpm"], record["group"]) == (None, "")
    assert "leg-press" not in record["person"]["bests_kg"]
    assert record["person"]["bests_kg"]
