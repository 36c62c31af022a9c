"""Reads tables of loads and settings: row by row, every fault at its line; an empty cell says nothing, “-” clears."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from difflib import get_close_matches
from typing import Generic, TypeVar

from oaken.basis.faults import Fault, FaultyInput, faults_in
from oaken.basis.limits import most
from oaken.basis.text_files import CLEAR, decimal, table_rows, unguarded
from oaken.basis.words import in_kg
from oaken.domain.people.person import MOST_SET_LOADS
from oaken.domain.room.hardware import LB_KG
from oaken.session.sets_file import HEAVIEST_KG

LONGEST = 120
LARGEST_BYTES = most("table.bytes")
NEAR = 3
UNITS_KG = (("kg", 1.0), ("lb", LB_KG))
WRITTEN_ALIKE_KG = 0.002

LIFT_COLUMNS = (
    *("person_id", "person", "exercise_id", "exercise"),
    *("best_kg", "best_lb", "best_from", "working_kg", "working_lb", "working_sets_kg", "working_sets_lb"),
)
SETTING_COLUMNS = ("person_id", "person", "room", "unit", "setting", "value")


@dataclass(frozen=True, slots=True)
class LiftCell:
    """What a row says of what somebody lifts; None: nothing, `cleared` names what is to be taken away. Where sets have
    loads of their own, the working load is the heaviest of them."""

    person: str
    exercise: str
    best_kg: float | None = None
    best_from: str | None = None
    working_kg: float | None = None
    working_sets_kg: tuple[float, ...] = ()
    cleared: frozenset[str] = frozenset()


@dataclass(frozen=True, slots=True)
class SettingCell:
    """What a row says of how somebody sets a unit; None takes the setting away."""

    person: str
    room: str
    unit: str
    setting: str
    value: str | None


Cell = TypeVar("Cell", LiftCell, SettingCell)


@dataclass(frozen=True, slots=True)
class TableRow(Generic[Cell]):
    """A row: its line, whom and what it is about in words, what it says (None where it is faulty or says nothing)."""

    line: int
    who: str
    what: str
    says: Cell | None = None
    faults: list[Fault] = field(default_factory=list)


class _Faulty(ValueError):
    def __init__(self, column: str, message: str, right: str) -> None:
        super().__init__(message)
        self.column, self.message, self.right = column, message, right


def read_lifts(content: bytes, people: Mapping[str, str], exercises: Mapping[str, str]) -> list[TableRow[LiftCell]]:
    """What a table says of bests and working loads; `people` and `exercises` are names by id.

    Kilograms or pounds, each column in one of them. Raises FaultyInput where the file as a whole cannot be read.
    """

    def says(cells: Mapping[str, str]) -> LiftCell | None:
        person = _person(cells, people)
        exercise = _one(cells, "exercise", exercises)
        best, working, sets = _load(cells, "best"), _load(cells, "working"), _loads(cells, "working_sets")
        if sets and working is not None and abs(max(sets) - working) > WRITTEN_ALIKE_KG:
            raise _Faulty("working_sets_kg", "its heaviest load is not the working load", "the working load among them")
        source = cells.get("best_from", "")
        if len(source) > LONGEST:
            raise _Faulty("best_from", f"has {len(source)} characters", f"at most {LONGEST}")
        cleared = {name for name in ("best", "working", "working_sets") if _cell_of(cells, name) == CLEAR}
        if sets and "working" in cleared:
            raise _Faulty("working_sets_kg", "has loads where the working load is taken away", "one or the other")
        if source == CLEAR:
            cleared.add("best_from")
        if best is None and working is None and not sets and not source and not cleared:
            return None
        kept = source if source and source != CLEAR else None
        return LiftCell(person, exercise, best, kept, max(sets) if sets else working, sets, frozenset(cleared))

    needed = (("person_id", "person"), ("exercise_id", "exercise"))
    rows = _rows(content, LIFT_COLUMNS, needed, "loads", says, "exercise")
    return _each_once(rows, lambda cell: (cell.person, cell.exercise), "stands twice for this person")


def read_settings(
    content: bytes, people: Mapping[str, str], units: Mapping[tuple[str, str], Sequence[str]]
) -> list[TableRow[SettingCell]]:
    """What a table says of settings; `units` are the settings of each unit by room and unit.

    Raises FaultyInput where the file as a whole cannot be read.
    """
    rooms = sorted({room for room, _ in units})

    def says(cells: Mapping[str, str]) -> SettingCell | None:
        person = _person(cells, people)
        room = cells.get("room", "") or (rooms[0] if len(rooms) == 1 else "")
        unit, setting, value = cells.get("unit", ""), cells.get("setting", "").lower(), cells.get("value", "")
        if room not in rooms:
            raise _Faulty("room", f"there is no room {room!r}", f"one of: {', '.join(rooms)}")
        if (room, unit) not in units:
            here = [each for of, each in units if of == room]
            raise _Faulty("unit", f"there is no unit {unit!r} in {room}", f"perhaps {_perhaps(unit, here)}")
        if setting not in units[room, unit]:
            right = ", ".join(units[room, unit]) or "nothing: it has no settings"
            raise _Faulty("setting", f"{unit} has no {setting!r} to set", right)
        if not value:
            return None
        if len(value) > 20:
            raise _Faulty("value", f"has {len(value)} characters", "at most 20")
        return SettingCell(person, room, unit, setting, None if value == CLEAR else value)

    needed = (("person_id", "person"), ("unit",), ("setting",), ("value",))
    rows = _rows(content, SETTING_COLUMNS, needed, "settings", says, "unit")
    return _each_once(rows, lambda cell: (cell.person, cell.room, cell.unit, cell.setting), "stands twice")


def _rows(
    content: bytes,
    columns: Sequence[str],
    needed: Sequence[tuple[str, ...]],
    of: str,
    says: Callable[[Mapping[str, str]], Cell | None],
    what: str,
) -> list[TableRow[Cell]]:
    lines = table_rows(content, LARGEST_BYTES, most("sets_file.rows"), of)
    head = [cell.strip().lower() for cell in lines[0][1]]
    _check_head(head, columns, needed)
    found: list[TableRow[Cell]] = []
    for line, written in lines[1:]:
        cells = dict(zip(head, (unguarded(cell.strip()) for cell in written), strict=False))
        who = cells.get("person") or cells.get("person_id", "")
        about = cells.get(what) or cells.get(f"{what}_id", "")
        fault = faults_in(f"line {line}", f"{of}.{line}.")
        try:
            if len(written) != len(head):
                raise _Faulty("row", f"has {len(written)} cells", f"{len(head)}, as the first line has")
            found.append(TableRow(line, who, about, says(cells)))
        except _Faulty as error:
            found.append(TableRow(line, who, about, None, [fault(error.column, error.message, error.right)]))
    return found


def _check_head(head: list[str], columns: Sequence[str], needed: Sequence[tuple[str, ...]]) -> None:
    fault = faults_in("the file")
    strange = next((name for name in head if name and name not in columns), None)
    if strange is not None:
        message = f"has a column {strange[:60]!r} that nobody knows"
        raise FaultyInput([fault("file", message, f"columns: {', '.join(columns)}")])
    twice = next((name for name in head if name and head.count(name) > 1), None)
    if twice is not None:
        raise FaultyInput([fault("file", f"has the column {twice!r} twice", "every column once")])
    for names in needed:
        if not set(names) & set(head):
            raise FaultyInput([fault("file", f"has no column {' or '.join(names)}", f"columns: {', '.join(columns)}")])
    for kilograms in ("best", "working", "working_sets"):
        if {f"{kilograms}_kg", f"{kilograms}_lb"} <= set(head):
            raise FaultyInput([fault("file", f"has {kilograms} in kg and in lb", "one unit for a column")])


def _each_once(rows: list[TableRow[Cell]], key: Callable[[Cell], object], message: str) -> list[TableRow[Cell]]:
    seen: set[object] = set()
    found: list[TableRow[Cell]] = []
    for row in rows:
        if row.says is not None and key(row.says) in seen:
            fault = faults_in(f"line {row.line}", f"rows.{row.line}.")("row", message, "each once")
            row = TableRow(row.line, row.who, row.what, None, [fault])
        elif row.says is not None:
            seen.add(key(row.says))
        found.append(row)
    return found


def _person(cells: Mapping[str, str], people: Mapping[str, str]) -> str:
    return _one(cells, "person", people)


def _one(cells: Mapping[str, str], what: str, names: Mapping[str, str]) -> str:
    """The id of what a row names by id, or by a name that only one has."""
    given = cells.get(f"{what}_id", "")
    if given:
        if given not in names:
            raise _Faulty(f"{what}_id", f"{given[:60]!r} is not known here", f"perhaps {_perhaps(given, names)}")
        return given
    name = cells.get(what, "")
    if name in names:
        return name
    found = [key for key, called in names.items() if called.casefold() == name.casefold()]
    if len(found) == 1:
        return found[0]
    if found:
        raise _Faulty(what, f"{name!r} is the name of {len(found)}", f"an id in {what}_id: {', '.join(found)}")
    raise _Faulty(what, f"{name[:60]!r} is not known here", f"perhaps {_perhaps(name, names.values())}")


def _perhaps(word: str, names: Iterable[str]) -> str:
    known = list(names)
    return ", ".join(get_close_matches(word, known, NEAR, 0.5) or sorted(known)[:NEAR])


def _cell_of(cells: Mapping[str, str], name: str) -> str:
    return cells.get(f"{name}_kg", "") or cells.get(f"{name}_lb", "")


def _load(cells: Mapping[str, str], name: str) -> float | None:
    for unit, kg in UNITS_KG:
        cell = cells.get(f"{name}_{unit}", "")
        if cell and cell != CLEAR:
            return _kg(cell, unit, kg, f"{name}_{unit}")
    return None


def _loads(cells: Mapping[str, str], name: str) -> tuple[float, ...]:
    """Loads set by set, written with strokes between them: 60/65/70/75."""
    for unit, kg in UNITS_KG:
        cell, column = cells.get(f"{name}_{unit}", ""), f"{name}_{unit}"
        if cell and cell != CLEAR:
            written = cell.split("/")
            if not 2 <= len(written) <= MOST_SET_LOADS:
                raise _Faulty(column, f"names {len(written)} loads", f"2 to {MOST_SET_LOADS}, like 60/65/70")
            return tuple(_kg(item.strip(), unit, kg, column) for item in written)
    return ()


def _kg(cell: str, unit: str, kg: float, column: str) -> float:
    try:
        load = decimal(cell) * kg
    except ValueError as error:
        raise _Faulty(column, str(error), "a load, like 72.5 or 72,5") from None
    if not 0 < load <= HEAVIEST_KG:
        raise _Faulty(column, f"{cell[:40]} {unit} is no load", f"above 0, at most {in_kg(HEAVIEST_KG)}")
    return round(load, 3)
