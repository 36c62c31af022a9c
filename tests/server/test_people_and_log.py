"""People, the roster as a file, classes held, recordings, calibration, everything about somebody, and erasure."""

from __future__ import annotations

import copy
import io
import json
import zipfile
from collections.abc import Callable
from typing import Any

import pytest
from django.test import Client
from logbook.models import Recording, Run
from oaken.heart_data.recordings import read_recording
from people.models import Person
from planning.models import PlannedClass, Revision
from pypdf import PdfReader
from studio.models import Studio

Send = Callable[..., tuple[int, Any]]
pytestmark = pytest.mark.usefixtures("demo")


def record_of(send: Send, key: str) -> dict[str, Any]:
    status, found = send("GET", f"/api/people/{key}")
    assert status == 200
    return found


# ---- records ------------------------------------------------------------------------------------------------------


def test_somebody_new_is_kept_with_everything(send: Send) -> None:
    record = {
        "person": {
            "id": "new", "name": "Åsa Quarnby", "age": 33, "body_mass_kg": 61, "careful": ["knee"],
            "screening": {"on": "2026-10-01", "some_yes": False}, "bests_kg": {"leg-press": 120},
            "working_kg": {"leg-press": 80, "hip-thrust": 60},
        },
        "group": "rope team", "health_note": "left knee", "best_from": {"leg-press": "tested"},
        "settings": [{"room": "saw-floor", "unit": "press-1", "name": "back", "value": "4"}],
    }  # fmt: skip
    status, kept = send("POST", "/api/people", record)
    assert (status, kept["record"]["person"]["id"], kept["revision"]) == (201, "sa-quarnby", 1)
    again = record_of(send, "sa-quarnby")["record"]
    assert again["person"]["working_kg"] == {"leg-press": 80, "hip-thrust": 60}
    assert again["settings"] == record["settings"]
    assert (again["group"], again["health_note"]) == ("rope team", "left knee")
    assert again["person"]["bests_kg"] == {"leg-press": 120}


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"age": 400}, "age"),
        ({"body_mass_kg": 7}, "body_mass_kg"),
        ({"resting_bpm": 150}, "resting_bpm"),
        ({"resting_bpm": 100, "max_bpm": 120}, "person"),
        ({"vo2max": 200}, "vo2max"),
        ({"max_formula": "guess"}, "max_formula"),
        ({"careful": ["elbow"]}, "careful"),
        ({"bests_kg": {"leg-press": -5}}, "leg-press"),
        ({"name": ""}, "name"),
    ],
)
def test_what_cannot_be_is_refused_at_its_field_and_changes_nothing(
    send: Send, change: dict[str, Any], field: str
) -> None:
    before = record_of(send, "tobin")
    record = copy.deepcopy(before["record"])
    record["person"] |= change
    status, answer = send("PUT", "/api/people/tobin", {"based_on": before["revision"], "record": record})
    assert status == 422
    assert answer["faults"][0]["field"] == field
    assert record_of(send, "tobin") == before


def test_a_stale_change_keeps_nothing_and_brings_the_newest(send: Send) -> None:
    first = record_of(send, "signe")
    record = first["record"]
    record["group"] = "night team"
    status, changed = send("PUT", "/api/people/signe", {"based_on": first["revision"], "record": record})
    assert status == 200
    status, stale = send(
        "PUT", "/api/people/signe", {"based_on": first["revision"], "record": {**record, "group": "x"}}
    )
    assert (status, stale["latest"]["record"]["group"]) == (409, "night team")
    assert record_of(send, "signe")["revision"] == changed["revision"]


