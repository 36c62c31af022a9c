"""The house's own rules: what it wants to be seen before a class, and when."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, model_validator

from oaken.domain.catalogue import Condition
from oaken.domain.catalogue.entries import Tag
from oaken.domain.people import Closed, Level


class HouseRule(Closed):
    """A rule of the studio. It holds for a class in which everything it names comes together; one that names nothing
    holds for every class.

    `exercise`, `pattern` and `tag` speak of what is done, `careful` and `level` of who does it, `wbgt_from_c` of the
    air (simplified wet-bulb globe temperature in °C).
    """

    id: Annotated[str, Field(min_length=1, max_length=60, pattern=r"^[A-Za-z0-9._-]+$")]
    say: Annotated[str, Field(min_length=3, max_length=300)]
    safer: Annotated[str, Field(max_length=300)] = ""
    exercise: Annotated[str, Field(max_length=60)] | None = None
    pattern: Annotated[str, Field(max_length=60)] | None = None
    tag: Tag | None = None
    careful: Condition | None = None
    level: Level | None = None
    wbgt_from_c: Annotated[float, Field(ge=0, le=50)] | None = None

    @model_validator(mode="after")
    def one_way_to_name_what_is_done(self) -> HouseRule:
        if sum(value is not None for value in (self.exercise, self.pattern, self.tag)) > 1:
            raise ValueError("a rule names an exercise, or a movement pattern, or a tag, not several of them")
        return self
