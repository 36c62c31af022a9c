"""Class plans: a class is a row, its plan a chain of immutable revisions."""

from typing import Any

from django.db import models
from studio.models import Studio


class PlannedClass(models.Model):
    """A class that is being planned. Everything that can change stands in its revisions."""

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="classes")
    key = models.SlugField(max_length=60, blank=True)
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["studio", "key"], condition=~models.Q(key=""), name="class_key_once_a_studio"
            )
        ]

    def __str__(self) -> str:
        return f"class {self.pk}"


class Revision(models.Model):
    """One saved state of a plan, never changed afterwards.

    `document` is the plan in the published format that `format` names. `length_s`, `kcal_each` and `outline` are what
    its forecast said when it was saved, kept so that a long list of classes can be drawn without computing them all.
    """

    planned_class = models.ForeignKey(PlannedClass, on_delete=models.CASCADE, related_name="revisions")
    number = models.PositiveIntegerField()
    saved_at = models.DateTimeField(auto_now_add=True)
    format = models.CharField(max_length=20, default="oaken-class/1")
    document = models.JSONField()
    length_s = models.FloatField()
    kcal_each = models.FloatField()
    outline = models.JSONField()

    class Meta:
        ordering = ["planned_class", "number"]
        constraints = [models.UniqueConstraint(fields=["planned_class", "number"], name="revision_number_once")]

    def __str__(self) -> str:
        return f"{self.planned_class}, revision {self.number}"

    def save(self, *args: Any, **kwargs: Any) -> None:
        """Write a new revision; a written one cannot be written again."""
        if self.pk is not None:
            raise TypeError("a revision is immutable: write a new one")
        super().save(*args, **kwargs)
