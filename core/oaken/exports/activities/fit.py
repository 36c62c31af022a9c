"""Writes an activity as FIT: a header, messages each behind the definition of its kind, a checksum.

The libraries that write FIT take seconds a person and cut names off (tried); this writes in milliseconds, and is read
back by two of them in the tests. Numbers of messages, fields and base types are those of the published profile, as the
reading library has it.
"""

from __future__ import annotations

import struct
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime

from oaken.exports.activities.activity import Activity, ActivitySet, Lap

EPOCH = datetime(1989, 12, 31, tzinfo=UTC)
"""FIT counts seconds from here."""

PROTOCOL, PROFILE = 0x20, 2132
ACTIVITY_FILE, DEVELOPMENT, TRAINING, STRENGTH, ACTIVE_SET = 4, 255, 10, 20, 1
TIMER, START, STOP_ALL, LAP_EVENT, SESSION_EVENT, ACTIVITY_EVENT, STOP = 0, 0, 4, 9, 8, 26, 1
OTHER_EXERCISE = 65_534
"""The profile's category for an exercise it has no number for: its name stands in a title."""

LONGEST_NAME = 60
"""Bytes of a name with the zero that ends it."""

LONGEST_WORDS = 200
"""Bytes of what else was written of a set."""

MOST_U16, KG_16THS, NOT_SAID = 65_534, 16, 0xFFFF


@dataclass(frozen=True, slots=True)
class _Kind:
    """A kind of message: its number here and in the profile, its fields as number, base type and bytes; the number and
    base type of the developer's own field, if it has one."""

    local: int
    number: int
    fields: tuple[tuple[int, str], ...]
    own: tuple[int, str] | None = None

    def definition(self) -> bytes:
        """What stands before the first message of this kind."""
        head = struct.pack("<BBBHB", (0x60 if self.own else 0x40) | self.local, 0, 0, self.number, len(self.fields))
        told = b"".join(struct.pack("BBB", number, *BASE[kind]) for number, kind in self.fields)
        return head + told + (b"" if self.own is None else struct.pack("BBBB", 1, self.own[0], BASE[self.own[1]][0], 0))

    def message(self, *values: int | str, own: str = "") -> bytes:
        """One message."""
        told = b"".join(_packed(kind, value) for (_, kind), value in zip(self.fields, values, strict=True))
        return bytes([self.local]) + told + (b"" if self.own is None else _packed(self.own[1], own))


BASE = {
    "u8": (1, 0x02),
    "enum": (1, 0x00),
    "u16": (2, 0x84),
    "u32": (4, 0x86),
    "id": (16, 0x0D),
    "name": (LONGEST_NAME, 0x07),
    "words": (LONGEST_WORDS, 0x07),
}
"""Bytes and number of each base type."""

FILE_ID = _Kind(0, 0, ((0, "enum"), (1, "u16"), (2, "u16"), (4, "u32"), (8, "name")))
DEVELOPER = _Kind(1, 207, ((1, "id"), (3, "u8")))
OWN_FIELD = _Kind(2, 206, ((0, "u8"), (1, "u8"), (2, "u8"), (3, "name")))
EVENT = _Kind(3, 21, ((253, "u32"), (0, "enum"), (1, "enum")))
WORKOUT = _Kind(4, 26, ((4, "enum"), (6, "u16"), (8, "name"), (11, "enum")))
STEP = _Kind(5, 27, ((254, "u16"), (0, "name")))
TITLE = _Kind(6, 264, ((254, "u16"), (0, "u16"), (1, "u16"), (2, "name")))
RECORD = _Kind(7, 20, ((253, "u32"), (3, "u8")))
SET = _Kind(
    8,
    225,
    (
        *((254, "u32"), (0, "u32"), (3, "u16"), (4, "u16"), (5, "u8")),
        *((6, "u32"), (7, "u16"), (8, "u16"), (10, "u16")),
    ),
    own=(1, "words"),
)
TIMES: tuple[tuple[int, str], ...] = ((253, "u32"), (2, "u32"), (7, "u32"), (8, "u32"), (11, "u16"))
"""When a lap or session ended and began, how long it was (twice: there is no pause in it), and its energy."""

LAP = _Kind(9, 19, (*TIMES, (15, "u8"), (16, "u8"), (0, "enum"), (1, "enum"), (254, "u16"), (71, "u16")))
SESSION = _Kind(
    10,
    18,
    (*TIMES, (16, "u8"), (17, "u8"), (0, "enum"), (1, "enum"), (5, "enum"), (6, "enum"), (25, "u16"), (26, "u16")),
    own=(0, "name"),
)
ACTIVITY = _Kind(11, 34, ((253, "u32"), (0, "u32"), (1, "u16"), (2, "enum"), (3, "enum"), (4, "enum")))


