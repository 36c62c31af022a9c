"""Classes as they are run: what happens in them, who came and what was recorded."""

from django.conf import settings
from django.db import models
from django.utils import timezone
from oaken.heart_data.recordings import HeartSeries
from people.models import Person
from planning.models import PlannedClass, Revision
from studio.models import Studio


class Run(models.Model):
    """A class that is run, or was: what it is held with, which saved revision that is, and what its events came to.

    `file` is the whole class file of that day: plan, room, people as they were, own entries and house rules. Nothing
    that changes in the studio later changes it; only erasure takes somebody out of it. It is None where an earlier
    version kept too little to know; `rebuilt` marks one that was put together later, from what was known then.
    What happens is in its events. `began_at`, `ended_at`, `people_count`, `kcal_total` and `figures` (planned beside
    lived) are worked out from them when the class ends, and stay as they are when somebody is erased. `projected` is
    the version of the rules by which its sets were written out for the weeks; 0 where they were not yet. `unwritten`
    counts the sets that were planned for those who came and are not written down. `anchor` is what the time of a run
    that has begun is held to on this machine (`logbook.clock`).
    """

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="runs")
    saved_as = models.ForeignKey(Revision, on_delete=models.RESTRICT, related_name="runs")
    file = models.JSONField(null=True, blank=True)
    rebuilt = models.BooleanField(default=False)
    opened_at = models.DateTimeField(default=timezone.now)
    began_at = models.DateTimeField(null=True, blank=True)
    ended_at = models.DateTimeField(null=True, blank=True)
    people_count = models.PositiveIntegerField(default=0)
    kcal_total = models.FloatField(default=0.0)
    figures = models.JSONField(default=list, blank=True)
    unwritten = models.PositiveIntegerField(default=0)
    projected = models.PositiveSmallIntegerField(default=0)
    anchor = models.JSONField(null=True, blank=True)

    class Meta:
        ordering = ["-opened_at", "-id"]

    def __str__(self) -> str:
        return f"{self.saved_as}, {self.opened_at:%Y-%m-%d}"


class RunEvent(models.Model):
    """Something that happened in a run: never edited, never deleted but with its run. `body` is the event in the format
    of the core, without when the server had it; the key counts in the order in which events were kept."""

    id = models.BigAutoField(primary_key=True)
    run = models.ForeignKey(Run, on_delete=models.CASCADE, related_name="events")
    event_id = models.CharField(max_length=60)
    received_at = models.DateTimeField()
    kind = models.CharField(max_length=20)
    body = models.JSONField()

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["run", "event_id"], name="event_once_a_run")]

    def __str__(self) -> str:
        return f"{self.kind} {self.event_id}"


class Attendance(models.Model):
    """Somebody came to a class that was held. `figures` are what it came to for them, by name, as they were computed
    when it ended."""

    run = models.ForeignKey(Run, on_delete=models.CASCADE, related_name="attendances")
    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="attendances")
    figures = models.JSONField(default=dict, blank=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["run", "person"], name="came_once_to_a_class")]

    def __str__(self) -> str:
        return f"{self.person} at {self.run}"


class Recording(models.Model):
    """Heart-rate readings of one person in one class.

    `offset_s` is when the first reading was made, in seconds since the class began; None where it is looked for.
    `at_work` is what it says of the heart at the same work, worked out when it was kept.
    """

    run = models.ForeignKey(Run, on_delete=models.CASCADE, related_name="recordings")
    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="recordings")
    source = models.CharField(max_length=10)
    start = models.DateTimeField(null=True, blank=True)
    offset_s = models.FloatField(null=True, blank=True)
    seconds = models.JSONField()
    bpm = models.JSONField()
    at_work = models.JSONField(null=True, blank=True)

    class Meta:
        ordering = ["run__began_at", "id"]
        constraints = [models.UniqueConstraint(fields=["run", "person"], name="one_recording_a_person_and_class")]

    def __str__(self) -> str:
        return f"recording of {self.person} at {self.run}"

    def series(self) -> HeartSeries:
        """The readings as the core reads them."""
        return HeartSeries.of(self.seconds, self.bpm, self.start, self.source)


