"""A time below which no order of a block of sets can end, and what it comes from.

Three things cannot be hurried: what somebody takes alone, what a company or a machine that is held takes visit by
visit, and what is done on a kind of machine ÷ its places. To the last belong the set-ups and load changes that no order
saves, what must pass before anybody can come to it (the lead-in) and after the last has left (the run-out).
"""

from __future__ import annotations

import itertools
from collections import defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from typing import NamedTuple

from oaken.schedule.rotation.work import SharedWork, Stint, tenths

MOST_THRESHOLDS = 12
"""Different lead-ins and run-outs that are told apart for a kind of machine."""


class Least(NamedTuple):
    """A time in tenths of a second, and what it comes from: a person, or a kind of machine or a gate."""

    ds: int
    person: int | None = None
    kind: str | None = None


def least_length(work: SharedWork) -> Least:
    """The largest of all bounds below the length of every order."""
    return max(all_bounds(work), key=lambda bound: bound.ds, default=Least(0))


def all_bounds(work: SharedWork) -> list[Least]:
    """Every bound: of everybody, of every gate, and of every kind of machine that somebody uses."""
    return list(_Bounds(work).all())


def least_visits(work: SharedWork) -> dict[int, int]:
    """What every visit takes at the least, from its first set-up to its last set (tenths of a second)."""
    return _Bounds(work).visit_ds


def surely_ds(work: SharedWork) -> list[int]:
    """What every stint takes at the least: its length with the set-up and load change that no order saves."""
    return _Bounds(work).least_ds


