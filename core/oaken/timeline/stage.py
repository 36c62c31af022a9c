"""What every kind of block is laid out from and written to."""

from __future__ import annotations

from dataclasses import dataclass, field

from oaken.catalogue import Catalogue, Exercise
from oaken.people import Person
from oaken.room import Room
from oaken.timeline.bouts import Outlook
from oaken.timeline.steps import SlotUse, Step


@dataclass(slots=True)
class Stage:
    """What a block's schedule is built from and written to."""

    room: Room
    people: list[Person]
    catalogue: Catalogue
    outlook: Outlook
    slots: list[SlotUse] = field(default_factory=list)
    paths: list[list[Step]] = field(default_factory=list)

    def add_slot(self, block: int, group: int, slot_id: str, exercise: Exercise, places: int) -> int:
        """Enter a slot of the plan; its index in the timeline's slots."""
        self.slots.append(SlotUse(block, group, slot_id, exercise, places))
        return len(self.slots) - 1

    def places(self, exercise: Exercise) -> int:
        """How many places the room has for an exercise."""
        return len(self.room.working(exercise.equipment))
