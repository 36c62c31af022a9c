"""A block of sets before anybody has had a turn: the tasks of every visit, who goes round with whom, what is shared."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from itertools import pairwise
from typing import NamedTuple

from oaken.domain.catalogue import Exercise
from oaken.domain.people import Person
from oaken.plan import Rotation, SetsBlock, Slot
from oaken.schedule.rotation.self_paced import Order, Task
from oaken.schedule.timeline.bouts import DoneSet, Outlook, bouts_of
from oaken.schedule.timeline.schedule import NO_EQUIPMENT, Circumstances, Use, own_use, uses_of
from oaken.schedule.timeline.steps import loads_of

NEWCOMER_SET_UP_S = 60.0
"""To show somebody a machine for the first time and set it up for them (common practice, no source)."""


class SetAt(NamedTuple):
    """A set of the block: which use of it, in which round."""

    use: int
    round: int
    exercise: Exercise
    done: DoneSet


class StationAt(NamedTuple):
    """What is visited at one go: a group with all its rounds, or (`round` from 0) one round of it."""

    group: int
    round: int


@dataclass
class Lineup:
    """Everybody's tasks by visit, and the places there are for them.

    `tasks[p][s]` are those of person p at station s of `stations`; a task's tag is its index in `sets`. `stock` maps
    a kind (of implements: a kind and a mass) to the units of its working places.
    """

    block: SetsBlock
    around: Circumstances
    outlook: Outlook
    uses: list[Use]
    stations: list[StationAt]
    sets: list[SetAt] = field(default_factory=list)
    stock: dict[str, list[int]] = field(default_factory=dict)
    tasks: list[list[list[Task]]] = field(default_factory=list)

    @property
    def companies(self) -> tuple[tuple[int, ...], ...]:
        """Who goes round as one."""
        return self.around.wishes.companies

    @property
    def missing(self) -> list[str]:
        """Kinds (of implements: with a mass) that somebody needs and of which no unit works."""
        return [kind for kind, units in self.stock.items() if not units and kind != NO_EQUIPMENT]

    @cached_property
    def release_s(self) -> list[float]:
        """When everybody may begin: waves of whole companies, as equal as can be, in the order of the plan."""
        waves, crowd = self.block.waves, len(self.around.people)
        release = [0.0] * crowd
        before = 0
        for company in self.companies:
            wave = min(before * waves // crowd, waves - 1)
            for person in company:
                release[person] = float(wave * self.block.wave_gap_s)
            before += len(company)
        return release

    @cached_property
    def before(self) -> list[tuple[int, int]]:
        """Pairs of stations of which everybody visits the first sooner: stages, and rounds of a whole circuit."""
        stages = [group.stage for group in self.block.groups]
        found = []
        for first, here in enumerate(self.stations):
            for second, there in enumerate(self.stations):
                early, late = stages[here.group], stages[there.group]
                staged = early is not None and late is not None and early < late
                if here.round < there.round or (here.round == there.round and staged):
                    found.append((first, second))
        return found

    @cached_property
    def order(self) -> Order:
        """What the block says about the order, but for who goes where."""
        gates: dict[int, list[str]] = {}
        width: dict[str, int] = {}
        count = len(self.stations)
        company_of = {person: number for number, company in enumerate(self.companies) for person in company}
        if self.block.sharing == "hold":
            for number, company in enumerate(self.companies):
                for station in range(count):
                    kinds = {task.kind for person in company for task in self.tasks[person][station]}
                    for kind in sorted(kinds):
                        if self.stock.get(kind):
                            gates.setdefault(number * count + station, []).append(kind)
                            width[kind] = len(self.stock[kind])
        for pair in self.around.wishes.apart:
            for station, at in enumerate(self.stations):
                name = f"apart {pair[0]} {pair[1]} {at.group}"
                width[name] = 1
                for person in pair:
                    gates.setdefault(company_of[person] * count + station, []).append(name)
        for number, company in enumerate(self.companies):
            # who goes round as one moves on when all of them are done
            if len(company) > 1:
                width[f"company {number}"] = 1
                for station in range(count):
                    gates.setdefault(number * count + station, []).append(f"company {number}")
        pace = self.outlook.pace
        own_times = {
            index: (
                None if unit.set_up_s is None else unit.set_up_s * pace,
                None if unit.load_change_s is None else unit.load_change_s * pace,
            )
            for index, unit in enumerate(self.around.room.units)
            if unit.set_up_s is not None or unit.load_change_s is not None
        }
        release = self.release_s if any(self.release_s) else None
        return Order(
            release_s=release,
            gates={visit: tuple(dict.fromkeys(names)) for visit, names in gates.items()},
            width=width,
            own_times=own_times,
        )

    def visit(self, person: int, station: int) -> int:
        """The number of a visit: the same for everybody of a company."""
        number = next(number for number, company in enumerate(self.companies) if person in company)
        return number * len(self.stations) + station

    def ways(self) -> list[list[int]]:
        """The order in which everybody visits the stations when nothing else was chosen."""
        groups = len(self.block.groups)
        ways: list[list[int]] = [[] for _ in self.around.people]
        spread = self.block.start == "spread"
        for number, company in enumerate(self.companies):
            first = number % groups if spread else 0
            way = sorted(
                range(len(self.stations)),
                key=lambda index: (self.stations[index].round, (self.stations[index].group - first) % groups),
            )
            for person in company:
                ways[person] = self.in_stages(way)
        return ways

    def chosen_ways(self, rotation: Rotation) -> tuple[list[list[int]], dict[tuple[int, int], list[float]]]:
        """The order that was chosen for everybody, and the planned starts of the sets of each visit (person, station).

        Visits that the rotation does not know come last, in the usual order.
        """
        at = {(group.id, -1): index for index, group in enumerate(self.block.groups)}
        index_of = {station: index for index, station in enumerate(self.stations)}
        planned: dict[tuple[int, int], list[float]] = {}
        for person, who in enumerate(self.around.people):
            for visit in rotation.visits.get(who.id, []):
                group = at.get((visit.group, -1))
                if group is None:
                    continue
                station = index_of.get(StationAt(group, -1 if visit.round is None else visit.round))
                if station is not None:
                    planned[person, station] = visit.sets_s
        ways = []
        for person, usual in enumerate(self.ways()):
            known = sorted(
                (station for station in usual if (person, station) in planned),
                key=lambda station: planned[person, station][0],
            )
            end = max((planned[person, station][-1] for station in known), default=0.0)
            for station in usual:
                if (person, station) not in planned:
                    end += LATER_S
                    planned[person, station] = [end]
                    known.append(station)
            ways.append(self.in_stages(known))
        return ways, planned

    def in_stages(self, way: list[int]) -> list[int]:
        """The way with what must come before drawn forward."""
        needs: dict[int, list[int]] = {}
        for first, second in self.before:
            needs.setdefault(second, []).append(first)
        done: list[int] = []

        def take(station: int) -> None:
            if station in done:
                return
            for first in sorted(needs.get(station, []), key=way.index):
                take(first)
            done.append(station)

        for station in way:
            take(station)
        return done


LATER_S = 600.0
"""Visits that a chosen rotation does not know are planned this long after the last it knows, one behind the other."""


def line_up(block: SetsBlock, around: Circumstances, outlook: Outlook) -> Lineup:
    """Everybody's tasks in this block."""
    uses = uses_of(block, around)
    most = max(group.rounds for group in block.groups)
    whole = block.rounds_run == "whole_circuit"
    stations = (
        [
            StationAt(number, round_)
            for round_ in range(most)
            for number, group in enumerate(block.groups)
            if round_ < group.rounds
        ]
        if whole
        else [StationAt(number, -1) for number in range(len(block.groups))]
    )
    lineup = Lineup(block, around, outlook, uses, stations)
    tags: list[list[int]] = []  # of each use, its sets by round
    for index, use in enumerate(uses):
        assert isinstance(use.part, Slot)
        kind = around.catalogue.equipment[use.exercise.equipment]
        found = bouts_of(use.part.sets, use.exercise, kind, outlook, around.room.bar_kg(kind.id))
        stripped = block.plates_back_s * outlook.pace if kind.holds in ("plates", "bar") and found else 0.0
        if stripped and found[-1].bouts[-1].meant_load:
            found[-1] = replace(found[-1], length_s=found[-1].length_s + stripped, strip_s=stripped)
        tags.append([len(lineup.sets) + round_ for round_ in range(len(found))])
        lineup.sets += [SetAt(index, round_, use.exercise, done) for round_, done in enumerate(found)]
    in_group: list[list[int]] = [[] for _ in block.groups]
    for index, use in enumerate(uses):
        if use.stands_for < 0:
            in_group[use.group].append(index)
    for who in around.people:
        own: dict[tuple[int, int], Task] = {}
        mine: list[list[Task]] = []
        chosen = [[own_use(uses, index, who, around) for index in group] for group in in_group]
        for station in stations:
            rounds = range(block.groups[station.group].rounds) if station.round < 0 else [station.round]
            visit: list[Task] = []
            first = _first_rounds(uses, tags, chosen[station.group])
            for round_ in rounds:
                turn = [
                    tags[use][round_ - since]
                    for use, since in zip(chosen[station.group], first, strict=True)
                    if 0 <= round_ - since < len(tags[use])
                ]
                visit += _in_turn([_task(lineup, tag, who, own) for tag in turn], lineup.stock)
            mine.append(visit)
        lineup.tasks.append(mine)
    return lineup