class DoneSet(models.Model):
    """One set that was done, written out from the events of its run so that the weeks can be read: never written by
    anybody, always made anew from its run.

    The fields are those of the core's `SetRecord`. One index serves what is asked: the history of a person and
    exercise.
    """

    run = models.ForeignKey(Run, on_delete=models.CASCADE, related_name="done_sets")
    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="done_sets", db_index=False)
    exercise = models.CharField(max_length=60)
    on = models.DateField()
    block = models.CharField(max_length=60)
    part = models.CharField(max_length=60)
    number = models.PositiveSmallIntegerField()
    side = models.CharField(max_length=5, blank=True)
    unit = models.CharField(max_length=60, blank=True)
    load_kg = models.FloatField(null=True, blank=True)
    reps = models.PositiveSmallIntegerField(null=True, blank=True)
    seconds = models.FloatField(null=True, blank=True)
    volume_kg = models.FloatField(null=True, default=None)
    tension_s = models.FloatField(default=0.0)
    low = models.PositiveSmallIntegerField(null=True, blank=True)
    high = models.PositiveSmallIntegerField(null=True, blank=True)
    sets = models.PositiveSmallIntegerField(default=0)
    planned_kg = models.FloatField(null=True, blank=True)
    ended = models.CharField(max_length=7)
    reps_left = models.PositiveSmallIntegerField(null=True, blank=True)
    pauses = models.BooleanField(default=False)
    helped = models.BooleanField(default=False)
    poor = models.BooleanField(default=False)
    as_planned = models.BooleanField(default=False)
    helped_reps = models.PositiveSmallIntegerField(default=0)
    rest_s = models.FloatField(null=True, blank=True)
    set_up = models.CharField(max_length=200, blank=True, default="")
    in_parts = models.CharField(max_length=400, blank=True, default="")

    class Meta:
        ordering = ["on", "run", "id"]
        indexes = [models.Index(fields=["person", "exercise", "on"], name="history_of_a_lift")]

    def __str__(self) -> str:
        return f"{self.person}: {self.exercise} on {self.on}"


class ErasedKey(models.Model):
    """Somebody was erased: a digest of the id they had, and who stands in their place. What arrives of them later from
    a device that was away is known by it."""

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="erased_keys")
    digest = models.CharField(max_length=64)
    stand_in = models.CharField(max_length=60)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["studio", "digest"], name="erased_once_a_studio")]

    def __str__(self) -> str:
        return self.stand_in


class LiveHeart(models.Model):
    """A few readings of one belt, decoded: `seconds` after `first_at` and bpm. They become a recording when the class
    is over."""

    run = models.ForeignKey(Run, on_delete=models.CASCADE, related_name="live_hearts")
    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="live_hearts")
    first_at = models.DateTimeField()
    seconds = models.JSONField()
    bpm = models.JSONField()

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return f"heart of {self.person} in {self.run}"


class ReadBeforeStart(models.Model):
    """What an instructor read before a class and decided: never changed afterwards.

    `by_name` is who it was in the house that it came from, where it was brought in.
    """

    DECISIONS = {"goes": "goes", "eased": "goes with the safer choice", "not_today": "not today", "read": "read"}

    planned_class = models.ForeignKey(PlannedClass, on_delete=models.CASCADE, related_name="read_pre_class_check")
    revision = models.PositiveIntegerField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")
    by_name = models.CharField(max_length=150, blank=True)
    at = models.DateTimeField(default=timezone.now)
    items = models.JSONField()

    class Meta:
        ordering = ["-at", "-id"]

    def __str__(self) -> str:
        return f"{self.planned_class} read at {self.at}"
