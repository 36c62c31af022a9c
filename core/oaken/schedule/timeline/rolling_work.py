"""A block at people's own pace as what is dispatched again while it runs: its plan, set by set, and the machines."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, replace
from threading import RLock

from cachetools import LRUCache, cached

from oaken.domain.catalogue import Catalogue, Exercise
from oaken.plan import SetsBlock
from oaken.schedule.rotation.rolling import NEVER, Placement, RollingTask, RollingWork
from oaken.schedule.rotation.self_paced import Placed, Task
from oaken.schedule.timeline.bouts import Outlook
from oaken.schedule.timeline.layout import BlockAt
from oaken.schedule.timeline.lineup import SetAt, flat, line_up
from oaken.schedule.timeline.schedule import Circumstances
from oaken.schedule.timeline.sets import Walks, append_move, scheduled, turns_of
from oaken.schedule.timeline.steps import Doing, Step


@dataclass(frozen=True, slots=True)
class RollingBlock:
    """A block's work, and the set that each of its tasks is."""

    work: RollingWork
    sets: list[list[SetAt]]

    def steps_of(self, person: int, placed: Sequence[Placement], first_slot: int, catalogue: Catalogue) -> list[Step]:
        """Somebody's sets on the floor as steps in floor time, without a gap. What took longer or shorter than planned
        is stretched; a set that was broken off is worth what was done of it; one that this plan has not got is a rest.
        """
        set_of = {task.id: at for task, at in zip(self.work.tasks[person], self.sets[person], strict=True)}
        path: list[Step] = []
        now = min(0.0, placed[0].leave_s) if placed else 0.0
        active: Exercise | None = None
        for move in placed:
            if move.leave_s > now:
                path.append(Step(now, move.leave_s, Doing.REST, 0))
            now = move.end_s
            at = set_of.get(move.task.id)
            if at is None or move.end_s <= move.work_from_s:
                if move.end_s > move.leave_s:
                    path.append(Step(move.leave_s, move.end_s, Doing.REST, 0))
                continue
            append_move(path, _as_placed(move), first_slot + at.use, _stretched(at, move), active)
            active = None if at.done.rest_doing is None else catalogue.exercises[at.done.rest_doing]
        path.append(Step(now, NEVER, Doing.FINISHED, 0))
        return path


def _as_placed(move: Placement) -> Placed:
    task = move.task
    plain = Task(task.kind, task.work_s, task.rest_s, 0.0, 0.0, None, None, task.keeps, 0)
    return Placed(
        plain, move.leave_s, move.arrive_s, move.rested_s, move.set_up_from_s, move.load_change_s, move.work_from_s,
        move.end_s, move.unit, 0,
    )  # fmt: skip


def _stretched(at: SetAt, move: Placement) -> SetAt:
    """A set as long as it really was."""
    by = (move.end_s - move.work_from_s) / move.task.work_s
    done = min(1.0, by) if move.cut else 1.0
    bouts = tuple(bout.stretched(by, done) for bout in at.done.bouts)
    return at._replace(done=replace(at.done, bouts=bouts, strip_s=at.done.strip_s * by))


def _key(block: SetsBlock, around: Circumstances, lost: frozenset[str]) -> tuple[str, str, frozenset[str]]:
    return BlockAt.of(block, around).says, around.key, lost


@cached(LRUCache(maxsize=32), key=_key, lock=RLock())
def rolling_block(block: SetsBlock, around: Circumstances, lost: frozenset[str]) -> RollingBlock:
    """The work of a block as it is planned, in floor seconds from its beginning. `lost` are units that the class has
    lost while it ran: a kind of which none is left is left out, where one that the room never had is done without."""
    lineup = line_up(block, around, Outlook.EXPECTED)
    served = scheduled(lineup)
    ways, order = turns_of(lineup)
    _, visits = flat(ways, lineup)
    tasks: list[list[RollingTask]] = []
    for person, own in enumerate(served.placed):
        numbers: dict[str, int] = defaultdict(int)
        mine = []
        for index, placed in enumerate(own):
            part = lineup.uses[lineup.sets[placed.task.tag].use].part.id
            numbers[part] += 1
            ready = placed.leave_s + (own[index - 1].task.rest_s if index else 0.0)
            turn = order.keys[person][index] if order.keys else ready
            task = placed.task
            mine.append(
                RollingTask(
                    id=(part, numbers[part]),
                    use=lineup.sets[task.tag].use,
                    kind=task.kind,
                    work_s=task.work_s,
                    rest_s=task.rest_s,
                    set_up_s=task.set_up_s,
                    load_change_s=task.load_change_s,
                    load=task.load,
                    leaves=task.leaves,
                    keeps=task.keeps,
                    visit=visits[person][index],
                    turn_s=turn,
                    ready_s=ready,
                    start_s=placed.work_from_s,
                )
            )
        tasks.append(mine)
    used = sorted({unit for units in lineup.stock.values() for unit in units})
    walks = Walks(around.room)
    lost_kinds = {unit.kind for unit in around.room.units if unit.id in lost}
    work = RollingWork(
        tasks=tasks,
        stock=lineup.stock,
        walks_s={(here, there): walks.seconds(here, there) for here in used for there in used if here != there},
        own_times={unit: own for unit, own in lineup.order.own_times.items() if unit in set(used)},
        gates=lineup.order.gates,
        width=lineup.order.width,
        release_s=lineup.release_s,
        gone=frozenset(kind for kind, units in lineup.stock.items() if not units and kind.split(" ")[0] in lost_kinds),
    )
    return RollingBlock(work, [[lineup.sets[placed.task.tag] for placed in own] for own in served.placed])
