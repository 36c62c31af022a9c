"""What changes an exercise without making another one of it: feet and heels, and what is worn or laid under."""

from __future__ import annotations

from functools import cache
from typing import Annotated, Literal, get_args

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter, field_validator

from oaken.basis.data_files import shipped_json

Stance = Literal[
    "narrow",
    "wide",
    "toes in",
    "toes out",
    "toes ahead",
    "toes back",
    "feet high",
    "feet low",
    "heels up",
    "staggered",
    "one leg",
]

Aid = Literal["belt", "straps", "wedge", "pad"]
"""A belt around the waist, straps around the wrists, a wedge under the heels, a pad under a knee or on a bar."""

HeelsCm = Annotated[float, Field(gt=0, le=10, allow_inf_nan=False)]


class SetUp(BaseModel):
    """How somebody was set up for a set: positions of feet and heels together, the height of what the heels stand on
    (cm), and aids. Sets are like for like only where their set-up is the same."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    stance: Annotated[tuple[Stance, ...], Field(max_length=4)] = ()
    heels_cm: HeelsCm | None = None
    aids: Annotated[tuple[Aid, ...], Field(max_length=4)] = ()

    @field_validator("stance", "aids")
    @classmethod
    def each_once_and_in_one_order(cls, said: tuple[str, ...]) -> tuple[str, ...]:
        if len(set(said)) < len(said):
            raise ValueError("is said once")
        return tuple(sorted(said))

    def __str__(self) -> str:
        """In words: `feet high, heels 2.5 cm, belt`; empty where it is the exercise's own."""
        heels = () if self.heels_cm is None else (f"heels {self.heels_cm:g} cm",)
        return ", ".join([*self.stance, *heels, *self.aids])


@cache
def stance_claims() -> dict[Stance, str]:
    """What positions of the feet are said to shift the work to (common practice, no source: measured shifts are small
    and disagree). It is shown as a claim and counted nowhere."""
    told = shipped_json("oaken.domain.prescription", "stance_claims.json")
    return TypeAdapter(dict[Stance, str]).validate_python(told)


def read_set_up(words: str) -> SetUp:
    """A set-up from its words, parted by commas. Raises ValueError, which names what is not understood."""
    stance, aids, heels = [], [], None
    for word in filter(None, (item.strip().lower() for item in words.split(","))):
        if word in get_args(Stance):
            stance.append(word)
        elif word in get_args(Aid):
            aids.append(word)
        elif word.startswith("heels ") and word.endswith("cm"):
            heels = float(word.removeprefix("heels ").removesuffix("cm"))
        else:
            raise ValueError(f"{word!r} is no set-up")
    return SetUp.model_validate({"stance": stance, "aids": aids, "heels_cm": heels})
