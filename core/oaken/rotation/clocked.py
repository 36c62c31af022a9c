"""Rotation on the clock: everybody moves one place on at every bell."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from math import ceil

from oaken.room import Room


@dataclass(frozen=True)
class ClockedRotation:
    """A cyclic rotation of `people` over `stations` stations in `turns` turns a round.

    When more people come than the stations can hold, the circle is lengthened by breathers: turns at which a person
    rests. With as many turns as stations it is a cyclic Latin square: everyone is at every station once a round and
    no two groups ever meet at one.
    """

    people: int
    stations: int
    turns: int

    @property
    def breathers(self) -> int:
        """Turns of every round at which a person has no station and rests."""
        return self.turns - self.stations

    def station(self, person: int, turn: int) -> int | None:
        """The station of a person at a turn of the round, both counted from 0; None during a breather."""
        position = (person + turn) % self.turns
        return position if position < self.stations else None

    def lane(self, person: int) -> int:
        """Which of the places of a shared station the person takes, counted from 0."""
        return person // self.turns


def clocked_rotation(people: int, capacities: list[int]) -> ClockedRotation:
    """The shortest cyclic rotation in which no station ever holds more people than its capacity.

    A group stays together all the way round, so the tightest station decides how large a group may be.
    """
    tightest = max(1, min(capacities))
    return ClockedRotation(people, len(capacities), max(len(capacities), ceil(people / tightest)))


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
