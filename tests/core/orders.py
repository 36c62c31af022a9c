"""Work of blocks of sets, by hand and by chance, and small blocks with every kind of wish."""

from __future__ import annotations

from collections.abc import Sequence
from random import Random
from typing import Any

from making import class_file, group, person, room, sets
from oaken.domain.catalogue import catalogue
from oaken.plan import SetsBlock
from oaken.schedule.class_file import ClassFile
from oaken.schedule.rotation.self_paced import Order, Task
from oaken.schedule.rotation.work import SharedWork
from oaken.schedule.timeline import Circumstances, Outlook
from oaken.schedule.timeline.lineup import Lineup, line_up

PAIRS = [("leg-press", "lying-leg-curl"), ("hip-thrust", "leg-extension"), ("hack-squat", "standing-calf-raise")]


def work_of(
    tasks: Sequence[Sequence[Sequence[Task]]], stock: dict[str, list[int]], order: Order | None = None
) -> SharedWork:
    """Tasks by person and station, everybody for themselves and with no way to walk."""
    return SharedWork(tasks, list(range(len(tasks))), stock, lambda here, there: 0.0, order or Order())


def small_block(seed: int) -> ClassFile:
    """Two to four people on one to three machine pairs, of at most 26 sets, with wishes that the seed chooses."""
    chance = Random(seed)
    crowd, stations = chance.choice([(2, 2), (2, 3), (3, 2), (4, 1), (3, 1), (4, 2)])
    rounds = 1 if crowd * stations > 6 else chance.choice([1, 2])
    names = [name for pair in PAIRS for name in pair]
    people = [
        person(n, bests_kg={name: chance.choice([60, 70, 80, 100]) for name in names}) for n in range(1, crowd + 1)
    ]
    staged = chance.random() < 0.4
    doses = [
        group(
            rounds,
            chance.choice([20, 60, 90]),
            *(
                {"exercise": name, "reps": chance.choice([6, 10, 15]), "load": {"share_of_best": 0.7}}
                for name in (pair if chance.random() < 0.7 else pair[:1])
            ),
        )
        | {"id": f"g{at}", "stage": at + 1 if staged else None}
        for at, pair in enumerate(PAIRS[:stations])
    ]
    wishes: dict[str, Any] = {}
    if crowd > 2 and chance.random() < 0.4:
        wishes["together"] = [["p1", "p2"]]
    block: dict[str, Any] = {"sharing": chance.choice(["work_in", "work_in", "hold"])}
    if chance.random() < 0.3:
        block["rounds_run"] = "whole_circuit"
    if chance.random() < 0.2:
        block |= {"waves": 2, "wave_gap_s": 60}
    known = catalogue()
    kinds = sorted({known.exercises[name].equipment for name in names})
    where = room({kind: chance.choice([1, 1, 1, 2]) for kind in kinds})
    return class_file(sets(*doses, id="block", **block), people=people, room=where, **wishes)


def lineup_of(file: ClassFile) -> Lineup:
    """The only block of a class, lined up."""
    (block,) = file.plan.blocks
    assert isinstance(block, SetsBlock)
    around = Circumstances.of(file.room, file.participants, file.catalogue(), file.plan.wishes())
    return line_up(block, around, Outlook.EXPECTED)
