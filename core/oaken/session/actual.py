"""The class as it actually was: real steps up to now, and the plan as it is now from there on, on one time axis.

It is a `Timeline` like any other, in seconds since the class began, so that workload, hearts, energy, waits and density
come out of the code that reads the plan's own.
"""

from __future__ import annotations

from bisect import bisect_right
from dataclasses import dataclass, replace
from itertools import islice, pairwise

from oaken.plan import Block
from oaken.schedule.class_file import ClassFile
from oaken.schedule.timeline import BlockSpan, Doing, SlotUse, Step, Timeline
from oaken.schedule.timeline.bouts import Bout
from oaken.session.clock import RunState, Stretch
from oaken.session.floor import floor_at


@dataclass(frozen=True, slots=True)
class Actual:
    """The actual class: its file with the blocks in the order in which they were gone through (one that was gone back
    to, or changed while it ran, stands twice), its timeline, and up to which second it has really happened."""

    file: ClassFile
    timeline: Timeline
    real_until_s: float


@dataclass(frozen=True, slots=True)
class _Visit:
    """One going through a block: until the next block begins, or until the plan is changed."""

    era: int
    block: int


def actual_class(file: ClassFile, run_state: RunState) -> Actual:
    """Write out everybody's steps. A set that was interrupted is worth what was done of it, piece by piece; whoever is
    away stands aside."""
    stretches = list(run_state.stretches)
    # behind the plan's end nothing is going on any more, unless somebody went on after all
    while stretches and stretches[-1].state == "plan is over":
        stretches.pop()
    if run_state.state not in ("ended", "plan is over"):
        stretches += _still_to_come(run_state)
    slots: list[SlotUse] = []
    visits: list[_Visit] = []
    first_slot: list[int] = []
    began: list[float] = []
    ended: list[float | None] = []
    paths: list[list[Step]] = [[] for _ in file.plan.people]
    planned = [era.timeline.paths for era in run_state.eras]
    floors: dict[tuple[int, _Visit], list[list[Step]]] = {}
    for stretch in stretches:
        for piece, visit in _by_block(run_state, stretch):
            if not visits or visits[-1] != visit:
                first_slot.append(len(slots))
                slots += _slots(run_state, visit, len(visits), len(slots))
                visits.append(visit)
                began.append(piece.from_s)
                ended.append(None)
            ended[-1] = _end_in(run_state, visit, piece, ended[-1])
            shift = first_slot[-1] - run_state.eras[visit.era].timeline.passages[visit.block].first_slot
            on_floor = _on_floor(run_state, floors, piece, visit)
            for person, path in enumerate(paths):
                if on_floor is not None:
                    path += _pieces(on_floor[person], _in_floor_time(piece), len(visits) - 1, shift)
                    continue
                path += _own_pieces(run_state, person, planned[visit.era][person], piece, visit, len(visits) - 1, shift)
    end_s = stretches[-1].to_s if stretches else 0.0
    stops = [last if stop is None else stop for stop, last in zip(ended, [*began[1:], end_s], strict=True)]
    spans = [
        replace(run_state.eras[visit.era].timeline.blocks[visit.block], start_s=start, end_s=stop)
        for visit, start, stop in zip(visits, began, stops, strict=True)
    ]
    steps = [_without_absence(path, file.plan.people[person], run_state) for person, path in enumerate(paths)]
    plan = run_state.era.plan.model_copy(update={"blocks": _blocks(run_state, visits)})
    timeline = Timeline.of_steps(steps, slots, spans)
    return Actual(file.model_copy(update={"plan": plan}), timeline, min(run_state.now_s, end_s))


def _end_in(run_state: RunState, visit: _Visit, piece: Stretch, known: float | None) -> float | None:
    """When a block ended, if it did in this piece; the way to the next block is behind that."""
    end = run_state.eras[visit.era].timeline.blocks[visit.block].end_s
    if piece.state != "runs" or not piece.second <= end <= piece.second + (piece.to_s - piece.from_s):
        return known
    return piece.from_s - piece.second + end


def _slots(run_state: RunState, visit: _Visit, number: int, first: int) -> list[SlotUse]:
    """The slots of a block as the actual axis counts them."""
    layout = run_state.eras[visit.era].timeline.passages[visit.block].layout
    return [
        replace(slot, block=number, stands_for=slot.stands_for + first if slot.stands_for >= 0 else -1)
        for slot in layout.slots
    ]


