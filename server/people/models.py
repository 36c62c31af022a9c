"""People, as relational tables that turn into the core's own type."""

from collections.abc import Iterable
from typing import Any

from django.db import models
from oaken.basis.words import in_kg
from oaken.domain.people import Person as CorePerson
from studio.models import Studio


class Person(models.Model):
    """A participant. Empty measurements are estimated by the core.

    `careful`, `screening` and `heart_fit` are kept in the published format. `health_note` is for instructors only.
    `load_school` is how loads are raised for this person (empty: as the house does).
    `erased` marks the nameless stand-in of somebody who was erased: it only keeps the totals of past classes whole.
    """

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="people")
    key = models.SlugField(max_length=60)
    name = models.CharField(max_length=120)
    group = models.CharField(max_length=60, blank=True)
    age = models.PositiveSmallIntegerField()
    body_mass_kg = models.FloatField()
    height_cm = models.FloatField(null=True, blank=True)
    sex = models.CharField(max_length=6, blank=True)
    level = models.CharField(max_length=10, default="standard")
    resting_bpm = models.PositiveSmallIntegerField(null=True, blank=True)
    max_bpm = models.PositiveSmallIntegerField(null=True, blank=True)
    max_formula = models.CharField(max_length=10, default="tanaka")
    vo2max = models.FloatField(null=True, blank=True)
    heart_medication = models.BooleanField(default=False)
    heart_fit = models.JSONField(null=True, blank=True)
    careful = models.JSONField(default=list, blank=True)
    screening = models.JSONField(null=True, blank=True)
    health_note = models.TextField(max_length=2000, blank=True)
    load_school = models.CharField(max_length=20, blank=True)
    revision = models.PositiveIntegerField(default=1)
    erased = models.BooleanField(default=False)

    class Meta:
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["studio", "key"], name="person_key_once_a_studio")]

    def __str__(self) -> str:
        return self.name

    def to_core(self) -> CorePerson:
        """The person as the core computes with them."""
        plain = {name: getattr(self, name) for name in PLAIN_FIELDS}
        lifts = list(self.lifts.all())
        bests = {lift.exercise: lift.best_kg for lift in lifts if lift.best_kg is not None}
        working = {lift.exercise: lift.working_kg for lift in lifts if lift.working_kg is not None}
        sets = {lift.exercise: lift.working_sets_kg for lift in lifts if lift.working_sets_kg}
        known = {"bests_kg": bests, "working_kg": working, "working_sets_kg": sets}
        return CorePerson.model_validate({"id": self.key, "sex": self.sex or None, **known, **plain})


LIFT_FIELDS = ("bests_kg", "working_kg", "working_sets_kg")
"""The fields of a person that stand in rows of lifts."""

PLAIN_FIELDS = [name for name in CorePerson.model_fields if name not in ("id", "sex", *LIFT_FIELDS)]


def core_people(studio: Studio, keys: Iterable[str]) -> list[CorePerson]:
    """People as the core computes with them, in two plain queries: an edit of a plan asks for them each time."""
    keys = list(keys)
    bests: dict[str, dict[str, float]] = {}
    working: dict[str, dict[str, float]] = {}
    sets: dict[str, dict[str, list[float]]] = {}
    rows = Lift.objects.filter(person__studio=studio, person__key__in=keys)
    told = rows.values_list("person__key", "exercise", "best_kg", "working_kg", "working_sets_kg")
    for key, exercise, best_kg, working_kg, working_sets_kg in told:
        if best_kg is not None:
            bests.setdefault(key, {})[exercise] = best_kg
        if working_kg is not None:
            working.setdefault(key, {})[exercise] = working_kg
        if working_sets_kg:
            sets.setdefault(key, {})[exercise] = working_sets_kg
    people: Iterable[dict[str, Any]] = studio.people.filter(key__in=keys).values("key", "sex", *PLAIN_FIELDS)
    return [
        CorePerson.model_validate(
            {
                "id": row["key"],
                "sex": row["sex"] or None,
                "bests_kg": bests.get(row["key"], {}),
                "working_kg": working.get(row["key"], {}),
                "working_sets_kg": sets.get(row["key"], {}),
                **{name: row[name] for name in PLAIN_FIELDS},
            }
        )
        for row in people
    ]


class Lift(models.Model):
    """What a person lifts in one exercise: the one-repetition maximum, where it comes from, and the working load, set
    by set where sets have loads of their own (kg; the working load is the heaviest of them)."""

    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="lifts")
    exercise = models.CharField(max_length=60)
    best_kg = models.FloatField(null=True, blank=True)
    best_from = models.CharField(max_length=120, blank=True)
    working_kg = models.FloatField(null=True, blank=True)
    working_sets_kg = models.JSONField(default=list, blank=True)

    class Meta:
        ordering = ["exercise"]
        constraints = [models.UniqueConstraint(fields=["person", "exercise"], name="lift_once_a_person")]

    def __str__(self) -> str:
        return f"{self.person}: {self.exercise}"


class BodyReading(models.Model):
    """Body mass and resting rate of a person on a day, as they were written down: what the weeks are drawn from."""

    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="body_readings")
    on = models.DateField()
    body_mass_kg = models.FloatField(null=True, blank=True)
    resting_bpm = models.PositiveSmallIntegerField(null=True, blank=True)

    class Meta:
        ordering = ["on"]
        constraints = [models.UniqueConstraint(fields=["person", "on"], name="one_body_reading_a_day")]

    def __str__(self) -> str:
        return f"{self.person} on {self.on}"


class LiftGoal(models.Model):
    """A best that a person wants to reach by a day."""

    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="lift_goals")
    exercise = models.CharField(max_length=60)
    best_kg = models.FloatField()
    by = models.DateField()

    class Meta:
        ordering = ["exercise"]
        constraints = [models.UniqueConstraint(fields=["person", "exercise"], name="one_goal_a_person_and_exercise")]

    def __str__(self) -> str:
        return f"{self.person}: {self.exercise} {in_kg(self.best_kg)} by {self.by}"


class UnitSetting(models.Model):
    """How a person sets a unit of a room: seat notch, pad notch, range limiter, rack hole."""

    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="settings")
    room = models.SlugField(max_length=60)
    unit = models.SlugField(max_length=60)
    name = models.CharField(max_length=20)
    value = models.CharField(max_length=20)

    class Meta:
        ordering = ["room", "unit", "name"]
        constraints = [
            models.UniqueConstraint(fields=["person", "room", "unit", "name"], name="setting_once_a_person_and_unit")
        ]

    def __str__(self) -> str:
        return f"{self.person}, {self.unit}: {self.name} {self.value}"
