"""Endpoints of the rooms and of the catalogue."""

from django.http import HttpRequest
from ninja import Router
from oaken.catalogue import EquipmentKind, Exercise, NamedEntry, catalogue
from oaken.estimate import Method, methods
from oaken.room import Room as CoreRoom
from pydantic import BaseModel

from studio.models import Room

router = Router(tags=["studio"])


class CatalogueOut(BaseModel):
    """What can be put into a class."""

    exercises: list[Exercise]
    equipment: list[EquipmentKind]
    muscles: list[NamedEntry]


@router.get("/rooms", response=list[CoreRoom])
def list_rooms(request: HttpRequest) -> list[CoreRoom]:
    """Every room with its units."""
    return [room.to_core() for room in Room.objects.prefetch_related("units").order_by("name")]


@router.get("/catalogue", response=CatalogueOut)
def read_catalogue(request: HttpRequest) -> CatalogueOut:
    """Exercises, equipment kinds and muscles."""
    known = catalogue()
    return CatalogueOut(
        exercises=sorted(known.exercises.values(), key=lambda exercise: exercise.name),
        equipment=list(known.equipment.values()),
        muscles=list(known.muscles.values()),
    )


@router.get("/methods", response=list[Method])
def list_methods(request: HttpRequest) -> list[Method]:
    """How each figure is reached: formula, source and range."""
    return list(methods().values())
