"""Lays a clocked circuit out in time."""

from __future__ import annotations

from oaken.plan import CircuitBlock
from oaken.prescription import clocked_work
from oaken.rotation.clocked import clocked_rotation, share_out
from oaken.timeline.stage import Stage
from oaken.timeline.steps import BlockSpan, Doing, Step


def lay_out_circuit(stage: Stage, index: int, block: CircuitBlock, start: float) -> BlockSpan:
    """Write everybody's turns, breathers and changes; the block's span."""
    exercises = [stage.catalogue.exercises[station.exercise] for station in block.stations]
    shares = share_out([exercise.equipment for exercise in exercises], stage.room)
    crowd = len(stage.people)
    capacities = [len(share) or crowd for share in shares]
    rotation = clocked_rotation(crowd, capacities)
    slots = [
        stage.add_slot(index, -1, station.id, exercise, len(share))
        for station, exercise, share in zip(block.stations, exercises, shares, strict=True)
    ]
    sets = [
        clocked_work(block.work_s, exercise.tempo, one_sided=exercise.sides == "one_sided", load=station.load)
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
                    unit = shares[station][lane] if lane < len(shares[station]) else -1
                    (segment,) = sets[station]
                    path.append(
                        Step(now, end, Doing.WORK, index, slots[station], unit, lane, round_, segment, opens_set=True)
                    )
                if pause:
                    path.append(Step(end, end + pause, between if last_turn else Doing.CHANGE, index, round=round_))
            now = end + pause
    return BlockSpan(start, now, now - start, rotation.turns, rotation.breathers)
