"""Keeping plans: what reading, saving and forecasting a class mean, without HTTP."""

from django.db import IntegrityError, transaction
from django.db.models import F, OuterRef, QuerySet, Subquery
from oaken.class_file import FORMAT, ClassFile, check_class
from oaken.forecast import forecast
from oaken.plan import ClassPlan
from oaken.problems import FaultyInput, Problem
from oaken.report import Forecast
from people.models import Person
from studio.models import Room

from planning.models import PlannedClass, Revision


class StaleRevision(Exception):
    """Somebody saved a newer revision in the meantime. `latest` is that revision."""

    def __init__(self, latest: Revision) -> None:
        super().__init__(f"revision {latest.number} is newer")
        self.latest = latest


def class_file_of(plan: ClassPlan) -> ClassFile:
    """The plan with the room and the people it names. Raises FaultyInput where it names what does not exist."""
    room = Room.objects.filter(key=plan.room).prefetch_related("units").first()
    if room is None:
        rooms = ", ".join(Room.objects.values_list("key", flat=True)) or "none yet"
        raise FaultyInput(
            [
                Problem(
                    path="plan.room",
                    place="the plan",
                    field="room",
                    message=f"there is no room {plan.room!r}",
                    right=f"one of: {rooms}",
                )
            ]
        )
    people = Person.objects.filter(key__in=plan.people).prefetch_related("bests")
    file = ClassFile(format=FORMAT, plan=plan, room=room.to_core(), people=[person.to_core() for person in people])
    return check_class(file)


def forecast_of(plan: ClassPlan) -> Forecast:
    """Forecast a draft, saved or not."""
    return forecast(class_file_of(plan))


def latest_revisions() -> QuerySet[Revision]:
    """The newest revision of every class, the class saved last first."""
    newest = Revision.objects.filter(planned_class=OuterRef("planned_class")).order_by("-number")
    return Revision.objects.filter(pk=Subquery(newest.values("pk")[:1])).order_by(F("saved_at").desc(), "-pk")


def create(plan: ClassPlan, key: str | None = None) -> Revision:
    """Keep a new class with its first revision."""
    kept = _forecast_to_keep(plan)
    with transaction.atomic():
        planned = PlannedClass.objects.create(key=key)
        return Revision.objects.create(planned_class=planned, number=1, **kept)


def save(planned: PlannedClass, based_on: int, plan: ClassPlan) -> Revision:
    """Keep a new revision made from revision `based_on`.

    Raises StaleRevision, and keeps nothing, when a newer one exists; two writers at the same moment are told apart by
    the database.
    """
    kept = _forecast_to_keep(plan)
    try:
        with transaction.atomic():
            latest = planned.revisions.latest("number")
            if latest.number != based_on:
                raise StaleRevision(latest)
            return Revision.objects.create(planned_class=planned, number=based_on + 1, **kept)
    except IntegrityError as error:
        raise StaleRevision(planned.revisions.latest("number")) from error


def _forecast_to_keep(plan: ClassPlan) -> dict[str, object]:
    result = forecast_of(plan)
    return {
        "document": plan.model_dump(mode="json", exclude_none=True),
        "length_s": result.length.value,
        "kcal_each": result.figures.energy.value,
        "outline": [
            {"name": block.name, "kind": block.kind, "start_s": block.start_s, "end_s": block.end_s}
            for block in result.blocks
        ],
    }
