"""The small documents that name a change of a plan and carry it out: the safer choices of cautions, the changes of a
course's weeks, and what is adjusted in a running class are the same ones."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from oaken.basis.faults import FaultyInput, faults_in
from oaken.domain.catalogue import Catalogue, Exercise
from oaken.domain.prescription import Load
from oaken.plan.blocks import Block, CircuitBlock, Rotation, SetsBlock, with_rest
from oaken.plan.changes.parts import with_load, with_short_holds
from oaken.plan.changes.plans import (
    SetsAndReps,
    drops_on_last_only,
    in_turn,
    lighter_week,
    milder,
    move,
    on_blocks,
    on_slots,
    scaled_rests,
    swap,
    with_instead,
    with_rounds,
    with_scheme,
    with_template,
    with_tests,
)
from oaken.plan.document import ClassPlan


def missing(name: str, message: str) -> FaultyInput:
    """The fault of a change that speaks of what is not there."""
    return FaultyInput([faults_in("the change", "change.")(name, message, "reload the class")])


def known(catalogue: Catalogue, exercise: str) -> Exercise:
    """The exercise of this id. Raises FaultyInput where the catalogue has none."""
    found = catalogue.exercises.get(exercise)
    if found is None:
        raise missing("exercise", f"{exercise!r} is not in the catalogue")
    return found


class _Change(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class SwapExercise(_Change):
    """Another exercise in a slot; what it cannot take (a load, metres) is dropped."""

    do: Literal["swap_exercise"] = "swap_exercise"
    slot: str
    exercise: str

    def apply(self, plan: ClassPlan, catalogue: Catalogue) -> ClassPlan:
        """The changed plan."""
        return swap(plan, self.slot, known(catalogue, self.exercise))


class MoveSlot(_Change):
    """A slot to another place: first or last of its block, or behind another slot. A group moves as a whole."""

    do: Literal["move_slot"] = "move_slot"
    slot: str
    to: Literal["first", "last", "behind"]
    behind: str = ""

    def apply(self, plan: ClassPlan, catalogue: Catalogue) -> ClassPlan:
        """The changed plan."""
        return move(plan, self.slot, self.to, self.behind)


class SetLoad(_Change):
    """A lighter or heavier load for all sets of a slot, as share of best."""

    do: Literal["set_load"] = "set_load"
    slot: str
    share_of_best: Annotated[float, Field(gt=0, le=1.2)]

    def apply(self, plan: ClassPlan, catalogue: Catalogue) -> ClassPlan:
        """The changed plan."""
        load = Load(share_of_best=self.share_of_best)
        return on_slots(
            plan,
            lambda slot: with_load(slot, load) if slot.id == self.slot else slot,
            lambda item: item.model_copy(update={"load": load}) if item.id == self.slot else item,
        )


class SetRest(_Change):
    """At least these seconds of rest after every set of a slot."""

    do: Literal["set_rest"] = "set_rest"
    slot: str
    rest_s: Annotated[int, Field(ge=0, le=1800)]

    def apply(self, plan: ClassPlan, catalogue: Catalogue) -> ClassPlan:
        """The changed plan."""
        return on_slots(
            plan,
            lambda slot: with_rest(slot, lambda rest: max(rest, self.rest_s)) if slot.id == self.slot else slot,
        )


class ShortenHolds(_Change):
    """No hold of a slot longer than these seconds."""

    do: Literal["shorten_holds"] = "shorten_holds"
    slot: str
    seconds: Annotated[int, Field(ge=1, le=3600)]

    def apply(self, plan: ClassPlan, catalogue: Catalogue) -> ClassPlan:
        """The changed plan."""
        return on_slots(plan, lambda slot: with_short_holds(slot, self.seconds) if slot.id == self.slot else slot)


class DropsOnLastOnly(_Change):
    """Drop sets stay only on the last set of the last slot that has any."""

    do: Literal["drops_on_last_only"] = "drops_on_last_only"

    def apply(self, plan: ClassPlan, catalogue: Catalogue) -> ClassPlan:
        """The changed plan."""
        return drops_on_last_only(plan)


class AddBlock(_Change):
    """A warm-up put first or a cool-down put last."""

    do: Literal["add_block"] = "add_block"
    template: Literal["warm_up", "cool_down"]

    def apply(self, plan: ClassPlan, catalogue: Catalogue) -> ClassPlan:
        """The changed plan."""
        return plan.model_copy(update={"blocks": with_template(plan, self.template)})


class SetChange(_Change):
    """Another change interval of a block of stations."""

    do: Literal["set_change"] = "set_change"
    block: str
    change_s: Annotated[int, Field(ge=0, le=1800)]

    def apply(self, plan: ClassPlan, catalogue: Catalogue) -> ClassPlan:
        """The changed plan."""

        def changed(block: Block) -> Block:
            meant = block.id == self.block and isinstance(block, CircuitBlock)
            return block.model_copy(update={"change_s": self.change_s}) if meant else block

        return on_blocks(plan, changed)


class MakeRotation(_Change):
    """A better order of everybody's visits in a block of sets."""

    do: Literal["make_rotation"] = "make_rotation"
    block: str

    def apply(self, plan: ClassPlan, catalogue: Catalogue) -> ClassPlan:
        """It takes the room and the people: oaken.schedule.arrange.apply does it."""
        raise missing("block", "a rotation cannot be made from the plan alone")