def _still_to_come(run_state: RunState) -> list[Stretch]:
    """The rest of the plan, as if nothing stood in its way from now on."""
    at, era = run_state.now_s, len(run_state.eras) - 1
    found = []
    if run_state.floor is not None:
        floor, number = run_state.floor, len(run_state.floors) - 1
        ends = at + max(0.0, floor_at(floor).ends_s - floor.now_s)
        if ends > at:
            found.append(Stretch(at, ends, era, run_state.second, "runs over", number, floor.now_s))
        second = run_state.era.timeline.blocks[run_state.era.place(run_state.second)[0]].end_s
        left = run_state.era.timeline.length_s - second
        return [*found, Stretch(ends, ends + left, era, second, "runs")] if left > 0 else found
    if run_state.added_s > 0:
        found.append(Stretch(at, at + run_state.added_s, era, run_state.second, "time added"))
        at += run_state.added_s
    left = run_state.era.timeline.length_s - run_state.second
    if left > 0:
        found.append(Stretch(at, at + left, era, run_state.second, "runs"))
    return found


def _by_block(run_state: RunState, stretch: Stretch) -> list[tuple[Stretch, _Visit]]:
    """A stretch cut where blocks begin, each piece with the block it is in."""
    era = run_state.eras[stretch.era]
    if stretch.state != "runs":
        return [(stretch, _Visit(stretch.era, era.place(stretch.second)[0]))]
    found: list[tuple[Stretch, _Visit]] = []
    end = stretch.second + (stretch.to_s - stretch.from_s)
    first, _ = era.place(stretch.second)
    for block in range(first, len(era.timeline.blocks)):
        here = era.timeline.blocks[block].start_s
        there = era.timeline.blocks[block + 1].start_s if block + 1 < len(era.timeline.blocks) else float("inf")
        from_, to = max(stretch.second, here), min(end, there)
        if to <= from_ and not (to == from_ == end and not found):
            continue
        offset = stretch.from_s - stretch.second
        piece = Stretch(
            stretch.from_s if from_ == stretch.second else offset + from_,
            stretch.to_s if to == end else offset + to,
            stretch.era,
            from_,
            "runs",
            stretch.floor,
            stretch.floor_s + from_ - stretch.second,
        )
        found.append((piece, _Visit(stretch.era, block)))
    return found


ON_THE_FLOOR = ("runs", "time added", "runs over")
"""While the clock stands so, people whom it follows go on."""


def _in_floor_time(piece: Stretch) -> Stretch:
    """A piece of a followed block on the axis of its floor."""
    return replace(piece, second=piece.floor_s, state="runs" if piece.state in ON_THE_FLOOR else piece.state)


def _on_floor(
    run_state: RunState, floors: dict[tuple[int, _Visit], list[list[Step]]], piece: Stretch, visit: _Visit
) -> list[list[Step]] | None:
    """Everybody's steps on the floor of a piece, in floor time; None where people went by the plan's clock."""
    if piece.floor < 0:
        return None
    key = (piece.floor, visit)
    if key not in floors:
        era, floor = run_state.eras[visit.era], run_state.floors[piece.floor]
        rolling = era.rolling(visit.block)
        assert rolling is not None
        first = era.timeline.passages[visit.block].first_slot
        floors[key] = [
            rolling.steps_of(person, placed, first, era.around.catalogue)
            for person, placed in enumerate(floor_at(floor).placed)
        ]
    return floors[key]


def _own_pieces(
    run_state: RunState, person: int, planned: list[Step], piece: Stretch, visit: _Visit, number: int, shift: int
) -> list[Step]:
    """What one person did in a piece: whoever stood before or behind the class, at another second of the axis."""
    era = run_state.eras[visit.era]
    block = era.plan.blocks[visit.block].id
    who = era.plan.people[person]
    own = (
        [item for item in run_state.ahead if item.person == who and item.block == block]
        if piece.state == "runs"
        else []
    )
    if not own:
        return _pieces(planned, piece, number, shift)
    ends = [piece.to_s if item.until_s is None else item.until_s for item in own]
    bounds = {piece.from_s, piece.to_s, *(item.from_s for item in own), *ends}
    found: list[Step] = []
    for start, stop in pairwise(sorted(bound for bound in bounds if piece.from_s <= bound <= piece.to_s)):
        stands = next((item for item, end in zip(own, ends, strict=True) if item.from_s <= start < end), None)
        second = piece.second + (start - piece.from_s)
        part = Stretch(start, stop, piece.era, second, "runs")
        if stands is None or (not stands.ahead_s and stands.stays_at is None):
            found += _pieces(planned, part, number, shift)
            continue
        stays = stop if stands.stays_at is None else start + max(0.0, stands.stays_at - second - stands.ahead_s)
        if stays > start:
            goes = replace(part, to_s=min(stays, stop))
            span = era.timeline.blocks[visit.block]
            found += _ahead_pieces(planned, goes, span, stands.ahead_s, number, shift)
        if stays < stop and stands.stays_at is not None:
            found.append(_goes_on(planned, max(start, stays), stop, stands.stays_at, number, shift))
    return found


def _goes_on(planned: list[Step], start: float, stop: float, second: float, number: int, shift: int) -> Step:
    """What somebody does at a second of the axis, for as long as nobody says that it is over: a turn takes longer."""
    at = min(bisect_right(planned, second, key=lambda step: step.end_s), len(planned) - 1)
    step = planned[at]
    longer = (stop - start) / (step.end_s - step.start_s)
    return _part_of(step, start, stop, min(longer, 1.0), number, shift, opens=False)