def write_fit(activity: Activity) -> bytes:
    """The activity as a FIT file: a record for each reading, a lap for each lap with its name as a step of the workout,
    sets with the names of their exercises, energy in whole kcal. In fields of our own stand the name of the energy's
    method, and of each set its number and what else was written of it, in words."""
    began, ended = _second(activity, 0.0), _second(activity, activity.length_s)
    exercises = list(dict.fromkeys(each_set.exercise for each_set in activity.sets))
    parts = [
        *_kind(FILE_ID, FILE_ID.message(ACTIVITY_FILE, DEVELOPMENT, 1, began, "Oaken Circuit")),
        *_kind(DEVELOPER, DEVELOPER.message("oaken-circuit-01", 0)),
        *_kind(
            OWN_FIELD, OWN_FIELD.message(0, 0, 0x07, "energy_method"), OWN_FIELD.message(0, 1, 0x07, "set_in_words")
        ),
        *_kind(WORKOUT, WORKOUT.message(TRAINING, len(activity.laps), activity.name, STRENGTH)),
        *_kind(STEP, *(STEP.message(number, lap.name) for number, lap in enumerate(activity.laps))),
        *_kind(TITLE, *(TITLE.message(at, OTHER_EXERCISE, at, name) for at, name in enumerate(exercises))),
        *_kind(EVENT, EVENT.message(began, TIMER, START)),
        RECORD.definition(),
        SET.definition(),
        LAP.definition(),
        *(message for _, message in sorted(_in_time(activity, exercises), key=lambda item: item[0])),
        EVENT.message(ended, TIMER, STOP_ALL),
        *_kind(SESSION, _session(activity, began, ended)),
        *_kind(ACTIVITY, ACTIVITY.message(ended, _ms(activity.length_s), 1, 0, ACTIVITY_EVENT, STOP)),
    ]
    body = b"".join(parts)
    head = struct.pack("<BBHI4s", 14, PROTOCOL, PROFILE, len(body), b".FIT")
    head += struct.pack("<H", checksum(head))
    return head + body + struct.pack("<H", checksum(head + body))


def _kind(kind: _Kind, *messages: bytes) -> list[bytes]:
    return [kind.definition(), *messages] if messages else []


def _in_time(activity: Activity, exercises: Sequence[str]) -> list[tuple[float, bytes]]:
    """Readings, sets and laps, each with the second at which it is known."""
    readings = zip(activity.seconds, activity.bpm, strict=True)
    found = [(second, RECORD.message(_second(activity, second), bpm)) for second, bpm in readings]
    for number, each_set in enumerate(activity.sets):
        end = each_set.start_s + each_set.seconds
        found.append((end, _set(activity, each_set, number, exercises.index(each_set.exercise), end)))
    for number, lap in enumerate(activity.laps):
        found.append((lap.until_s, _lap(activity, lap, number)))
    return found


def _set(activity: Activity, done: ActivitySet, number: int, exercise: int, end_s: float) -> bytes:
    reps = NOT_SAID if done.reps is None else min(done.reps, MOST_U16)
    weight = NOT_SAID if done.load_kg is None else min(round(done.load_kg * KG_16THS), MOST_U16)
    start, end = _second(activity, done.start_s), _second(activity, end_s)
    return SET.message(
        end, _ms(done.seconds), reps, weight, ACTIVE_SET, start, OTHER_EXERCISE, exercise, number, own=done.in_words
    )


def _lap(activity: Activity, lap: Lap, number: int) -> bytes:
    start, end, length = _second(activity, lap.from_s), _second(activity, lap.until_s), _ms(lap.until_s - lap.from_s)
    mean, peak = _bpm(lap.mean_bpm), _bpm(lap.peak_bpm)
    return LAP.message(end, start, length, length, _kcal(lap.kcal), mean, peak, LAP_EVENT, STOP, number, number)


def _session(activity: Activity, began: int, ended: int) -> bytes:
    mean = sum(activity.bpm) / len(activity.bpm) if activity.bpm else None
    length, peak = _ms(activity.length_s), max(activity.bpm, default=None)
    return SESSION.message(
        ended, began, length, length, _kcal(activity.kcal), _bpm(mean), _bpm(peak), SESSION_EVENT, STOP, TRAINING,
        STRENGTH, 0, len(activity.laps), own=activity.energy,
    )  # fmt: skip


def _second(activity: Activity, second: float) -> int:
    return round((activity.moment(second) - EPOCH).total_seconds())


def _ms(seconds: float) -> int:
    return round(1000 * seconds)


def _kcal(kcal: float) -> int:
    return min(MOST_U16, max(0, round(kcal)))


def _bpm(rate: float | None) -> int:
    return 255 if rate is None else round(rate)


def _packed(kind: str, value: int | str) -> bytes:
    if isinstance(value, str):
        return value.encode("ascii") if kind == "id" else _name(value, BASE[kind][0])
    return value.to_bytes(BASE[kind][0], "little")


def _name(text: str, longest: int) -> bytes:
    """A text with the zero that ends it, cut between two signs where it is too long."""
    short = text.encode()[: longest - 1].decode("utf-8", "ignore")
    return short.encode().ljust(longest, b"\0")


_NIBBLES = (
    0x0000, 0xCC01, 0xD801, 0x1400, 0xF001, 0x3C00, 0x2800, 0xE401,
    0xA001, 0x6C00, 0x7800, 0xB401, 0x5000, 0x9C01, 0x8801, 0x4400,
)  # fmt: skip


def checksum(content: bytes) -> int:
    """The checksum of FIT: a cyclic redundancy check of 16 bits, half a byte at a time (published with the format)."""
    crc = 0
    for byte in content:
        crc = (crc >> 4) ^ _NIBBLES[crc & 15] ^ _NIBBLES[byte & 15]
        crc = (crc >> 4) ^ _NIBBLES[crc & 15] ^ _NIBBLES[byte >> 4]
    return crc