class OrderVisits(_Change):
    """An order of everybody's visits in a block of sets, as it was found while the class ran."""

    do: Literal["order_visits"] = "order_visits"
    block: str
    rotation: Rotation

    def apply(self, plan: ClassPlan, catalogue: Catalogue) -> ClassPlan:
        """The changed plan."""

        def changed(block: Block) -> Block:
            meant = block.id == self.block and isinstance(block, SetsBlock)
            return block.model_copy(update={"rotation": self.rotation}) if meant else block

        return on_blocks(plan, changed)


class DoInstead(_Change):
    """Another exercise for some people wherever this one stands."""

    do: Literal["do_instead"] = "do_instead"
    exercise: str
    other: str
    people: Annotated[tuple[str, ...], Field(min_length=1, max_length=60)]

    def apply(self, plan: ClassPlan, catalogue: Catalogue) -> ClassPlan:
        """The changed plan."""
        known(catalogue, self.exercise)
        known(catalogue, self.other)
        if strangers := [person for person in self.people if person not in plan.people]:
            raise missing("people", f"{strangers[0]!r} is not in this class (any more)")
        return with_instead(plan, self.exercise, self.other, self.people)


class MilderForHeat(_Change):
    """A milder class for a warm room: half as much rest again, drop sets on the last one only, water after blocks."""

    do: Literal["milder_for_heat"] = "milder_for_heat"

    def apply(self, plan: ClassPlan, catalogue: Catalogue) -> ClassPlan:
        """The changed plan."""
        return milder(plan)


class SetRounds(_Change):
    """So many rounds of a block of stations, or so many sets at most of everything in a block of sets, or of one of its
    groups."""

    do: Literal["set_rounds"] = "set_rounds"
    block: str
    rounds: Annotated[int, Field(ge=1, le=20)]
    group: str | None = None

    def apply(self, plan: ClassPlan, catalogue: Catalogue) -> ClassPlan:
        """The changed plan."""
        return on_blocks(
            plan, lambda block: with_rounds(block, self.rounds, self.group) if block.id == self.block else block
        )


class LeaveOut(_Change):
    """A block is left out; the last one of a class stays."""

    do: Literal["leave_out"] = "leave_out"
    block: str

    def apply(self, plan: ClassPlan, catalogue: Catalogue) -> ClassPlan:
        """The changed plan."""
        return on_blocks(plan, lambda block: None if block.id == self.block else block)


class ShorterRests(_Change):
    """Rests between sets and changes between stations shorter by this factor, but never below what they need."""

    do: Literal["shorter_rests"] = "shorter_rests"
    factor: Annotated[float, Field(ge=0.3, lt=1)]

    def apply(self, plan: ClassPlan, catalogue: Catalogue) -> ClassPlan:
        """The changed plan."""
        return scaled_rests(plan, self.factor)


