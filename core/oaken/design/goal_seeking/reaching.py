"""Changes that bring a figure where it is aimed at: the classes that were looked at, forecast as a whole."""

from __future__ import annotations

from collections.abc import Sequence

from pydantic import BaseModel

from oaken.design.adjustments import Effect, Lost, effect_of, lost_in
from oaken.design.goal_seeking.goals import FigureGoal, check_goals, value_in
from oaken.design.goal_seeking.search import WHOLE, Search, State, Thoroughness
from oaken.forecast import forecast
from oaken.forecast.report import Forecast, figures
from oaken.plan import ClassPlan
from oaken.schedule.class_file import ClassFile

NEW_CAUTION_COST = 15.0
"""What a caution that was not there before adds to the cost (common practice, no source)."""

LOST_COST = 60.0
"""What losing all of the load, or all of the tension of a muscle, adds to the cost (common practice, no source)."""


class Reached(BaseModel):
    """A proposal: its changes in words, what the figure is then, how each other goal stands, and what it costs. With
    `reached` False it is the nearest that can be had. `lost` is the work that is done less, in words."""

    name: str
    detail: str
    why: str
    cost: float
    value: float
    reached: bool
    kept: list[str]
    broken: list[str]
    new_cautions: list[str]
    lost: list[str]
    effect: Effect
    plan: ClassPlan


class Caught(BaseModel):
    """A limit that stands in the way: without it the figure would come to `value`."""

    limit: str
    value: float
    name: str


class GoalSearch(BaseModel):
    """What came of a search for a goal: the figure before, proposals with the lowest cost first (where none reaches it,
    the nearest), and which limits stand in the way."""

    wanted: str
    unit: str
    before: float
    reached_already: bool
    proposals: list[Reached]
    caught: list[Caught]


def reach(
    file: ClassFile, aimed: FigureGoal, limits: Sequence[FigureGoal] = (), thoroughness: Thoroughness = WHOLE
) -> GoalSearch:
    """Changes that bring a figure where it is aimed at while the limits hold, the lowest cost first.

    The file must have been checked, and small enough to be tried many times over. Raises FaultyInput where something is
    aimed at that the class has not got, or that contradicts itself.
    """
    wanted = [aimed, *limits]
    check_goals(file, wanted)
    search = Search(file, wanted, thoroughness)
    told = GoalSearch(
        wanted=aimed.words,
        unit=figures()[aimed.figure].unit,
        before=round(search.start.values[0], 2),
        reached_already=search.score(search.start) == 0,
        proposals=[],
        caught=[],
    )
    if told.reached_already:
        return told
    search.run()
    before = forecast(file)
    right = _not_more_than_needed([item for item in search.found if search.score(item) == 0])
    told.proposals = _verified(search, before, sorted(right, key=lambda item: (item.cost, len(item.adjustments))))
    if not any(proposal.reached for proposal in told.proposals):
        told.proposals = _nearest(search, before)
    del told.proposals[thoroughness.shown :]
    if not right:
        told.caught = [
            Caught(limit=limit.words, value=round(item.values[0], 2), name=_name(item))
            for limit, item in search.caught()
        ]
    return told


def _not_more_than_needed(states: Sequence[State]) -> list[State]:
    """Without those that do more than another that gets there too with a lower cost."""
    return [
        state
        for state in states
        if not any(set(other.ids) < set(state.ids) and other.cost <= state.cost for other in states)
    ]


def _nearest(search: Search, before: Forecast) -> list[Reached]:
    """Those that come nearest without breaking a limit."""
    aimed = search.aimed
    nearer = [
        item
        for item in search.found
        if not search.broken(item.values) and aimed.miss(item.values[0]) < aimed.miss(search.start.values[0]) - 1e-9
    ]
    nearer.sort(key=lambda item: (round(aimed.miss(item.values[0]) / max(aimed.near, 1e-9), 1), item.cost))
    return sorted(_verified(search, before, nearer), key=lambda item: (aimed.miss(item.value), item.cost))


def _largest(lost: Sequence[Lost]) -> float:
    return max((item.share for item in lost), default=0.0)


def _name(state: State) -> str:
    return " + ".join(adjustment.name for adjustment in state.adjustments)


def _verified(search: Search, before: Forecast, states: Sequence[State]) -> list[Reached]:
    """The best of each set of kinds forecast as a whole; what brings a clash is left out."""
    found: list[Reached] = []
    seen: set[frozenset[str]] = set()
    for state in states:
        if frozenset(state.ids) in seen or len(seen) >= search.thoroughness.finalists:
            continue
        seen.add(frozenset(state.ids))
        plan = ClassPlan.model_validate(state.plan.model_dump())
        file = search.file.model_copy(update={"plan": plan})
        after = forecast(file)
        new = after.cautions_beyond(before)
        if any(item.severity == "clash" for item in new):
            continue
        aimed, limits, lost = search.aimed, search.wanted[1:], lost_in(before, after)
        value, *others = (value_in(after, item, file) for item in search.wanted)
        if value is None:
            continue
        broken = [
            limit.words for limit, each_limit in zip(limits, others, strict=True) if limit.miss(each_limit or 0.0)
        ]
        found.append(
            Reached(
                name=_name(state),
                detail="; ".join(state.details),
                why="; ".join(dict.fromkeys(adjustment.kind.why for adjustment in state.adjustments)),
                cost=round(min(100.0, state.cost + NEW_CAUTION_COST * len(new) + LOST_COST * _largest(lost)), 1),
                value=round(value, 2),
                reached=aimed.miss(value) == 0 and not broken,
                kept=[limit.words for limit in limits if limit.words not in broken],
                broken=broken,
                new_cautions=[item.message for item in new],
                lost=[item.words for item in lost],
                effect=effect_of(before, after),
                plan=plan,
            )
        )
    return sorted(found, key=lambda item: (not item.reached, item.cost))
