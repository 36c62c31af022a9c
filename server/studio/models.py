"""Rooms and units, as relational tables that turn into the core's own types."""

from django.db import models
from oaken.room import Room as CoreRoom
from oaken.room import Unit as CoreUnit


class Room(models.Model):
    """A room in which classes are held. `key` is the id that plans and files use."""

    key = models.SlugField(max_length=60, unique=True)
    name = models.CharField(max_length=120)

    def __str__(self) -> str:
        return self.name

    def to_core(self) -> CoreRoom:
        """The room as the core computes with it."""
        return CoreRoom(id=self.key, name=self.name, units=[unit.to_core() for unit in self.units.all()])


class MachineUnit(models.Model):
    """A machine, or several identical things kept at one place."""

    room = models.ForeignKey(Room, on_delete=models.CASCADE, related_name="units")
    key = models.SlugField(max_length=60)
    kind = models.CharField(max_length=60)
    name = models.CharField(max_length=80)
    count = models.PositiveSmallIntegerField(default=1)
    people_at_once = models.PositiveSmallIntegerField(default=1)
    x_m = models.FloatField(default=0)
    y_m = models.FloatField(default=0)
    out_of_order = models.BooleanField(default=False)

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["room", "key"], name="unit_key_once_a_room")]

    def __str__(self) -> str:
        return self.name

    def to_core(self) -> CoreUnit:
        """The unit as the core computes with it."""
        return CoreUnit(
            id=self.key, **{field: getattr(self, field) for field in CoreUnit.model_fields if field != "id"}
        )


class OwnEntry(models.Model):
    """An exercise or an equipment kind that an instructor has added to the catalogue.

    `document` is the entry in the published format; the core checks it each time before it is kept.
    """

    KINDS = {"exercise": "exercise", "equipment": "equipment kind"}

    kind = models.CharField(max_length=10, choices=KINDS)
    key = models.SlugField(max_length=60, unique=True)
    document = models.JSONField()

    class Meta:
        ordering = ["kind", "key"]

    def __str__(self) -> str:
        return f"{self.kind} {self.key}"
