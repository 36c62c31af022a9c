"""The small documents that name a change of a plan: cautions carry them as the safer choice that can be applied."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator


class _Change(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class SwapExercise(_Change):
    """Another exercise in a slot; what it cannot take (a load, metres) is dropped."""

    do: Literal["swap_exercise"] = "swap_exercise"
    slot: str
    exercise: str


class MoveSlot(_Change):
    """A slot to another place: first or last of its block, or behind another slot. A group moves as a whole."""

    do: Literal["move_slot"] = "move_slot"
    slot: str
    to: Literal["first", "last", "behind"]
    behind: str = ""


class SetLoad(_Change):
    """A lighter or heavier load for all sets of a slot, as share of best."""

    do: Literal["set_load"] = "set_load"
    slot: str
    share_of_best: Annotated[float, Field(gt=0, le=1.2)]


class SetRest(_Change):
    """At least these seconds of rest after every set of a slot."""

    do: Literal["set_rest"] = "set_rest"
    slot: str
    rest_s: Annotated[int, Field(ge=0, le=1800)]


class ShortenHolds(_Change):
    """No hold of a slot longer than these seconds."""

    do: Literal["shorten_holds"] = "shorten_holds"
    slot: str
    seconds: Annotated[int, Field(ge=1, le=3600)]


class DropsOnLastOnly(_Change):
    """Drop sets stay only on the last set of the last slot that has any."""

    do: Literal["drops_on_last_only"] = "drops_on_last_only"


class AddBlock(_Change):
    """A warm-up put first or a cool-down put last."""

    do: Literal["add_block"] = "add_block"
    template: Literal["warm_up", "cool_down"]


class SetChange(_Change):
    """Another change interval of a block of stations."""

    do: Literal["set_change"] = "set_change"
    block: str
    change_s: Annotated[int, Field(ge=0, le=1800)]


class MakeRotation(_Change):
    """A better order of everybody's visits in a block of sets."""

    do: Literal["make_rotation"] = "make_rotation"
    block: str


class DoInstead(_Change):
    """Another exercise for some people wherever this one stands."""

    do: Literal["do_instead"] = "do_instead"
    exercise: str
    other: str
    people: Annotated[tuple[str, ...], Field(min_length=1, max_length=60)]


class MilderForHeat(_Change):
    """A milder class for a warm room: half as much rest again, drop sets on the last one only, water after blocks."""

    do: Literal["milder_for_heat"] = "milder_for_heat"


class SetRounds(_Change):
    """So many rounds of a block of stations, or so many sets at most of everything in a block of sets."""

    do: Literal["set_rounds"] = "set_rounds"
    block: str
    rounds: Annotated[int, Field(ge=1, le=20)]


class LeaveOut(_Change):
    """A block is left out; the last one of a class stays."""

    do: Literal["leave_out"] = "leave_out"
    block: str


class ShorterRests(_Change):
    """Rests between sets and changes between stations shorter by this factor, but never below what they need."""

    do: Literal["shorter_rests"] = "shorter_rests"
    factor: Annotated[float, Field(ge=0.3, lt=1)]


class SetScheme(_Change):
    """Another scheme for work in blocks of sets: so many working sets, repetitions (a window with `reps_to`), share of
    best, and rest; what is not given stays. Of the named slots, or of every one that counts repetitions and takes a
    load; lighter sets that lead up stay, and so do lists in which no set is like another (8/6/4/2)."""

    do: Literal["set_scheme"] = "set_scheme"
    slots: Annotated[tuple[str, ...], Field(max_length=60)] = ()
    sets: Annotated[int, Field(ge=1, le=12)] | None = None
    reps: Annotated[int, Field(ge=1, le=60)] | None = None
    reps_to: Annotated[int, Field(ge=2, le=60)] | None = None
    share_of_best: Annotated[float, Field(gt=0, le=1.2)] | None = None
    rest_s: Annotated[int, Field(ge=0, le=600)] | None = None

    @model_validator(mode="after")
    def a_window_has_a_lower_end(self) -> SetScheme:
        if self.reps_to is not None and (self.reps is None or self.reps_to <= self.reps):
            raise ValueError("reps_to is the upper end of a window, above reps")
        if (self.sets, self.reps, self.share_of_best, self.rest_s) == (None, None, None, None):
            raise ValueError("a scheme says at least one of sets, reps, share_of_best and rest_s")
        return self


class ScaleRests(_Change):
    """All rests between sets and rounds longer or shorter by this factor, never below what they need."""

    do: Literal["scale_rests"] = "scale_rests"
    factor: Annotated[float, Field(ge=0.3, le=3)]


class InTurn(_Change):
    """Another exercise wherever this one stands, for everybody: exercises in turn over the weeks."""

    do: Literal["in_turn"] = "in_turn"
    exercise: str
    other: str


class LighterWeek(_Change):
    """A lighter week: fewer sets of everything that counts repetitions, and lighter loads where a share of best,
    kilograms or repetitions in reserve are said; a round fewer of stations."""

    do: Literal["lighter_week"] = "lighter_week"
    sets_fewer: Annotated[int, Field(ge=0, le=4)] = 1
    load_factor: Annotated[float, Field(ge=0.5, le=1)] = 0.9


class SetTest(_Change):
    """A test: of every loaded lift of both legs that counts repetitions the last working set goes on until no clean
    one is left, after `sets_before` working sets; bests are estimated from it."""

    do: Literal["test_sets"] = "test_sets"
    sets_before: Annotated[int, Field(ge=0, le=5)] = 1


PlainChange = (
    SwapExercise
    | MoveSlot
    | SetLoad
    | SetRest
    | ShortenHolds
    | DropsOnLastOnly
    | AddBlock
    | SetChange
    | DoInstead
    | MilderForHeat
    | SetRounds
    | LeaveOut
    | ShorterRests
    | MakeRotation
    | SetScheme
    | ScaleRests
    | InTurn
    | LighterWeek
    | SetTest
)


class Later(_Change):
    """A change of what comes behind a block only: that block and those before it stay as they are."""

    do: Literal["later"] = "later"
    block: str
    change: Annotated[PlainChange, Field(discriminator="do")]


Change = Annotated[PlainChange | Later, Field(discriminator="do")]
"""One change of a plan."""