def test_settings_and_loads_that_nothing_has_are_refused(send: Send) -> None:
    first = record_of(send, "signe")
    for wrong in (
        {"settings": [{"room": "saw-floor", "unit": "press-1", "name": "rack_hole", "value": "4"}]},
        {"settings": [{"room": "saw-floor", "unit": "press-1", "name": "back", "value": "4"}] * 2},
        {"person": {**first["record"]["person"], "working_kg": {"leg-press": 0}}},
        {"person": {**first["record"]["person"], "id": "other"}},
    ):
        body = {"based_on": first["revision"], "record": {**first["record"], **wrong}}
        assert send("PUT", "/api/people/signe", body)[0] == 422
    assert send("POST", "/api/people", first["record"])[0] == 422  # the id is taken


def test_a_best_is_estimated_from_a_set(send: Send) -> None:
    status, best = send("POST", "/api/best", {"load_kg": 100, "reps": 10})
    assert (status, best["value"]) == (200, 133.33)
    assert send("POST", "/api/best", {"load_kg": 100, "reps": 50})[0] == 422


def test_a_body_is_shown_before_it_is_kept(send: Send) -> None:
    record = record_of(send, "tobin")["record"]
    record["person"]["max_formula"] = "nes"
    _, body = send("POST", "/api/bodies", record)
    assert body["max_bpm"]["method"] == "heart.max.nes"
    assert Person.objects.get(key="tobin").max_formula == "tanaka"


# ---- the roster as a file -----------------------------------------------------------------------------------------

FILE = "id,name,age,mass_lb,group\ntobin,Tobin Askrigg,42,180,ropes\n,Una Larchside,29,130,new\n,Broken,400,130,new\n"


def test_a_roster_file_is_previewed_and_kept_only_as_told(send: Send, upload: Send) -> None:
    status, preview = upload("/api/people/roster/preview", FILE)
    assert status == 200
    assert (preview["new"], preview["changing"], preview["faulty"]) == ([3], [2], [4])
    assert preview["rows"][2]["faults"][0]["field"] == "age"
    status, answer = upload("/api/people/roster", FILE)
    assert (status, answer["faults"][0]["place"]) == (422, "line 4")
    assert not Person.objects.filter(name="Una Larchside").exists()
    notes = record_of(send, "tobin")["record"]["settings"]
    status, kept = upload("/api/people/roster", FILE, only_right=True)
    assert (status, kept) == (200, {"added": 1, "changed": 1, "left_out": [4]})
    tobin = record_of(send, "tobin")["record"]
    assert (tobin["person"]["age"], tobin["group"]) == (42, "ropes")
    assert tobin["person"]["body_mass_kg"] == pytest.approx(81.65)
    assert tobin["settings"] == notes
    assert tobin["person"]["bests_kg"]["leg-press"] == 190


def test_a_roster_file_leaves_what_it_has_no_word_for(send: Send, upload: Send) -> None:
    """A file of names, ages and masses must not take away what to be careful about, or a medication."""
    before = {key: record_of(send, key)["record"] for key in ("oskar", "petra")}
    file = "id,name,age,resting_bpm,mass_kg,careful\noskar,Oskar Blaythwaite,56,90,90,\npetra,Petra Oldershaw-Lund,62,,66,\n"
    assert upload("/api/people/roster", file)[0] == 200
    oskar, petra = (record_of(send, key)["record"] for key in ("oskar", "petra"))
    changed = {**before["oskar"]["person"], "age": 56, "resting_bpm": 90, "body_mass_kg": 90}
    assert oskar == {**before["oskar"], "person": changed}
    assert oskar["person"]["careful"] == ["knee", "blood_pressure"]
    assert petra == before["petra"]
    assert petra["person"]["heart_medication"]
    # what contradicts what is known is told at its line, and nobody is changed
    file = "id,name,age,mass_kg,max_bpm\nmarit,Marit Fernhollow,35,64,\noskar,Oskar Blaythwaite,57,90,110\n"
    status, answer = upload("/api/people/roster", file)
    assert (status, answer["faults"][0]["place"]) == (422, "line 3")
    assert record_of(send, "marit")["record"]["person"]["age"] == 34


