"""The one representation of a set: a list of segments.

Time, volume, tension, oxygen demand and load are read from segments, so a new scheme needs nothing but its writing.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal, get_args

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, WithJsonSchema, field_validator, model_validator

from oaken.domain.prescription.loads import Load, LoadChange
from oaken.domain.prescription.machine import MachineSetting
from oaken.domain.prescription.set_up import Aid, HeelsCm, SetUp, Stance
from oaken.domain.prescription.tempo import Tempo

Sides = Literal["both", "each_side", "in_all"]
_STANCES = {
    "anyOf": [
        {"type": "array", "items": {"type": "string", "enum": list(get_args(Stance))}, "maxItems": 4},
        {"type": "string", "enum": list(get_args(Stance))},
        {"type": "null"},
    ]
}
"""Older documents have one position or none; what is written has a list."""

Reps = Annotated[int, Field(ge=1, le=200)]
SegmentSeconds = Annotated[int, Field(ge=1, le=3600)]
Metres = Annotated[int, Field(ge=1, le=10_000)]
PauseSeconds = Annotated[int, Field(ge=0, le=600)]
RestSeconds = Annotated[int, Field(ge=0, le=1800)]


class Manner(BaseModel):
    """How an exercise is done, however long: tempo, pause on each repetition, range, stance, load, setting.

    `held_s` is a pause at the end of every repetition, on top of the tempo. `partial` repetitions go half the way,
    `alternating` ones half and all of it in turn. `stance` are the positions of feet and heels, together, `heels_cm` is
    the height of what the heels stand on, `aids` what is worn or laid under.
    """

    model_config = ConfigDict(frozen=True, extra="forbid")

    tempo: Tempo | None = None
    held_s: Annotated[float, Field(ge=0, le=30), AfterValidator(lambda value: round(value, 2))] = 0
    partial: bool = False
    alternating: bool = False
    stance: Annotated[tuple[Stance, ...], Field(max_length=4), WithJsonSchema(_STANCES)] = ()
    heels_cm: HeelsCm | None = None
    aids: Annotated[tuple[Aid, ...], Field(max_length=4)] = ()
    load: Load | None = None
    setting: MachineSetting | None = None

    @field_validator("stance", mode="before")
    @classmethod
    def one_or_more(cls, said: Any) -> Any:
        """Older documents have one position, or none."""
        if said is None:
            return ()
        return (said,) if isinstance(said, str) else said

    @field_validator("stance", "aids")
    @classmethod
    def each_once(cls, said: tuple[str, ...]) -> tuple[str, ...]:
        if len(set(said)) < len(said):
            raise ValueError("a position, or an aid, is said once")
        return said

    @property
    def set_up(self) -> SetUp:
        """What sets it apart from the same exercise done otherwise."""
        return SetUp(stance=self.stance, heels_cm=self.heels_cm, aids=self.aids)

    @model_validator(mode="after")
    def half_the_way_or_in_turn(self) -> Manner:
        if self.partial and self.alternating:
            raise ValueError("repetitions are partial, or partial and full in turn, not both")
        return self


class Until(BaseModel):
    """What ends a stretch or a rest before its longest time does: a heart rate that is reached from where it is, or
    breath enough to talk."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    bpm: Annotated[int, Field(ge=60, le=200)] | None = None
    talking: bool = False

    @model_validator(mode="after")
    def one_sign(self) -> Until:
        if (self.bpm is None) == (not self.talking):
            raise ValueError("until a heart rate is reached (bpm), or until somebody can talk (talking)")
        return self


