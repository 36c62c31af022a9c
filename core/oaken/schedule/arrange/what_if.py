"""What if: a machine is taken, somebody comes or leaves, an exercise is swapped, there were one machine more."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass

from pydantic import BaseModel

from oaken.domain.catalogue import Catalogue
from oaken.domain.people import Person
from oaken.domain.room import Room, Unit
from oaken.plan import Block, ClassPlan, Instead, SetsBlock
from oaken.plan.changes import swap
from oaken.schedule.arrange.repair import Repaired, repair
from oaken.schedule.arrange.substitutes import Need, Substitute, substitutes_for
from oaken.schedule.arrange.trial import Floor, Trial
from oaken.schedule.timeline import BlockAt, Circumstances, Doing, Outlook, block_length
from oaken.schedule.timeline.kind import BlockLength
from oaken.schedule.timeline.layout import laid_out
from oaken.schedule.timeline.lineup import Lineup, line_up


@dataclass(frozen=True)
class Scene:
    """A class at hand: its plan, the room as it is kept, everybody who may come, and the catalogue."""

    plan: ClassPlan
    room: Room
    everybody: dict[str, Person]
    catalogue: Catalogue

    @property
    def around(self) -> Circumstances:
        """What its blocks are laid out in."""
        people = [self.everybody[name] for name in self.plan.people]
        return Circumstances.of(self.plan.room_of(self.room), people, self.catalogue, self.plan.wishes())

    def with_plan(self, plan: ClassPlan) -> Scene:
        """The same with another plan."""
        return Scene(plan, self.room, self.everybody, self.catalogue)


class BlockEffect(BaseModel):
    """What a change does to a block: its length and everybody's waiting (s), before and after."""

    block: str
    name: str
    before_s: float
    after_s: float
    waiting_before_s: float
    waiting_after_s: float


class Option(BaseModel):
    """A way to go on: the plan with it, who is sent elsewhere than planned (ids), and what it does."""

    plan: ClassPlan
    moved: list[str]
    longer_s: float
    waiting_more_s: float
    blocks: list[BlockEffect]


def without_person(plan: ClassPlan, leaves: str) -> ClassPlan:
    """The plan when somebody leaves; wishes that speak of them go with them."""
    companies = [[name for name in company if name != leaves] for company in plan.together]
    apart = [[name for name in company if name != leaves] for company in plan.apart]
    instead = [_without(item, leaves) for item in plan.instead]
    return plan.model_copy(
        update={
            "people": [name for name in plan.people if name != leaves],
            "together": [company for company in companies if len(company) > 1],
            "apart": [company for company in apart if len(company) > 1],
            "instead": [item for item in instead if item is not None],
        }
    )


def _without(one: Instead, leaves: str) -> Instead | None:
    people = [name for name in one.people if name != leaves]
    if not people and one.level is None:
        return None
    return one.model_copy(update={"people": people})


def repaired(before: Scene, changed: ClassPlan) -> list[Option]:
    """Ways to carry out a changed plan, from nobody sent elsewhere to as many as it is worth.

    Blocks of sets are repaired one by one, each towards the length it had; where several need it, each option takes
    from every block what comes nearest to its number of people.
    """
    after = before.with_plan(changed)
    old, new = before.around, after.around
    was = {block.id: block for block in before.plan.blocks}
    choices: list[list[Repaired] | None] = []
    lineups: list[Lineup | None] = []
    for block in changed.blocks:
        earlier = was.get(block.id)
        if isinstance(block, SetsBlock) and isinstance(earlier, SetsBlock):
            lineup = line_up(block, new, Outlook.EXPECTED)
            planned = _told(line_up(earlier, old, Outlook.EXPECTED), lineup)
            target = block_length(BlockAt.of(earlier, old)).length_s
            choices.append(repair(lineup, planned, target))
            lineups.append(lineup)
        else:
            choices.append(None)
            lineups.append(None)
    most = max((len(choice) for choice in choices if choice), default=1)
    return [_option(before, after, choices, lineups, level) for level in range(most)]


