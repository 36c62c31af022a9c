"""How large things may be: every bound stands in `limits.json`, is checked before work is done, and told when met."""

from __future__ import annotations

from functools import cache
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from oaken.basis.data_files import shipped_json


class Limit(BaseModel):
    """The most there may be of something; `example` says how large the usual is."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    id: str
    most: Annotated[int, Field(gt=0)]
    unit: str
    of: str
    example: str = ""


@cache
def limits() -> dict[str, Limit]:
    """Every bound, by id."""
    rows = shipped_json("oaken.basis", "limits.json")["limits"]
    found = {row["id"]: Limit.model_validate(row) for row in rows}
    if len(found) != len(rows):
        raise ValueError("an id stands twice in limits.json")
    return found


def most(name: str) -> int:
    """The bound with this id. Raises KeyError where there is none."""
    return limits()[name].most


def in_words(name: str) -> str:
    """What would be right: 'at most 8,000 bouts'."""
    limit = limits()[name]
    return f"at most {limit.most:,} {limit.unit}"
