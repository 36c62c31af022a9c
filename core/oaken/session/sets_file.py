"""The log of a class as a table: written out, and read back row by row with every fault at its place."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal

from oaken.basis.faults import Fault, FaultyInput, faults_in
from oaken.basis.limits import most
from oaken.basis.text_files import CLEAR, guarded, table_rows, unguarded
from oaken.domain.catalogue import Catalogue
from oaken.session.events import UNPLANNED
from oaken.session.log import LogRow

COLUMNS = (
    "person", "exercise", "part", "set", "side", "load_kg", "reps", "seconds", "to_failure", "helped", "reps_left",
    "form", "note", "written",
)  # fmt: skip
NEEDED = ("person", "exercise", "set")
LARGEST_BYTES = most("table.bytes")
HEAVIEST_KG = 900.0
"""Nobody lifts more in a class than this; a plan may not say more than 600 kg."""

MOST_REPS, MOST_SECONDS, MOST_LEFT = 1000, 7200, 20
YES, NO = ("yes", "y", "true", "1", "x"), ("no", "n", "false", "0", "")
DECIMAL = re.compile(r"^-?\d+(?:[.,]\d+)?$")


@dataclass(frozen=True, slots=True)
class SetRow:
    """One row of the table: its line, what it says (the fields of a set that was done, `as_planned` where it says only
    that, `empty` where it says nothing), and what is wrong with it."""

    line: int
    who: str
    what: str
    fields: dict[str, Any] = field(default_factory=dict)
    as_planned: bool = False
    empty: bool = False
    faults: list[Fault] = field(default_factory=list)


def write_sets(rows: Iterable[LogRow], names: Mapping[str, str]) -> str:
    """The log as CSV (UTF-8, commas, decimal points), a row for each set and side; `names` are the people's by id."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(COLUMNS)
    for row in rows:
        who = guarded(names.get(row.person, row.person))
        for done in row.done or (None,):
            if done is None:
                told: list[object] = ["", "", "", "", "", "", "", "", ""]
            else:
                told = [
                    done.side or "",
                    _number(done.load_kg),
                    "+".join(map(str, done.parts)) or _number(done.reps),
                    _number(done.seconds),
                    "yes" if done.to_failure else "",
                    "yes" if done.helped else "",
                    _number(done.reps_left),
                    done.form or "",
                    guarded(done.note),
                ]
            writer.writerow([who, row.exercise, row.part, row.number, *told, row.written])
    return out.getvalue()


def _number(value: float | None) -> str:
    return "" if value is None else f"{round(value, 3):g}"


def read_sets(
    content: bytes, planned: Sequence[LogRow], names: Mapping[str, str], known: Catalogue | None = None
) -> list[SetRow]:
    """Read a table of sets into a class whose log is `planned`; `names` are its people's by id, `known` is the
    catalogue, where exercises that were not planned may be named too. Columns may stand in any order; commas,
    semicolons or tabs part them, decimals have a point or a comma.

    Raises FaultyInput where the file as a whole cannot be read. A row names a person (id or name), an exercise (id) and
    a set; its part only where the exercise stands several times. “-” takes a value away: the set was done without it.
    """
    lines = table_rows(content, LARGEST_BYTES, most("sets_file.rows"), "sets")
    head = [cell.strip().lower() for cell in lines[0][1]]
    strange = [name for name in head if name and name not in COLUMNS]
    missing = [name for name in NEEDED if name not in head]
    if strange or missing:
        message = f"has a column {strange[0]!r} that nobody knows" if strange else f"has no column {missing[0]!r}"
        raise _faulty(message, f"columns: {', '.join(COLUMNS)}")
    by_name = {name.strip().lower(): key for key, name in names.items()} | {key.lower(): key for key in names}
    parts: dict[str, dict[str, int]] = {}
    for row in planned:
        parts.setdefault(row.exercise, {}).setdefault(row.part, 0)
        parts[row.exercise][row.part] = max(parts[row.exercise][row.part], row.number)
    return [
        _row(line, dict(zip(head, (unguarded(cell.strip()) for cell in cells), strict=False)), by_name, parts, known)
        for line, cells in lines[1:]
    ]