def test_the_roster_goes_out_and_comes_in_unchanged(send: Send, upload: Send) -> None:
    before = send("GET", "/api/people")[1]
    _, file = send("GET", "/api/people/roster/file")
    status, kept = upload("/api/people/roster", file["text"])
    assert (status, kept["changed"], kept["added"]) == (200, 12, 0)
    assert send("GET", "/api/people")[1] == before
    _, pounds = send("GET", "/api/people/roster/file?pounds=true")
    assert "mass_lb" in pounds["text"].splitlines()[0]


@pytest.mark.parametrize("content", [b"", b"a,b\n1,2\n", b"\xff\xfe\xfd", b"x" * 2_000_001])
def test_no_roster_file_is_too_strange(upload: Send, content: bytes) -> None:
    for path in ("/api/people/roster/preview", "/api/people/roster"):
        status, answer = upload(path, content)
        assert status in (413, 422)
        assert status == 413 or answer["faults"][0]["message"]
    assert Person.objects.count() == 12


# ---- classes held, recordings, calibration ------------------------------------------------------------------------


def hold(send: Send, key: str = "long-carry", **fields: Any) -> dict[str, Any]:
    planned = PlannedClass.objects.get(key=key)
    body = {"class_id": planned.pk, "revision": 1, "began_at": "2026-11-24T19:00:00Z", **fields}
    status, run = send("POST", "/api/runs/past", body)
    assert status == 201, run
    return run


def test_a_class_is_held_by_who_came(send: Send) -> None:
    run = hold(send, people=["tobin", "marit"])
    assert set(run["people"]) == {"tobin", "marit"}
    assert run["people_count"] == 2
    assert run["kcal_total"] > 300
    _, attendance = send("GET", "/api/attendance")
    mine = next(item for item in attendance if item["person"] == "tobin")
    assert mine["classes"] == 4
    for wrong in (["stranger"], []):
        body = {"class_id": run["class_id"], "revision": 1, "began_at": "2026-11-24T19:00:00Z", "people": wrong}
        assert send("POST", "/api/runs/past", body)[0] == 422
    assert send("DELETE", f"/api/runs/{run['id']}")[0] == 204
    assert not Run.objects.filter(pk=run["id"]).exists()


def test_a_recording_is_imported_and_the_forecast_changes(send: Send, upload: Send) -> None:
    plan = send("GET", f"/api/classes/{PlannedClass.objects.get(key='machine-pairs').pk}")[1]["plan"]

    def mean_bpm() -> float:
        _, told = send("POST", "/api/forecast", {"plan": plan})
        return next(item for item in told["people"] if item["id"] == "davin")["figures"]["heart_mean"]["value"]

    before = mean_bpm()
    # a heart that answers more strongly than the usual one, from the path itself
    run = hold(send, "machine-pairs")
    _, told = send("POST", "/api/forecast", {"plan": plan})
    usual = next(item for item in told["people"] if item["id"] == "davin")["bpm"]
    rows = [f"{at * 5},{50 + (bpm - 50) * 1.2:.0f}" for at, bpm in enumerate(usual)]
    send("DELETE", "/api/people/davin/calibration")
    Recording.objects.filter(person__key="davin").delete()
    file, path = "\n".join(["seconds,bpm", *rows]), f"/api/runs/{run['id']}/recordings"
    status, looked = upload(f"{path}/look", file, name="2026-11-24 Davin.csv")
    assert (status, looked["person"], looked["recorded"], looked["readings"]) == (200, "davin", False, len(rows))
    assert not Recording.objects.filter(person__key="davin").exists()
    status, kept = upload(path, file, person="davin", name="davin.csv", offset_s=0)
    assert (status, kept["source"], kept["readings"]) == (201, "CSV", len(rows))
    _, listed = send("GET", "/api/people/davin/recordings")
    assert listed[0]["over"]["now"]["error_bpm"] > 4
    status, fitted = send("POST", "/api/people/davin/calibration", {})
    assert (status, fitted["better"], fitted["used"]) == (200, True, True)
    assert fitted["fit"]["gain"] == pytest.approx(1.2, abs=0.06)
    assert mean_bpm() > before + 4
    _, listed = send("GET", "/api/people/davin/recordings")
    over = listed[0]["over"]
    assert over["now"]["error_bpm"] < 2 < over["usual_error_bpm"]
    # with other body data the fit no longer holds
    record = record_of(send, "davin")
    record["record"]["person"]["age"] = 50
    send("PUT", "/api/people/davin", {"based_on": record["revision"], "record": record["record"]})
    assert record_of(send, "davin")["record"]["person"]["heart_fit"] is None