def _told(before: Lineup, after: Lineup) -> list[tuple[int, ...] | None]:
    """The order of stations that everybody was told, in terms of the changed block; None for who was not there."""
    ways = Floor(before).as_it_stands().ways
    was = {person.id: ways[index] for index, person in enumerate(before.around.people)}
    ids = [(before.block.groups[at.group].id, at.round) for at in before.stations]
    now = {(after.block.groups[at.group].id, at.round): index for index, at in enumerate(after.stations)}
    told: list[tuple[int, ...] | None] = []
    for person in after.around.people:
        way = was.get(person.id)
        if way is None:
            told.append(None)
            continue
        kept = [now[ids[station]] for station in way if ids[station] in now]
        told.append((*kept, *(station for station in range(len(after.stations)) if station not in kept)))
    return told


def _option(
    before: Scene, after: Scene, choices: list[list[Repaired] | None], lineups: list[Lineup | None], level: int
) -> Option:
    blocks: list[Block] = []
    moved: set[str] = set()
    effects = []
    was = {block.id: block for block in before.plan.blocks}
    for block, options, lineup in zip(after.plan.blocks, choices, lineups, strict=True):
        made: Block = block
        if options is not None and lineup is not None:
            chosen = options[min(level, len(options) - 1)]
            made = lineup.block.model_copy(update={"rotation": chosen.trial.rotation})
            moved |= {lineup.around.people[person].id for person in chosen.moved}
        blocks.append(made)
        earlier = was.get(block.id)
        if earlier is not None:
            here = block_length(BlockAt.of(earlier, before.around))
            there = block_length(BlockAt.of(made, after.around))
            effects.append(_effect(block, here, there))
    plan = after.plan.model_copy(update={"blocks": blocks})
    return Option(
        plan=plan,
        moved=[name for name in plan.people if name in moved],
        longer_s=round(sum(effect.after_s - effect.before_s for effect in effects), 1),
        waiting_more_s=round(sum(effect.waiting_after_s - effect.waiting_before_s for effect in effects), 1),
        blocks=effects,
    )


def _effect(block: Block, here: BlockLength, there: BlockLength) -> BlockEffect:
    return BlockEffect(
        block=block.id,
        name=block.name,
        before_s=round(here.length_s, 1),
        after_s=round(there.length_s, 1),
        waiting_before_s=round(sum(here.waits_s), 1),
        waiting_after_s=round(sum(there.waits_s), 1),
    )


class Affected(BaseModel):
    """A slot or station that cannot be done as planned, how many may be on it at once, and what could stand there.

    `effects` has, for each substitute, what it does to the block when nobody is sent elsewhere.
    """

    part: str
    exercise: str
    name: str
    block: str
    at_once: int
    substitutes: list[Substitute]
    effects: list[BlockEffect]


def without_unit(scene: Scene, unit: str) -> tuple[ClassPlan, list[Affected]]:
    """The plan when a unit is taken, and the parts that have no place any more, each with its substitutes."""
    plan = scene.plan.model_copy(update={"taken": list(dict.fromkeys([*scene.plan.taken, unit]))})
    room = plan.room_of(scene.room)
    kind = next(each_unit.kind for each_unit in scene.room.units if each_unit.id == unit)
    if room.working(kind):
        return plan, []
    found = []
    for block in plan.blocks:
        for part in block.parts:
            if scene.catalogue.exercises[part.exercise].equipment == kind:
                found.append(affected(scene, scene.with_plan(plan), block, part.id))
    return plan, found


def affected(before: Scene, after: Scene, block: Block, part: str) -> Affected:
    """One part of a block with what could stand in its place, and what each would do."""
    exercise = after.catalogue.exercises[next(each_part.exercise for each_part in block.parts if each_part.id == part)]
    earlier = next(each_block for each_block in before.plan.blocks if each_block.id == block.id)
    busy, at_once = _use_meanwhile(earlier, before.around, part)
    need = Need(exercise, after.around.people, at_once, busy)
    ranked = substitutes_for(need, after.around.room, after.catalogue)
    here = block_length(BlockAt.of(earlier, before.around))
    effects = []
    for item in ranked:
        swapped = swap(after.plan, part, after.catalogue.exercises[item.exercise])
        changed = next(other for other in swapped.blocks if other.id == block.id)
        there = block_length(BlockAt.of(changed, after.around))
        effects.append(_effect(block, here, there))
    # what makes the block longer has to be better in other ways
    best = sorted(
        zip(ranked, effects, strict=True), key=lambda two: -two[0].score + min(LONGER_AT_MOST, _longer(two[1]) / 10)
    )
    ranked, effects = [item for item, _ in best], [effect for _, effect in best]
    return Affected(
        part=part,
        exercise=exercise.id,
        name=exercise.name,
        block=block.id,
        at_once=at_once,
        substitutes=ranked,
        effects=effects,
    )


