"""Tables for spreadsheets: what each column means (columns.json), how they are written, and two that are read back."""

from oaken.exports.tables.dictionary import Column, Table, tables
from oaken.exports.tables.reading import LiftCell, SettingCell, TableRow, read_lifts, read_settings
from oaken.exports.tables.writing import table_lines

__all__ = [
    "Column",
    "LiftCell",
    "SettingCell",
    "Table",
    "TableRow",
    "read_lifts",
    "read_settings",
    "table_lines",
    "tables",
]