def test_a_recording_that_cannot_be_used_changes_nothing(send: Send, upload: Send) -> None:
    run = hold(send)
    count = Recording.objects.count()
    good = "seconds,bpm\n" + "\n".join(f"{s},120" for s in range(900))
    for file, said in (
        ("no file", {"person": "tobin"}),
        (good, {"person": "stranger"}),
        (good, {"person": "tobin", "offset_s": 7000}),
        (good, {"person": "tobin", "offset_s": "soon"}),
    ):
        status, answer = upload(f"/api/runs/{run['id']}/recordings", file, name="a", **said)
        assert status == 422, answer
        assert answer["faults"][0]["message"]
    assert Recording.objects.count() == count
    assert send("POST", "/api/people/petra/calibration", {})[0] == 422
    assert send("POST", "/api/people/noor/calibration", {})[0] == 422


def test_a_simulated_belt_records_a_class(send: Send) -> None:
    run = hold(send)
    status, kept = send("POST", f"/api/runs/{run['id']}/simulated", {"person": "tobin"})
    assert (status, kept["source"]) == (201, "belt")
    assert kept["minutes"] > 50
    _, listed = send("GET", "/api/people/tobin/recordings")
    assert {item["source"] for item in listed} == {"belt"}
    assert send("DELETE", f"/api/people/tobin/recordings/{listed[0]['id']}")[0] == 204


# ---- everything about somebody, and erasure -----------------------------------------------------------------------


def test_everything_kept_on_somebody_is_told(send: Send) -> None:
    status, told = send("GET", "/api/people/oskar/everything")
    assert status == 200
    assert "meniscus" in told["record"]["health_note"]
    assert len(told["attended"]) == 3
    assert told["recordings"][0]["bpm"]
    assert any(item["name"].startswith("Machine pairs") for item in told["in_plans"])


def test_erasing_somebody_leaves_no_trace_and_the_totals_whole(send: Send) -> None:
    planned = PlannedClass.objects.get(key="machine-pairs")
    latest = send("GET", f"/api/classes/{planned.pk}")[1]
    plan = {**latest["plan"], "together": [["oskar", "tobin"]], "instead": [
        {"exercise": "hack-squat", "other": "leg-press", "people": ["oskar"]}]}  # fmt: skip
    assert send("PUT", f"/api/classes/{planned.pk}", {"based_on": latest["revision"], "plan": plan})[0] == 200
    items = [{"item": "x", "person": "oskar", "message": "knee", "decision": "goes"},
             {"item": "y", "message": "clash", "decision": "read"}]  # fmt: skip
    assert send("POST", f"/api/classes/{planned.pk}/read", {"revision": 2, "items": items})[0] == 201
    totals = list(Run.objects.values_list("people_count", "kcal_total"))
    _, before = send("POST", "/api/forecast", {"plan": plan})
    assert send("DELETE", "/api/people/oskar/everything")[0] == 204
    assert send("GET", "/api/people/oskar")[0] == 404
    assert "oskar" not in {item["id"] for item in send("GET", "/api/people")[1]}
    for revision in Revision.objects.all():
        assert "oskar" not in str(revision.document)
    assert "oskar" not in str(list(PlannedClass.objects.values_list("facts", flat=True)))
    read = send("GET", f"/api/classes/{planned.pk}/read")[1]
    assert [item["item"] for item in read[0]["items"]] == ["y"]
    stand_in = Person.objects.get(key="gone-1")
    assert (stand_in.name, stand_in.age, stand_in.careful, stand_in.health_note) == ("Somebody who left", 40, [], "")
    assert stand_in.screening is None
    assert not stand_in.recordings.exists()
    assert not stand_in.settings.exists()
    # the totals of classes that were held, volume and length are the same; a new forecast knows neither age nor sex
    assert list(Run.objects.values_list("people_count", "kcal_total")) == totals
    _, after = send("POST", "/api/forecast", {"plan": send("GET", f"/api/classes/{planned.pk}")[1]["plan"]})
    assert after["class_energy"]["value"] == pytest.approx(before["class_energy"]["value"], rel=0.01)
    assert after["figures"]["volume_load"] == before["figures"]["volume_load"]
    assert after["length"] == before["length"]


