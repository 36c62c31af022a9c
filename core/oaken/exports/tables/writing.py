"""Writes a table as CSV: UTF-8, commas, decimal points, ISO dates; no cell that a spreadsheet takes for a formula."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Iterator, Sequence
from datetime import UTC, date, datetime

from oaken.basis.text_files import guarded
from oaken.exports.tables.dictionary import Column, tables

BYTE_ORDER_MARK = "\ufeff"
"""By it spreadsheets know that a file is UTF-8."""

PIECE = 1 << 16


def table_lines(table: str, rows: Iterable[Sequence[object]]) -> Iterator[bytes]:
    """The table in pieces, whatever its length; each row has a value for each column, None for none.

    Raises ValueError for a row of another width, or a value that is not of its column's kind.
    """
    columns = tables()[table].columns
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    out.write(BYTE_ORDER_MARK)
    writer.writerow([column.name for column in columns])
    for row in rows:
        writer.writerow([_cell(column, value) for column, value in zip(columns, row, strict=True)])
        if out.tell() > PIECE:
            yield out.getvalue().encode()
            out.seek(0)
            out.truncate()
    yield out.getvalue().encode()


def _cell(column: Column, value: object) -> str:
    match column.kind, value:
        case _, None:
            return ""
        case "text", str():
            return guarded(value)
        case "whole", int():
            return str(int(value))
        case "number", int() | float():
            return f"{round(float(value), 3):g}" if abs(float(value)) < 1e6 else f"{float(value):.0f}"
        case "yes_no", bool() | int():
            return "yes" if value else "no"
        case "moment", datetime():
            return value.astimezone(UTC).strftime("%Y-%m-%dT%H:%M:%SZ")
        case "date", date():
            return value.isoformat()[:10]
    raise ValueError(f"{column.name}: {value!r} is no {column.kind}")
