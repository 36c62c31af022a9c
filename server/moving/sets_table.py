"""The sets of a run as a table in the file of a studio: written row by row, and read with every cell checked."""

from __future__ import annotations

import csv
import io
from collections.abc import Callable, Iterator
from datetime import date
from typing import Any

from logbook.models import Run
from logbook.sets import FIELDS
from oaken.basis.faults import FaultyInput
from oaken.basis.text_files import guarded, unguarded
from oaken.exports.studio_file import StudioReader, faulty_studio

COLUMNS = ("person", *FIELDS)
PIECE = 1 << 16
SINCE_VERSION_4: dict[str, Any] = {"helped_reps": 0, "rest_s": None, "set_up": "", "in_parts": ""}
"""Columns that files of earlier releases have not got: their sets are written out anew from the events."""


def write_sets(run: Run, rows_at_once: int) -> Iterator[bytes]:
    """What was done in a run, as it was written out for the weeks."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(COLUMNS)
    rows = run.done_sets.order_by("pk").values_list("person__key", *FIELDS)
    for row in rows.iterator(chunk_size=rows_at_once):
        writer.writerow([_cell(value) for value in row])
        if out.tell() > PIECE:
            yield out.getvalue().encode()
            out.seek(0)
            out.truncate()
    yield out.getvalue().encode()


def _cell(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    return guarded(value) if isinstance(value, str) else str(value)


def read_sets(reader: StudioReader, path: str) -> Iterator[tuple[str, dict[str, Any]]]:
    """Each set with the id of its person. Raises FaultyInput, at its line, for what is no such table."""
    rows = _rows(reader, path)
    head = next(rows, (0, []))[1]
    if head not in (list(COLUMNS), list(COLUMNS[: -len(SINCE_VERSION_4)])):
        raise faulty_studio("has other columns", ", ".join(COLUMNS), path)
    for number, cells in rows:
        place = f"{path}, line {number}"
        if len(cells) != len(head):
            raise faulty_studio("has too many cells, or too few", str(len(head)), place)
        try:
            told = {name: READ[name](cell) for name, cell in zip(head[1:], cells[1:], strict=True)}
            values = {**SINCE_VERSION_4, **told}
        except (ValueError, KeyError) as error:
            raise _unread(error, place) from error
        yield cells[0], values


def _rows(reader: StudioReader, path: str) -> Iterator[tuple[int, list[str]]]:
    rows = csv.reader(_text_lines(reader, path))
    number = 0
    while True:
        number += 1
        try:
            cells = next(rows)
        except StopIteration:
            return
        except csv.Error as error:
            raise _unread(error, f"{path}, line {number}") from error
        yield number, cells


def _unread(error: Exception, place: str) -> FaultyInput:
    return faulty_studio(f"cannot be read: {error}"[:200], "the file as it was made", place)


def _text_lines(reader: StudioReader, path: str) -> Iterator[str]:
    for number, line in reader.lines(path):
        try:
            yield line.decode() + "\n"
        except UnicodeDecodeError as error:
            raise faulty_studio("is no UTF-8 text", "the file as it was made", f"{path}, line {number}") from error


def _maybe(read: Callable[[str], Any]) -> Callable[[str], Any]:
    return lambda cell: None if cell == "" else read(cell)


def _finite(cell: str) -> float:
    number = float(cell)
    if number - number != 0:
        raise ValueError(f"{cell!r} is no number")
    return number


def _mark(cell: str) -> bool:
    return {"yes": True, "no": False}[cell]


READ: dict[str, Callable[[str], Any]] = {
    "on": date.fromisoformat,
    **dict.fromkeys(("exercise", "block", "part", "side", "unit", "ended", "set_up", "in_parts"), unguarded),
    **dict.fromkeys(("number", "sets", "helped_reps"), int),
    **dict.fromkeys(("reps", "low", "high", "reps_left"), _maybe(int)),
    **dict.fromkeys(("load_kg", "seconds", "planned_kg", "volume_kg", "rest_s"), _maybe(_finite)),
    "tension_s": _finite,
    **dict.fromkeys(("pauses", "helped", "poor", "as_planned"), _mark),
}
"""How each column is read."""