# ---- before the start ---------------------------------------------------------------------------------------------


def test_the_list_before_the_start_is_read_and_kept(send: Send) -> None:
    planned = PlannedClass.objects.get(key="long-carry")
    plan = send("GET", f"/api/classes/{planned.pk}")[1]["plan"]
    status, told = send("POST", "/api/pre-class-check", {"plan": plan})
    assert status == 200
    assert told["items"][0]["open"]
    people = {item["name"] for item in told["items"] if item["open"]}
    assert "Wilma Thornquill" in people or "Emlyn Crosspool" in people
    items = [
        {"item": item["id"], "person": "", "message": item["message"], "decision": "goes"} for item in told["items"]
    ]
    status, kept = send("POST", f"/api/classes/{planned.pk}/read", {"revision": 1, "items": items})
    assert (status, kept["by"]) == (201, "ranger")
    assert send("GET", f"/api/classes/{planned.pk}/read")[1][0]["items"] == items
    assert send("POST", f"/api/classes/{planned.pk}/read", {"revision": 9, "items": items})[0] == 404


def test_everybodys_loads_can_be_set(send: Send) -> None:
    planned = PlannedClass.objects.get(key="machine-pairs")
    plan = send("GET", f"/api/classes/{planned.pk}")[1]["plan"]
    status, rows = send("POST", "/api/loads", {"plan": plan})
    assert status == 200
    press = next(row for row in rows if row["exercise"] == "leg-press" and row["person"] == 2)
    load = press["sets"][0]["loadings"][0]["load"]
    assert load["a_side_kg"] or load["pin_kg"]
    assert abs(load["share_off"]) < 0.1
    firsts = [row for row in rows if row["warm_up"]]
    assert {row["person"] for row in firsts} == set(range(1, 13))


def test_loads_on_a_unit_and_next_time(send: Send) -> None:
    on = {"room": "saw-floor", "unit": "thrust"}
    status, found = send("POST", "/api/loads/unit", {**on, "wanted_kg": [103, 83], "within_s": 60})
    assert status == 200
    assert found["loadings"][0]["load"]["bar_kg"] == 25
    assert found["lightest_kg"] == 25
    assert send("POST", "/api/loads/unit", {**on, "unit": "nothing", "wanted_kg": [10]})[0] == 422
    status, share = send("POST", "/api/loads/share", {"reps": 8, "in_reserve": 2})
    assert (status, share["share_of_best"]) == (200, 0.75)
    _, window = send("POST", "/api/loads/share", {"reps": 6, "up_to": 8})
    assert window["share_of_best"] == 0.83
    status, then = send("POST", "/api/loads/next", {**on, "load_kg": 85, "reps": [8, 8], "low": 6, "high": 8})
    assert (status, then["do"], then["load_kg"]) == (200, "add", 90)


