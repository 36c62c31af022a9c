"""Why no rotation can keep a wish: which constraints collide, in words."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass

from oaken.basis.words import counted, plural
from oaken.plan import SetsBlock, Wishes
from oaken.rotation.problem import TENTHS, least_length
from oaken.rotation.solver import Search
from oaken.timeline import Circumstances, Outlook
from oaken.timeline.block_problem import block_problem
from oaken.timeline.lineup import Lineup, line_up

EFFORT = 0.3
"""Effort of the solver for each wish that is left out, to see whether it is to blame."""


@dataclass(frozen=True, slots=True)
class Collision:
    """A wish that cannot be kept, in words, and what would help. `people` are indices, `kind` an equipment kind."""

    message: str
    safer: str
    people: tuple[int, ...] = ()
    kind: str = ""


def collisions(lineup: Lineup, *, thorough: bool = False) -> list[Collision]:
    """What makes the block longer than it may be whatever the order; empty where that cannot be told.

    First what is too much on its own: a machine's demand, a person's own time, the last wave. Where none of these is,
    and `thorough` (it takes the solver), wishes are left out one by one to find those that cannot be kept together.
    """
    limit_s = lineup.block.within_s
    if limit_s is None:
        return []
    alone = [*_machines(lineup, limit_s), *_people(lineup, limit_s)]
    return alone or (_together(lineup, limit_s) if thorough else [])


def _machines(lineup: Lineup, limit_s: int) -> list[Collision]:
    charged = block_problem(lineup)
    demand: dict[str, float] = defaultdict(float)
    crowd: dict[str, set[int]] = defaultdict(set)
    for index, (person, _, _) in enumerate(charged.tasks):
        op = charged.problem.operation(index)
        if op.resource is not None:
            demand[op.resource] += op.surely_ds / TENTHS
            crowd[op.resource].add(person)
    if lineup.block.sharing == "hold":
        demand.clear()
        for visit in charged.problem.visits:
            for name in visit.holds:
                if name in lineup.stock:
                    demand[name] += visit.alone_ds / TENTHS
    found = []
    for kind, seconds in sorted(demand.items(), key=lambda item: -item[1] / len(lineup.stock[item[0]])):
        places = len(lineup.stock[kind])
        if seconds / places <= limit_s:
            continue
        name = _named(lineup, kind, places)
        found.append(
            Collision(
                f"{counted(len(crowd[kind]), 'person needs', 'people need')} the {name} for "
                f"{_minutes(seconds / places)} min; the block has {_minutes(limit_s)}",
                f"{-(-int(seconds) // limit_s) - places} more, fewer sets on it, or another exercise for some",
                kind=kind,
            )
        )
    return found


def _people(lineup: Lineup, limit_s: int) -> list[Collision]:
    found = []
    longest: dict[tuple[float, float], list[int]] = defaultdict(list)
    for person, visits in enumerate(lineup.tasks):
        tasks = [task for visit in visits for task in visit]
        rests = max((visit[-1].rest_s for visit in visits if visit), default=0.0)
        own = sum(task.work_s + task.rest_s for task in tasks) - rests
        if lineup.release_s[person] + own > limit_s:
            longest[round(own), lineup.release_s[person]].append(person)
    for (own, release), people in longest.items():
        names = _names(lineup, people)
        start = f", and their wave starts at {_minutes(release)} min" if release else ""
        found.append(
            Collision(
                f"{names} {plural(len(people), 'takes', 'take')} {_minutes(own)} min even with every machine to "
                f"themselves{start}; the block has {_minutes(limit_s)}",
                "waves closer together" if release else "fewer sets or shorter rests",
                people=tuple(people),
            )
        )
    return found


def _together(lineup: Lineup, limit_s: int) -> list[Collision]:
    """Wishes without any one of which the block would keep its time."""
    block, around = lineup.block, lineup.around
    crowd = len(around.people)
    without: list[tuple[str, SetsBlock, Wishes]] = []
    wishes = around.wishes
    if any(len(company) > 1 for company in wishes.companies):
        alone = Wishes(Wishes.none(crowd).companies, wishes.apart, wishes.instead)
        without.append(("keeping people together", block, alone))
    if wishes.apart:
        without.append(("keeping people apart", block, Wishes(wishes.companies, (), wishes.instead)))
    if block.sharing == "hold":
        without.append(("nobody working in on a machine", block.model_copy(update={"sharing": "work_in"}), wishes))
    if block.waves > 1 and block.wave_gap_s:
        without.append(("the waves", block.model_copy(update={"waves": 1}), wishes))
    if any(group.stage is not None for group in block.groups):
        free = [group.model_copy(update={"stage": None}) for group in block.groups]
        without.append(("the order of the groups", block.model_copy(update={"groups": free}), wishes))
    if block.rounds_run == "whole_circuit":
        back = block.model_copy(update={"rounds_run": "back_and_forth"})
        without.append(("going round the whole circuit", back, wishes))
    blamed = [name for name, other, wished in without if _can_be(other, around, wished, limit_s)]
    if not blamed:
        return []
    return [
        Collision(
            f"{' and '.join(blamed)} cannot be had within {_minutes(limit_s)} min; without "
            f"{plural(len(blamed), 'it', 'one of them')} the block would fit",
            f"give up {blamed[0]}, or give the block more time",
        )
    ]


def _can_be(block: SetsBlock, around: Circumstances, wishes: Wishes, limit_s: int) -> bool:
    lineup = line_up(block, around.wishing(wishes), Outlook.EXPECTED)
    problem = block_problem(lineup).problem
    if least_length(problem, surely=True).ds > limit_s * TENTHS:
        return False
    search = Search(problem, EFFORT, goals=("length",))
    search.run()
    return search.in_time and search.best.possible


def _named(lineup: Lineup, kind: str, places: int) -> str:
    units = [lineup.around.room.units[index] for index in lineup.stock[kind]]
    known = lineup.around.catalogue.equipment.get(kind)
    name = known.name.lower() if known is not None else f"{units[0].name.lower()} of {kind.rsplit(' ', 2)[1]} kg"
    return name if places == 1 else f"{places} × {name}"


def _names(lineup: Lineup, people: list[int]) -> str:
    names = [lineup.around.people[person].name for person in people]
    if len(names) == len(lineup.around.people) and len(names) > 1:
        return "all of them"
    if len(names) > 4:
        return f"{', '.join(names[:3])} and {len(names) - 3} more"
    return " and ".join(filter(None, [", ".join(names[:-1]), names[-1]]))


def _minutes(seconds: float) -> str:
    return f"{seconds / 60:.1f}".removesuffix(".0")
