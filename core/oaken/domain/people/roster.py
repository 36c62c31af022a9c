"""People as a CSV file, in either unit system: read row by row with every fault at its place, and written."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from pydantic import BaseModel, ValidationError

from oaken.basis.faults import Fault, FaultyInput, faults_in, faults_of
from oaken.basis.limits import most
from oaken.basis.text_files import CLEAR, decimal, guarded, table_rows, unguarded
from oaken.domain.people.conditions import conditions
from oaken.domain.people.person import Person
from oaken.domain.room.hardware import LB_KG

IN_CM = 2.54
LARGEST_BYTES = most("table.bytes")
MOST_ROWS = most("roster.people")

COLUMNS = (
    "id", "name", "group", "age", "sex", "level", "mass_kg", "height_cm", "resting_bpm", "max_bpm", "max_formula",
    "vo2max", "heart_medication", "careful", "screening_on", "screening",
)  # fmt: skip
POUNDS_AND_INCHES = {"mass_lb": "mass_kg", "height_in": "height_cm"}
BEST = re.compile(r"best (?P<exercise>[a-z0-9_-]+) (?P<unit>kg|lb)")
YES, NO = ("yes", "y", "true", "1", "x"), ("no", "n", "false", "0", "")
SCREENINGS = {"no": (False, False), "yes": (True, False), "advised": (True, True)}


class RosterRow(BaseModel):
    """One row of the file: its line, the person it gives (None where it is faulty), their group, and what is wrong.

    `given` are the fields of the person for which the row has a word: of somebody who is known already, only these say
    anything new. `cleared` are the bests (by exercise) and the group that are to be taken away.
    """

    line: int
    name: str
    person: Person | None
    group: str
    faults: list[Fault]
    given: list[str] = []
    cleared: list[str] = []


class Roster(BaseModel):
    """What a file says, row by row."""

    rows: list[RosterRow]

    @property
    def people(self) -> list[Person]:
        """Everybody whose row is right."""
        return [row.person for row in self.rows if row.person is not None]


def read_roster(content: bytes, taken: Iterable[str] = ()) -> Roster:
    """Read a roster. `taken` are ids that are in use, which a row without an id does not get.

    Raises FaultyInput where the file as a whole cannot be read: no text, too large, no columns, columns nobody knows.
    """
    rows = table_rows(content, LARGEST_BYTES, MOST_ROWS, "people")
    head = [cell.strip().lower() for cell in rows[0][1]]
    _check_head(head)
    used = set(taken)
    given_ids: set[str] = set()
    found = []
    for line, cells in rows[1:]:
        row = _row(
            line, dict(zip(head, (unguarded(cell.strip()) for cell in cells), strict=False)), len(cells), head, used
        )
        if row.person is not None:
            row_id = row.person.id
            if row_id in given_ids:
                fault = _fault(line, "id", f"{row_id!r} stands twice in this file", "an id of its own")
                row = row.model_copy(update={"person": None, "faults": [fault]})
            given_ids.add(row_id)
            used.add(row_id)
        found.append(row)
    return Roster(rows=found)


def write_roster(people: Sequence[tuple[Person, str]], *, pounds: bool = False) -> str:
    """People with their groups as CSV: kilograms and centimetres, or pounds and inches; bests at the end."""
    lifts = sorted({lift for person, _ in people for lift in person.bests_kg})
    unit, per_unit = ("lb", LB_KG) if pounds else ("kg", 1.0)
    names = {"mass_kg": "mass_lb", "height_cm": "height_in"} if pounds else {}
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow([*(names.get(column, column) for column in COLUMNS), *(f"best {lift} {unit}" for lift in lifts)])
    for person, group in people:
        screening = person.screening
        answers = {value: word for word, value in SCREENINGS.items()}
        height = person.height_cm
        cells: dict[str, object] = {
            "id": person.id,
            "name": person.name,
            "group": group,
            "age": person.age,
            "sex": person.sex or "",
            "level": person.level,
            "mass_kg": _number(person.body_mass_kg / per_unit),
            "height_cm": "" if height is None else _number(height / (IN_CM if pounds else 1.0)),
            "resting_bpm": person.resting_bpm or "",
            "max_bpm": person.max_bpm or "",
            "max_formula": person.max_formula,
            "vo2max": "" if person.vo2max is None else _number(person.vo2max),
            "heart_medication": "yes" if person.heart_medication else "no",
            "careful": "; ".join(person.careful),
            "screening_on": screening.on.isoformat() if screening else "",
            "screening": answers[screening.some_yes, screening.advised] if screening else "",
        }
        bests = [_number(person.bests_kg[lift] / per_unit) if lift in person.bests_kg else "" for lift in lifts]
        writer.writerow([*(guarded(str(cells[column])) for column in COLUMNS), *bests])
    return out.getvalue()


def _number(value: float) -> str:
    return f"{round(value, 2):g}"


def _check_head(head: list[str]) -> None:
    known = [*COLUMNS, *POUNDS_AND_INCHES]
    strange = [name for name in head if name and name not in known and not BEST.fullmatch(name)]
    if strange:
        right = f"columns: {', '.join(known)}, best leg-press kg"
        raise _faulty(f"has a column {strange[0]!r} that nobody knows", right)
    twice = [name for name in head if name and head.count(name) > 1]
    if twice:
        raise _faulty(f"has the column {twice[0]!r} twice", "every column once")
    for pounds, kilograms in POUNDS_AND_INCHES.items():
        if pounds in head and kilograms in head:
            raise _faulty(f"has both {kilograms} and {pounds}", "one unit for a column")
    if "name" not in head or "age" not in head or not {"mass_kg", "mass_lb"} & set(head):
        raise _faulty(f"has the columns {', '.join(head)[:80]}", "at least name, age, and mass_kg or mass_lb")


def _row(line: int, cells: dict[str, str], width: int, head: list[str], used: set[str]) -> RosterRow:
    name = cells.get("name", "")
    faults: list[Fault] = []
    if width != len(head):
        faults.append(_fault(line, "row", f"has {width} cells", f"{len(head)}, as the first line has"))
    document: dict[str, Any] = {"id": cells.get("id") or fresh_id(name, used), "name": name}
    bests: dict[str, Any] = {}
    cleared: list[str] = []
    for column, cell in cells.items():
        best = BEST.fullmatch(column)
        if not cell or column in ("id", "name"):
            continue
        if column == "group":
            cleared += ["group"] if cell == CLEAR else []
            continue
        try:
            if cell == CLEAR and best is not None:
                cleared.append(best["exercise"])
            elif cell == CLEAR:
                document |= _cleared(column)
            elif best is not None:
                bests[best["exercise"]] = decimal(cell) * (LB_KG if best["unit"] == "lb" else 1.0)
            else:
                document |= _field(column, cell, cells)
        except ValueError as error:
            faults.append(_fault(line, column, str(error), _right(column)))
    document["bests_kg"] = {lift: round(kg, 3) for lift, kg in bests.items()}
    given = [field for field in document if field != "id"]
    person = None
    if not faults:
        try:
            person = Person.model_validate(document)
        except ValidationError as error:
            faults += [
                fault.model_copy(update={"place": f"line {line}", "path": f"people.{line}.{fault.path}"})
                for fault in faults_of(error, document)
            ]
    group = "" if "group" in cleared else cells.get("group", "")
    return RosterRow(line=line, name=name, person=person, group=group, faults=faults, given=given, cleared=cleared)


CLEARABLE: dict[str, dict[str, Any]] = {
    "sex": {"sex": None},
    "height_cm": {"height_cm": None},
    "height_in": {"height_cm": None},
    "resting_bpm": {"resting_bpm": None},
    "max_bpm": {"max_bpm": None},
    "vo2max": {"vo2max": None},
    "careful": {"careful": []},
    "screening_on": {"screening": None},
    "screening": {},
    "heart_medication": {"heart_medication": False},
}
"""What a column that is cleared leaves of a person."""


def _cleared(column: str) -> dict[str, Any]:
    if column not in CLEARABLE:
        raise ValueError(f"{column} cannot be cleared")
    return CLEARABLE[column]


def _field(column: str, cell: str, cells: Mapping[str, str]) -> dict[str, Any]:
    """One cell as the field or fields of a person."""
    match column:
        case "mass_kg":
            return {"body_mass_kg": decimal(cell)}
        case "mass_lb":
            return {"body_mass_kg": round(decimal(cell) * LB_KG, 2)}
        case "height_cm":
            return {"height_cm": decimal(cell)}
        case "height_in":
            return {"height_cm": round(decimal(cell) * IN_CM, 1)}
        case "vo2max":
            return {"vo2max": decimal(cell)}
        case "age" | "resting_bpm" | "max_bpm":
            number = decimal(cell)
            if number != int(number):
                raise ValueError(f"{cell!r} is no whole number")
            return {column: int(number)}
        case "heart_medication":
            if cell.lower() not in (*YES, *NO):
                raise ValueError(f"{cell!r} is neither yes nor no")
            return {"heart_medication": cell.lower() in YES}
        case "careful":
            names = [name.strip().lower().replace(" ", "_") for name in re.split("[;,]", cell) if name.strip()]
            strange = [name for name in names if name not in conditions()]
            if strange:
                raise ValueError(f"{strange[0]!r} is nothing to be careful about here")
            return {"careful": list(dict.fromkeys(names))}
        case "screening_on":
            answer = cells.get("screening", "").lower()
            if answer not in SCREENINGS:
                raise ValueError("a date of screening needs its outcome in the column “screening”")
            some_yes, advised = SCREENINGS[answer]
            return {"screening": {"on": cell, "some_yes": some_yes, "advised": advised}}
        case "screening":
            if not cells.get("screening_on"):
                raise ValueError("a screening needs its date in the column “screening_on”")
            return {}
        case _:
            return {column: cell.lower()}


def _right(column: str) -> str:
    if column == "careful":
        return f"of these, parted by semicolons: {', '.join(conditions())}"
    if column.startswith("screening"):
        return f"one of {', '.join(SCREENINGS)}, with a date like 2026-03-01"
    return "yes or no" if column == "heart_medication" else "a number"


def fresh_id(name: str, used: Iterable[str]) -> str:
    """An id made of a name, different from those in use."""
    taken = set(used)
    plain = re.sub(r"[^a-z0-9]+", "-", name.lower().encode("ascii", "ignore").decode()).strip("-")[:50] or "person"
    if plain not in taken:
        return plain
    return next(f"{plain}-{number}" for number in range(2, 10**6) if f"{plain}-{number}" not in taken)


def _fault(line: int, field: str, message: str, right: str) -> Fault:
    return faults_in(f"line {line}", f"people.{line}.")(field, message, right)


def _faulty(message: str, right: str) -> FaultyInput:
    return FaultyInput([Fault(path="people", place="the file", field="file", message=message, right=right)])
