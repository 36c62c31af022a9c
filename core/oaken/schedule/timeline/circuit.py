"""Lays a clocked circuit out in time."""

from __future__ import annotations

from typing import NamedTuple

from oaken.domain.catalogue import Catalogue, Exercise
from oaken.domain.prescription import Manner, Segment
from oaken.plan import AnyPart, CircuitBlock, Station
from oaken.schedule.rotation.clocked import ClockedRotation, clocked_rotation, clocked_seconds, share_out
from oaken.schedule.timeline.bouts import Bout, LoadPath, Outlook, SlotTime, bout_of
from oaken.schedule.timeline.kind import BlockLength, TimeKind
from oaken.schedule.timeline.schedule import Circumstances, Schedule, own_use
from oaken.schedule.timeline.steps import BlockSpan, Doing, Step, StepBound


def station_bout(station: Station, exercise: Exercise, seconds: int, bar_kg: float = 0.0) -> Bout:
    """What is done in one interval of a station: the sides of a one-sided exercise share it."""
    segment = Segment(
        seconds=seconds,
        sides="in_all" if exercise.one_sided else "both",
        **{name: getattr(station, name) for name in Manner.model_fields},
    )
    return bout_of(segment, exercise, LoadPath.of(station.load, None, bar_kg), Outlook.EXPECTED)


def rotation_of(block: CircuitBlock, around: Circumstances) -> tuple[ClockedRotation, list[list[int]]]:
    """Who begins where, and the units of each station. With partners a place holds two."""
    kinds = [around.catalogue.exercises[station.exercise].equipment for station in block.stations]
    shares = share_out(kinds, around.room)
    crowd, each = len(around.people), 2 if block.turn_s else 1
    number = {person.id: index for index, person in enumerate(around.people)}
    circle = None
    if block.circle is not None:
        circle = [[number[name] for name in here if name in number] for here in block.circle]
    rotation = clocked_rotation(
        crowd,
        [len(share) * each or crowd for share in shares],
        around.wishes.companies,
        around.wishes.apart,
        circle,
    )
    return rotation, shares


