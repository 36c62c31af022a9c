"""Keeping rooms: what reading, saving and taking out a room mean, without HTTP."""

from __future__ import annotations

from django.db import transaction
from oaken.basis.faults import Fault, FaultyInput, faults_in
from oaken.basis.limits import in_words, most
from oaken.domain.room import Room as CoreRoom

from studio.documents import locked
from studio.models import MachineUnit, Room, RoomZone, Studio
from studio.own import house_catalogue

_fault = faults_in("the room")


def create_room(studio: Studio, room: CoreRoom) -> Room:
    """Keep a new room. Raises FaultyInput where its id is taken or a unit is of no known kind."""
    with transaction.atomic():
        found = faults_with(studio, room)
        if studio.rooms.filter(key=room.id).exists():
            found.append(_fault("id", f"there is a room {room.id!r} already", "an id of its own"))
        if studio.rooms.count() >= most("studio.rooms"):
            found.append(_fault("id", "there are too many rooms", in_words("studio.rooms")))
        if found:
            raise FaultyInput(found)
        kept = studio.rooms.create(key=room.id, name=room.name, width_m=room.width_m, depth_m=room.depth_m)
        _fill(kept, room)
    return kept


def save_room(studio: Studio, key: str, based_on: int, room: CoreRoom) -> Room:
    """Keep a changed room. Raises StaleSave, and keeps nothing, when a newer state of it exists."""
    found = faults_with(studio, room)
    if room.id != key:
        found.append(_fault("id", "a room keeps its id", f"given: {room.id!r}, kept: {key!r}"))
    if found:
        raise FaultyInput(found)
    with transaction.atomic():
        kept = locked(studio.rooms.all(), "room", based_on, key=key)
        kept.name, kept.width_m, kept.depth_m = room.name, room.width_m, room.depth_m
        kept.save()
        kept.units.all().delete()
        kept.zones.all().delete()
        _fill(kept, room)
    return studio.rooms.prefetch_related("units", "zones").get(key=key)


def faults_with(studio: Studio, room: CoreRoom) -> list[Fault]:
    """What the room alone cannot know: whether its units are of kinds that exist."""
    known = house_catalogue(studio).equipment
    return [
        Fault(
            path=f"room.units.{index}.kind",
            place=unit.name,
            field="kind",
            message=f"{unit.kind!r} is no equipment kind",
            right="a kind of the catalogue, or one of your own",
        )
        for index, unit in enumerate(room.units)
        if unit.kind not in known
    ]


def _fill(kept: Room, room: CoreRoom) -> None:
    RoomZone.objects.bulk_create(
        RoomZone(room=kept, key=zone.id, **zone.model_dump(exclude={"id"})) for zone in room.zones
    )
    MachineUnit.objects.bulk_create(
        MachineUnit(room=kept, key=unit.id, **unit.model_dump(exclude={"id"}, mode="json")) for unit in room.units
    )