class Segment(Manner):
    """One uninterrupted stretch of work within a set, and the pause after it.

    Exactly one of `reps`, `seconds` and `metres` is given. `reps_to` and `seconds_to` are the upper ends of a range
    (15–20, 4–6 min); `until` is what ends the seconds sooner. With `to_failure` the count is what is expected. `hold`
    marks seconds without movement. `helped` repetitions are done with somebody's hands; `if_able` ones only while
    form holds. `sides` is never left to guess:
    "both" limbs work together, "each_side" means the count is done once a side, "in_all" means the two sides share
    it; None takes the exercise's own way. `change` is how the load differs from the one before.
    """

    reps: Reps | None = None
    reps_to: Reps | None = None
    seconds: SegmentSeconds | None = None
    seconds_to: SegmentSeconds | None = None
    until: Until | None = None
    metres: Metres | None = None
    to_failure: bool = False
    hold: bool = False
    helped: bool = False
    if_able: bool = False
    sides: Sides | None = None
    change: LoadChange | None = None
    pause_after_s: PauseSeconds = 0

    @model_validator(mode="after")
    def one_measure(self) -> Segment:
        if sum(value is not None for value in (self.reps, self.seconds, self.metres)) != 1:
            raise ValueError("a segment is one of reps, seconds and metres, exactly one of the three")
        if self.reps_to is not None and (self.reps is None or self.reps_to <= self.reps):
            raise ValueError("reps_to is the upper end of a range of reps, above reps")
        if self.hold and self.seconds is None:
            raise ValueError("a hold is given in seconds")
        if self.seconds_to is not None and (self.seconds is None or self.seconds_to <= self.seconds):
            raise ValueError("seconds_to is the upper end of a range of seconds, above seconds")
        if self.until is not None and self.seconds is None:
            raise ValueError("what ends at a sign says how many seconds are to be expected")
        if self.change is not None and self.load is not None:
            raise ValueError("a segment has a load of its own or a change from the one before, not both")
        return self

    @property
    def window(self) -> tuple[int, int] | None:
        """The repetitions as they are written down, compared and progressed: low and high end, those of one side where
        the sides share the count (16 in all are 8 a side). None where the segment goes by time or distance."""
        if self.reps is None:
            return None
        low, high = self.reps, self.reps_to or self.reps
        return (max(1, low // 2), max(1, high // 2)) if self.sides == "in_all" else (low, high)


class SetRun(BaseModel):
    """`times` equal sets, each with the rest that follows it.

    `rest_to_s` is the upper end of a range of rests, `rest_until` the sign that ends it sooner. `rest_doing` is the
    exercise of an active rest. `if_able` sets are done only while form holds: the shortest duration leaves them out.
    With a `helper` somebody else stands by and cannot work at that time: whoever helps in turn rests at least as long
    as the set they help with.
    """

    model_config = ConfigDict(frozen=True, extra="forbid")

    times: Annotated[int, Field(ge=1, le=30)] = 1
    segments: Annotated[list[Segment], Field(min_length=1, max_length=12)]
    rest_s: RestSeconds = 0
    rest_to_s: RestSeconds | None = None
    rest_until: Until | None = None
    rest_doing: Annotated[str, Field(max_length=60)] | None = None
    if_able: bool = False
    helper: bool = False

    @model_validator(mode="after")
    def the_set_ends_in_its_rest(self) -> SetRun:
        if self.segments[-1].pause_after_s:
            raise ValueError("the pause after the last segment of a set is the set's rest_s")
        if self.rest_doing is not None and self.rest_s == 0:
            raise ValueError("an active rest has seconds: rest_s")
        if self.rest_to_s is not None and self.rest_to_s <= self.rest_s:
            raise ValueError("rest_to_s is the upper end of a range of rests, above rest_s")
        if self.rest_until is not None and self.rest_s == 0:
            raise ValueError("a rest that ends at a sign says how many seconds are to be expected: rest_s")
        if self.segments[0].if_able:
            raise ValueError("the first part of a set is done by everybody; the set as a whole can be if_able")
        return self

    def unrested(self) -> SetRun:
        """The same sets with nothing said of the rest behind them."""
        return self.model_copy(update={"rest_s": 0, "rest_to_s": None, "rest_until": None, "rest_doing": None})

    def once(self) -> SetRun:
        """One of these sets."""
        return self if self.times == 1 else self.model_copy(update={"times": 1})


def merged(runs: list[SetRun]) -> list[SetRun]:
    """The same sets with equal neighbours counted together: the one way to write them down."""
    found: list[SetRun] = []
    for run in runs:
        if found and found[-1].once() == run.once() and found[-1].times + run.times <= 30:
            found[-1] = run.model_copy(update={"times": found[-1].times + run.times})
        else:
            found.append(run)
    return found


def each_set(runs: list[SetRun]) -> list[SetRun]:
    """Every set by itself, in order."""
    return [run.once() for run in runs for _ in range(run.times)]
