"""Fit a class to its slot: its length aimed at the slot, by the changes that make it shorter or longer."""

from __future__ import annotations

from dataclasses import replace
from typing import Literal

from pydantic import BaseModel

from oaken.design.adjustments.edits import ADDITIONS, CUTS
from oaken.design.goal_seeking.goals import FigureGoal, Seen
from oaken.design.goal_seeking.reaching import Caught, Reached, reach
from oaken.design.goal_seeking.search import Thoroughness
from oaken.forecast.report import GoalFigure
from oaken.schedule.class_file import ClassFile

FULL_ENOUGH_S = 150
"""A class that ends this close before its slot's end needs nothing added."""

TO_SLOT = Thoroughness(looked=240, together=3, enough=14, finalists=10, shown=8, rotations_up_to=16)
"""Lengths alone are soon looked at, and a slot has many ways; a rotation of many takes longer than all of them."""

SHORTER = frozenset((*CUTS, "fewer_sets_of_some", "easier_variants", "shorter_round_rest", "another_order"))
LONGER = frozenset((*ADDITIONS, "more_sets_of_some", "more_reps", "longer_change", "longer_round_rest", "shorter_work"))
"""The kinds that are tried for a class that is over its slot, and under it."""


class Fitting(BaseModel):
    """How a class stands to its slot, in seconds over it, and what could be done, lowest cost first; where nothing
    fits, what comes nearest and what stands in the way. With `surely` the longest outlook has to fit."""

    state: Literal["over", "under", "fits"]
    difference_s: float
    surely: bool
    proposals: list[Reached]
    caught: list[Caught]


def fit_to_slot(file: ClassFile, *, surely: bool = False) -> Fitting:
    """Changes that bring a class into its slot, or fill it without going over; of the expected length, or of the
    longest. The file must have been checked, and small enough to be tried many times over."""
    figure: GoalFigure = "longest" if surely else "length"
    slot_s = file.plan.slot_min * 60.0
    inside = FigureGoal(figure=figure, want="at_most", value=slot_s)
    length = Seen(file).value(inside)
    assert length is not None
    over = length - slot_s
    if over > 0:
        told = reach(file, inside, [], replace(TO_SLOT, only=SHORTER))
        return Fitting(state="over", difference_s=over, surely=surely, proposals=told.proposals, caught=told.caught)
    if -over <= FULL_ENOUGH_S:
        return Fitting(state="fits", difference_s=over, surely=surely, proposals=[], caught=[])
    full = FigureGoal(figure=figure, want="at_least", value=max(0.0, slot_s - FULL_ENOUGH_S))
    told = reach(file, full, [inside], replace(TO_SLOT, only=LONGER))
    return Fitting(state="under", difference_s=over, surely=surely, proposals=told.proposals, caught=told.caught)
