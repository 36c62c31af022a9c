"""The one way in which documents are kept: rooms, people, classes and house rules.

A document is read with its revision. Whoever saves it names the revision it was made from; when there is a newer one,
nothing is kept, and the refusal carries the newer one. So nobody overwrites what they have not seen.
"""

from __future__ import annotations

from typing import Any, Generic, TypeVar

from django.db.models import Model, QuerySet
from pydantic import BaseModel

Out = TypeVar("Out")


class StaleSave(Exception):
    """Somebody saved a newer state of a document in the meantime. `latest` is that state as it is kept."""

    def __init__(self, what: str, latest: Any, revision: int) -> None:
        super().__init__(f"This {what} was saved elsewhere in the meantime (revision {revision}).")
        self.latest = latest


class Stale(BaseModel, Generic[Out]):
    """Nothing was saved: somebody saved a newer state in the meantime, and this is it."""

    message: str
    latest: Out


Row = TypeVar("Row", bound=Model)


def locked(rows: QuerySet[Row], what: str, based_on: int, **which: object) -> Row:
    """The row to change, which nobody else changes meanwhile; its revision is one higher already.

    Call it inside a transaction. Raises StaleSave, and changes nothing, when it is newer than `based_on`.
    """
    row: Any = rows.select_for_update().get(**which)
    if row.revision != based_on:
        raise StaleSave(what, row, row.revision)
    row.revision += 1
    kept: Row = row
    return kept