def lay_out_circuit(schedule: Schedule, block: CircuitBlock) -> BlockSpan:
    """Write everybody's turns, breathers and changes; the block's span.

    With partners the lower half of the lanes work first and the upper half in the turns between.
    """
    rotation, shares = rotation_of(block, schedule.around)
    each = 2 if block.turn_s else 1
    uses = schedule.enter(block, [len(share) * each for share in shares])
    bouts, later_turns = [], []
    for use in uses:
        assert isinstance(use.part, Station)
        bar_kg = schedule.room.bar_kg(use.exercise.equipment)
        bouts.append(station_bout(use.part, use.exercise, block.turn_s or block.work_s, bar_kg))
        if block.turn_s:
            taken = handover(use.exercise, block.turn_s, schedule.around.catalogue)
            shorter = max(1, round(block.turn_s - taken.seconds))
            later_turns.append(LaterTurn(taken, station_bout(use.part, use.exercise, shorter, bar_kg)))
    elsewhere = {index: schedule.room.working(use.exercise.equipment) for index, use in enumerate(uses)}
    round_rest = block.change_s if block.round_rest_s is None else block.round_rest_s
    between = Doing.CHANGE if block.round_rest_s is None else Doing.REST
    now = 0.0
    for round_ in range(block.rounds):
        for turn in range(rotation.turns):
            end = now + block.work_s
            last_turn = turn == rotation.turns - 1
            pause = round_rest if last_turn else block.change_s
            if last_turn and round_ == block.rounds - 1:
                pause = 0
            for person, path in enumerate(schedule.paths):
                station = rotation.station(person, turn)
                if station is None:
                    path.append(Step(now, end, Doing.BREATHER, 0, round=round_))
                else:
                    lane = rotation.lane(person)
                    slot = own_use(uses, station, schedule.people[person], schedule.around)
                    share = shares[station] if slot == station else elsewhere[slot]
                    unit = share[lane // each] if lane // each < len(share) else -1
                    at = (0, slot, unit, lane, round_)
                    if block.turn_s:
                        path += _turns(now, block.turn_s, end, lane % 2, at, bouts[slot], later_turns[slot])
                    else:
                        path.append(Step(now, end, Doing.WORK, *at, bouts[slot], True))
                if pause:
                    doing = between if last_turn else Doing.CHANGE
                    path.append(Step(end, end + pause, doing, 0, round=round_))
            now = end + pause
    return BlockSpan(0.0, now, StepBound(now), rotation.turns, rotation.breathers)


LEAST_OF_TURN = 1 / 3
"""However long partners take to change, so much of a turn is work: they would leave the load as it is (common practice,
no source)."""


HANDS = 2
"""Partners change together, one at each side: in half the time that one takes alone (common practice, no source)."""


class Handover(NamedTuple):
    """Seconds that partners take to change at the beginning of a turn: to get into place, and to change the load."""

    set_up_s: float
    load_change_s: float

    @property
    def seconds(self) -> float:
        """Both together."""
        return self.set_up_s + self.load_change_s


class LaterTurn(NamedTuple):
    """A turn that begins with the change of the partners: what they take of it, and what is done in what is left."""

    taken: Handover
    bout: Bout


def handover(exercise: Exercise, turn_s: int, known: Catalogue) -> Handover:
    """What partners who share a place take of each turn but the first; scaled down where a turn is too short for it."""
    kind = known.equipment[exercise.equipment]
    needed = Handover(kind.set_up_s / HANDS, kind.load_change_s / HANDS if exercise.takes_load else 0.0)
    most = turn_s * (1 - LEAST_OF_TURN)
    if needed.seconds <= most:
        return needed
    return Handover(needed.set_up_s * most / needed.seconds, needed.load_change_s * most / needed.seconds)


def _turns(
    now: float,
    turn_s: int,
    end: float,
    first: int,
    at: tuple[int, int, int, int, int],
    bout: Bout,
    later: LaterTurn,
) -> list[Step]:
    """Work and rest turn about; `first` is 0 for the partner who begins, who stands ready; every other turn begins with
    the change of the two."""
    found = []
    for number in range(round((end - now) / turn_s)):
        begin = now + number * turn_s
        if number % 2 != first:
            found.append(Step(begin, begin + turn_s, Doing.REST, *at))
            continue
        if number == 0:
            found.append(Step(begin, begin + turn_s, Doing.WORK, *at, bout, True))
            continue
        ready = begin + later.taken.seconds
        change = Step(begin, ready, Doing.CHANGE, *at)
        change.set_up_s, change.load_change_s = later.taken
        found += [change, Step(ready, begin + turn_s, Doing.WORK, *at, later.bout, number == 1)]
    return found


def _length(block: CircuitBlock, around: Circumstances, outlook: Outlook) -> BlockLength:
    turns = rotation_of(block, around)[0].turns
    seconds = clocked_seconds(turns, block.rounds, block.work_s, block.change_s, block.round_rest_s)
    return BlockLength.without_waits(seconds, len(around.people))


def _part_time(part: AnyPart, block: CircuitBlock, known: Catalogue, outlook: Outlook) -> SlotTime:
    if not block.turn_s:
        return SlotTime(block.work_s * block.rounds, 0.0, 0.0, 0.0, 0.0)
    # the mean of the two partners: one of all turns begins without a change
    turns = block.work_s // block.turn_s
    taken = handover(known.exercises[part.exercise], block.turn_s, known).seconds * (turns - 1) / turns
    return SlotTime(block.work_s * block.rounds * 0.5 * (1 - taken / block.turn_s), 0.0, 0.0, 0.0, 0.0)


def _bouts(block: CircuitBlock) -> int:
    return len(block.stations) * block.rounds * (block.work_s // block.turn_s if block.turn_s else 1)


def _own_s(block: CircuitBlock, known: Catalogue) -> float:
    return block.rounds * len(block.stations) * (block.work_s + block.change_s)


KIND = TimeKind(lay_out_circuit, _length, _part_time, _bouts, _own_s)
