"""Why no rotation can keep a wish: which constraints collide, in words."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from oaken.basis.words import counted, plural
from oaken.plan import ClassPlan, SetsBlock
from oaken.schedule.arrange.trial import Floor
from oaken.schedule.rotation.least import Least, all_bounds, least_length
from oaken.schedule.rotation.problem import TENTHS
from oaken.schedule.timeline import Circumstances, Outlook, Timeline
from oaken.schedule.timeline.lineup import Lineup, line_up


@dataclass(frozen=True, slots=True)
class Conflict:
    """A wish that cannot be kept, in words, and what would help. `people` are indices, `kind` an equipment kind."""

    message: str
    safer: str
    people: tuple[int, ...] = ()
    kind: str = ""


Proof = Callable[[Lineup, int], bool]
"""Whether it is proven that no order of a block keeps so many seconds."""


def by_bounds(lineup: Lineup, limit_s: int) -> bool:
    """The proof that is had at once: a bound below every order is above the limit."""
    return _least(lineup).ds > limit_s * TENTHS


def collisions(lineup: Lineup, cannot: Proof = by_bounds) -> list[Conflict]:
    """Why the block takes longer than it may whatever the order; empty where that is not proven by `cannot`.

    Without any wish: which machine, or whose own time, is too much. With wishes: a smallest set of them that cannot be
    kept together in the time, so that without any one of it nothing is proven against the rest.
    """
    limit_s = lineup.block.within_s
    if limit_s is None:
        return []
    wishes = list(_wishes_of(lineup))
    bare = _with(lineup, [])
    if cannot(bare, limit_s):
        return [*_machines(bare, limit_s), *_people(bare, limit_s)] or [_in_all(bare, limit_s)]
    if not wishes or not cannot(lineup, limit_s):
        return []
    clash = wishes
    for wish in wishes:
        fewer = [item for item in clash if item is not wish]
        if cannot(_with(lineup, fewer), limit_s):
            clash = fewer
    needed = _least(_with(lineup, clash)).ds / TENTHS
    longer = f"the {_minutes(needed)} min it takes" if needed > limit_s else "more time"
    names = _listed([item.name for item in clash])
    return [
        Conflict(
            f"{names} cannot be had {'together ' if len(clash) > 1 else ''}within {_minutes(limit_s)} min, whatever "
            "the order",
            f"give up {'one of them' if len(clash) > 1 else 'that'}, or give the block {longer}",
            people=tuple(sorted({person for item in clash for person in item.people})),
        )
    ]


def conflicts_of(plan: ClassPlan, around: Circumstances, timeline: Timeline) -> dict[int, list[Conflict]]:
    """For every block that is longer than it may be, by its place in the plan: what is proven at once of why."""
    found = {}
    for index, block in plan.of_kind(SetsBlock):
        if block.within_s is not None and timeline.passages[index].layout.length_s > block.within_s:
            found[index] = collisions(line_up(block, around, Outlook.EXPECTED))
    return found


@dataclass(frozen=True, slots=True)
class _Wish:
    """Something that is asked of the order, in words."""

    name: str
    kind: Literal["company", "apart", "hold", "waves", "stages", "circuit"]
    people: tuple[int, ...] = ()


def _wishes_of(lineup: Lineup) -> Iterator[_Wish]:
    block, wishes = lineup.block, lineup.around.wishes
    for company in wishes.companies:
        if len(company) > 1:
            yield _Wish(f"keeping {_names(lineup, list(company))} together", "company", company)
    for pair in wishes.apart:
        yield _Wish(f"keeping {_names(lineup, list(pair))} apart", "apart", pair)
    if block.sharing == "hold":
        yield _Wish("nobody working in on a machine", "hold")
    if block.waves > 1 and block.wave_gap_s:
        yield _Wish("the waves", "waves")
    if any(group.stage is not None for group in block.groups):
        yield _Wish("the order of the groups", "stages")
    if block.rounds_run == "whole_circuit":
        yield _Wish("going round the whole circuit", "circuit")


def _with(lineup: Lineup, kept: Sequence[_Wish]) -> Lineup:
    """The same block with some of its wishes."""
    kinds = {item.kind for item in kept}
    block, around, wishes = lineup.block, lineup.around, lineup.around.wishes
    changes: dict[str, object] = {}
    if "hold" not in kinds:
        changes["sharing"] = "work_in"
    if "waves" not in kinds:
        changes["waves"] = 1
    if "circuit" not in kinds:
        changes["rounds_run"] = "back_and_forth"
    if "stages" not in kinds:
        changes["groups"] = [group.model_copy(update={"stage": None}) for group in block.groups]
    held = {item.people for item in kept if item.kind == "company"}
    companies = [
        part
        for company in wishes.companies
        for part in ([company] if company in held else [(item,) for item in company])
    ]
    apart = tuple(item.people for item in kept if item.kind == "apart")
    wished = replace(wishes, companies=tuple(sorted(companies)), apart=tuple((a, b) for a, b in apart))
    return line_up(block.model_copy(update=changes), around.wishing(wished), lineup.outlook)


def _least(lineup: Lineup) -> Least:
    return least_length(Floor(lineup).work)


def _machines(lineup: Lineup, limit_s: int) -> list[Conflict]:
    work = Floor(lineup).work
    found = []
    for bound in sorted(all_bounds(work), key=lambda bound: -bound.ds):
        kind = bound.kind
        if kind is None or kind not in lineup.stock or bound.ds <= limit_s * TENTHS:
            continue
        crowd = {stint.person for stint in work.stints if stint.kind == kind}
        if len(crowd) == 1:
            continue  # their own time says it
        places = len(lineup.stock[kind])
        minutes = bound.ds / TENTHS
        more = -(-int(minutes * places) // limit_s) - places
        found.append(
            Conflict(
                f"{counted(len(crowd), 'person needs', 'people need')} the {_named(lineup, kind, places)} for "
                f"{_minutes(minutes)} min; the block has {_minutes(limit_s)}",
                f"{max(1, more)} more, fewer sets on it, or another exercise for some",
                kind=kind,
            )
        )
    return found


def _people(lineup: Lineup, limit_s: int) -> list[Conflict]:
    longest: dict[int, list[int]] = defaultdict(list)
    for bound in all_bounds(Floor(lineup).work):
        if bound.person is not None and bound.ds > limit_s * TENTHS:
            longest[bound.ds].append(bound.person)
    return [
        Conflict(
            f"{_names(lineup, people)} {plural(len(people), 'takes', 'take')} {_minutes(own / TENTHS)} min even with "
            f"every machine to themselves; the block has {_minutes(limit_s)}",
            "fewer sets or shorter rests",
            people=tuple(people),
        )
        for own, people in longest.items()
    ]


def _in_all(lineup: Lineup, limit_s: int) -> Conflict:
    return Conflict(
        f"with the machines there are, no order of all sets ends within {_minutes(limit_s)} min",
        "fewer sets, more of the machines, or more time",
    )


def _listed(names: Sequence[str]) -> str:
    return " and ".join(filter(None, [", ".join(names[:-1]), names[-1]]))


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
    return _listed(names)


def _minutes(seconds: float) -> str:
    return f"{seconds / 60:.1f}".removesuffix(".0")