def _row(
    line: int,
    cells: Mapping[str, str],
    by_name: Mapping[str, str],
    parts: Mapping[str, Mapping[str, int]],
    known: Catalogue | None,
) -> SetRow:
    written, cells = cells, {name: "" if cell == CLEAR else cell for name, cell in cells.items()}
    at = _Cells(line, cells)
    person = by_name.get(cells.get("person", "").lower())
    if person is None:
        at.wrong("person", f"{cells.get('person', '')!r} is not in this class", "somebody of the class")
    exercise, part = _named(cells.get("exercise", ""), parts, known), cells.get("part", "")
    own = parts.get(exercise, {})
    if not own and known is not None and exercise in known.exercises and part in ("", f"{UNPLANNED}{exercise}"):
        own = {f"{UNPLANNED}{exercise}": 0}
    if not own:
        message = f"{exercise!r} is not planned in this class, and no exercise of the catalogue"
        at.wrong("exercise", message, "an exercise by its id or name")
    elif part and part not in own:
        at.wrong("part", f"{exercise!r} does not stand at {part!r}", f"one of: {', '.join(own)}")
    elif not part and len(own) > 1:
        at.wrong("part", f"{exercise!r} stands several times", f"one of: {', '.join(own)}")
    number = at.whole("set", 1, 400)
    if number is None and not at.faults:
        at.wrong("set", "has no number of the set", "1, 2, 3 …")
    fields: dict[str, Any] = {
        "person": person,
        "part": part or next(iter(own), ""),
        "number": number,
        "exercise": exercise,
        "side": at.one_of("side", ("left", "right")),
        "load_kg": at.decimal("load_kg", 0, HEAVIEST_KG, "kg"),
        **at.reps(),
        "seconds": at.decimal("seconds", 0, MOST_SECONDS, "s"),
        "to_failure": at.yes("to_failure"),
        "helped": at.yes("helped"),
        "reps_left": at.whole("reps_left", 0, MOST_LEFT),
        "form": at.one_of("form", ("good", "poor")),
        "note": cells.get("note", "")[:500],
    }
    # “-” says that there is nothing, which is not the same as saying nothing
    told = any(
        written.get(name) for name in ("load_kg", "reps", "seconds", "to_failure", "helped", "reps_left", "form")
    )
    as_planned = not told and cells.get("written", "").lower() == "as planned"
    # an empty box on the sheet: nothing was written of this set
    empty = not told and not as_planned and not at.faults
    kept = {name: value for name, value in fields.items() if value not in (None, "", ())}
    return SetRow(line, cells.get("person", ""), exercise, {} if at.faults else kept, as_planned, empty, at.faults)


def _named(said: str, planned: Collection[str], known: Catalogue | None) -> str:
    """The id of the exercise that a cell names: one of the class by its id, or one of the catalogue as it is called."""
    if said in planned or known is None or not said:
        return said
    meant = known.spoken_of_all.known(said)
    return said if meant is None or meant.exercise is None else meant.exercise


class _Cells:
    """The cells of one row, read as what they are meant to be; what is wrong is collected."""

    def __init__(self, line: int, cells: Mapping[str, str]) -> None:
        self.line, self.cells = line, cells
        self.faults: list[Fault] = []

    def wrong(self, name: str, message: str, right: str) -> None:
        self.faults.append(faults_in(f"line {self.line}", f"line.{self.line}.")(name, message, right))

    def decimal(self, name: str, low: float, high: float, unit: str) -> float | None:
        word = self.cells.get(name, "")
        if not word:
            return None
        if not DECIMAL.match(word):
            self.wrong(name, f"{word!r} is no number", f"{low:g} to {high:g} {unit}, 72.5 or 72,5")
            return None
        value = float(word.replace(",", "."))
        if not low <= value <= high:
            self.wrong(name, f"{value:g} {unit} cannot be", f"{low:g} to {high:g} {unit}")
            return None
        return value

    def whole(self, name: str, low: int, high: int) -> int | None:
        word = self.cells.get(name, "")
        if not word:
            return None
        if not re.fullmatch(r"-?\d{1,6}", word) or not low <= int(word) <= high:
            self.wrong(name, f"{word!r} cannot be", f"a whole number from {low} to {high}")
            return None
        return int(word)

    def reps(self) -> dict[str, Any]:
        word = self.cells.get("reps", "")
        if "+" not in word:
            return {"reps": self.whole("reps", 0, MOST_REPS)}
        parts = [item.strip() for item in word.split("+")]
        if len(parts) > 20 or not all(re.fullmatch(r"\d{1,4}", part) and int(part) <= MOST_REPS for part in parts):
            self.wrong("reps", f"{word!r} cannot be", "counts of at most 20 parts: 5+5+4")
            return {}
        return {"parts": tuple(map(int, parts))}

    def yes(self, name: str) -> bool | None:
        word = self.cells.get(name, "").lower()
        if word in YES:
            return True
        if word not in NO:
            self.wrong(name, f"{word!r} is neither yes nor no", "yes, no or nothing")
        return None

    def one_of(self, name: str, words: tuple[str, ...]) -> str | None:
        word = self.cells.get(name, "").lower()
        if word and word not in words:
            self.wrong(name, f"{word!r} cannot be", " or ".join(words))
            return None
        return word or None


def _faulty(message: str, right: str) -> FaultyInput:
    return FaultyInput([faults_in("the file")("file", message, right)])


Outcome = Literal["new", "changes", "as planned", "empty", "faulty"]


def outcome_of(row: SetRow, written: Mapping[tuple[str, str, int], str]) -> Outcome:
    """What a row does to a log: `written` says how each set stands there."""
    if row.faults:
        return "faulty"
    if row.as_planned:
        return "as planned"
    if row.empty:
        return "empty"
    key = (row.fields["person"], row.fields["part"], row.fields["number"])
    return "changes" if written.get(key) == "done" else "new"
