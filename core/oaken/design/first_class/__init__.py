"""First things of an empty studio: a room from a short list, people by number, and a whole class to begin with."""

from oaken.design.first_class.crowd import FirstPeople, first_people
from oaken.design.first_class.make import MANNERS, Manner, Wanted, empty_class, first_class
from oaken.design.first_class.place import FirstRoom, Thing, first_room, things

__all__ = [
    "MANNERS",
    "FirstPeople",
    "FirstRoom",
    "Manner",
    "Thing",
    "Wanted",
    "empty_class",
    "first_class",
    "first_people",
    "first_room",
    "things",
]