LONGER_AT_MOST = 30.0
"""Ten seconds more of the block cost a substitute one point of its score, this much at the most."""


def _longer(effect: BlockEffect) -> float:
    return max(0.0, effect.after_s - effect.before_s)


def _use_meanwhile(block: Block, around: Circumstances, part: str) -> tuple[dict[str, int], int]:
    """How many places of each kind others take at the most while somebody is on this part, and how many are on it."""
    layout = laid_out(BlockAt.of(block, around))
    mine: list[tuple[float, float]] = []
    others: dict[str, list[tuple[float, float]]] = {}
    for path in layout.paths:
        for step in path:
            if step.doing is not Doing.WORK or step.slot < 0:
                continue
            slot = layout.slots[step.slot]
            span = (step.start_s, step.end_s)
            if slot.id == part:
                mine.append(span)
            else:
                others.setdefault(slot.exercise.equipment, []).append(span)
    busy = {
        kind: _most_at_once([span for span in spans if any(a < span[1] and span[0] < b for a, b in mine)])
        for kind, spans in others.items()
    }
    return busy, max(1, _most_at_once(mine))


def _most_at_once(spans: Iterable[tuple[float, float]]) -> int:
    changes: Counter[tuple[float, int]] = Counter()
    for begin, end in spans:
        changes[begin, 1] += 1
        changes[end, -1] += 1
    now = most = 0
    for (_, by), count in sorted(changes.items(), key=lambda item: item[0]):
        now += by * count
        most = max(most, now)
    return most


class OneMore(BaseModel):
    """What one unit more of a kind would bring to a block: seconds of waiting (in sum) and of length saved."""

    kind: str
    name: str
    block: str
    waiting_saved_s: float
    shorter_s: float


def one_more(scene: Scene) -> list[OneMore]:
    """For every kind that a block of sets uses, what one more of it would bring; the most saving first."""
    found = []
    around = scene.around
    for _, block in scene.plan.of_kind(SetsBlock):
        now = _kindest(line_up(block, around, Outlook.EXPECTED))
        kinds = dict.fromkeys(scene.catalogue.exercises[part.exercise].equipment for part in block.parts)
        for kind in kinds:
            units = [unit for unit in around.room.units if unit.kind == kind]
            if kind == "none" or not units:
                continue
            more = _with_one_more(scene.room, units[0])
            then_around = Circumstances.of(scene.plan.room_of(more), around.people, around.catalogue, around.wishes)
            then = _kindest(line_up(block, then_around, Outlook.EXPECTED))
            found.append(
                OneMore(
                    kind=kind,
                    name=scene.catalogue.equipment[kind].name,
                    block=block.id,
                    waiting_saved_s=round(now.waiting_s - then.waiting_s, 1),
                    shorter_s=round(now.length_s - then.length_s, 1),
                )
            )
    return sorted(found, key=lambda item: (-item.shorter_s - item.waiting_saved_s / len(around.people), item.kind))


def _kindest(lineup: Lineup) -> Trial:
    """The better of the order as it stands and first come, first served: more machines may favour another order."""
    floor = Floor(lineup)
    return min(floor.as_it_stands(), floor.in_ways(lineup.ways()), key=lambda trial: trial.rank)


def _with_one_more(room: Room, unit: Unit) -> Room:
    ids = {unit.id for unit in room.units}
    name = next(f"{unit.id}-more-{number}" for number in range(1, 99) if f"{unit.id}-more-{number}" not in ids)
    extra = unit.model_copy(update={"id": name, "count": 1, "out_of_order": False, "hardware": None})
    return room.model_copy(update={"units": [*room.units, extra]})
