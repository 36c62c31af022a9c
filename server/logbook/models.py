"""Classes that were held, with who came and what was recorded."""

from django.conf import settings
from django.db import models
from oaken.recordings import HeartSeries
from people.models import Person
from planning.models import PlannedClass, Revision
from studio.models import Studio


class Held(models.Model):
    """A class that was held: what it was held with, which saved revision that was, and when it began.

    `file` is the whole class file of that day: plan, room, people as they were, own entries and house rules. Nothing
    that changes in the studio later changes it; only erasure takes somebody out of it. It is None where an earlier
    version kept too little to know; `rebuilt` marks one that was put together later, from what was known then.
    `people_count` and `kcal_total` are what its forecast said of those who came; they stay as they are when somebody
    is erased.
    """

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="held")
    saved_as = models.ForeignKey(Revision, on_delete=models.RESTRICT, related_name="held")
    file = models.JSONField(null=True, blank=True)
    rebuilt = models.BooleanField(default=False)
    began_at = models.DateTimeField()
    people_count = models.PositiveIntegerField()
    kcal_total = models.FloatField()

    class Meta:
        ordering = ["-began_at", "-id"]

    def __str__(self) -> str:
        return f"{self.saved_as}, {self.began_at:%Y-%m-%d}"


class Attendance(models.Model):
    """Somebody came to a class that was held."""

    held = models.ForeignKey(Held, on_delete=models.CASCADE, related_name="attendances")
    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="attendances")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["held", "person"], name="came_once_to_a_class")]

    def __str__(self) -> str:
        return f"{self.person} at {self.held}"


class Recording(models.Model):
    """Heart-rate readings of one person in one class.

    `offset_s` is when the first reading was made, in seconds since the class began; None where it is looked for.
    """

    held = models.ForeignKey(Held, on_delete=models.CASCADE, related_name="recordings")
    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="recordings")
    source = models.CharField(max_length=10)
    start = models.DateTimeField(null=True, blank=True)
    offset_s = models.FloatField(null=True, blank=True)
    seconds = models.JSONField()
    bpm = models.JSONField()

    class Meta:
        ordering = ["held__began_at", "id"]
        constraints = [models.UniqueConstraint(fields=["held", "person"], name="one_recording_a_person_and_class")]

    def __str__(self) -> str:
        return f"recording of {self.person} at {self.held}"

    def series(self) -> HeartSeries:
        """The readings as the core reads them."""
        return HeartSeries.of(self.seconds, self.bpm, self.start, self.source)


class ReadBeforeStart(models.Model):
    """What an instructor read before a class and decided: never changed afterwards."""

    DECISIONS = {"goes": "goes", "eased": "goes with the safer choice", "not_today": "not today", "read": "read"}

    planned_class = models.ForeignKey(PlannedClass, on_delete=models.CASCADE, related_name="read_before_start")
    revision = models.PositiveIntegerField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    items = models.JSONField()

    class Meta:
        ordering = ["-at", "-id"]

    def __str__(self) -> str:
        return f"{self.planned_class} read at {self.at}"
