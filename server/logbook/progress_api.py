"""Endpoints of a person's progress: bests over time, sets, two weeks side by side, goals."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from typing import Literal

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from ninja import Router, Status
from oaken.basis.estimate import Estimate
from oaken.basis.faults import Faults
from oaken.physiology.strength import curve_of
from oaken.programme.progress import (
    Goal,
    School,
    Series,
    Session,
    SetRecord,
    evidence_of,
    gain_since,
    left_and_right,
    prospect,
    series_of,
    why_no_evidence,
)
from people.models import LiftGoal, Person
from studio.access import needs, studio_of
from studio.answers import Answer
from studio.own import house_catalogue

from logbook import progress
from logbook.models import Recording
from logbook.sets import records_of

router = Router(tags=["progress"], auth=needs("read_health"))


class Point(Answer):
    """One session: what it says of the best by itself (kg; None where nothing), the line there with the range that
    holds a tested best in eight of ten, the heaviest load (kg), volume (kg × repetitions of the sets whose load
    is known; None where none is) and how many sets are without, tension (s), repetitions, sets."""

    on: date
    run: int
    day_kg: float | None
    best_kg: float | None
    low_kg: float | None
    high_kg: float | None
    at_least: bool
    weak: bool
    heaviest_kg: float | None
    volume_kg: float | None
    without_load: int
    tension_s: float
    reps: int
    sets: int
    scheme: str


class GainOut(Answer):
    """How much the best has grown since a day, as a share with the range that holds eight of ten."""

    since: date
    share: float
    low: float
    high: float
    verdict: Literal["better", "worse", "not told apart"]
    from_at_least: bool


class GoalOut(Answer):
    """A goal, and whether the line reaches it; `verdict` is empty where nothing can be said yet."""

    best_kg: float
    by: date
    expected_kg: float | None
    low_kg: float | None
    high_kg: float | None
    chance: float | None
    verdict: str


class SidesOut(Answer):
    """Left against right: how much more the right one does, as a share, over so many sessions."""

    right_over_left: float
    low: float
    high: float
    sessions: int
    differs: bool


class ExerciseProgress(Answer):
    """An exercise of a person over the dates."""

    exercise: str
    name: str
    points: list[Point]
    best: Estimate | None
    gain: GainOut | None
    goal: GoalOut | None
    sides: SidesOut | None


class BodyPoint(Answer):
    """Body mass and resting rate on a day."""

    on: date
    body_mass_kg: float | None
    resting_bpm: int | None


class HeartPoint(Answer):
    """What one recording says: the rate at 5 MET with its range, and how far it fell in the minute after work."""

    on: date
    run: int
    class_name: str
    at_work_bpm: float | None
    at_work_low: float | None
    at_work_high: float | None
    recovery_bpm: float | None
    rests: int


class ClassPoint(Answer):
    """A class somebody came to, and what it came to for them, figure by figure."""

    on: date
    run: int
    class_name: str
    figures: dict[str, float]


class ProgressOut(Answer):
    """Everything the weeks say of a person."""

    person: str
    name: str
    load_school: School | None
    exercises: list[ExerciseProgress]
    body: list[BodyPoint]
    hearts: list[HeartPoint]
    classes: list[ClassPoint]


class SetOut(Answer):
    """One set as it was done, and why it says nothing of the best (empty where it does)."""

    part: str
    number: int
    side: Literal["", "left", "right"]
    unit: str
    load_kg: float | None
    reps: int | None
    seconds: float | None
    planned_kg: float | None
    low: int | None
    high: int | None
    ended: Literal["failed", "left", "stopped"]
    reps_left: int | None
    helped: bool
    poor: bool
    as_planned: bool
    helped_reps: int
    rest_s: float | None
    set_up: str
    in_parts: str
    points_to_kg: float | None
    no_evidence: str


class SessionOut(Answer):
    """One day of an exercise, set by set."""

    on: date
    run: int
    scheme: str
    volume_kg: float | None
    without_load: int
    sets: list[SetOut]


class BesideOut(Answer):
    """An exercise in two weeks side by side."""

    exercise: str
    name: str
    earlier: SessionOut | None
    later: SessionOut | None
    beats: Literal["yes", "no", "the same", "not comparable"]
    why: str
    gain: float | None
    gain_low: float | None
    gain_high: float | None


@router.get("/people/{key}/progress", response=ProgressOut)
def read_progress(request: HttpRequest, key: str, since: date | None = None) -> HttpResponse:
    """Everything the weeks say of a person; gains are counted since a day (the first session where none is given)."""
    person = _person(request, key)
    known = house_catalogue(studio_of(request))
    zone = studio_of(request).zone
    goals = {goal.exercise: goal for goal in person.lift_goals.all()}
    told = ProgressOut(
        person=person.key,
        name=person.name,
        load_school=person.load_school or None,
        exercises=[
            _exercise(exercise, progress.name_in(known, exercise), series, since, goals.get(exercise))
            for exercise, series in progress.series_by_exercise(person).items()
        ],
        body=[BodyPoint.model_validate(body_reading) for body_reading in person.body_readings.all()],
        hearts=[_heart(recording) for recording in _recordings(person) if recording.at_work],
        classes=[
            ClassPoint(
                on=planned_class.began_at.astimezone(zone).date(),
                run=planned_class.run,
                class_name=planned_class.name,
                figures=planned_class.figures,
            )
            for planned_class in progress.classes_of(person)
        ],
    )
    # made here and long: written out at once, without being checked again
    return HttpResponse(told.model_dump_json(), content_type="application/json")


@router.get("/people/{key}/progress/{exercise}", response=list[SessionOut])
def read_sessions(request: HttpRequest, key: str, exercise: str) -> list[SessionOut]:
    """An exercise of a person day by day and set by set, the last day first."""
    usual = curve_of(house_catalogue(studio_of(request)).exercises.get(exercise))
    series = series_of(records_of(_person(request, key), exercise), usual)
    return [_session(session, series) for session in reversed(series.sessions)]


@router.get("/people/{key}/beside", response=list[BesideOut])
def read_beside(request: HttpRequest, key: str, earlier: date, later: date) -> list[BesideOut]:
    """Two weeks of a person side by side, each named by one of its days: does the later one beat the earlier one?"""
    known = house_catalogue(studio_of(request))
    return [
        BesideOut(
            exercise=item.exercise,
            name=progress.name_in(known, item.exercise),
            earlier=None if item.earlier is None else _session(item.earlier, item.series),
            later=None if item.later is None else _session(item.later, item.series),
            beats=item.beats,
            why=item.why,
            gain=item.gain,
            gain_low=item.gain_low,
            gain_high=item.gain_high,
        )
        for item in progress.weeks_beside(_person(request, key), earlier, later)
    ]


@router.put("/people/{key}/goals", response={204: None, 422: Faults})
def keep_goal(request: HttpRequest, key: str, goal: Goal) -> Status[None]:
    """Keep a goal; one of the same exercise is replaced."""
    LiftGoal.objects.update_or_create(
        person=_person(request, key), exercise=goal.exercise, defaults={"best_kg": goal.best_kg, "by": goal.by}
    )
    return Status(204, None)


@router.delete("/people/{key}/goals/{exercise}", response={204: None})
def forget_goal(request: HttpRequest, key: str, exercise: str) -> Status[None]:
    """Forget a goal."""
    get_object_or_404(_person(request, key).lift_goals, exercise=exercise).delete()
    return Status(204, None)


def _person(request: HttpRequest, key: str) -> Person:
    return get_object_or_404(Person, studio=studio_of(request), erased=False, key=key)


def _recordings(person: Person) -> Sequence[Recording]:
    return list(person.recordings.select_related("run__saved_as", "run__studio").defer("run__file", "seconds", "bpm"))


def _exercise(exercise: str, name: str, series: Series, since: date | None, goal: LiftGoal | None) -> ExerciseProgress:
    gain = gain_since(series, since or series.sessions[0].on)
    every = (each_set for session in series.sessions for each_set in session.sets)
    sides = left_and_right(every, series.curve.curve)
    return ExerciseProgress(
        exercise=exercise,
        name=name,
        points=_points(series),
        best=series.best(),
        gain=None if gain is None else GainOut.model_validate(gain),
        goal=None if goal is None else _goal(series, goal),
        sides=None if sides is None else SidesOut.model_validate(sides),
    )


def _goal(series: Series, goal: LiftGoal) -> GoalOut:
    found = prospect(series, Goal(exercise=goal.exercise, best_kg=goal.best_kg, by=goal.by))
    return GoalOut(
        best_kg=goal.best_kg,
        by=goal.by,
        expected_kg=None if found is None else found.expected_kg,
        low_kg=None if found is None else found.low_kg,
        high_kg=None if found is None else found.high_kg,
        chance=None if found is None else found.chance,
        verdict="" if found is None else found.verdict,
    )


def _points(series: Series) -> list[Point]:
    place_of = {session: place for place, session in enumerate(series.seen)}
    found = []
    for at, each_session in enumerate(series.sessions):
        best = series.best(place_of[at]) if at in place_of else None
        found.append(
            Point(
                on=each_session.on,
                run=each_session.run,
                day_kg=None if each_session.evidence is None else round(each_session.evidence.kg, 1),
                best_kg=None if best is None else best.value,
                low_kg=None if best is None else best.low,
                high_kg=None if best is None else best.high,
                at_least=each_session.evidence is not None and each_session.evidence.at_least,
                weak=each_session.evidence is not None and each_session.evidence.weak,
                heaviest_kg=each_session.heaviest_kg,
                volume_kg=each_session.volume_kg,
                without_load=each_session.without_load,
                tension_s=each_session.tension_s,
                reps=each_session.reps,
                sets=len({(each.part, each.number) for each in each_session.sets}),
                scheme=each_session.scheme.words,
            )
        )
    return found


def _session(session: Session, series: Series) -> SessionOut:
    return SessionOut(
        on=session.on,
        run=session.run,
        scheme=session.scheme.words,
        volume_kg=session.volume_kg,
        without_load=session.without_load,
        sets=[_set(each_set, series) for each_set in session.sets],
    )


def _set(one: SetRecord, series: Series) -> SetOut:
    evidence = evidence_of(one, series.curve.curve)
    told = {name: getattr(one, name) for name in SetOut.model_fields if hasattr(one, name)}
    points_to_kg = None if evidence is None else round(evidence.meant_kg, 1)
    return SetOut(**told, points_to_kg=points_to_kg, no_evidence=why_no_evidence(one))


def _heart(recording: Recording) -> HeartPoint:
    run = recording.run
    told = recording.at_work or {}
    began = run.began_at or run.opened_at
    return HeartPoint(
        on=began.astimezone(run.studio.zone).date(),
        run=run.pk,
        class_name=run.saved_as.document["name"],
        **told,
    )
