"""Rotation on the clock: everybody moves one place on at every bell."""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection, Sequence
from dataclasses import dataclass
from math import ceil

from oaken.domain.room import Room


@dataclass(frozen=True)
class ClockedRotation:
    """A cyclic rotation over `stations` stations in `turns` turns a round; person p begins at `begins[p]`.

    When more people come than the stations can hold, the circle is lengthened by breathers: turns at which a person
    rests. With as many turns as stations it is a cyclic Latin square: everyone is at every station once a round and
    no two groups ever meet at one.
    """

    begins: tuple[int, ...]
    lanes: tuple[int, ...]
    stations: int
    turns: int

    @property
    def breathers(self) -> int:
        """Turns of every round at which a person has no station and rests."""
        return self.turns - self.stations

    def station(self, person: int, turn: int) -> int | None:
        """The station of a person at a turn of the round, both counted from 0; None during a breather."""
        position = (self.begins[person] + turn) % self.turns
        return position if position < self.stations else None

    def lane(self, person: int) -> int:
        """Which of the places of a shared station the person takes, counted from 0."""
        return self.lanes[person]


def clocked_rotation(
    people: int,
    capacities: list[int],
    companies: Sequence[Sequence[int]] = (),
    apart: Collection[tuple[int, int]] = (),
    circle: Sequence[Sequence[int]] | None = None,
) -> ClockedRotation:
    """The shortest cyclic rotation in which no station ever holds more people than its capacity.

    A group stays together all the way round, so the tightest station decides how large a group may be. Those of a
    company begin at one place where it can hold them, those who are `apart` at different ones. `circle` says who
    begins where; whoever it does not name takes the emptiest place.
    """
    tightest = max(1, min(capacities))
    turns = max(len(capacities), ceil(people / tightest), len(circle or ()))
    wanted = [list(company) for company in companies] or [[person] for person in range(people)]
    while True:
        seats = _seated(wanted, turns, tightest, set(apart), circle or ())
        if seats is not None:
            break
        turns += 1
    begins, lanes = [0] * people, [0] * people
    for position, here in enumerate(seats):
        for lane, person in enumerate(here):
            begins[person], lanes[person] = position, lane
    return ClockedRotation(tuple(begins), tuple(lanes), len(capacities), turns)


def _seated(
    companies: list[list[int]],
    turns: int,
    tightest: int,
    apart: set[tuple[int, int]],
    circle: Sequence[Sequence[int]],
) -> list[list[int]] | None:
    """Who begins where; None where more turns are needed."""
    seats: list[list[int]] = [[] for _ in range(turns)]
    everybody = {person for company in companies for person in company}
    for position, named in enumerate(circle):
        seats[position] += [person for person in named if person in everybody][:tightest]
    seated = {person for here in seats for person in here}
    for company in companies:
        left = [person for person in company if person not in seated]
        # a company that no place can hold goes in parts, one behind the other
        for part in (left[first : first + tightest] for first in range(0, len(left), tightest)):
            free = [
                position
                for position, here in enumerate(seats)
                if len(here) + len(part) <= tightest
                and not any((min(a, b), max(a, b)) in apart for a in here for b in part)
            ]
            if not free:
                return None
            seats[min(free, key=lambda position: len(seats[position]))] += part
    return seats


def clocked_seconds(turns: int, rounds: int, work_s: float, change_s: float, round_rest_s: float | None) -> float:
    """Total seconds of a clocked circuit: R·S·w + (R·S − 1)·c + (R − 1)·(q − c).

    >>> clocked_seconds(10, 3, 30, 15, None)
    1335
    """
    rest = change_s if round_rest_s is None else round_rest_s
    return rounds * turns * work_s + (rounds * turns - 1) * change_s + (rounds - 1) * (rest - change_s)


def share_out(kinds: list[str], room: Room) -> list[list[int]]:
    """Give each station its own working places (indices of units), stations of one kind sharing that kind fairly.

    A station on the floor ("none") needs no unit. A station that gets no place at all has an empty list: a clash.
    """
    wanted = Counter(kinds)
    served: Counter[str] = Counter()
    shares: list[list[int]] = []
    for kind in kinds:
        stock = room.working(kind)
        each, extra = divmod(len(stock), wanted[kind])
        before = served[kind]
        start = before * each + min(before, extra)
        shares.append(stock[start : start + each + (1 if before < extra else 0)])
        served[kind] += 1
    return shares