def test_the_air_is_told(send: Send) -> None:
    status, heat = send("POST", "/api/heat", {"temperature_c": 32, "humidity_percent": 60})
    assert (status, heat["advice"], heat["band"]) == (200, "reconsider", "extreme caution")
    assert heat["heat_index"]["value"] == 37.074
    assert send("POST", "/api/heat", {"temperature_c": 90, "humidity_percent": 60})[0] == 422


def test_the_demo_is_loaded_once(demo: Studio) -> None:
    from django.core.management import call_command

    counts = demo.people.count(), demo.runs.count(), Recording.objects.count()
    call_command("load_demo", verbosity=0)
    assert (demo.people.count(), demo.runs.count(), Recording.objects.count()) == counts


# ---- activities ---------------------------------------------------------------------------------------------------


def test_activities_go_out_one_by_one_or_all_in_a_zip(client: Client, send: Send) -> None:
    run = hold(send)
    assert send("POST", f"/api/runs/{run['id']}/simulated", {"person": "tobin"})[0] == 201
    path = f"/api/runs/{run['id']}/activities"
    for kind in ("fit", "tcx"):
        with zipfile.ZipFile(io.BytesIO(client.get(f"{path}?kind={kind}&laps=stations").getvalue())) as all_of_them:
            names = all_of_them.namelist()
            assert {name[11:].split(".")[0] for name in names} == set(run["people"])
            mine = all_of_them.read(next(name for name in names if "tobin" in name))
        assert read_recording(mine).bpm.size > 100
        one = client.get(f"{path}?kind={kind}&laps=stations&person=tobin")
        assert one.getvalue() == mine
        assert one["Content-Disposition"].endswith(f'-tobin.{kind}"')
    assert send("GET", f"{path}?person=nobody")[0] == 422
    assert send("GET", f"{path}?kind=gpx")[0] == 422
    _, ready = send("POST", "/api/runs", {"class_id": run["class_id"], "revision": 1})
    status, told = send("GET", f"/api/runs/{ready['id']}/activities")
    assert (status, told["faults"][0]["right"]) == (422, "a class that is over")


# ---- everything, as files ------------------------------------------------------------------------------------------


def test_everything_kept_on_somebody_is_a_zip_they_can_read(client: Client, send: Send) -> None:
    run = hold(send)
    assert send("POST", f"/api/runs/{run['id']}/simulated", {"person": "tobin"})[0] == 201
    note = "Old knee; asked his physiotherapist"
    Person.objects.filter(key="tobin").update(health_note=note)
    answer = client.get("/api/people/tobin/everything.zip")
    with zipfile.ZipFile(io.BytesIO(answer.getvalue())) as files:
        names = files.namelist()
        page = PdfReader(io.BytesIO(files.read("page.pdf")))
        words = " ".join(" ".join(each_page.extract_text() for each_page in page.pages).split())
        assert json.loads(files.read("everything.json")) == send("GET", "/api/people/tobin/everything")[1]
        for name in ("sets", "attendance", "figures", "hearts", "loads", "settings", "progress"):
            text = files.read(f"{name}.csv").decode("utf-8-sig")
            assert "tobin" in text, name
            assert "Ines" not in text, name
        fits = [name for name in names if name.endswith(".fit")]
        assert len(fits) == Recording.objects.filter(person__key="tobin").count()
        assert read_recording(files.read(fits[0])).bpm.size > 100
        assert "Tobin Askrigg" in files.read("read-me.txt").decode()
    assert "Tobin Askrigg" in words
    assert note in words
    assert "190 kg" in words  # the best on the leg press
    pdf = client.get("/api/people/tobin/everything.pdf?page=letter").content
    assert round(float(PdfReader(io.BytesIO(pdf)).pages[0].mediabox.width)) == 612
    assert client.get("/api/people/nobody/everything.zip").status_code == 404