def _ahead_pieces(
    planned: list[Step], part: Stretch, span: BlockSpan, ahead: float, number: int, shift: int
) -> list[Step]:
    """The steps of somebody who stands at another second of the block, within it: before it they rest, behind its end
    they are finished."""
    length = part.to_s - part.from_s
    first, last = part.second + ahead, part.second + ahead + length
    # behind the block's end the class is on its way to the next one
    own_end = max(span.end_s, part.second)
    start_at = part.from_s + max(0.0, span.start_s - first)
    end_at = part.to_s - max(0.0, last - own_end)
    found: list[Step] = []
    if start_at > part.from_s:
        found.append(Step(part.from_s, min(start_at, part.to_s), Doing.REST, number))
    if end_at > start_at:
        moved = Stretch(start_at, end_at, part.era, first + (start_at - part.from_s), "runs")
        found += _pieces(planned, moved, number, shift)
    if end_at < part.to_s:
        found.append(Step(max(end_at, part.from_s), part.to_s, Doing.FINISHED, number))
    return found


def _pieces(planned: list[Step], piece: Stretch, visit: int, shift: int) -> list[Step]:
    """What one person did in a piece."""
    if piece.state != "runs":
        return [_standing(planned, piece, visit, shift)]
    end = piece.second + (piece.to_s - piece.from_s)
    offset = piece.from_s - piece.second
    found = []
    first = bisect_right(planned, piece.second, key=lambda step: step.end_s)
    for step in islice(planned, first, None):
        if step.start_s >= end:
            break
        start = piece.from_s if step.start_s <= piece.second else offset + step.start_s
        stop = piece.to_s if step.end_s >= end else offset + step.end_s
        if stop <= start:
            continue
        share = (min(step.end_s, end) - max(step.start_s, piece.second)) / (step.end_s - step.start_s)
        found.append(_part_of(step, start, stop, share, visit, shift, opens=step.start_s >= piece.second))
    return found


def _part_of(
    step: Step, start: float, stop: float, share: float, visit: int, shift: int = 0, *, opens: bool = True
) -> Step:
    """A step, or the part of it that was done: a set that was cut is worth what was done of it."""
    part = step.moved(start, stop, visit, step.slot + shift if step.slot >= 0 else -1)
    part.opens_set = step.opens_set and opens
    if share <= 1 - 1e-9:
        part.bout = None if step.bout is None else _part_of_bout(step.bout, share)
        part.set_up_s *= share
        part.load_change_s *= share
    return part


def _part_of_bout(bout: Bout, share: float) -> Bout:
    """What was done of a bout that was cut."""
    return replace(
        bout,
        work_s=bout.work_s * share,
        effort_s=bout.effort_s * share,
        change_of_side_s=bout.change_of_side_s * share,
        reps=bout.reps * share,
    )


def _standing(planned: list[Step], piece: Stretch, visit: int, shift: int) -> Step:
    """While the clock stands everybody rests; with time added, rest, walk and wait go on longer."""
    if piece.state == "time added":
        at = bisect_right(planned, piece.second, key=lambda step: step.end_s)
        here = planned[at] if at < len(planned) else None
    else:
        here = None
    if here is not None and here.doing is not Doing.WORK:
        return _part_of(replace(here, set_up_s=0.0, load_change_s=0.0), piece.from_s, piece.to_s, 1.0, visit, shift)
    return Step(piece.from_s, piece.to_s, Doing.REST, visit)


def _without_absence(steps: list[Step], person: str, run_state: RunState) -> list[Step]:
    """The steps of somebody in which they stand aside while they are away."""
    for since, until in [(since, until) for who, since, until in run_state.away if who == person]:
        last = until if until is not None else float("inf")
        kept: list[Step] = []
        for step in steps:
            cuts = [step.start_s, *(cut for cut in (since, last) if step.start_s < cut < step.end_s), step.end_s]
            for start, stop in pairwise(cuts):
                if since <= start < last:
                    kept.append(Step(start, stop, Doing.FINISHED, step.block))
                else:
                    share = (stop - start) / (step.end_s - step.start_s)
                    kept.append(_part_of(step, start, stop, share, step.block, opens=start == step.start_s))
        steps = kept
    return steps


def _blocks(run_state: RunState, visits: list[_Visit]) -> list[Block]:
    """The blocks as they were gone through, each with an id of its own."""
    seen: dict[str, int] = {}
    found: list[Block] = []
    for visit in visits:
        block = run_state.eras[visit.era].plan.blocks[visit.block]
        seen[block.id] = seen.get(block.id, 0) + 1
        again = seen[block.id]
        found.append(block if again == 1 else block.model_copy(update={"id": f"{block.id}.{again}"}))
    return found
