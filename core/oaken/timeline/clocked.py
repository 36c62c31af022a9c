"""Lays a clocked circuit out in time."""

from __future__ import annotations

from oaken.catalogue import Exercise
from oaken.plan import CircuitBlock, Station
from oaken.prescription import Segment
from oaken.rotation.clocked import clocked_rotation, share_out
from oaken.timeline.bouts import Bout, LoadPath, Outlook, bout_of
from oaken.timeline.stage import Stage
from oaken.timeline.steps import BlockSpan, Doing, Step


def station_bout(station: Station, exercise: Exercise, seconds: int) -> Bout:
    """What is done in one interval of a station: the sides of a one-sided exercise share it."""
    segment = Segment(
        seconds=seconds,
        sides="in_all" if exercise.one_sided else "both",
        **{name: getattr(station, name) for name in ("tempo", "held_s", "partial", "stance", "load", "setting")},
    )
    return bout_of(segment, exercise, LoadPath(station.load), Outlook.EXPECTED)


def lay_out_circuit(stage: Stage, index: int, block: CircuitBlock, start: float) -> BlockSpan:
    """Write everybody's turns, breathers and changes; the block's span.

    With partners a place holds two, the lower half of the lanes work first and the upper half in the turns between.
    """
    exercises = [stage.catalogue.exercises[station.exercise] for station in block.stations]
    shares = share_out([exercise.equipment for exercise in exercises], stage.room)
    each = 2 if block.turn_s else 1
    crowd = len(stage.people)
    capacities = [len(share) * each or crowd for share in shares]
    rotation = clocked_rotation(crowd, capacities)
    slots = [
        stage.add_slot(index, -1, station.id, exercise, len(share) * each)
        for station, exercise, share in zip(block.stations, exercises, shares, strict=True)
    ]
    bouts = [
        station_bout(station, exercise, block.turn_s or block.work_s)
        for station, exercise in zip(block.stations, exercises, strict=True)
    ]
    round_rest = block.change_s if block.round_rest_s is None else block.round_rest_s
    between = Doing.CHANGE if block.round_rest_s is None else Doing.REST
    now = start
    for round_ in range(block.rounds):
        for turn in range(rotation.turns):
            end = now + block.work_s
            last_turn = turn == rotation.turns - 1
            pause = round_rest if last_turn else block.change_s
            if last_turn and round_ == block.rounds - 1:
                pause = 0
            for person, path in enumerate(stage.paths):
                station = rotation.station(person, turn)
                if station is None:
                    path.append(Step(now, end, Doing.BREATHER, index, round=round_))
                else:
                    lane = rotation.lane(person)
                    share = shares[station]
                    unit = share[lane // each] if lane // each < len(share) else -1
                    at = (index, slots[station], unit, lane, round_)
                    if block.turn_s:
                        path += _turns(now, block.turn_s, end, lane % 2, at, bouts[station])
                    else:
                        path.append(Step(now, end, Doing.WORK, *at, bouts[station], True))
                if pause:
                    doing = between if last_turn else Doing.CHANGE
                    path.append(Step(end, end + pause, doing, index, round=round_))
            now = end + pause
    return BlockSpan(start, now, now - start, rotation.turns, rotation.breathers)


def _turns(
    now: float, turn_s: int, end: float, first: int, at: tuple[int, int, int, int, int], bout: Bout
) -> list[Step]:
    """Work and rest turn about; `first` is 0 for the partner who begins."""
    count = round((end - now) / turn_s)
    return [
        Step(begin, begin + turn_s, Doing.WORK, *at, bout, number < 2)
        if number % 2 == first
        else Step(begin, begin + turn_s, Doing.REST, *at)
        for number in range(count)
        for begin in [now + number * turn_s]
    ]
