"""The weeks over HTTP: progress, next time's loads, the book, courses, today and the calendar."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, date, datetime, timedelta
from typing import Any

import pytest
from django.contrib.auth import get_user_model
from django.test import Client
from django.utils import timezone
from logbook import runs, sets
from logbook.lately import lately_done
from logbook.models import DoneSet, Run
from oaken.design.generator import Lately
from oaken.plan import ClassPlan
from oaken.programme.course import template
from people.models import Lift, UnitSetting, core_people
from planning import keeping as plans
from planning.models import PlannedClass
from studio.models import Studio
from studio.own import house_catalogue

Send = Callable[..., Any]
PAIRS = "machine-pairs"


@pytest.fixture
def assistant(db: None) -> Client:
    signed_in = Client(headers={"host": "127.0.0.1"})
    signed_in.force_login(get_user_model().objects.get(username="helper"))
    return signed_in


def held(demo: Studio, key: str = PAIRS, days: int = 3, seed: int = 1) -> Run:
    """A class that was held some days ago, simulated."""
    planned = demo.classes.get(key=key)
    return runs.simulate(demo, planned, timezone.now() - timedelta(days=days), seed)


# ---- what was done ------------------------------------------------------------------------------------------------


def test_sets_are_written_out_when_a_class_ends_and_anew_when_one_is_withdrawn(demo: Studio, send: Send) -> None:
    run = held(demo)
    count = run.done_sets.count()
    assert count > 100
    assert run.projected == sets.VERSION
    told = {
        (done_set.person_id, done_set.part, done_set.number, done_set.side, done_set.load_kg, done_set.reps)
        for done_set in run.done_sets.all()
    }
    heavier = {"id": "heavier", "kind": "set_done", "happened_at": timezone.now().isoformat(), "load_kg": 77, "reps": 3}
    one = run.done_sets.filter(as_planned=True, load_kg__isnull=False).first()
    assert one is not None
    event = {**heavier, "person": one.person.key, "part": one.part, "number": one.number}
    assert send("POST", f"/api/runs/{run.pk}/events", {"events": [event]})[0] == 200
    changed = DoneSet.objects.get(run=run, person=one.person, part=one.part, number=one.number)
    assert (changed.load_kg, changed.reps, changed.as_planned) == (77, 3, False)
    back = {"id": "back", "kind": "withdrawn", "happened_at": timezone.now().isoformat(), "event": "heavier"}
    assert send("POST", f"/api/runs/{run.pk}/events", {"events": [back]})[0] == 200
    again = {
        (done_set.person_id, done_set.part, done_set.number, done_set.side, done_set.load_kg, done_set.reps)
        for done_set in run.done_sets.all()
    }
    assert again == told
    assert run.done_sets.count() == count


def test_sets_written_out_by_other_rules_are_written_out_anew(demo: Studio) -> None:
    run = held(demo)
    count = run.done_sets.count()
    run.done_sets.all().delete()
    Run.objects.filter(pk=run.pk).update(projected=0)
    assert runs.materialise_missing(demo) == 1
    assert run.done_sets.count() == count
    assert runs.materialise_missing(demo) == 0


def test_progress_of_a_person(demo: Studio, send: Send) -> None:
    for week in range(4):
        held(demo, days=28 - 7 * week, seed=week + 1)
    status, told = send("GET", "/api/people/tobin/progress")
    assert status == 200
    press = next(item for item in told["exercises"] if item["exercise"] == "leg-press")
    assert len(press["points"]) >= 4
    assert press["best"]["low"] < press["best"]["value"] < press["best"]["high"]
    assert press["best"]["method"] == "progress.best"
    assert press["gain"]["verdict"] in ("better", "worse", "not told apart")
    assert told["classes"][-1]["figures"]["session_effort"] > 0
    assert told["hearts"]
    status, days = send("GET", "/api/people/tobin/progress/leg-press")
    assert (status, len(days)) == (200, len(press["points"]))
    assert days[0]["on"] >= days[-1]["on"]
    assert send("GET", "/api/people/nobody/progress")[0] == 404


def test_a_goal_is_kept_and_told(demo: Studio, send: Send) -> None:
    held(demo)
    goal = {"exercise": "leg-press", "best_kg": 250, "by": str(date.today() + timedelta(days=60))}
    assert send("PUT", "/api/people/tobin/goals", goal)[0] == 204
    press = next(
        item for item in send("GET", "/api/people/tobin/progress")[1]["exercises"] if item["exercise"] == "leg-press"
    )
    assert press["goal"]["best_kg"] == 250
    assert press["goal"]["verdict"] in ("within reach", "open", "out of reach as it goes")
    assert send("PUT", "/api/people/tobin/goals", {**goal, "best_kg": -3})[0] == 422
    assert send("DELETE", "/api/people/tobin/goals/leg-press")[0] == 204
    assert send("DELETE", "/api/people/tobin/goals/leg-press")[0] == 404


def test_two_weeks_side_by_side(demo: Studio, send: Send) -> None:
    first, second = held(demo, days=21), held(demo, days=7, seed=2)
    days = [str(run.began_at.date()) for run in (first, second) if run.began_at]
    status, told = send("GET", f"/api/people/tobin/beside?earlier={days[0]}&later={days[1]}")
    assert status == 200
    assert {item["beats"] for item in told} <= {"yes", "no", "the same", "not comparable"}
    assert all(item["why"] for item in told)


# ---- next time's loads --------------------------------------------------------------------------------------------


def without_loads(demo: Studio) -> PlannedClass:
    """The pairs without a load in them: working loads stand there."""
    document = plans.plan_of(demo.classes.get(key=PAIRS).revisions.latest("number")).model_dump()
    for block in document["blocks"]:
        for group in block.get("groups") or []:
            for slot in group["slots"]:
                for run in slot["sets"]:
                    for segment in run["segments"]:
                        segment["load"] = segment["change"] = None
    made = plans.create(demo, ClassPlan.model_validate({**document, "name": "Bare pairs"}))
    return made.planned_class


def test_what_is_taken_stands_in_the_next_class(demo: Studio, send: Send) -> None:
    bare = without_loads(demo)
    status, told = send("POST", f"/api/classes/{bare.pk}/next-loads", {"today": {}})
    assert status == 200
    mine = [item for item in told if item["person"] == "tobin" and item["proposal"]["load_kg"] is not None]
    assert mine
    assert all(item["proposal"]["reason"] and item["proposal"]["rests_on"] for item in mine)
    plan = send("GET", f"/api/classes/{bare.pk}")[1]["plan"]
    before = send("POST", "/api/forecast", {"plan": plan})[1]["people"]
    assert not any(row["sets"] for row in send("POST", "/api/loads", {"plan": plan})[1] if row["person"] == 2)
    taken = [
        {"person": item["person"], "exercise": item["exercise"], "load_kg": item["proposal"]["load_kg"]}
        for item in mine
    ]
    assert send("PUT", "/api/next-loads", {"taken": taken}) == (200, {"changed": len(taken)})
    assert send("PUT", "/api/next-loads", {"taken": taken}) == (200, {"changed": 0})
    number = plan["people"].index("tobin") + 1
    sheet = [row for row in send("POST", "/api/loads", {"plan": plan})[1] if row["person"] == number]
    assert {row["exercise"]: row["sets"][0]["loadings"][0]["load"]["set_kg"] for row in sheet if row["sets"]} == {
        item["exercise"]: item["load_kg"] for item in taken
    }
    after = send("POST", "/api/forecast", {"plan": plan})[1]["people"]
    volume = [people[number - 1]["figures"]["volume_load"] for people in (before, after)]
    # before, nobody knew any load: that is no load of zero
    assert volume[0] is None
    assert volume[1]["value"] > 0
    run = runs.open_run(demo, bare, bare.revisions.latest("number").number)
    kept = send("GET", f"/api/runs/{run.pk}/sheets")[1]["sheets"][0]["people"][number - 1]["sets"]
    assert {item["kg"][0] for item in kept if item["kg"]} == {item["load_kg"] for item in taken}


def test_nothing_moves_by_itself(demo: Studio, send: Send) -> None:
    bare = without_loads(demo)
    send("POST", f"/api/classes/{bare.pk}/next-loads", {"today": {"tobin": "bad night"}})
    assert not Lift.objects.filter(person__studio=demo, working_kg__isnull=False).exists()
    wrong = [{"person": "nobody", "exercise": "leg-press", "load_kg": 60},
             {"person": "tobin", "exercise": "plank", "load_kg": 60},
             {"person": "tobin", "exercise": "leg-press", "load_kg": 60}]  # fmt: skip
    status, told = send("PUT", "/api/next-loads", {"taken": wrong})
    assert (status, [item["path"] for item in told["faults"]]) == (422, ["taken.0.person", "taken.1.exercise"])
    assert not Lift.objects.filter(person__studio=demo, working_kg__isnull=False).exists()
    assert send("PUT", "/api/next-loads", {"taken": [{**wrong[2], "load_kg": 1000}]})[0] == 422


def test_the_house_and_a_person_choose_a_school(demo: Studio, send: Send) -> None:
    status, told = send("GET", "/api/load-rules")
    assert (status, told["rules"]["school"], len(told["schools"])) == (200, "every-set", 6)
    assert (
        send("PUT", "/api/load-rules", {**told["rules"], "school": "consolidate"})[1]["rules"]["school"]
        == "consolidate"
    )
    assert send("PUT", "/api/load-rules", {**told["rules"], "school": "guessing"})[0] == 422
    assert send("PUT", "/api/people/tobin/load-school", {"school": "last-set"})[0] == 204
    bare = without_loads(demo)
    schools = {item["person"]: item["proposal"]["school"]
               for item in send("POST", f"/api/classes/{bare.pk}/next-loads", {"today": {}})[1]}  # fmt: skip
    assert (schools["tobin"], schools["ines"]) == ("last-set", "consolidate")


# ---- the book -----------------------------------------------------------------------------------------------------


def test_a_class_without_devices_is_typed_in_afterwards(demo: Studio, send: Send) -> None:
    planned = demo.classes.get(key=PAIRS)
    held_at = (timezone.now() - timedelta(days=1)).isoformat()
    body = {"class_id": planned.pk, "revision": 1, "began_at": held_at, "people": ["tobin", "ines"]}
    run = send("POST", "/api/runs/past", body)[1]["id"]
    page = send("GET", f"/api/runs/{run}/book")[1]
    rows = [item for item in page["log"] if item["person"] == "tobin"]
    assert {row["written"] for row in rows} == {"not written"}
    assert page["rows"][0]["name"] == "Length"
    now = timezone.now().isoformat()
    first = next(row for row in rows if row["planned_kg"])
    done = {"id": "t1", "kind": "set_done", "happened_at": now, "person": "tobin", "part": first["part"],
            "number": first["number"], "load_kg": 55, "reps": 9}  # fmt: skip
    rest = {"id": "t2", "kind": "as_planned", "happened_at": now, "person": "tobin"}
    assert send("POST", f"/api/runs/{run}/events", {"events": [done, rest]})[0] == 200
    page = send("GET", f"/api/runs/{run}/book")[1]
    stands = {(item["part"], item["number"]): item["written"] for item in page["log"] if item["person"] == "tobin"}
    assert stands.pop((first["part"], first["number"])) == "done"
    assert set(stands.values()) == {"as planned"}
    assert {item["written"] for item in page["log"] if item["person"] == "ines"} == {"not written"}
    assert Run.objects.get(pk=run).unwritten == len([item for item in page["log"] if item["person"] == "ines"])


def test_corrections_leave_their_trace(demo: Studio, send: Send) -> None:
    run = held(demo)
    row = next(item for item in send("GET", f"/api/runs/{run.pk}/book")[1]["log"] if item["planned_kg"])
    for number, kg in enumerate((50, 52.5)):
        event = {"id": f"c{number}", "kind": "set_done", "happened_at": timezone.now().isoformat(), "load_kg": kg,
                 "person": row["person"], "part": row["part"], "number": row["number"]}  # fmt: skip
        send("POST", f"/api/runs/{run.pk}/events", {"events": [event]})
    traces = send("GET", f"/api/runs/{run.pk}/book")[1]["traces"]
    assert any("50 kg" in trace["words"] and "52.5 kg" in trace["words"] for trace in traces)
    back = {"id": "c9", "kind": "withdrawn", "happened_at": timezone.now().isoformat(), "event": "c1"}
    send("POST", f"/api/runs/{run.pk}/events", {"events": [back]})
    traces = send("GET", f"/api/runs/{run.pk}/book")[1]["traces"]
    assert any("52.5 kg" in trace["words"] and trace["withdrawn_by"] == "ranger" for trace in traces)


def test_a_table_of_sets_is_looked_at_before_it_is_kept(demo: Studio, send: Send, upload: Send, client: Client) -> None:
    run = held(demo)
    csv = client.get(f"/api/runs/{run.pk}/sets.csv").content.decode()
    assert csv.startswith("person,exercise,part,set,side,load_kg")
    row = next(item for item in send("GET", f"/api/runs/{run.pk}/book")[1]["log"] if item["planned_kg"])
    name = send("GET", f"/api/runs/{run.pk}/book")[1]["people"][row["person"]]
    lines = [
        "person;exercise;part;set;load_kg;reps",
        f"{name};{row['exercise']};{row['part']};{row['number']};72,5;9",
        f"{name};{row['exercise']};{row['part']};{row['number']};1000;9",
        f"{name};{row['exercise']};{row['part']};{row['number']};60;-3",
        f"{name};juggling;;1;60;3",
        f"Nobody;{row['exercise']};{row['part']};1;60;3",
        f"{name};{row['exercise']};{row['part']};{row['number']};=1+1;3",
    ]
    path, file = f"/api/runs/{run.pk}/sets-file", "\n".join(lines)
    status, told = upload(path, file)
    assert (status, told["kept"]) == (200, 0)
    assert [item["outcome"] for item in told["rows"]][1:] == ["faulty"] * 5
    faults = [fault for item in told["rows"] for fault in item["faults"]]
    assert [(fault["place"], fault["field"]) for fault in faults] == [
        ("line 3", "load_kg"), ("line 4", "reps"), ("line 5", "exercise"), ("line 6", "person"), ("line 7", "load_kg")]  # fmt: skip
    events = run.events.count()
    assert upload(path, file, keep=True)[0] == 422
    assert run.events.count() == events
    status, told = upload(path, file, keep=True, only_right=True)
    assert (status, told["kept"]) == (200, 1)
    one = DoneSet.objects.get(run=run, person__key=row["person"], part=row["part"], number=row["number"])
    assert (one.load_kg, one.reps) == (72.5, 9)
    for wrong in ("", "person,exercise\n", "person,exercise,set,mood\n", "\x00"):
        assert upload(path, wrong)[0] == 422


def test_the_last_class_of_a_near_window_is_found_behind_later_ones(demo: Studio) -> None:
    days = (30, 24, 18, 12, 6)
    for seed, days_ago in enumerate(days):
        held(demo, days=days_ago, seed=seed)
    lift = ("tobin", "hip-thrust")
    oldest = DoneSet.objects.filter(person__key=lift[0], exercise=lift[1]).order_by("on")[0].on
    DoneSet.objects.filter(on=oldest, exercise=lift[1]).update(low=4, high=6)
    today = timezone.localdate()
    near = sets.last_sessions(demo, {lift: (4, 6)}, today)[lift]
    assert near[0].on == oldest
    assert len(near) == 4
    for window in (None, (10, 10)):
        assert oldest not in [last_session.on for last_session in sets.last_sessions(demo, {lift: window}, today)[lift]]


def test_the_log_as_a_table_comes_back_as_it_was(demo: Studio, upload: Send, client: Client) -> None:
    run = held(demo)
    csv = client.get(f"/api/runs/{run.pk}/sets.csv").content
    before = list(run.done_sets.values_list("person", "part", "number", "load_kg", "reps", "as_planned", "reps_left"))
    status, told = upload(f"/api/runs/{run.pk}/sets-file", csv, keep=True)
    assert status == 200, told
    assert not [item for item in told["rows"] if item["outcome"] == "faulty"]
    after = list(run.done_sets.values_list("person", "part", "number", "load_kg", "reps", "as_planned", "reps_left"))
    assert after == before


def test_an_assistant_reads_the_book_without_anybodys_health(demo: Studio, assistant: Client) -> None:
    run = Run.objects.filter(studio=demo, recordings__isnull=False).distinct()[0]
    page = assistant.get(f"/api/runs/{run.pk}/book").json()
    assert page["hearts"] == []
    assert page["log"]
    assert not [row for row in page["rows"] if row["of_bodies"]]
    assert page["run"]["kcal_total"] is None
    for closed in ("/api/people/tobin/progress", "/api/weeks", "/api/courses", "/api/load-rules"):
        assert assistant.get(closed).status_code == 403


def test_weeks_of_a_studio_add_up(demo: Studio, send: Send) -> None:
    held(demo, days=1)
    told = send("GET", "/api/weeks")[1]
    classes = [item for week in told["weeks"] for item in week["classes"]]
    assert len(classes) == demo.runs.filter(ended_at__isnull=False).count()
    for week in told["weeks"]:
        own = [item["figures"]["session_effort"] for item in week["classes"]]
        assert week["figures"].get("session_effort", 0) == pytest.approx(sum(own), abs=0.1)
    assert told["blocks"][0]["mean_s"] >= told["blocks"][-1]["mean_s"]
    assert all(planned_class["came"] <= planned_class["planned_people"] for planned_class in classes)


def test_everything_and_erasure_reach_the_weeks(demo: Studio, send: Send) -> None:
    run = held(demo)
    send("PUT", "/api/people/tobin/goals", {"exercise": "leg-press", "best_kg": 250, "by": "2030-01-01"})
    record = send("GET", "/api/people/tobin")[1]
    heavier = {**record["record"]["person"], "body_mass_kg": 81.5}
    body = {"based_on": record["revision"], "record": {**record["record"], "person": heavier}}
    assert send("PUT", "/api/people/tobin", body)[0] == 200
    told = send("GET", "/api/people/tobin/everything")[1]
    assert told["sets"]
    assert told["goals"]
    assert told["figures_of_classes"]
    assert told["body_readings"][-1]["body_mass_kg"] == 81.5
    before = run.attendances.count()
    assert send("DELETE", "/api/people/tobin/everything")[0] == 204
    gone = demo.people.get(key="gone-1")
    assert not gone.done_sets.exists()
    assert not gone.lift_goals.exists()
    assert not gone.body_readings.exists()
    assert run.attendances.count() == before
    assert all("heart_mean" not in attendance.figures for attendance in gone.attendances.all())


# ---- courses ------------------------------------------------------------------------------------------------------


@pytest.fixture
def course(demo: Studio, send: Send) -> dict[str, Any]:
    """A course made from a school."""
    body = {"template": "waves", "name": "Hill", "room": "saw-floor", "people": ["tobin", "ines", "ruben", "wilma"],
            "starts": str(date.today()), "weeks": 6}  # fmt: skip
    status, made = send("POST", "/api/courses/template", body)
    assert status == 201, made
    return dict(made)


def test_generated_base_classes_differ_from_what_the_class_log_says_was_done_lately(demo: Studio, send: Send) -> None:
    crowd, on = ["tobin", "ines", "ruben", "wilma"], date.today()
    body = {"template": "waves", "name": "Hill", "room": "saw-floor", "people": crowd, "starts": str(on), "weeks": 6,
            "generated": True}  # fmt: skip
    status, made = send("POST", "/api/courses/template", body)
    assert status == 201, made
    lately = lately_done(demo, crowd, on)
    assert lately

    def exercises(plan: ClassPlan) -> list[str]:
        return [part.exercise for _, part in plan.placed()]

    kept = [
        exercises(ClassPlan.model_validate(send("GET", f"/api/classes/{base['id']}")[1]["plan"]))
        for base in made["course"]["bases"]
    ]
    people = {core_person.id: core_person for core_person in core_people(demo, crowd)}
    room = demo.rooms.get(key="saw-floor").to_core()
    all_of_it = [Lately(exercise=name, weeks=0, running=6) for names in kept for name in names]
    for known, same in ((lately, True), (all_of_it, False)):
        expected = template("waves", room, [people[item] for item in crowd], house_catalogue(demo), name="Hill", starts=on,
                            time="18:30", weeks=6, generated=True, lately=known)  # fmt: skip
        assert (kept == [exercises(plan) for plan in expected.plans.values()]) == same


def test_a_course_is_made_saved_and_has_a_history(course: dict[str, Any], send: Send) -> None:
    document = {**course["course"], "changes": [*course["course"]["changes"],
                {"weeks": [2], "bases": [], "change": {"do": "scale_rests", "factor": 1.5}}], "weeks": 6}  # fmt: skip
    status, saved = send("PUT", f"/api/courses/{course['id']}", {"based_on": 1, "course": document})
    assert (status, saved["revision"]) == (200, 2)
    status, stale = send("PUT", f"/api/courses/{course['id']}", {"based_on": 1, "course": document})
    assert (status, stale["latest"]["revision"]) == (409, 2)
    steps = send("GET", f"/api/courses/{course['id']}/history")[1]
    assert steps[0]["changes"] == ["weeks 2: rests × 1.5"]
    assert send("GET", f"/api/courses/{course['id']}/revisions/1")[1]["course"] == course["course"]
    wrongs: list[dict[str, Any]] = [
        {"weeks": 0},
        {"weeks": 27},
        {"bases": []},
        {"bases": [{"id": "99999", "name": "x"}]},
    ]
    for wrong in wrongs:
        assert send("PUT", f"/api/courses/{course['id']}", {"based_on": 2, "course": {**document, **wrong}})[0] == 422


def test_a_week_is_written_out_once_and_what_was_changed_by_hand_stays(course: dict[str, Any], send: Send) -> None:
    write, week = f"/api/courses/{course['id']}/written", {"week": 2}
    made = send("POST", write, week)[1]
    assert [item["outcome"] for item in made] == ["made", "made"]
    assert [item["outcome"] for item in send("POST", write, week)[1]] == ["unchanged", "unchanged"]
    plan = send("GET", f"/api/classes/{made[0]['id']}")[1]["plan"]
    assert send("PUT", f"/api/classes/{made[0]['id']}", {"based_on": 1, "plan": {**plan, "note": "by hand"}})[0] == 200
    base = course["course"]["bases"][1]["id"]
    old = send("GET", f"/api/classes/{base}")[1]
    assert (
        send("PUT", f"/api/classes/{base}", {"based_on": 1, "plan": {**old["plan"], "note": "another cue"}})[0] == 200
    )
    states = {item["id"]: item for item in send("GET", f"/api/courses/{course['id']}/written")[1]}
    assert states[made[0]["id"]]["by_hand"]
    assert states[made[1]["id"]]["behind"]
    told = {item["id"]: item["outcome"] for item in send("POST", write, week)[1]}
    assert told == {made[0]["id"]: "kept: it was changed by hand", made[1]["id"]: "written anew"}
    assert send("GET", f"/api/classes/{made[0]['id']}")[1]["plan"]["note"] == "by hand"
    assert send("GET", f"/api/classes/{made[1]['id']}")[1]["plan"]["note"] == "another cue"
    assert send("POST", write, {"week": 7})[0] == 422
    assert send("POST", write, {"week": 27})[0] == 422


def test_a_base_class_that_is_gone_is_said_with_its_weeks(course: dict[str, Any], send: Send) -> None:
    gone = course["course"]["bases"][0]
    PlannedClass.objects.get(pk=int(gone["id"])).delete()
    told = send("POST", "/api/courses/outlook", {"course": course["course"]})[1]
    faults = [item for item in told["notices"] if item["severity"] == "fault"]
    assert faults
    assert gone["name"] in faults[0]["message"]
    assert [week["classes"][1]["figures"] is not None for week in told["weeks"]] == [True] * 6
    status, said = send("POST", f"/api/courses/{course['id']}/written", {"week": 1})
    assert (status, gone["name"] in said["faults"][0]["message"]) == (422, True)
    assert not PlannedClass.objects.filter(course=course["id"]).exists()


def test_a_missed_week_moves_or_drops(course: dict[str, Any], send: Send) -> None:
    moved = send("POST", "/api/courses/missed", {"course": course["course"], "week": 3, "how": "move"})[1]
    assert moved["pauses"] == [{"before": 3, "weeks": 1}]
    dropped = send("POST", "/api/courses/missed", {"course": course["course"], "week": 3, "how": "drop"})[1]
    assert dropped["dropped"] == [3]
    assert send("GET", f"/api/courses/{course['id']}")[1]["revision"] == 1


def test_a_course_file_is_brought_back(course: dict[str, Any], send: Send) -> None:
    file = send("GET", f"/api/courses/{course['id']}/file")[1]
    status, again = send("POST", "/api/courses/import", {"document": file})
    assert status == 201
    assert again["course"]["changes"] == course["course"]["changes"]
    assert again["course"]["bases"][0]["id"] != course["course"]["bases"][0]["id"]
    assert send("POST", "/api/courses/import", {"document": {**file, "format": "oaken-course/7"}})[0] == 422


# ---- today and the calendar ---------------------------------------------------------------------------------------


def dated(demo: Studio, name: str, starts: str, **fields: Any) -> PlannedClass:
    plan = plans.plan_of(demo.classes.get(key="long-carry").revisions.latest("number")).model_dump()
    made = plans.create(demo, ClassPlan.model_validate({**plan, "name": name, "starts": starts, **fields}))
    return made.planned_class


def test_the_calendar_repeats_leaves_out_and_says_clashes(demo: Studio, send: Send) -> None:
    dated(demo, "Weekly", "2030-03-04 18:30", repeats={"until": "2030-03-25", "without": ["2030-03-18"]})
    other = dated(demo, "Other", "2030-03-11 19:00")
    told = send("GET", "/api/calendar?since=2030-03-01&until=2030-03-31")[1]
    assert [(item["name"], item["on"]) for item in told] == [
        ("Weekly", "2030-03-04"), ("Weekly", "2030-03-11"), ("Other", "2030-03-11"), ("Weekly", "2030-03-25")]  # fmt: skip
    assert [item["clashes"] for item in told] == [[], ["Other"], ["Weekly"], []]
    assert send("PUT", f"/api/classes/{other.pk}/archived", {"archived": True})[0] == 204
    told = send("GET", "/api/calendar?since=2030-03-01&until=2030-03-31")[1]
    assert len(told) == 3
    assert not any(item["clashes"] for item in told)
    assert next(item for item in send("GET", "/api/classes")[1] if item["id"] == other.pk)["archived"]
    assert send("GET", "/api/calendar?since=2030-03-01&until=2032-03-31")[0] == 422
    assert send("GET", "/api/calendar?since=2030-03-02&until=2030-03-01")[0] == 422


def test_today_tells_what_is_next_and_what_it_needs(demo: Studio, send: Send, assistant: Client) -> None:
    soon = timezone.now() + timedelta(hours=2)
    planned = dated(demo, "Soon", f"{soon:%Y-%m-%d %H:%M}")
    run = held(demo, days=2)
    told = send("GET", "/api/today")[1]
    assert told["next"][0]["entry"]["name"] == "Soon"
    needs = {item["what"]: item["done"] for item in told["next"][0]["needs"]}
    assert needs["start"] is False
    assert "cards" in needs
    UnitSetting.objects.filter(person__studio=demo).delete()
    words = next(item for item in send("GET", "/api/today")[1]["next"][0]["needs"] if item["what"] == "cards")
    assert (words["done"], "are not on their cards" in words["words"]) == (False, True)
    body = {"revision": 1, "items": [{"item": "x", "message": "read", "decision": "read"}]}
    assert send("POST", f"/api/classes/{planned.pk}/read", body)[0] == 201
    again = {item["what"]: item["done"] for item in send("GET", "/api/today")[1]["next"][0]["needs"]}
    assert again["start"] is True
    assert Run.objects.get(pk=run.pk).unwritten > 0
    assert run.pk in [item["run"] for item in told["to_write"]]
    assert told["running"]
    shown = assistant.get("/api/today").json()
    assert {item["what"] for item in shown["next"][0]["needs"]}.isdisjoint({"start", "loads"})


def test_today_follows_the_time_zone_of_the_studio(demo: Studio, send: Send) -> None:
    assert send("PUT", "/api/time-zone", {"time_zone": "Middle/Earth"})[0] == 422
    assert send("PUT", "/api/time-zone", {"time_zone": "Pacific/Kiritimati"})[0] == 200
    ahead = send("GET", "/api/today")[1]["today"]
    assert send("PUT", "/api/time-zone", {"time_zone": "Pacific/Pago_Pago"})[0] == 200
    behind = send("GET", "/api/today")[1]["today"]
    assert date.fromisoformat(ahead) > date.fromisoformat(behind)


def test_a_class_held_late_in_the_evening_belongs_to_its_own_day(demo: Studio) -> None:
    demo.time_zone = "America/Los_Angeles"
    demo.save()
    planned = demo.classes.get(key=PAIRS)
    run = runs.simulate(demo, planned, datetime(2026, 5, 5, 3, 0, tzinfo=UTC), 4)
    assert set(run.done_sets.values_list("on", flat=True)) == {date(2026, 5, 4)}


def test_the_demo_loads_its_weeks(db: None) -> None:
    """The whole demo: people who progress, one who stalls, one who was ill, one who missed weeks."""
    from django.core.management import call_command

    Studio.objects.all().delete()
    call_command("load_demo", verbosity=0)
    demo = Studio.objects.get()
    course = demo.courses.get()
    weeks = {planned_class.course_week for planned_class in course.classes.all()}
    assert weeks == set(range(1, 13))
    held_runs = demo.runs.filter(saved_as__planned_class__course=course)
    assert held_runs.count() >= 22
    came = {key: demo.people.get(key=key).attendances.filter(run__in=held_runs).count()
            for key in ("tobin", "signe", "jory")}  # fmt: skip
    assert came["signe"] == came["tobin"] - 4
    assert came["jory"] <= came["tobin"] - 5
    working = Lift.objects.filter(person__studio=demo, working_kg__isnull=False)
    assert working.count() > 30
