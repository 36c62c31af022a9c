"""Keeping plans: what reading, saving and forecasting a class mean, without HTTP."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from django.db import IntegrityError, transaction
from django.db.models import F, OuterRef, QuerySet, Subquery
from oaken.basis.faults import Fault, FaultyInput
from oaken.basis.limits import in_words, most
from oaken.domain.catalogue import with_stand_ins
from oaken.forecast import forecast
from oaken.forecast.report import Forecast
from oaken.plan import ClassPlan, Occasion, Repeats, occasions, settled
from oaken.plan.naming import exercises_named
from oaken.plan.notation import Names
from oaken.plan.notation.compare import differences
from oaken.plan.older_versions import OLDEST, upgraded
from oaken.schedule.arrange.what_if import Scene
from oaken.schedule.class_file import FORMAT, ClassFile, check_class, check_search, read_class
from people.models import core_people
from studio.documents import StaleSave
from studio.models import MachineUnit, Studio
from studio.own import house_catalogue, own_entries

from planning.models import PlannedClass, Revision


@dataclass(frozen=True)
class HistoryEntry:
    """One revision in the history of a class: what its forecast said, and what changed from the one before."""

    revision: int
    saved_at: datetime
    length_s: float
    kcal_each: float
    changes: list[str]


def class_file_of(studio: Studio, plan: ClassPlan) -> ClassFile:
    """The plan with the room and the people it names. Raises FaultyInput where it names what does not exist."""
    room = studio.rooms.filter(key=plan.room).prefetch_related("units", "zones").first()
    if room is None:
        rooms = ", ".join(studio.rooms.values_list("key", flat=True)) or "none yet"
        raise FaultyInput(
            [
                Fault(
                    path="plan.room",
                    place="the plan",
                    field="room",
                    message=f"there is no room {plan.room!r}",
                    right=f"one of: {rooms}",
                )
            ]
        )
    return check_class(
        ClassFile(
            format=FORMAT,
            plan=plan,
            room=room.to_core(),
            people=core_people(studio, plan.people),
            own=own_entries(studio),
            house_rules=studio.rules,
        )
    )


def searched_file_of(studio: Studio, plan: ClassPlan) -> ClassFile:
    """The same for what is tried many times over. Raises FaultyInput also where it is too large for that."""
    return check_search(class_file_of(studio, plan))


def scene_of(studio: Studio, plan: ClassPlan, *, coming: Sequence[str] = (), searching: bool = True) -> Scene:
    """The class at hand for what-if: with the people it names and those who may come. Raises FaultyInput where it names
    what does not exist or, unless it is not `searching`, is too large to be tried many times over."""
    file = searched_file_of(studio, plan) if searching else class_file_of(studio, plan)
    everybody = {person.id: person for person in [*file.people, *core_people(studio, coming)]}
    missing = [name for name in coming if name not in everybody]
    if missing:
        raise FaultyInput(
            [
                Fault(
                    path="comes",
                    place="the class",
                    field="comes",
                    message=f"nobody has the id {missing[0]!r}",
                    right="an id from the list of people",
                )
            ]
        )
    return Scene(plan, file.room, everybody, file.catalogue())


def forecast_of(studio: Studio, plan: ClassPlan) -> Forecast:
    """Forecast a draft, saved or not."""
    return forecast(class_file_of(studio, plan))


def plan_of(revision: Revision) -> ClassPlan:
    """The plan of a revision; one written by an older version is turned into today's form."""
    document = upgraded(revision.document) if revision.format == OLDEST else revision.document
    return ClassPlan.model_validate(document)


def latest_revisions(studio: Studio) -> QuerySet[Revision]:
    """The newest revision of every class, the class saved last first."""
    newest = Revision.objects.filter(planned_class=OuterRef("planned_class")).order_by("-number")
    own = Revision.objects.filter(planned_class__studio=studio)
    return own.filter(pk=Subquery(newest.values("pk")[:1])).order_by(F("saved_at").desc(), "-pk")


def history(planned: PlannedClass) -> list[HistoryEntry]:
    """Every revision of a class, the newest first, each with what changed from the one before it."""
    revisions = list(planned.revisions.order_by("number"))
    named = set[str]().union(*(exercises_named(revision.document) for revision in revisions))
    known = with_stand_ins(house_catalogue(planned.studio), named)
    steps: list[HistoryEntry] = []
    before: ClassPlan | None = None
    for revision in revisions:
        plan = plan_of(revision)
        changes = ["first saved"] if before is None else differences(before, plan, known) or ["saved again unchanged"]
        steps.append(HistoryEntry(revision.number, revision.saved_at, revision.length_s, revision.kcal_each, changes))
        before = plan
    return steps[::-1]


