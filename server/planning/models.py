"""Class plans: a class is a row, its plan a chain of immutable revisions."""

from typing import Any

from django.db import models
from django.utils import timezone
from studio.models import Studio


class PlannedClass(models.Model):
    """A class that is being planned. Everything that can change stands in its revisions.

    `facts` are what lists and the calendar ask of its newest revision, taken from it each time one is saved.
    `archived` ones are not in lists. `accepted` are keys of lines of its review that were seen and put away. A
    class that was written out from a course names it with the week and the meeting it is; `written_revision` is the
    revision that was written, and `written_from` the revision of its base.
    """

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="classes")
    key = models.SlugField(max_length=60, blank=True)
    created_at = models.DateTimeField(default=timezone.now)
    archived = models.BooleanField(default=False)
    accepted = models.JSONField(default=list, blank=True)
    facts = models.JSONField(default=dict, blank=True)
    course = models.ForeignKey("Course", null=True, blank=True, on_delete=models.SET_NULL, related_name="classes")
    course_week = models.PositiveSmallIntegerField(null=True, blank=True)
    course_meeting = models.CharField(max_length=60, blank=True)
    written_revision = models.PositiveIntegerField(null=True, blank=True)
    written_from = models.PositiveIntegerField(null=True, blank=True)

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
    saved_at = models.DateTimeField(default=timezone.now)
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


class CalendarFeed(models.Model):
    """An address under which a calendar is read without an account, until it is revoked: of the whole studio, of a
    course, or of a class."""

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="feeds")
    planned_class = models.ForeignKey(PlannedClass, null=True, on_delete=models.CASCADE, related_name="feeds")
    course = models.ForeignKey("Course", null=True, on_delete=models.CASCADE, related_name="feeds")
    token = models.CharField(max_length=64, unique=True)
    made_at = models.DateTimeField(default=timezone.now)
    revoked_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return f"feed of {self.planned_class or self.course or self.studio}"


class Course(models.Model):
    """A course of weeks. Everything that can change stands in its revisions."""

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="courses")
    created_at = models.DateTimeField(default=timezone.now)
    archived = models.BooleanField(default=False)

    def __str__(self) -> str:
        return f"course {self.pk}"


class CourseRevision(models.Model):
    """One saved state of a course, never changed afterwards. `document` is the course in the published format; its base
    classes are ids of planned classes."""

    course = models.ForeignKey(Course, on_delete=models.CASCADE, related_name="revisions")
    number = models.PositiveIntegerField()
    saved_at = models.DateTimeField(default=timezone.now)
    document = models.JSONField()

    class Meta:
        ordering = ["course", "number"]
        constraints = [models.UniqueConstraint(fields=["course", "number"], name="course_revision_number_once")]

    def __str__(self) -> str:
        return f"{self.course}, revision {self.number}"

    def save(self, *args: Any, **kwargs: Any) -> None:
        """Write a new revision; a written one cannot be written again."""
        if self.pk is not None:
            raise TypeError("a revision is immutable: write a new one")
        super().save(*args, **kwargs)