@dataclass
class _Bounds:
    work: SharedWork
    least_ds: list[int] = field(init=False)
    visit_ds: dict[int, int] = field(init=False)
    head_ds: list[int] = field(init=False)
    tail_ds: list[int] = field(init=False)

    def __post_init__(self) -> None:
        work = self.work
        self._on: dict[str, list[int]] = defaultdict(list)
        for index, stint in enumerate(work.stints):
            if work.stock.get(stint.kind):
                self._on[stint.kind].append(index)
        self._before = {
            kind: dict(_previous(work.stints, mine)) for kind, mine in self._on.items()
        }  # a stint's last one on the same kind within its visit
        self._stations = {
            kind: {
                person: len({work.stints[index].station for index in own})
                for person, own in _by_person(work.stints, mine).items()
            }
            for kind, mine in self._on.items()
        }
        self._left = {kind: self._leaving(mine) for kind, mine in self._on.items()}
        self.least_ds = [self._least(index) for index in range(len(work.stints))]
        self._ways: dict[tuple[str, str], int] = {}
        self.gap_ds = [stint.rest_ds for stint in work.stints]
        for mine in work.of_visit.values():
            for here, there in itertools.pairwise(mine):
                way = self._walk(work.stints[here].kind, work.stints[there].kind)
                self.gap_ds[here] = max(self.gap_ds[here], way)
        self.strand_ds = {
            visit: sum(self.least_ds[index] + self.gap_ds[index] for index in mine) - self.gap_ds[mine[-1]]
            for visit, mine in work.of_visit.items()
        }
        self._members: dict[int, list[tuple[int, int]]] = defaultdict(list)
        for person, station in work.of_visit:
            self._members[work.visit(person, station)].append((person, station))
        self.visit_ds = {number: self._visit(members) for number, members in self._members.items()}
        self.head_ds, self.tail_ds = self._lead_in_and_run_out()

    def all(self) -> Iterator[Least]:
        """Every bound there is."""
        yield from self._own_times()
        yield from self._gates()
        for kind, mine in self._on.items():
            yield Least(self._scarce(kind, mine), kind=kind)

    def _walk(self, here: str, there: str) -> int:
        """The shortest way between the units of two kinds."""
        if (here, there) not in self._ways:
            stock = self.work.stock
            ways = [self.work.walk_s(a, b) for a in set(stock.get(here, [])) for b in set(stock.get(there, []))]
            self._ways[here, there] = tenths(min(ways, default=0.0))
        return self._ways[here, there]

    # what a stint takes at the least

    def _leaving(self, mine: list[int]) -> dict[float | None, set[int]]:
        left: dict[float | None, set[int]] = defaultdict(set)
        for index in mine:
            left[self.work.stints[index].last.leaves].add(index)
        return left

    def _least(self, index: int) -> int:
        """Its length with the set-up and load change that no order saves."""
        stint = self.work.stints[index]
        set_up, change = map(tenths, self.work.quickest_s(stint.first))
        first = self.work.of_visit[stint.person, stint.station][0] == index
        if stint.kind not in self._on:
            return stint.length_ds + (self._settling(index, set_up) if first else self._moving(index, set_up))
        surely = 0
        if self._before[stint.kind].get(index) is None and self._stations[stint.kind][stint.person] == 1:
            surely += set_up
        if not self._left[stint.kind].get(stint.first.load, set()) - {index}:
            surely += change
        return stint.length_ds + surely

    def _settling(self, index: int, set_up: int) -> int:
        """On the floor: whoever comes from the same thing elsewhere is settled already."""
        stint = self.work.stints[index]
        mine = (visit for visit in self.work.of_visit if visit[0] == stint.person and visit[1] != stint.station)
        last = {self.work.stints[self.work.of_visit[visit][-1]].kind for visit in mine}
        return 0 if stint.kind in last else set_up

    def _moving(self, index: int, set_up: int) -> int:
        return 0 if self.work.stints[index - 1].kind == self.work.stints[index].kind else set_up

    # what a visit takes at the least

    def _visit(self, members: list[tuple[int, int]]) -> int:
        stints = self.work.stints
        longest = max(self.strand_ds[member] for member in members)
        if len(members) == 1:
            return longest
        on: dict[str, int] = defaultdict(int)
        for member in members:
            for index in self.work.of_visit[member]:
                if stints[index].kind in self._on:
                    on[stints[index].kind] += self.least_ds[index]
        shared = (-(-seconds // len(self.work.stock[kind])) for kind, seconds in on.items())
        return max(longest, *shared) if on else longest

    def _lead_in_and_run_out(self) -> tuple[list[int], list[int]]:
        work = self.work
        ahead: dict[int, list[int]] = defaultdict(list)
        behind: dict[int, list[int]] = defaultdict(list)
        for first, second in work.before:
            ahead[second].append(first)
            behind[first].append(second)
        heads, tails = [0] * len(work.stints), [0] * len(work.stints)
        for (person, station), mine in work.of_visit.items():
            others = [item for item in ahead[station] if (person, item) in work.of_visit]
            head = work.release_ds(person) + self._path(person, others, resting=True)
            for index in mine:
                heads[index] = head
                head += self.least_ds[index] + self.gap_ds[index]
            others = [item for item in behind[station] if (person, item) in work.of_visit]
            rest = work.stints[mine[-1]].rest_ds if others else 0
            tail = self._path(person, others, resting=False, rest_ds=rest)
            for here, there in itertools.pairwise([*reversed(mine), -1]):
                tails[here] = tail
                if there >= 0:
                    tail += self.least_ds[here] + self.gap_ds[there]
        return heads, tails

    def _path(self, person: int, stations: Sequence[int], *, resting: bool, rest_ds: int = 0) -> int:
        """What somebody takes for some visits after a rest; `resting`: with the rest after each, else but the longest.

        A company takes all of its visits one after the other, but somebody of it may be rested already.
        """
        work = self.work
        rests = [work.stints[work.of_visit[person, station][-1]].rest_ds for station in stations]
        own = rest_ds + sum(self.strand_ds[person, station] for station in stations) + sum(rests)
        if not resting:
            own -= max(rests, default=0)
        together = sum(self.visit_ds[work.visit(person, station)] for station in stations)
        return max(own, together) if self._in_company(person, stations) else own

    def _in_company(self, person: int, stations: Sequence[int]) -> bool:
        return any(len(self._members[self.work.visit(person, station)]) > 1 for station in stations)

    # the bounds

    def _own_times(self) -> Iterator[Least]:
        stations: dict[int, list[int]] = defaultdict(list)
        for person, station in self.work.of_visit:
            stations[person].append(station)
        for person, mine in stations.items():
            yield Least(self.work.release_ds(person) + self._path(person, mine, resting=False), person=person)

    def _gates(self) -> Iterator[Least]:
        """What is held from the first to the last set of a visit serves one visit after the other."""
        through: dict[str, list[int]] = defaultdict(list)
        for number, names in self.work.order.gates.items():
            if number in self.visit_ds:
                for name in names:
                    through[name].append(number)
        for name, numbers in through.items():
            heads, tails = [], []
            for number in numbers:
                firsts = [self.work.of_visit[member][0] for member in self._members[number]]
                lasts = [self.work.of_visit[member][-1] for member in self._members[number]]
                heads.append(min(self.head_ds[index] for index in firsts))
                tails.append(min(self.tail_ds[index] for index in lasts))
            seconds = sum(self.visit_ds[number] for number in numbers)
            yield Least(_spread(seconds, heads, tails, self.work.order.width[name]), kind=name)
            if name in self._on:
                bound = min(heads) + self._held(self._held_alike(name, numbers, through), numbers) + min(tails)
                yield Least(bound, kind=name)

    def _held_alike(self, name: str, numbers: list[int], through: dict[str, list[int]]) -> list[str]:
        """The kinds of one place that the same visits of single people hold as this one, itself among them."""
        if any(len(self._members[number]) > 1 for number in numbers):
            return []
        width = self.work.order.width
        alike = [
            kind for kind, others in through.items() if kind in self._on and others == numbers and width[kind] == 1
        ]
        return alike if name in alike else []

    def _held(self, kinds: list[str], numbers: list[int]) -> int:
        """Places that are held visit by visit: what the visits take, and what changes between them.

        Whoever follows themselves saves all set-ups, but leaves the places idle for their rest.
        """
        stints = self.work.stints
        firsts: dict[str, list[int]] = defaultdict(list)
        total = 0
        for number in numbers if kinds else []:
            ((person, station),) = self._members[number]
            surely = maybe = 0
            total += self.visit_ds[number]
            for kind in kinds:
                mine = [index for index in self.work.of_visit[person, station] if stints[index].kind == kind]
                set_up = tenths(self.work.quickest_s(stints[mine[0]].first)[0])
                total -= self.least_ds[mine[0]] - stints[mine[0]].length_ds
                if self._stations[kind][person] == 1:
                    surely += set_up
                else:
                    maybe = min(maybe + set_up, self._away(kind, mine[0]))
                firsts[kind].append(mine[0])
            total += surely + maybe
        kept = {
            kind: all(
                stints[here].first.load == stints[there].first.load
                for here, there in itertools.pairwise(self._on[kind])
                if stints[here].person == stints[there].person and stints[here].station == stints[there].station
            )
            for kind in kinds
        }
        return total + sum(self._changing(kind, firsts[kind], kept[kind], idle=False) for kind in kinds)

    def _scarce(self, kind: str, mine: list[int]) -> int:
        """The time of a kind's stints ÷ its places, between the lead-in and the run-out."""
        places = len(self.work.stock[kind])
        heads = [self.head_ds[index] for index in mine]
        tails = [self.tail_ds[index] for index in mine]
        taken = [self._taken(kind, index) for index in mine]
        in_all = sum(taken) + self._changing(kind, mine)
        best = min(heads) + -(-in_all // places) + min(tails)
        best = max(best, _spread(sum(self.least_ds[index] for index in mine), heads, tails, places))
        # those that can only come late, or have much to do afterwards, by themselves; one of them on each place may
        # find it set up
        lost = places * max(tenths(self.work.quickest_s(self.work.stints[index].first)[0]) for index in mine)
        for early in _some(heads):
            for late in _some(tails):
                these = [
                    at
                    for at, (head, tail) in enumerate(zip(heads, tails, strict=True))
                    if head >= early and tail >= late
                ]
                if 0 < len(these) < len(mine):
                    seconds = sum(taken[at] for at in these) - lost
                    best = max(best, early + -(-seconds // places) + late)
        return best

    def _taken(self, kind: str, index: int) -> int:
        """What a stint takes its place: whoever follows themselves saves the set-up but leaves it idle meanwhile."""
        stint = self.work.stints[index]
        set_up = tenths(self.work.quickest_s(stint.first)[0])
        if self._before[kind].get(index) is None and self._stations[kind][stint.person] == 1:
            return stint.length_ds + set_up
        return stint.length_ds + min(set_up, self._away(kind, index))

    def _away(self, kind: str, index: int) -> int:
        """How long somebody is away at the least between two stints on a kind."""
        stints = self.work.stints
        before = self._before[kind].get(index)
        if before is None:  # from another visit: at least the rest after it
            stint = stints[index]
            others = [mine for visit, mine in self.work.of_visit.items() if visit[0] == stint.person]
            return min(stints[mine[-1]].rest_ds for mine in others)
        between = range(before + 1, index)
        return self.gap_ds[before] + sum(self.least_ds[item] + self.gap_ds[item] for item in between)

    def _changing(self, kind: str, mine: list[int], kept: bool = True, idle: bool = True) -> int:
        """What load changes take a kind's places at the least; `kept`: no load changes within what these stand for.

        People of one load can follow each other without a change. But with m of them the m + 1st set in a row is one
        of somebody's who was there before and has to come back from elsewhere: the place stands idle, or another load
        comes in between.
        """
        stints = self.work.stints
        by_load: dict[float | None, list[int]] = defaultdict(list)
        plain = kept and all(stints[index].first.load == stints[index].last.leaves for index in self._on[kind])
        total = 0
        for index in mine:
            change = tenths(self.work.quickest_s(stints[index].first)[1])
            if not change:
                continue
            if plain:
                by_load[stints[index].first.load].append(index)
            elif not self._left[kind].get(stints[index].first.load, set()) - {index}:
                total += change
        for same in by_load.values():
            change = min(tenths(self.work.quickest_s(stints[index].first)[1]) for index in same)
            people = len({stints[index].person for index in same})
            rows = -(-len(same) // people)
            total += change + (rows - 1) * (min(change, self._idle(kind, same, people)) if idle else 0)
        return total

    def _idle(self, kind: str, same: list[int], people: int) -> int:
        """How long a place stands idle at the least while one of these comes back to it, beyond what is charged."""
        again = [
            index
            for index in same
            if self._before[kind].get(index) is not None or self._stations[kind][self.work.stints[index].person] > 1
        ]
        if not again:
            return 0
        set_up = [tenths(self.work.quickest_s(self.work.stints[index].first)[0]) for index in same]
        longest = max(
            self.work.stints[index].length_ds + most for index, most in zip(same, self._dearest(same), strict=True)
        )
        alone = min(self._away(kind, index) - min(max(set_up), self._away(kind, index)) for index in again)
        if people == 1:
            return alone
        others = min(self._away(kind, index) for index in again) - (people - 1) * longest
        return max(0, min(alone, others))

    def _dearest(self, same: list[int]) -> list[int]:
        """The most that each one's set-up may take, on whichever unit."""
        own = self.work.order.own_times
        found = []
        for index in same:
            task = self.work.stints[index].first
            units = self.work.stock[task.kind]
            times = (own.get(unit, (None, None))[0] for unit in units)
            found.append(tenths(max(task.set_up_s if time is None else time for time in times)) + 1)
        return found


def _spread(seconds: int, heads: Sequence[int], tails: Sequence[int], places: int) -> int:
    """When so much is over that is done on some places, each free of it before a lead-in and after a run-out."""
    used = min(places, len(heads))
    lead, run_out = sum(sorted(heads)[:used]), sum(sorted(tails)[:used])
    return -(-(seconds + lead + run_out) // used)


def _some(values: Sequence[int]) -> list[int]:
    """Different values in order; of many, some of them."""
    known = sorted(set(values))
    step = -(-len(known) // MOST_THRESHOLDS)
    return known[::step]


def _by_person(stints: Sequence[Stint], mine: Sequence[int]) -> dict[int, list[int]]:
    found: dict[int, list[int]] = defaultdict(list)
    for index in mine:
        found[stints[index].person].append(index)
    return found


def _previous(stints: Sequence[Stint], mine: Sequence[int]) -> Iterator[tuple[int, int]]:
    """Every stint of a kind that is not the first of its visit, with the one before it."""
    for here, there in itertools.pairwise(mine):
        if (stints[here].person, stints[here].station) == (stints[there].person, stints[there].station):
            yield there, here