def create(studio: Studio, plan: ClassPlan, key: str = "") -> Revision:
    """Keep a new class with its first revision."""
    kept = _to_keep(studio, plan)
    with transaction.atomic():
        if studio.classes.count() >= most("studio.classes"):
            raise FaultyInput([too_many("classes", "studio.classes")])
        planned = PlannedClass.objects.create(
            studio=studio, key=key, facts=facts_of(kept["document"], kept["length_s"])
        )
        return Revision.objects.create(planned_class=planned, number=1, **kept)


def save(planned: PlannedClass, based_on: int, plan: ClassPlan) -> Revision:
    """Keep a new revision made from revision `based_on`.

    Raises StaleSave, and keeps nothing, when a newer one exists; two writers at the same moment are told apart by
    the database.
    """
    latest = planned.revisions.latest("number")
    if latest.number != based_on:
        raise _stale(latest)  # before the forecast: whoever was late learns it at once
    kept = _to_keep(planned.studio, plan)
    try:
        with transaction.atomic():
            latest = planned.revisions.latest("number")
            if latest.number != based_on:
                raise _stale(latest)
            if latest.number >= most("class.revisions"):
                raise FaultyInput([too_many("revisions", "class.revisions")])
            PlannedClass.objects.filter(pk=planned.pk).update(facts=facts_of(kept["document"], kept["length_s"]))
            return Revision.objects.create(planned_class=planned, number=based_on + 1, **kept)
    except IntegrityError as error:
        raise _stale(planned.revisions.latest("number")) from error


def _stale(latest: Revision) -> StaleSave:
    return StaleSave("class", latest, latest.number)


def bring_in(studio: Studio, document: Any) -> tuple[Revision, list[str]]:
    """Keep the class of a class file, with what a reader should know about it. Its room and people must exist here.

    Raises FaultyInput, and keeps nothing, when the file is faulty in itself or names what is not here.
    """
    file = read_class(document)
    notes = []
    if isinstance(document, dict) and document.get("format") == OLDEST:
        notes.append(f"written by an older version ({OLDEST}): turned into today's form, nothing was lost")
    if file.own.exercises or file.own.equipment:
        known = house_catalogue(studio)
        missing = [exercise.name for exercise in file.own.exercises if exercise.id not in known.exercises]
        if missing:
            notes.append(f"exercises of its own that are not in this catalogue: {', '.join(missing)}")
    return create(studio, file.plan), notes


def names_of(studio: Studio) -> Names:
    """The units and people that a text of this studio can name."""
    units = MachineUnit.objects.filter(room__studio=studio).values_list("key", flat=True)
    return Names(frozenset(units), frozenset(studio.people.values_list("key", flat=True)))


def too_many(what: str, bound: str) -> Fault:
    """A number of things that is met."""
    message = f"there are as many {what} as can be kept"
    return Fault(path=what, place="the studio", field=what, message=message, right=in_words(bound))


def facts_of(document: dict[str, Any], length_s: float) -> dict[str, Any]:
    """What lists and the calendar ask of a plan's document: its name, when and where, who comes, what
    is done, how long it is forecast to take (s)."""
    plain = {name: document.get(name) for name in ("name", "starts", "repeats", "slot_min", "room", "people")}
    return {**plain, "exercises": sorted(exercises_named(document)), "length_s": length_s}


def occasions_of(facts: dict[str, Any]) -> list[Occasion]:
    """Every time a class is held, by what lists know of it."""
    repeats = facts.get("repeats")
    return occasions(facts.get("starts") or "", None if repeats is None else Repeats.model_validate(repeats))


def _to_keep(studio: Studio, plan: ClassPlan) -> dict[str, Any]:
    file = class_file_of(studio, plan)
    result = forecast(file)
    whole = settled(plan, file.catalogue())
    return {
        "format": FORMAT,
        "document": whole.model_dump(mode="json", exclude_none=True, exclude_defaults=False),
        "length_s": result.length.value,
        "kcal_each": result.figures.energy.value,
        "outline": [
            {"name": block.name, "kind": block.kind, "start_s": block.start_s, "end_s": block.end_s}
            for block in result.blocks
        ],
    }
