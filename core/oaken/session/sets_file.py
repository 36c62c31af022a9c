"""The log of a class as a table: written out, and read back row by row with every fault at its place."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal, get_args

from oaken.basis.faults import Fault, FaultyInput, faults_in
from oaken.basis.limits import most
from oaken.basis.text_files import CLEAR, guarded, table_rows, unguarded
from oaken.basis.words import counted
from oaken.domain.catalogue import Catalogue
from oaken.domain.prescription import Aid, SetUp, Stance, read_set_up
from oaken.session.events import UNPLANNED, SetDone
from oaken.session.log import LogRow
from oaken.session.set_parts import MOST_PARTS, Performed

COLUMNS = (
    "person", "exercise", "part", "set", "side", "load_kg", "reps", "seconds", "to_failure", "helped", "reps_left",
    "range_of_motion", "form", "rest_s", "set_up", "note", "written",
)  # fmt: skip
NEEDED = ("person", "exercise", "set")
TOLD = COLUMNS[COLUMNS.index("side") : COLUMNS.index("written")]
AT_THE_START, AT_THE_END = ("load_kg", "rest_s"), ("to_failure", "reps_left")
"""What is said of a set in several parts belongs to its first part, or to its last."""

OF_A_PART = (
    "load_kg", "reps", "seconds", "to_failure", "helped", "reps_left", "range_of_motion", "form", "rest_s",
)  # fmt: skip
OWN_SET_UP = "as usual"
"""A set-up that was said to be the exercise’s own, where another was planned."""

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
            told = [""] * len(TOLD) if done is None else _told(done)
            writer.writerow([who, row.exercise, row.part, row.number, *told, row.written])
    return out.getvalue()


def _told(done: SetDone) -> list[str]:
    """What was written of a set, column by column. What differs between its parts stands part by part with a plus
    between them: 10+8+6 repetitions at 60+45+35 kg."""
    cells = {name: _cell(name, done) for name in OF_A_PART}
    for name in OF_A_PART if done.parts else ():
        parts = [_cell(name, part) for part in done.parts]
        if any(parts):
            # what is said of the set itself is what its first part began with, or how its last one ended
            at = -1 if name in AT_THE_END else 0
            if name in (*AT_THE_START, *AT_THE_END):
                parts[at] = parts[at] or cells[name]
            elif name in ("range_of_motion", "form"):
                parts = [part or cells[name] for part in parts]
            cells[name] = guarded("+".join(parts))
    cells |= {"side": done.side or "", "note": guarded(done.note)}
    cells["set_up"] = "" if done.set_up is None else str(done.set_up) or OWN_SET_UP
    return [cells[name] for name in TOLD]


def _cell(name: str, said: Performed) -> str:
    match name:
        case "to_failure":
            return "yes" if said.to_failure else ""
        case "helped":
            return ("yes" if said.helped else "") if said.helped_reps is None else counted(said.helped_reps, "rep")
        case "range_of_motion" | "form":
            return getattr(said, name) or ""
        case _:
            return _number(getattr(said, name))


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
        **at.performed(),
        "set_up": at.set_up(),
        "note": cells.get("note", "")[:500],
    }
    # “-” says that there is nothing, which is not the same as saying nothing
    told = any(written.get(name) for name in (*OF_A_PART, "set_up"))
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

    def performed(self) -> dict[str, Any]:
        """What was done, and of a set in several parts what each of them was: a column that says it part by part has a
        plus between them."""
        said = {name: self.cells.get(name, "").split("+") for name in OF_A_PART}
        count = max(map(len, said.values()))
        if count > MOST_PARTS:
            name = next(name for name, cells in said.items() if len(cells) == count)
            self.wrong(name, f"has {count} parts", f"at most {MOST_PARTS} parts: 5+5+4")
            return {}
        parts: list[dict[str, Any]] = [{} for _ in range(count if count > 1 else 0)]
        whole: dict[str, Any] = {}
        for name, cells in said.items():
            if len(cells) not in (1, count):
                self.wrong(name, f"has {len(cells)} parts, and another column {count}", "as many parts in each column")
                continue
            read = [self._one(name, cell.strip()) for cell in cells]
            if len(cells) == 1:
                whole |= read[0]
                continue
            at = 0 if name in AT_THE_START else count - 1 if name in AT_THE_END else None
            for place, value in enumerate(read):
                (whole if place == at else parts[place]).update(value)
        for part in parts or [whole]:
            if (part.get("helped_reps") or 0) > part.get("reps", MOST_REPS):
                self.wrong("helped", f"{part['helped_reps']} of {part['reps']} cannot be", "no more than repetitions")
        if not parts:
            return whole
        return {**whole, "parts": [part["reps"] if set(part) == {"reps"} else part for part in parts]}

    def _one(self, name: str, word: str) -> dict[str, Any]:
        """One value of a column, by the field of the event that it fills."""
        if not word:
            return {}
        found: object
        match name:
            case "load_kg":
                found = self._decimal(name, word, HEAVIEST_KG, "kg")
            case "seconds" | "rest_s":
                found = self._decimal(name, word, MOST_SECONDS, "s")
            case "reps":
                found = self._whole(name, word, 0, MOST_REPS)
            case "reps_left":
                found = self._whole(name, word, 0, MOST_LEFT)
            case "to_failure":
                found = self._yes(name, word) or None
            case "helped":
                if counted_reps := re.fullmatch(r"([1-9]\d{0,3})(?: reps?)|([2-9]|[1-9]\d{1,3})", word):
                    return {"helped": True, "helped_reps": self._whole(name, counted_reps[1] or word, 1, MOST_REPS)}
                found = self._yes(name, word) or None
            case "range_of_motion":
                found = self._one_of(name, word, ("full", "partial"))
            case _:
                found = self._one_of(name, word, ("good", "poor"))
        return {} if found is None else {name: found}

    def set_up(self) -> dict[str, Any] | None:
        """How somebody was set up, in words: feet high, heels 2.5 cm, belt."""
        words = self.cells.get("set_up", "")
        if not words:
            return None
        try:
            said = SetUp() if words.lower() == OWN_SET_UP else read_set_up(words)
        except ValueError:
            right = ", ".join((*get_args(Stance), "heels 2.5 cm", *get_args(Aid)))
            self.wrong("set_up", f"{words!r} is no set-up", f"some of: {right}; or {OWN_SET_UP}")
            return None
        return said.model_dump(mode="json", exclude_defaults=True)

    def whole(self, name: str, low: int, high: int) -> int | None:
        """A whole number; None where the cell is empty, or faulty."""
        word = self.cells.get(name, "")
        return self._whole(name, word, low, high) if word else None

    def one_of(self, name: str, words: tuple[str, ...]) -> str | None:
        """One of these words; None where the cell is empty, or faulty."""
        word = self.cells.get(name, "")
        return self._one_of(name, word, words) if word else None

    def _decimal(self, name: str, word: str, high: float, unit: str) -> float | None:
        if not DECIMAL.match(word):
            self.wrong(name, f"{word!r} is no number", f"0 to {high:g} {unit}, 72.5 or 72,5")
            return None
        value = float(word.replace(",", "."))
        if not 0 <= value <= high:
            self.wrong(name, f"{value:g} {unit} cannot be", f"0 to {high:g} {unit}")
            return None
        return value

    def _whole(self, name: str, word: str, low: int, high: int) -> int | None:
        if not re.fullmatch(r"-?\d{1,6}", word) or not low <= int(word) <= high:
            self.wrong(name, f"{word!r} cannot be", f"a whole number from {low} to {high}")
            return None
        return int(word)

    def _yes(self, name: str, word: str) -> bool:
        if word.lower() in YES:
            return True
        if word.lower() not in NO:
            more = ", or how many were" if name == "helped" else ""
            self.wrong(name, f"{word!r} is neither yes nor no", f"yes, no or nothing{more}")
        return False

    def _one_of(self, name: str, word: str, words: tuple[str, ...]) -> str | None:
        if word.lower() in words:
            return word.lower()
        self.wrong(name, f"{word!r} cannot be", " or ".join(words))
        return None


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
