"""People, as relational tables that turn into the core's own type."""

from collections.abc import Iterable

from django.db import models
from oaken.people import Person as CorePerson


class Person(models.Model):
    """A participant. Empty measurements are estimated by the core."""

    key = models.SlugField(max_length=60, unique=True)
    name = models.CharField(max_length=120)
    age = models.PositiveSmallIntegerField()
    body_mass_kg = models.FloatField()
    height_cm = models.FloatField(null=True, blank=True)
    sex = models.CharField(max_length=6, blank=True)
    level = models.CharField(max_length=10, default="standard")
    resting_bpm = models.PositiveSmallIntegerField(null=True, blank=True)
    max_bpm = models.PositiveSmallIntegerField(null=True, blank=True)
    vo2max = models.FloatField(null=True, blank=True)
    heart_medication = models.BooleanField(default=False)

    class Meta:
        ordering = ["name"]

    def __str__(self) -> str:
        return self.name

    def to_core(self) -> CorePerson:
        """The person as the core computes with them."""
        plain = {name: getattr(self, name) for name in PLAIN_FIELDS}
        bests = {best.exercise: best.best_kg for best in self.bests.all()}
        return CorePerson(id=self.key, sex=self.sex or None, bests_kg=bests, **plain)


PLAIN_FIELDS = [name for name in CorePerson.model_fields if name not in ("id", "sex", "bests_kg")]


def core_people(keys: Iterable[str]) -> list[CorePerson]:
    """People as the core computes with them, in two plain queries: an edit of a plan asks for them each time."""
    bests: dict[str, dict[str, float]] = {}
    rows = Best.objects.filter(person__key__in=keys).values_list("person__key", "exercise", "best_kg")
    for key, exercise, best_kg in rows:
        bests.setdefault(key, {})[exercise] = best_kg
    people = Person.objects.filter(key__in=keys).values("key", "sex", *PLAIN_FIELDS)
    return [
        CorePerson(
            id=row["key"],
            sex=row["sex"] or None,
            bests_kg=bests.get(row["key"], {}),
            **{name: row[name] for name in PLAIN_FIELDS},
        )
        for row in people
    ]


class Best(models.Model):
    """A person's one-repetition maximum on one exercise, tested or estimated."""

    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="bests")
    exercise = models.CharField(max_length=60)
    best_kg = models.FloatField()

    class Meta:
        ordering = ["exercise"]
        constraints = [models.UniqueConstraint(fields=["person", "exercise"], name="best_once_a_person")]

    def __str__(self) -> str:
        return f"{self.person}: {self.exercise} {self.best_kg:g} kg"
