"""What stands in each column of each table: the data dictionary."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from typing import Any, Literal, get_args

from oaken.basis.data_files import shipped_json

Kind = Literal["text", "number", "whole", "yes_no", "date", "moment"]


@dataclass(frozen=True, slots=True)
class Column:
    """A column: its name with the unit in it, what kind of value it holds, the unit (empty: none) and what it means."""

    name: str
    kind: Kind
    unit: str
    meaning: str


@dataclass(frozen=True, slots=True)
class Table:
    """A table: what one row of it is, and its columns in order."""

    id: str
    row: str
    columns: tuple[Column, ...]

    @property
    def head(self) -> list[str]:
        """The names of the columns."""
        return [column.name for column in self.columns]


def _told() -> Any:
    return shipped_json("oaken.exports.tables", "columns.json")


@cache
def tables() -> dict[str, Table]:
    """Every table, by id. Raises ValueError where the dictionary contradicts itself."""
    told = _told()["tables"]
    found = {
        item["id"]: Table(item["id"], item["row"], tuple(Column(*each) for each in item["columns"])) for item in told
    }
    for item in found.values():
        if len(set(item.head)) < len(item.head) or any(each.kind not in get_args(Kind) for each in item.columns):
            raise ValueError(f"the columns of {item.id!r} contradict themselves")
    return found