class SetScheme(SetsAndReps, _Change):
    """Another scheme for work in blocks of sets: of the named slots, or of every one that counts repetitions and takes
    a load; lighter sets that lead up stay, and so do lists in which no set is like another (8/6/4/2)."""

    do: Literal["set_scheme"] = "set_scheme"

    def apply(self, plan: ClassPlan, catalogue: Catalogue) -> ClassPlan:
        """The changed plan."""
        ids = {part.id for part in plan.parts()}
        if strangers := [slot for slot in self.slots if slot not in ids]:
            raise missing("slots", f"the plan has no slot {strangers[0]!r} (any more)")
        return with_scheme(plan, self, catalogue)


class ScaleRests(_Change):
    """All rests between sets and rounds longer or shorter by this factor, never below what they need."""

    do: Literal["scale_rests"] = "scale_rests"
    factor: Annotated[float, Field(ge=0.3, le=3)]

    def apply(self, plan: ClassPlan, catalogue: Catalogue) -> ClassPlan:
        """The changed plan."""
        return scaled_rests(plan, self.factor)


class InTurn(_Change):
    """Another exercise wherever this one stands, for everybody: exercises in turn over the weeks."""

    do: Literal["in_turn"] = "in_turn"
    exercise: str
    other: str

    def apply(self, plan: ClassPlan, catalogue: Catalogue) -> ClassPlan:
        """The changed plan."""
        known(catalogue, self.exercise)
        return in_turn(plan, self.exercise, known(catalogue, self.other))


class LighterWeek(_Change):
    """A lighter week: fewer sets of everything that counts repetitions, and lighter loads where a share of best,
    kilograms or repetitions in reserve are said; a round fewer of stations."""

    do: Literal["lighter_week"] = "lighter_week"
    sets_fewer: Annotated[int, Field(ge=0, le=4)] = 1
    load_factor: Annotated[float, Field(ge=0.5, le=1)] = 0.9

    def apply(self, plan: ClassPlan, catalogue: Catalogue) -> ClassPlan:
        """The changed plan."""
        return lighter_week(plan, self.sets_fewer, self.load_factor, catalogue)


class SetTest(_Change):
    """A test: of every loaded lift of both legs that counts repetitions the last working set goes on until no clean
    one is left, after `sets_before` working sets; bests are estimated from it."""

    do: Literal["test_sets"] = "test_sets"
    sets_before: Annotated[int, Field(ge=0, le=5)] = 1

    def apply(self, plan: ClassPlan, catalogue: Catalogue) -> ClassPlan:
        """The changed plan."""
        return with_tests(plan, self.sets_before, catalogue)


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
    | OrderVisits
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

    def apply(self, plan: ClassPlan, catalogue: Catalogue) -> ClassPlan:
        """The changed plan. What is added between blocks is taken where it stands behind that block."""
        changed = apply(plan, self.change, catalogue)
        ids = [block.id for block in plan.blocks]
        stay = plan.blocks[: ids.index(self.block) + 1]
        kept = {block.id for block in stay}
        # of what is new, only what stands behind the last block that stays
        last = max((at for at, block in enumerate(changed.blocks) if block.id in kept), default=-1)
        return changed.model_copy(update={"blocks": [*stay, *changed.blocks[last + 1 :]]})


Change = Annotated[PlainChange | Later, Field(discriminator="do")]
"""One change of a plan."""


def apply(plan: ClassPlan, change: Change, catalogue: Catalogue) -> ClassPlan:
    """The changed plan. Raises FaultyInput when the plan has not got what the change speaks of."""
    ids = {part.id for part in plan.parts()}
    for name in ("slot", "block", "behind"):
        wanted = getattr(change, name, "")
        if wanted and wanted not in ids:
            raise missing(name, f"the plan has no {name} {wanted!r} (any more)")
    return change.apply(plan, catalogue)
