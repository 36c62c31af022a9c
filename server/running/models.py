"""Passes of a run: for the wall, for people's own phones, and for the program that reads belts."""

from django.db import models
from logbook.models import Run
from people.models import Person


class WallPass(models.Model):
    """An address under which one run can be looked at without an account, until it is revoked."""

    NAMES = {"numbers": "numbers", "first_names": "first names"}

    run = models.ForeignKey(Run, on_delete=models.CASCADE, related_name="wall_passes")
    token = models.CharField(max_length=64, unique=True)
    names = models.CharField(max_length=12, choices=NAMES)
    made_at = models.DateTimeField(auto_now_add=True)
    revoked_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return f"wall of {self.run}"


class PhonePass(models.Model):
    """An address under which somebody's own phone shows them their way through one run, and says what they have done.
    There is one a person and run; made again after it was revoked, it has another token."""

    run = models.ForeignKey(Run, on_delete=models.CASCADE, related_name="phone_passes")
    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="phone_passes")
    token = models.CharField(max_length=64, unique=True)
    made_at = models.DateTimeField()
    revoked_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["run", "person"], name="one_phone_a_person")]

    def __str__(self) -> str:
        return f"phone of {self.person} in {self.run}"


class BeltPass(models.Model):
    """What lets a program that reads belts send what it hears to one run."""

    run = models.OneToOneField(Run, on_delete=models.CASCADE, related_name="belt_pass")
    token = models.CharField(max_length=64, unique=True)

    def __str__(self) -> str:
        return f"belts of {self.run}"
