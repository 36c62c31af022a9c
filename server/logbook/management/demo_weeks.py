"""Twelve weeks of the demo's course up to today: written out, held, written down and raised week by week, all from
seeds."""

from __future__ import annotations

from datetime import date, datetime, time, timedelta

from django.utils import timezone
from oaken.plan import Repeats
from oaken.programme.course import classes_of
from people.models import BodyReading, Lift, LiftGoal, Person
from planning import courses
from planning import keeping as plans
from planning.models import Course, PlannedClass
from studio.models import Studio

from logbook import keeping, progress, runs

WEEKS = 12
NAME = "Autumn hill legs"
BEGINS = "18:30"

GAIN_A_WEEK = {"advanced": 0.004, "standard": 0.006, "beginner": 0.009}
"""What somebody's best gains in a week, by level (invented)."""

STALLS = "wilma"
ILL, ILL_WEEKS, ILL_COSTS = "signe", (6, 7), 0.07
AWAY, AWAY_WEEKS = "jory", (4, 5, 9)
"""Who does not get better, who was ill and came back weaker, and who missed weeks."""

RECORDED = ("tobin", "ines", "ruben")
"""Who wears a simulated belt, in every fifth class of the course."""

EVERY = 5

SCALES = {"tobin": (-0.15, -0.4), "ines": (0.0, -0.3), "oskar": (-0.25, 0.0)}
"""Body mass (kg) and resting rate (bpm) by which somebody changes in a week."""

GOALS = {"tobin": 1.12, "ines": 1.06, STALLS: 1.10}
"""A best to reach in eight weeks, as a share of what somebody began with."""


def load_weeks(studio: Studio, room: str, crowd: list[str], today: date) -> None:
    """Make the course, hold its classes until yesterday, and write out this week."""
    starts = today - timedelta(days=today.weekday(), weeks=WEEKS - 1)
    made = courses.make_template(studio, "waves", room, crowd, NAME, starts, BEGINS, WEEKS)
    row, course = made.course, courses.course_of(made)
    begun = _first_bests(studio, crowd)
    seed = 100
    for planned_class in classes_of(course):
        seed += 1
        written = row.classes.filter(course_week=planned_class.week)
        if not written.exists():
            courses.materialise(row, planned_class.week)
        planned = written.get(course_meeting=planned_class.meeting)
        if planned_class.on >= today:
            continue
        _raise(studio, planned, planned_class.on)
        _hold(studio, planned, planned_class.week, planned_class.on, begun, seed)
    _saturdays(studio, today)
    _bodies(studio, starts, today)
    _goals(studio, row, begun, today)


def _saturdays(studio: Studio, today: date) -> None:
    """A class on Saturday mornings that repeats, without one holiday."""
    plan = plans.plan_of(studio.classes.get(key="scree-and-stairs").revisions.latest("number"))
    first = today + timedelta(days=(5 - today.weekday()) % 7)
    repeats = Repeats(until=first + timedelta(weeks=7), without=(first + timedelta(weeks=4),))
    dated = plan.model_copy(update={"name": "Saturday stairs", "starts": f"{first} 09:30", "repeats": repeats})
    plans.create(studio, dated)


def _first_bests(studio: Studio, crowd: list[str]) -> dict[str, dict[str, float]]:
    """What everybody could really lift when the course began: about what is written down."""
    found: dict[str, dict[str, float]] = {}
    for key, exercise, kg in Lift.objects.filter(
        person__studio=studio, person__key__in=crowd, best_kg__isnull=False
    ).values_list("person__key", "exercise", "best_kg"):
        if kg is not None:
            found.setdefault(key, {})[exercise] = kg * (0.94 + (len(key) * 7 + len(exercise)) % 9 / 100)
    return found


def _raise(studio: Studio, planned: PlannedClass, on: date) -> None:
    """The loads of the next class, as they are proposed: the instructor takes them all."""
    plan = plans.plan_of(planned.revisions.latest("number"))
    room = studio.rooms.prefetch_related("units", "zones").get(key=plan.room).to_core()
    told = progress.next_loads(studio, plan, plan.room_of(room), on, {})
    progress.take(
        studio,
        [
            progress.Taken(item.person, item.exercise, item.proposal.load_kg, item.proposed_sets_kg)
            for item in told
            if item.moves
        ],
    )


def _hold(
    studio: Studio, planned: PlannedClass, week: int, on: date, begun: dict[str, dict[str, float]], seed: int
) -> None:
    people = {person.key: person for person in studio.people.filter(key__in=begun)}
    absent = [key for key in people if (key == ILL and week in ILL_WEEKS) or (key == AWAY and week in AWAY_WEEKS)]
    bests = {
        key: {exercise: kg * _grown(people[key], week) for exercise, kg in lifts.items()}
        for key, lifts in begun.items()
    }
    hour, minute = map(int, BEGINS.split(":"))
    began = timezone.make_aware(datetime.combine(on, time(hour, minute + seed % 4)))
    run = runs.simulate(studio, planned, began, seed, bests=bests, absent=absent)
    if seed % EVERY == 0:
        keeping.simulate(run, RECORDED)


def _grown(person: Person, week: int) -> float:
    """How much a best has grown until a week."""
    if person.key == STALLS:
        return 1.0
    weeks = week - 1
    lost = 0.0
    if person.key == ILL and week >= ILL_WEEKS[0]:
        lost = max(0.0, ILL_COSTS - 0.02 * max(0, week - ILL_WEEKS[-1] - 1))
    if person.key == AWAY:
        weeks -= sum(1 for away in AWAY_WEEKS if away < week)
    return 1 + GAIN_A_WEEK[person.level] * max(0, weeks) - lost


def _bodies(studio: Studio, starts: date, today: date) -> None:
    for key, (mass, rate) in SCALES.items():
        person = studio.people.get(key=key)
        weeks = (today - starts).days // 7
        for week in range(0, weeks + 1, 2):
            back = weeks - week
            resting = None if person.resting_bpm is None else round(person.resting_bpm - rate * back)
            BodyReading.objects.update_or_create(
                person=person,
                on=starts + timedelta(weeks=week),
                defaults={"body_mass_kg": round(person.body_mass_kg - mass * back, 1), "resting_bpm": resting},
            )


def _goals(studio: Studio, row: Course, begun: dict[str, dict[str, float]], today: date) -> None:
    """A goal for a lift that the course trains."""
    done = {exercise for planned_class in row.classes.all() for exercise in planned_class.facts["exercises"]}
    for key, share in GOALS.items():
        lift = next((exercise for exercise in sorted(begun.get(key, {})) if exercise in done), None)
        if lift is not None:
            kg = round(begun[key][lift] * share / 2.5) * 2.5
            LiftGoal.objects.create(
                person=studio.people.get(key=key), exercise=lift, best_kg=kg, by=today + timedelta(weeks=8)
            )