def _first_rounds(uses: list[Use], tags: list[list[int]], chosen: list[int]) -> list[int]:
    """The round in which the sets of each use of a group begin: the first, or so that they go with the last ones."""
    after = [isinstance(part := uses[use].part, Slot) and part.after_last for use in chosen]
    rounds = max((len(tags[use]) for use, last in zip(chosen, after, strict=True) if not last), default=0)
    return [max(0, rounds - len(tags[use])) if last else 0 for use, last in zip(chosen, after, strict=True)]


def _in_turn(tasks: list[Task], stock: dict[str, list[int]]) -> list[Task]:
    """One round: a unit stays taken where the next exercise is on the same one."""
    kept = [here.kind == there.kind and bool(stock[here.kind]) for here, there in pairwise(tasks)]
    if not any(kept):
        return tasks
    return [task._replace(keeps=keeps) if keeps else task for task, keeps in zip(tasks, [*kept, False], strict=True)]


def _task(lineup: Lineup, tag: int, who: Person, own: dict[tuple[int, int], Task]) -> Task:
    at = lineup.sets[tag]
    known = own.get((at.use, id(at.done)))
    if known is not None:
        return known._replace(tag=tag)
    exercise, bouts = at.exercise, at.done.bouts
    kind = lineup.around.catalogue.equipment[exercise.equipment]
    best = who.bests_kg.get(exercise.id) if exercise.takes_load else None
    meant = exercise.takes_load
    first = loads_of(bouts[0], who, exercise).kg(best) if meant else None
    last = (
        first if bouts[-1].loads == bouts[0].loads else loads_of(bouts[-1], who, exercise).kg(best) if meant else None
    )
    implement = lineup.around.room.implement(kind.id, first)
    place = kind.id if implement is None else f"{kind.id} {implement:g} kg"
    if place not in lineup.stock:
        room = lineup.around.room
        lineup.stock[place] = room.working(kind.id) if implement is None else room.working_at(kind.id, implement)
    changes = first is not None and implement is None
    shown = (
        who.id in lineup.around.wishes.newcomers and kind.id != NO_EQUIPMENT and all(use != at.use for use, _ in own)
    )
    task = Task(
        kind=place,
        work_s=at.done.length_s,
        rest_s=max(at.done.rest_s, lineup.block.log_s * lineup.outlook.pace),
        set_up_s=max(kind.set_up_s, NEWCOMER_SET_UP_S if shown else 0.0) * lineup.outlook.pace,
        load_change_s=kind.load_change_s * lineup.outlook.pace if changes else 0.0,
        load=None if first is None else lineup.around.room.settable(kind.id, first),
        leaves=None if last is None else lineup.around.room.settable(kind.id, last),
        keeps=False,
        tag=tag,
    )
    if not shown:
        own[at.use, id(at.done)] = task
    else:
        own[at.use, -1] = task
    return task


def flat(ways: Sequence[Sequence[int]], lineup: Lineup) -> tuple[list[list[Task]], list[list[int]]]:
    """Everybody's tasks along their way, and the number of the visit that each belongs to."""
    count = len(lineup.stations)
    company_of = {person: number for number, company in enumerate(lineup.companies) for person in company}
    tasks, visits = [], []
    for person, way in enumerate(ways):
        tasks.append([task for station in way for task in lineup.tasks[person][station]])
        visits.append([company_of[person] * count + station for station in way for _ in lineup.tasks[person][station]])
    return tasks, visits
