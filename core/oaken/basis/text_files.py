"""Text and tables as they come from elsewhere: encodings, signs that part columns, cells that are formulas."""

from __future__ import annotations

import csv
import io
from typing import Any

from oaken.basis.faults import FaultyInput, faults_in

BYTE_ORDER_MARKS = ((b"\xef\xbb\xbf", "utf-8-sig"), (b"\xff\xfe", "utf-16"), (b"\xfe\xff", "utf-16"))

GUARDED = "=+-@\t\r\n '\uff1d\uff0b\uff0d\uff20"
"""A cell that begins with one of these (the last four are the full-width forms of the first) would be taken for a
formula by a spreadsheet, also behind white space, or for a guarded cell here."""


CLEAR = "-"
"""A cell that takes away what was written down; an empty one leaves it."""


class Unreadable(ValueError):
    """Bytes that are no text; `right` is what would be."""

    def __init__(self, message: str) -> None:
        super().__init__(message)
        self.right = "text in UTF-8"


def decoded(content: bytes) -> str:
    """Text in UTF-8, or in UTF-16 where its first bytes say so. Raises Unreadable for anything else."""
    encoding = next((encoding for mark, encoding in BYTE_ORDER_MARKS if content.startswith(mark)), "utf-8")
    try:
        text = content.decode(encoding)
    except UnicodeDecodeError as error:
        raise Unreadable(f"is no {encoding.upper()} text (byte {error.start})") from error
    if "\x00" in text:
        raise Unreadable("has zero bytes in it: it is no text")
    return text


def table_reader(text: str) -> Any:
    """A reader of the rows of a table whose columns are parted by the sign that its first line has most of."""
    first = text.split("\n", 1)[0]
    sign = max(",;\t", key=first.count)
    return csv.reader(io.StringIO(text, newline=""), delimiter=sign)


def table_rows(content: bytes, most_bytes: int, most_rows: int, of: str) -> list[tuple[int, list[str]]]:
    """The lines of a table with their numbers, the names of its columns first; empty lines are passed over.

    `of` says what the rows are (“people”). Raises FaultyInput where it is no text or no table, empty, or too large.
    """
    right = f"a line of names, then a line for each of the {of}"
    if len(content) > most_bytes:
        raise _faulty(f"is {len(content) / 1e6:.1f} MB large", f"at most {most_bytes / 1e6:.0f} MB")
    rows = []
    try:
        reader = table_reader(decoded(content))
        for cells in reader:
            if any(cell.strip() for cell in cells):
                rows.append((reader.line_num, cells))
            if len(rows) > most_rows + 1:
                raise _faulty(f"has too many rows: more than {most_rows} {of}", f"at most {most_rows:,} rows")
    except Unreadable as error:
        raise _faulty(str(error), error.right) from error
    except csv.Error as error:
        raise _faulty(f"is no CSV: {error}", right) from error
    if not rows:
        raise _faulty("is empty", right)
    return rows


def _faulty(message: str, right: str) -> FaultyInput:
    return FaultyInput([faults_in("the file")("file", message, right)])


def decimal(cell: str) -> float:
    """A number with a decimal point or comma. Raises ValueError, in words, for anything else and beyond any measure."""
    try:
        number = float(cell.replace(",", "."))
    except ValueError:
        raise ValueError(f"{cell[:40]!r} is no number") from None
    if not -1e6 < number < 1e6:
        raise ValueError(f"{cell[:40]!r} is no number of this trade")
    return number


def guarded(cell: str) -> str:
    """A cell that no spreadsheet takes for a formula."""
    return f"'{cell}" if cell[:1] and cell[0] in GUARDED and cell != CLEAR else cell


def unguarded(cell: str) -> str:
    """What was guarded."""
    return cell[1:] if cell[:1] == "'" and cell[1:2] and cell[1] in GUARDED else cell
