"""The dispatcher's rule as one tight loop: stints are given places in a given order, each as soon as it can be.

`self_paced.dispatch` tells everything about a rotation; this tells its length, its waits and its starts, many hundred
times a second, and the same ones (a property test). Times are whole tenths of a second.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Sequence
from typing import NamedTuple

from oaken.schedule.rotation.work import SharedWork, tenths


class Laid(NamedTuple):
    """An order carried out: when the last is done, everybody's waiting in sum, what it costs together with the longest
    wait (`wait_cost`), load changes, and every stint's start and lane (-1: on the floor)."""

    length_ds: int
    waiting_ds: int
    wait_cost_ds: float
    changes: int
    starts: list[int]
    lanes: list[int]

    @property
    def rank(self) -> tuple[int, float, int]:
        """What is compared: length, the cost of waiting, load changes."""
        return self.length_ds, self.wait_cost_ds, self.changes


def wait_cost(waiting: float, longest: float, people: int) -> float:
    """What waiting costs: the longest wait of one person counts as much as everybody's mean (common practice, no
    source: an instructor sees who stands about, not a sum). In everybody's waiting in sum, as `waiting` is."""
    return waiting + people * longest


class Serial:
    """The places and people of a block as rows of numbers, on which orders of its stints are carried out."""

    def __init__(self, work: SharedWork) -> None:
        stints = work.stints
        self.work = work
        self.person = [stint.person for stint in stints]
        self.kind = [stint.kind for stint in stints]
        self.length = [stint.length_ds for stint in stints]
        self.rest = [stint.rest_ds for stint in stints]
        self.load = [stint.first.load for stint in stints]
        self.leaves = [stint.last.leaves for stint in stints]
        self.release = [work.release_ds(person) for person in range(len(work.tasks))]
        self.units: list[int] = []
        lanes_of: dict[str, list[int]] = {}
        for kind, units in work.stock.items():
            lanes_of[kind] = list(range(len(self.units), len(self.units) + len(units)))
            self.units += units
        self.lanes_of_stint = [lanes_of.get(kind, []) for kind in self.kind]
        own = [work.order.own_times.get(unit, (None, None)) for unit in self.units]
        self.set_up = [
            {lane: tenths(stint.first.set_up_s if own[lane][0] is None else own[lane][0] or 0.0) for lane in lanes}
            for stint, lanes in zip(stints, self.lanes_of_stint, strict=True)
        ]
        self.change = [
            {
                lane: tenths(
                    stint.first.load_change_s
                    if own[lane][1] is None or not stint.first.load_change_s
                    else own[lane][1] or 0.0
                )
                for lane in lanes
            }
            for stint, lanes in zip(stints, self.lanes_of_stint, strict=True)
        ]
        self.settling = [tenths(stint.first.set_up_s) for stint in stints]
        here = sorted(set(self.units))
        self.walk = {(a, b): tenths(work.walk_s(a, b)) if a >= 0 else 0 for a in [-1, *here] for b in here}
        self._visit = [work.visit(stint.person, stint.station) for stint in stints]
        self._gates = work.order.gates
        self._stints_of: dict[int, int] = defaultdict(int)
        for visit in self._visit:
            self._stints_of[visit] += 1

    def lay(self, order: Sequence[int]) -> Laid:
        """Carry out an order of all stints (indices); somebody's stints come in their own order.

        Who stands before a gate that is held comes as soon as it opens, before all that follow in the order.
        """
        if self._gates:
            return self._through_gates(order)
        state = _State(self)
        self._serve(order, state, None)
        return state.laid()

    def _serve(self, order: Iterable[int], state: _State, opens: int | None) -> None:
        person_of, lanes_of, units, walk = self.person, self.lanes_of_stint, self.units, self.walk
        ready, ends, at, doing, waits = state.ready, state.ends, state.at, state.doing, state.waits
        free, user, load = state.free, state.user, state.load
        for stint in order:
            person = person_of[stint]
            since = ready[person]
            if opens is not None and opens > since:
                since = opens
            lanes = lanes_of[stint]
            if not lanes:
                start, lane = since, -1
                before = start if doing[person] == self.kind[stint] else start + self.settling[stint]
                waits[person] += start - ready[person]
                at[person] = -1
            else:
                end, here = ends[person], at[person]
                lane, start, before, arrived = -1, 0, 0, 0
                for each_lane in lanes:
                    come = end + walk[here, units[each_lane]]
                    begin = free[each_lane] if free[each_lane] > come else come
                    if begin < since:
                        begin = since
                    if lane >= 0 and begin >= before:
                        continue
                    needs = 0 if user[each_lane] == person else self.set_up[stint][each_lane]
                    change = self.change[stint][each_lane]
                    if change and (user[each_lane] < 0 or load[each_lane] != self.load[stint]):
                        needs += change
                    if lane < 0 or begin + needs < before or (begin + needs == before and begin < start):
                        lane, start, before, arrived = each_lane, begin, begin + needs, come
                if self.change[stint][lane] and (user[lane] < 0 or load[lane] != self.load[stint]):
                    state.changes += 1
                waits[person] += start - max(ready[person], arrived)
                at[person] = units[lane]
                free[lane] = before + self.length[stint]
                user[lane], load[lane] = person, self.leaves[stint]
            end = before + self.length[stint]
            state.starts[stint], state.lanes[stint] = start, lane
            ends[person], ready[person], doing[person] = end, end + self.rest[stint], self.kind[stint]
            if end > state.length:
                state.length = end

    def _through_gates(self, order: Sequence[int]) -> Laid:
        state = _State(self)
        slots = {name: [0] * width for name, width in self.work.order.width.items()}
        held: dict[int, list[tuple[str, int]]] = {}
        opened: dict[int, int] = {}
        left = dict(self._stints_of)
        done_at: dict[int, int] = defaultdict(int)
        waiting: list[int] = []
        ahead = list(reversed(order))
        standing: set[int] = set()
        while ahead:
            stint = ahead.pop()
            person, visit = self.person[stint], self._visit[stint]
            if person in standing:
                waiting.append(stint)
                continue
            if visit not in opened:
                names = self._gates.get(visit, ())
                chosen = [(name, slots[name].index(min(slots[name]))) for name in names]
                opens = max((slots[name][slot] for name, slot in chosen), default=0)
                if opens >= HELD:
                    waiting.append(stint)
                    standing.add(person)
                    continue
                for name, slot in chosen:
                    slots[name][slot] = HELD
                held[visit], opened[visit] = chosen, opens
            self._serve((stint,), state, opened[visit])
            left[visit] -= 1
            done_at[visit] = max(done_at[visit], state.ends[person])
            if not left[visit] and held[visit]:
                for name, slot in held[visit]:
                    slots[name][slot] = done_at[visit]
                ahead += reversed(waiting)
                waiting, standing = [], set()
        return state.laid()


HELD = 1 << 60
"""When a gate opens that a visit holds until it is done: nobody knows yet."""


class _State:
    """Places and people while an order is carried out."""

    def __init__(self, serial: Serial) -> None:
        people, lanes, stints = len(serial.work.tasks), len(serial.units), len(serial.person)
        self.ready = list(serial.release)
        self.ends = list(serial.release)
        self.at = [-1] * people
        self.doing: list[str | None] = [None] * people
        self.free = [0] * lanes
        self.user = [-1] * lanes
        self.load: list[float | None] = [None] * lanes
        self.starts = [0] * stints
        self.lanes = [-1] * stints
        self.waits = [0] * people
        self.length = self.changes = 0

    def laid(self) -> Laid:
        """What came of it."""
        waiting = sum(self.waits)
        cost = wait_cost(waiting, max(self.waits, default=0), len(self.waits))
        return Laid(self.length, waiting, cost, self.changes, self.starts, self.lanes)
