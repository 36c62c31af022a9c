"""What was done in one go: a whole set, or one part of it where it had several (drops, clusters, rest-pause)."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Any, Literal, cast

from pydantic import Field, GetJsonSchemaHandler, SerializerFunctionWrapHandler, model_serializer, model_validator
from pydantic.json_schema import JsonSchemaValue
from pydantic_core import CoreSchema

from oaken.domain.people import Closed

Kilograms = Annotated[float, Field(ge=0, le=1000, allow_inf_nan=False)]
Count = Annotated[int, Field(ge=0, le=1000)]
MOST_PARTS = 20


class Performed(Closed):
    """Load (kg), repetitions, seconds of work, how many of the repetitions were helped with (the last ones; `helped`
    alone where nobody counted them), whether it ended in failure, repetitions left in reserve, how far the joints went,
    the form, and the rest that was really taken before it (s). None: nobody said."""

    load_kg: Kilograms | None = None
    reps: Count | None = None
    seconds: Annotated[float, Field(ge=0, le=7200, allow_inf_nan=False)] | None = None
    to_failure: bool = False
    helped: bool = False
    helped_reps: Annotated[int, Field(ge=1, le=1000)] | None = None
    reps_left: Annotated[int, Field(ge=0, le=20)] | None = None
    range_of_motion: Literal["full", "partial"] | None = None
    form: Literal["good", "poor"] | None = None
    rest_s: Annotated[float, Field(ge=0, le=7200, allow_inf_nan=False)] | None = None

    @model_validator(mode="after")
    def no_more_helped_than_done(self) -> Performed:
        if self.helped_reps is not None and self.reps is not None and self.helped_reps > self.reps:
            raise ValueError("helped_reps are some of the repetitions: no more than reps")
        return self


class SetPart(Performed):
    """One part of a set. A count alone stands for a part of which nothing else is said: older devices sent counts."""

    @model_validator(mode="before")
    @classmethod
    def of_a_count(cls, said: Any) -> Any:
        """A bare count is the repetitions of a part."""
        return {"reps": said} if isinstance(said, int) and not isinstance(said, bool) else said

    @model_serializer(mode="wrap")
    def as_short_as_it_is(self, write: SerializerFunctionWrapHandler) -> Any:
        """What was said, or the bare count: a part is written as it came, whichever device sent it."""
        said = {name: value for name, value in write(self).items() if value is not None and value is not False}
        return self.reps if set(said) == {"reps"} else said

    @classmethod
    def __get_pydantic_json_schema__(cls, schema: CoreSchema, handler: GetJsonSchemaHandler) -> JsonSchemaValue:
        return {"anyOf": [{"type": "integer", "minimum": 0, "maximum": 1000}, handler(_as_read(schema))]}


def _as_read(schema: CoreSchema) -> CoreSchema:
    """The schema without how it is written: a part is written as it can be read."""
    plain = {name: value for name, value in schema.items() if name != "serialization"}
    inner = schema.get("schema")
    if inner is not None:
        plain["schema"] = _as_read(cast(CoreSchema, inner))
    return cast(CoreSchema, plain)


def performed_words(part: Performed) -> list[str]:
    """What is said of it besides load and count, in the words of the class log."""
    helped = f"{part.helped_reps} helped" if part.helped_reps is not None else "helped" if part.helped else ""
    reserve = part.reps_left
    words = [
        f"{part.seconds:g} s" if part.seconds is not None else "",
        helped,
        "to failure" if part.to_failure else "",
        ("none in reserve" if reserve == 0 else f"{reserve} in reserve") if reserve is not None else "",
        f"{part.range_of_motion} range" if part.range_of_motion is not None else "",
        f"form {part.form}" if part.form is not None else "",
        f"after {part.rest_s:g} s" if part.rest_s is not None else "",
    ]
    return [word for word in words if word]


def parts_of(whole: Performed, parts: Sequence[Performed]) -> list[Performed]:
    """A set in its parts, each standing by itself: what was said of the set at its beginning (load, rest) belongs to
    the first, how it ended to the last, and help too where no part says it had some; range and form to every part that
    says none. A set in one go is its only part."""
    if not parts:
        return [whole]
    at_the_end = ["to_failure", "reps_left"]
    if not any(part.helped for part in parts):
        at_the_end += ["helped", "helped_reps"]
    found: list[Performed] = []
    for at, part in enumerate(parts):
        said = {name: getattr(part, name) for name in Performed.model_fields}
        first, last = at == 0, at == len(parts) - 1
        whose = [*(("load_kg", "rest_s") if first else ()), *(at_the_end if last else ())]
        for name in (*whose, "range_of_motion", "form"):
            if said[name] in (None, False):
                said[name] = getattr(whole, name)
        found.append(Performed.model_construct(**said))
    return found


def parts_as_planned(reps: Sequence[int], kg: Sequence[float]) -> tuple[SetPart, ...]:
    """The parts of a set that was done as its sheet has it; none where it is done in one go. A part says its load where
    that is another one than before."""
    if len(reps) < 2:
        return ()
    known = len(kg) == len(reps)
    changed = [at > 0 and known and kg[at] != kg[at - 1] for at in range(len(reps))]
    return tuple(SetPart(reps=count, load_kg=kg[at] if changed[at] else None) for at, count in enumerate(reps))
