"""Studios with who works there; rooms and units, as relational tables that turn into the core's own types."""

from typing import cast, get_args
from uuid import uuid4
from zoneinfo import ZoneInfo

from django.conf import settings
from django.db import models
from oaken.domain.room import Room as CoreRoom
from oaken.domain.room import Unit as CoreUnit
from oaken.domain.room import Zone as CoreZone
from oaken.plan import HouseRule

from studio.permissions import Permission, Role, allowed


def new_state() -> str:
    """A word that was not there before."""
    return uuid4().hex


class Studio(models.Model):
    """A house whose rooms, people and classes belong together: nobody from elsewhere sees them.

    `house_rules` and `load_rules` are kept in the published format; the core checks them before they are kept, and
    `revision` counts how often the first were. `time_zone` is where its classes' dates and times are meant. `own_state`
    is another word each time an own entry changes: what was read and checked of them is kept under it. `arriving_since`
    marks one that is being read from a file: nobody works in it until it is whole.
    """

    name = models.CharField(max_length=120)
    house_rules = models.JSONField(default=list, blank=True)
    load_rules = models.JSONField(default=dict, blank=True)
    time_zone = models.CharField(max_length=60, default="UTC")
    revision = models.PositiveIntegerField(default=1)
    own_state = models.CharField(max_length=32, default=new_state)
    arriving_since = models.DateTimeField(null=True, blank=True)

    def __str__(self) -> str:
        return self.name

    @property
    def zone(self) -> ZoneInfo:
        """Where its dates and times are meant."""
        return ZoneInfo(self.time_zone)

    @property
    def rules(self) -> list[HouseRule]:
        """The house's own rules as the core reads them."""
        return [HouseRule.model_validate(rule) for rule in self.house_rules]


class Member(models.Model):
    """Somebody who works in a studio: an instructor, or an assistant who runs and logs classes but reads nothing of
    anybody's health."""

    ROLES = {role: role for role in get_args(Role)}

    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="memberships")
    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="members")
    role = models.CharField(max_length=10, choices=ROLES)

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["user", "studio"], name="member_once_a_studio")]

    def __str__(self) -> str:
        return f"{self.user}, {self.role} of {self.studio}"

    def may(self, permission: Permission) -> bool:
        """Whether this member's role has this permission."""
        return allowed(cast(Role, self.role), permission)


class Room(models.Model):
    """A room in which classes are held. `key` is the id that plans and files use; a `retired` one is not chosen any
    more, and stays for what names it."""

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="rooms")
    key = models.SlugField(max_length=60)
    name = models.CharField(max_length=120)
    width_m = models.FloatField(null=True, blank=True)
    depth_m = models.FloatField(null=True, blank=True)
    revision = models.PositiveIntegerField(default=1)
    retired = models.BooleanField(default=False)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["studio", "key"], name="room_key_once_a_studio")]

    def __str__(self) -> str:
        return self.name

    def to_core(self) -> CoreRoom:
        """The room as the core computes with it."""
        return CoreRoom(
            id=self.key,
            name=self.name,
            width_m=self.width_m,
            depth_m=self.depth_m,
            zones=[zone.to_core() for zone in self.zones.all()],
            units=[unit.to_core() for unit in self.units.all()],
        )


class RoomZone(models.Model):
    """A named part of a room."""

    room = models.ForeignKey(Room, on_delete=models.CASCADE, related_name="zones")
    key = models.SlugField(max_length=60)
    name = models.CharField(max_length=80)
    x_m = models.FloatField()
    y_m = models.FloatField()
    width_m = models.FloatField()
    depth_m = models.FloatField()

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["room", "key"], name="zone_key_once_a_room")]

    def __str__(self) -> str:
        return self.name

    def to_core(self) -> CoreZone:
        """The zone as the core computes with it."""
        return CoreZone(id=self.key, **{name: getattr(self, name) for name in CoreZone.model_fields if name != "id"})


class MachineUnit(models.Model):
    """A machine, or several identical things kept at one place.

    `settings` and `hardware` are kept in the published format; the core checks them each time before they are kept.
    """

    room = models.ForeignKey(Room, on_delete=models.CASCADE, related_name="units")
    key = models.SlugField(max_length=60)
    kind = models.CharField(max_length=60)
    name = models.CharField(max_length=80)
    count = models.PositiveSmallIntegerField(default=1)
    people_at_once = models.PositiveSmallIntegerField(default=1)
    x_m = models.FloatField(default=0)
    y_m = models.FloatField(default=0)
    width_m = models.FloatField(null=True, blank=True)
    depth_m = models.FloatField(null=True, blank=True)
    turned = models.PositiveSmallIntegerField(default=0)
    set_up_s = models.FloatField(null=True, blank=True)
    load_change_s = models.FloatField(null=True, blank=True)
    settings = models.JSONField(default=list, blank=True)
    hardware = models.JSONField(null=True, blank=True)
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

    `document` is the entry in the published format; the core checks it each time before it is kept. A `retired` one is
    not chosen or proposed any more, and stays for what names it. Where the shipped catalogue has grown an entry of the
    same id or name, `decided` says what was chosen about it: to keep both, or to use the shipped one.
    """

    DECISIONS = {"": "not decided", "kept": "both are kept", "shipped": "the shipped one is used"}

    KINDS = {"exercise": "exercise", "equipment": "equipment kind"}

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="own_entries")
    kind = models.CharField(max_length=10, choices=KINDS)
    key = models.SlugField(max_length=60)
    document = models.JSONField()
    retired = models.BooleanField(default=False)
    decided = models.CharField(max_length=10, choices=DECISIONS, blank=True, default="")

    class Meta:
        ordering = ["kind", "key"]
        constraints = [models.UniqueConstraint(fields=["studio", "key"], name="entry_key_once_a_studio")]

    def __str__(self) -> str:
        return f"{self.kind} {self.key}"
