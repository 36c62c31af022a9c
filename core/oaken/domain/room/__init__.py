"""What there is: the room to scale with its units, and what each unit holds (stacks, plates, implements)."""

from oaken.domain.room.hardware import Hardware, Implements, Plates, Stack, load_to_set, nearest_kg, settable_kg
from oaken.domain.room.room import WALKING_SPEED_M_PER_S, Room, SettingName, Unit, Zone

__all__ = [
    "WALKING_SPEED_M_PER_S",
    "Hardware",
    "Implements",
    "Plates",
    "Room",
    "SettingName",
    "Stack",
    "Unit",
    "Zone",
    "load_to_set",
    "nearest_kg",
    "settable_kg",
]
