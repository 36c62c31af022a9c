"""What the weeks say of a person and of a class: read from what was written out, computed by the core."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from threading import Lock

from cachetools import LRUCache
from django.db.models import Count, Max
from oaken.basis.days import monday_of
from oaken.basis.faults import FaultyInput, faults_in
from oaken.basis.limits import most
from oaken.basis.words import in_kg
from oaken.domain.catalogue import Catalogue, Exercise
from oaken.domain.room import Hardware, Room
from oaken.physiology.strength import curve_of
from oaken.plan import ClassPlan, Leg, Slot, Station
from oaken.programme.progress import (
    Beside,
    LoadProposal,
    LoadRules,
    School,
    Series,
    Session,
    SetRecord,
    Standing,
    Today,
    beside,
    key_window,
    propose,
    series_of,
)
from people.models import Lift, Person
from studio.models import Studio
from studio.own import house_catalogue

from logbook.models import Attendance, DoneSet
from logbook.sets import last_sessions, planned_windows, records_of

_fault = faults_in("the proposal")

BIG = ("two_leg_compound", "whole_body")
"""Muscle masses of big lifts, which are raised in larger steps (common practice, no source)."""


KEPT_PEOPLE = most("cache.series")
"""People whose series a process remembers: a page asks for them again with every choice."""

_kept: LRUCache[tuple[int, int, int], dict[str, Series]] = LRUCache(maxsize=KEPT_PEOPLE)
_lock = Lock()


def series_by_exercise(person: Person) -> dict[str, Series]:
    """Every exercise of a person over the dates: those that tell a best first, the one done most before others."""
    # sets are never changed, only written out anew: their number and the newest of them say which they are
    state = DoneSet.objects.filter(person=person).aggregate(count=Count("pk"), newest=Max("pk"))
    key = (person.pk, state["count"], state["newest"] or 0)
    with _lock:
        known = _kept.get(key)
    if known is None:
        known = _series(person)
        with _lock:
            _kept[key] = known
    return known


def _series(person: Person) -> dict[str, Series]:
    by: dict[str, list[SetRecord]] = {}
    for record in records_of(person):
        by.setdefault(record.exercise, []).append(record)
    known = house_catalogue(person.studio).exercises
    made = {exercise: series_of(sets, curve_of(known.get(exercise))) for exercise, sets in by.items()}
    return dict(sorted(made.items(), key=lambda item: (-len(item[1].seen), -len(item[1].sessions), item[0])))


def rules_of(studio: Studio) -> LoadRules:
    """How this house raises loads."""
    return LoadRules.model_validate(studio.load_rules)


@dataclass(frozen=True, slots=True)
class NextLoad:
    """One proposal: for whom, of which exercise, on which unit, what the plan says of its load (empty: nothing, so that
    the working load counts), what they work with now (set by set where the sets differ), and what is proposed."""

    person: str
    exercise: str
    unit: str
    plan_says: str
    working_kg: float | None
    working_sets_kg: tuple[float, ...]
    proposal: LoadProposal

    @property
    def proposed_sets_kg(self) -> tuple[float, ...]:
        """The proposed loads set by set; empty where all sets are alike."""
        return sets_that_differ([item.load_kg for item in self.proposal.sets])

    @property
    def moves(self) -> bool:
        """Whether taking it would change what they work with."""
        now = (self.working_kg, self.working_sets_kg)
        return self.proposal.load_kg is not None and now != (self.proposal.load_kg, self.proposed_sets_kg)


def sets_that_differ(loads: Sequence[float]) -> tuple[float, ...]:
    """Loads set by set; none where all are alike, because the working load says it then."""
    return tuple(loads) if len(set(loads)) > 1 else ()


def next_loads(studio: Studio, plan: ClassPlan, room: Room, today: date, told: Mapping[str, Today]) -> list[NextLoad]:
    """A proposal for everybody of a class and every exercise of it that takes a load, in the order of the plan."""
    known = house_catalogue(studio)
    wanted: dict[str, tuple[Exercise, tuple[tuple[int, int] | None, ...], str]] = {}
    for _, part in plan.placed():
        exercise = known.exercises.get(part.exercise)
        if exercise is None or not exercise.takes_load or not exercise.is_work or exercise.id in wanted:
            continue
        wanted[exercise.id] = (exercise, planned_windows(part), _load_words(part))
    pairs = [(person, lift) for person in plan.people for lift in wanted]
    known_sessions = last_sessions(studio, {pair: key_window(wanted[pair[1]][1]) for pair in pairs}, today)
    lifts = {
        (key, exercise): (best, working, tuple(sets))
        for key, exercise, best, working, sets in Lift.objects.filter(
            person__studio=studio, person__key__in=plan.people
        ).values_list("person__key", "exercise", "best_kg", "working_kg", "working_sets_kg")
    }
    school_of = dict(studio.people.filter(key__in=plan.people).values_list("key", "load_school"))
    rules = rules_of(studio)
    found = []
    for person, lift in pairs:
        entry, windows, says = wanted[lift]
        sessions = known_sessions.get((person, lift), [])
        unit, hardware = _unit_for(room, entry, sessions)
        best, working, working_sets = lifts.get((person, lift), (None, None, ()))
        proposal = propose(
            Standing(
                sessions=sessions,
                today=today,
                hardware=hardware,
                big=entry.muscle_mass in BIG,
                best_kg=best,
                working_kg=working,
                windows=windows,
                is_today=told.get(person, "as usual"),
                rules=rules,
                school=_school(school_of.get(person, "")),
            )
        )
        found.append(NextLoad(person, lift, unit, says, working, working_sets, proposal))
    return found


def _school(kept: str) -> School | None:
    return kept or None  # type: ignore[return-value]


def _load_words(part: Slot | Station | Leg) -> str:
    """What the plan says of the load, in words; empty where it says nothing."""
    load = part.sets[0].segments[0].load if isinstance(part, Slot) else getattr(part, "load", None)
    if load is None:
        return ""
    if load.share_of_best is not None:
        return f"{load.share_of_best:.0%} of best"
    if load.load_kg is not None:
        return in_kg(load.load_kg)
    if load.a_side_kg is not None:
        return f"{in_kg(load.a_side_kg)} a side"
    return "by effort"


def _unit_for(room: Room, exercise: Exercise, sessions: Sequence[Session]) -> tuple[str, Hardware | None]:
    """The unit the load is set on: the one used last, where it is still here, or else the first of its kind."""
    last = sessions[-1].scheme.units if sessions else ()
    own = [unit for unit in room.units if unit.kind == exercise.equipment]
    unit = next((item for item in own if item.id in last), None) or next(
        (item for item in own if not item.out_of_order), own[0] if own else None
    )
    return ("", None) if unit is None else (unit.id, unit.hardware)


@dataclass(frozen=True, slots=True)
class Taken:
    """A load that was taken for somebody: what they work with from now on, set by set where the sets differ; None
    forgets it."""

    person: str
    exercise: str
    load_kg: float | None
    sets_kg: tuple[float, ...] = ()


def take(studio: Studio, taken: Sequence[Taken]) -> int:
    """Make these the working loads; how many changed. Raises FaultyInput, and changes nothing, where one is none."""
    people = {
        person.key: person for person in studio.people.filter(key__in={item.person for item in taken}, erased=False)
    }
    known = house_catalogue(studio)
    faults = []
    for number, item in enumerate(taken):
        if item.person not in people:
            faults.append(
                _fault(f"taken.{number}.person", f"nobody has the id {item.person!r}", "somebody of the roster")
            )
        exercise = known.exercises.get(item.exercise)
        if exercise is None or not exercise.takes_load:
            message = f"{item.exercise!r} is no exercise that takes a load"
            faults.append(_fault(f"taken.{number}.exercise", message, "an exercise of the catalogue"))
        if item.sets_kg and max(item.sets_kg) != item.load_kg:
            message = "the heaviest set is not the load that is taken"
            faults.append(_fault(f"taken.{number}.sets_kg", message, "the load among its sets"))
    if faults:
        raise FaultyInput(faults)
    changed = 0
    for each_item in taken:
        lift, made = Lift.objects.get_or_create(person=people[each_item.person], exercise=each_item.exercise)
        sets = list(sets_that_differ(each_item.sets_kg))
        if (lift.working_kg, lift.working_sets_kg) == (each_item.load_kg, sets) and not made:
            continue
        lift.working_kg, lift.working_sets_kg = each_item.load_kg, sets
        lift.save(update_fields=["working_kg", "working_sets_kg"])
        changed += 1
    for person in {item.person for item in taken}:
        # an open page of theirs was made from an older state
        people[person].revision += 1
        people[person].save(update_fields=["revision"])
    return changed


def weeks_beside(person: Person, earlier: date, later: date) -> list[Beside]:
    """Every exercise of two weeks side by side, each week named by one of its days."""
    runs = {}
    for name, day in (("earlier", earlier), ("later", later)):
        monday = monday_of(day)
        done = DoneSet.objects.filter(person=person, on__gte=monday, on__lt=monday + timedelta(days=7))
        runs[name] = set(done.values_list("run_id", flat=True))
    found = []
    for exercise, series in series_by_exercise(person).items():
        one = beside(exercise, series, runs["earlier"], runs["later"])
        if one.earlier is not None or one.later is not None:
            found.append(one)
    return found


@dataclass(frozen=True, slots=True)
class ClassHeld:
    """A class somebody came to: the run, when it began, what it was called, and what it came to for them."""

    run: int
    began_at: datetime
    name: str
    figures: dict[str, float]


def classes_of(person: Person) -> list[ClassHeld]:
    """The classes somebody came to, the oldest first."""
    came = Attendance.objects.filter(person=person, run__ended_at__isnull=False, run__began_at__isnull=False)
    # by name only: the plans of a year are large
    rows = came.order_by("run__began_at").values_list(
        "run_id", "run__began_at", "run__saved_as__planned_class__facts__name", "figures"
    )
    return [ClassHeld(run, began, name or "class", figures) for run, began, name, figures in rows if began is not None]


def name_in(catalogue: Catalogue, exercise: str) -> str:
    """What an exercise is called; its id where it is not known any more."""
    known = catalogue.exercises.get(exercise)
    return exercise if known is None else known.name
