"""Questions on which practitioners disagree: the schools, their reasons, and the default."""

from __future__ import annotations

from pydantic import model_validator

from oaken.domain.catalogue.entries import Entry, Id


class School(Entry):
    """One answer to a question, with the reason its followers give, and what it changes in the product."""

    id: Id
    name: str
    reason: str


class Question(Entry):
    """A question practitioners answer differently. `why_default` justifies the default; `effect` says what it does."""

    id: Id
    name: str
    schools: list[School]
    default: str
    why_default: str
    effect: str

    @model_validator(mode="after")
    def default_is_a_school(self) -> Question:
        if self.default not in {school.id for school in self.schools}:
            raise ValueError(f"{self.default!r} is not a school of {self.id!r}")
        return self
