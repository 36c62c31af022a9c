"""On the spot: what can be done about something that happens in the middle of a class, each way with its effect.

An offer is a few events that would be appended. What they do is not estimated: the run is folded with them and without
them, and the likely figures of both actual classes are compared. Taking an offer back withdraws its events.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import datetime
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from oaken.basis.faults import FaultyInput, faults_in
from oaken.basis.words import counted
from oaken.domain.catalogue import Catalogue
from oaken.forecast import likely_figures
from oaken.forecast.workload import carry_out
from oaken.plan import Block, CircuitBlock, PlannedVisit, Reference, Rotation, SetsBlock
from oaken.plan.changes import (
    Change,
    Later,
    LeaveOut,
    MilderForHeat,
    OrderVisits,
    SetChange,
    SetRounds,
    ShorterRests,
    SwapExercise,
)
from oaken.schedule.arrange.what_if import Scene, without_unit
from oaken.schedule.class_file import ClassFile
from oaken.schedule.rotation.reorder import begun_sets, better_order
from oaken.schedule.timeline import Doing, Step
from oaken.session.actual import actual_class
from oaken.session.clock import RunState, replay_events
from oaken.session.events import Came, Changed, Event, Left, MovedOn, UnitLost, WentOn, event_of
from oaken.session.floor import floor_at

MOST_OFFERS = 8
SUBSTITUTES = 4
LEAST_CHANGE_S = 10
EXTRA_AT_MOST = 20

_fault = faults_in("what happened", "")


class _Ask(BaseModel):
    model_config = ConfigDict(extra="forbid")


class LosesUnit(_Ask):
    """A unit cannot be used any more."""

    what: Literal["unit"] = "unit"
    unit: Reference


class Comes(_Ask):
    """Somebody who was not there joins."""

    what: Literal["comes"] = "comes"
    person: Reference


class Leaves(_Ask):
    """Somebody leaves."""

    what: Literal["leaves"] = "leaves"
    person: Reference


class TooHot(_Ask):
    """It is hotter than planned."""

    what: Literal["hot"] = "hot"


class RunsLate(_Ask):
    """The class will not be over in time."""

    what: Literal["late"] = "late"


class ExtraRound(_Ask):
    """One more, for those who can."""

    what: Literal["extra"] = "extra"


Ask = Annotated[LosesUnit | Comes | Leaves | TooHot | RunsLate | ExtraRound, Field(discriminator="what")]


class AdjustmentEffect(BaseModel):
    """What a way does to the class as it will have been: seconds, percent of the time, and differences from going on
    without it. Hearts and
    energy are the mean of everybody; None for whoever may not read them."""

    model_config = ConfigDict(json_schema_serialization_defaults_required=True)

    length_s: float
    ends_later_s: float
    work_share_change: float
    waiting_change_s: float
    heart_change_bpm: float | None
    energy_change_kcal: float | None


class Offer(BaseModel):
    """A way to go on: what it is, why, the events that make it so (without id and time), and what it does."""

    model_config = ConfigDict(json_schema_serialization_defaults_required=True)

    name: str
    detail: str
    events: list[dict[str, Any]]
    effect: AdjustmentEffect


Way = tuple[str, str, list[dict[str, Any]]]


def offers(file: ClassFile, events: Sequence[Event], now: datetime, ask: Ask) -> list[Offer]:
    """The ways there are, with their effects; of a class that runs late those that make it end sooner. Raises
    FaultyInput for somebody or something that is not in this class."""
    run_state = replay_events(file, events, now)
    if run_state.state in ("not begun", "ended"):
        raise FaultyInput([_fault("what", "the class is not under way", "a class that has begun")])
    known = {"person": run_state.era.plan.people, "unit": [unit.id for unit in file.room.units]}
    for name, ids in known.items():
        named = getattr(ask, name, None)
        if named is not None and named not in ids:
            raise FaultyInput([_fault(name, f"{named!r} is not in this class", "one of its own")])
    before = _told(file, run_state)
    found = []
    under_way = _UnderWay(file, events, now)
    for name, detail, more in _ways(under_way, run_state, ask)[:MOST_OFFERS]:
        after = _told(file, under_way.after(more))
        found.append(Offer(name=name, detail=detail, events=more, effect=_effect(before, after)))
    if isinstance(ask, RunsLate):
        shorter = [item for item in found if item.effect.ends_later_s < -1]
        return sorted(shorter, key=lambda item: item.effect.ends_later_s)
    return found


@dataclass
class _UnderWay:
    """A class at a moment, and how it stands with more events; each is folded once."""

    file: ClassFile
    events: Sequence[Event]
    now: datetime
    known: list[tuple[list[dict[str, Any]], RunState]] = field(default_factory=list)

    def after(self, more: list[dict[str, Any]]) -> RunState:
        for told, run_state in self.known:
            if told == more:
                return run_state
        added = [
            event_of({**item, "id": f"offer-{number:03}", "happened_at": self.now}) for number, item in enumerate(more)
        ]
        run_state = replay_events(self.file, [*self.events, *added], self.now)
        self.known.append((more, run_state))
        return run_state


@dataclass(frozen=True, slots=True)
class _Told:
    """What a class comes to as far as offers tell it: seconds, and the mean of everybody in percent, bpm and kcal."""

    length_s: float
    work_share: float
    waiting_s: float
    heart_bpm: float | None
    energy_kcal: float


def _told(file: ClassFile, run_state: RunState) -> _Told:
    real = actual_class(file, run_state)
    carried = carry_out(real.file, real.timeline)
    figures = likely_figures(carried, real.file.participants)
    hearts = [own.heart_mean.value for own in figures if own.heart_mean is not None]
    return _Told(
        length_s=real.timeline.length_s,
        work_share=float(np.mean([own.work_share.value for own in figures])),
        waiting_s=float(np.mean([done.waiting_s for done in carried.workload.done])),
        heart_bpm=float(np.mean(hearts)) if hearts else None,
        energy_kcal=float(np.mean([own.energy.value for own in figures])),
    )


def _effect(before: _Told, after: _Told) -> AdjustmentEffect:
    hearts = before.heart_bpm is not None and after.heart_bpm is not None
    return AdjustmentEffect(
        length_s=round(after.length_s, 1),
        ends_later_s=round(after.length_s - before.length_s, 1),
        work_share_change=round(after.work_share - before.work_share, 2),
        waiting_change_s=round(after.waiting_s - before.waiting_s, 1),
        heart_change_bpm=round((after.heart_bpm or 0.0) - (before.heart_bpm or 0.0), 2) if hearts else None,
        energy_change_kcal=round(after.energy_kcal - before.energy_kcal, 2),
    )


def _ways(under_way: _UnderWay, run_state: RunState, ask: Ask) -> list[Way]:
    match ask:
        case LosesUnit():
            return _without_unit(under_way, run_state, ask.unit)
        case Comes():
            return _joins(run_state, ask.person)
        case Leaves():
            return [("leaves", "what they did stays", [_document(Left, person=ask.person)])]
        case TooHot():
            return _milder(run_state)
        case RunsLate():
            return _shorter(under_way.file, run_state)
        case ExtraRound():
            return _extra(run_state)


def _document(kind: type[Event], **fields: Any) -> dict[str, Any]:
    return {"kind": kind.model_fields["kind"].default, **fields}


def _changed(change: Change) -> dict[str, Any]:
    return _document(Changed, change=change.model_dump(mode="json", exclude_none=True))


def _here(run_state: RunState) -> int:
    return run_state.era.place(run_state.second)[0]


def _without_unit(under_way: _UnderWay, run_state: RunState, unit: str) -> list[Way]:
    """On without it, and where no other unit of its kind is left, with each of the best substitutes for what is to come
    on it. Sets done stay, and everybody goes on behind the sets they have done."""
    file, plan = under_way.file, run_state.era.plan
    people = {person.id: person for person in file.people}
    _, affected = without_unit(Scene(plan, file.room, people, file.catalogue()), unit)
    lost = _document(UnitLost, unit=unit)
    # a block that is over needs no substitute
    left = {block.id for block in plan.blocks[_here(run_state) :]}
    to_come = [item for item in affected if item.block in left and item.substitutes]
    ways: list[Way] = []
    if not to_come:
        ways.append(("go on without it", "the others of its kind take over", [lost]))
    for place in range(min(SUBSTITUTES, max((len(item.substitutes) for item in to_come), default=0))):
        chosen = [(item, item.substitutes[min(place, len(item.substitutes) - 1)]) for item in to_come]
        swaps = [SwapExercise(slot=item.part, exercise=other.exercise) for item, other in chosen]
        names = "; ".join(f"{other.name} for {item.name}" for item, other in chosen)
        why = ", ".join(chosen[0][1].for_it[:3])
        if run_state.follows == "people":
            # everybody goes on from where they are: one event says it all
            changes = [swap.model_dump(mode="json") for swap in swaps]
            ways.append((names, why, [{**lost, "changes": changes}]))
        else:
            ways.append((names, why, [lost, *map(_changed, swaps)]))
    if to_come:
        ways.append(("leave it out", "whoever comes to it has nothing to do there", [lost]))
    if run_state.follows == "people":
        name, _, [event] = ways[0]
        plain = under_way.after([event])
        ordered = _in_better_order(plain)
        if ordered is not None:
            changes = [*event.get("changes", []), ordered.model_dump(mode="json", exclude_none=True)]
            another = {**event, "changes": changes}
            if _ends_s(under_way.after([another])) < _ends_s(plain) - LEAST_SOONER_S:
                ways.insert(1, (f"{name}, in another order", IN_ANOTHER_ORDER, [another]))
        return ways
    return [(name, why, [*more, *keeping_places(run_state, under_way.after(more))]) for name, why, more in ways]


IN_ANOTHER_ORDER = "whoever would wait goes elsewhere first; what is under way stays"

LEAST_SOONER_S = 10.0
"""Another order is offered where the block is over so much sooner by it as it would be followed."""


def _ends_s(run_state: RunState) -> float:
    return floor_at(run_state.floor).ends_s if run_state.floor is not None else 0.0


def _in_better_order(run_state: RunState) -> Change | None:
    """A better order of everybody's visits that have not begun, where people are followed and one is found; the visits
    that have begun stand before them as they really were."""
    block = run_state.era.plan.blocks[_here(run_state)]
    floor = run_state.floor
    if floor is None or not isinstance(block, SetsBlock) or block.rounds_run != "back_and_forth":
        return None
    placed, work = floor_at(floor).placed, floor.plans[-1].work
    found = better_order(work, placed, floor.now_s)
    if found is None:
        return None
    group_of = {slot.id: group.id for group in block.groups for slot in group.slots}
    visits: dict[str, list[PlannedVisit]] = {}
    for person, name in enumerate(floor.people):
        begun = [move for move in placed[person][: begun_sets(placed[person], floor.now_s)] if not move.cut]
        starts = [(move.task.id[0], move.work_from_s) for move in begun]
        starts += [(work.tasks[person][move.task.tag].id[0], move.work_from_s) for move in found.placed[person]]
        own: dict[str, list[float]] = {}
        for part, start in starts:
            if part in group_of:
                own.setdefault(group_of[part], []).append(round(max(0.0, start + floor.from_s), 1))
        visits[name] = [PlannedVisit(group=group, sets_s=sets) for group, sets in own.items()]
    return OrderVisits(block=block.id, rotation=Rotation(visits=visits, first_come=True))


def keeping_places(before: RunState, after: RunState) -> list[dict[str, Any]]:
    """The moves that let everybody go on behind the sets they have done, where a block at their own pace was laid out
    anew under them: nobody does a set again or misses one, and the block lasts as long as the slowest still needs."""
    block = before.era.plan.blocks[_here(before)]
    if not block.OWN_PACE or after.era.plan.blocks[_here(after)].id != block.id:
        return []
    span = after.era.timeline.blocks[_here(after)]
    goals: dict[str, float] = {}
    left = 0.0
    for person, name in enumerate(before.era.plan.people):
        done, under_way = _sets_done(before, person, before.second + before.ahead_of(name))
        goals[name] = goal = _behind(after, person, done, under_way)
        steps = [step for step in after.era.timeline.paths[person] if step.block == _here(after)]
        ends = max((step.end_s for step in steps if step.doing is not Doing.FINISHED), default=span.start_s)
        left = max(left, ends - goal)
    second = max(span.start_s, span.end_s - left)
    if max(abs(goal - after.second) for goal in goals.values()) < 1 and abs(second - after.second) < 1:
        return []
    on = _document(WentOn, block=block.id, second=round(second - span.start_s, 1))
    moves = [
        _document(MovedOn, person=name, block=block.id, second=round(goal - span.start_s, 1))
        for name, goal in goals.items()
    ]
    return [on, *moves]


def _sets(run_state: RunState, person: int) -> list[tuple[str, Step]]:
    """Somebody's sets in the block under way: the part each is of, and its first step."""
    here = _here(run_state)
    return [
        (run_state.era.timeline.slots[step.slot].id, step)
        for step in run_state.era.timeline.paths[person]
        if step.block == here and step.doing is Doing.WORK and step.opens_set and step.slot >= 0
    ]


def _sets_done(run_state: RunState, person: int, second: float) -> tuple[int, float | None]:
    """How many sets of the block somebody has done, and for how long the one under way has run (None: none is)."""
    sets = _sets(run_state, person)
    begun = [step for _, step in sets if step.start_s <= second]
    if begun and begun[-1].end_s > second:
        return len(begun) - 1, second - begun[-1].start_s
    return len(begun), None


def _behind(run_state: RunState, person: int, done: int, under_way: float | None) -> float:
    """The second of another layout at which somebody has done so many sets."""
    sets = [step for _, step in _sets(run_state, person)]
    if under_way is not None and done < len(sets):
        return sets[done].start_s + under_way
    if done == 0:
        return run_state.era.timeline.blocks[_here(run_state)].start_s
    return sets[done - 1].end_s if done <= len(sets) else run_state.era.timeline.blocks[_here(run_state)].end_s


def _joins(run_state: RunState, person: str) -> list[Way]:
    """Where somebody who comes late begins: where their own path is now, or, in a block at their own pace, at its first
    exercise or at the next set that they would come to fresh."""
    came = _document(Came, person=person)
    ways: list[Way] = [("joins where the others are", "from where their own path is now", [came])]
    block = run_state.era.plan.blocks[_here(run_state)]
    if not block.OWN_PACE:
        return ways
    own = run_state.era.plan.people.index(person)
    span = run_state.era.timeline.blocks[_here(run_state)]
    sets = _sets(run_state, own)
    if sets and run_state.second > sets[0][1].end_s:
        first = round(sets[0][1].start_s - span.start_s, 1)
        begins = _document(MovedOn, person=person, block=block.id, second=first)
        ways.append(("begins at the first exercise", "does what fits until the block is over", [came, begins]))
    coming = next((step for _, step in sets if step.start_s > run_state.second), None)
    if coming is not None:
        second = round(coming.start_s - span.start_s, 1)
        begins = _document(MovedOn, person=person, block=block.id, second=second)
        ways.append(("begins at once with the next set", "waits for nobody's clock", [came, begins]))
    return ways


def _milder(run_state: RunState) -> list[Way]:
    block = run_state.era.plan.blocks[_here(run_state)]
    drink = "half as much rest again, drops on the last set only, water between the blocks that are left"
    return [("the rest of the class milder", drink, [_changed(Later(block=block.id, change=MilderForHeat()))])]


def _shorter(file: ClassFile, run_state: RunState) -> list[Way]:
    """What can go: a whole block that is still to come, a round or a set, rests."""
    plan, here = run_state.era.plan, _here(run_state)
    current, later = plan.blocks[here], plan.blocks[here + 1 :]
    ways: list[Way] = []
    if isinstance(current, CircuitBlock) and current.rounds > 1:
        fewer = SetRounds(block=current.id, rounds=current.rounds - 1)
        ways.append((f"{current.name}: one round less", f"{counted(current.rounds - 1, 'round')}", [_changed(fewer)]))
    if isinstance(current, SetsBlock) and run_state.follows == "people" and (sets := _rounds(current)) > 1:
        fewer = SetRounds(block=current.id, rounds=sets - 1)
        detail = f"{sets - 1} instead of {sets}; what is done stays"
        ways.append((f"{current.name}: one set of everything less", detail, [_changed(fewer)]))
        ways += _last_sets(current, file.catalogue())
    ordered = _in_better_order(run_state)
    if ordered is not None:
        ways.append((f"{current.name}: in another order", IN_ANOTHER_ORDER, [_changed(ordered)]))
    for block in later:
        if block.purpose != "cool_down":
            ways.append((f"without {block.name}", "the whole block goes", [_changed(LeaveOut(block=block.id))]))
        if (rounds := _rounds(block)) > 1:
            name = "round" if isinstance(block, CircuitBlock) else "set of everything"
            fewer = SetRounds(block=block.id, rounds=rounds - 1)
            ways.append((f"{block.name}: one {name} less", f"{rounds - 1} instead of {rounds}", [_changed(fewer)]))
    circuits = [block for block in later if isinstance(block, CircuitBlock) and block.change_s > LEAST_CHANGE_S]
    if circuits:
        quick = [
            SetChange(block=circuit.id, change_s=max(LEAST_CHANGE_S, circuit.change_s - 5)) for circuit in circuits
        ]
        ways.append(
            ("quicker changes", "5 s less between stations from the next block on", [_changed(item) for item in quick])
        )
    if later:
        rests = Later(block=current.id, change=ShorterRests(factor=0.7))
        ways.append(("shorter rests", "at 70 % of what they are, from the next block on", [_changed(rests)]))
    return ways


def _last_sets(block: SetsBlock, catalogue: Catalogue) -> list[Way]:
    """The last set less of one exercise of the block, or of those that are done in turn, for each."""
    ways: list[Way] = []
    for group in block.groups:
        sets = max((slot.rounds for slot in group.slots), default=0)
        if sets > 1:
            names = " and ".join(catalogue.exercises[slot.exercise].name for slot in group.slots)
            fewer = SetRounds(block=block.id, rounds=sets - 1, group=group.id)
            ways.append((f"{names}: without the last set", f"{sets - 1} instead of {sets}", [_changed(fewer)]))
    return ways


def _rounds(block: Block) -> int:
    if isinstance(block, CircuitBlock):
        return block.rounds
    if isinstance(block, SetsBlock):
        return max((slot.rounds for group in block.groups for slot in group.slots), default=0)
    return 0


def _extra(run_state: RunState) -> list[Way]:
    """One more round of stations, of the block under way or of one that is still to come."""
    ways: list[Way] = []
    for block in run_state.era.plan.blocks[_here(run_state) :]:
        if isinstance(block, CircuitBlock) and block.rounds < EXTRA_AT_MOST:
            more = SetRounds(block=block.id, rounds=block.rounds + 1)
            detail = f"{block.rounds + 1} instead of {block.rounds}; whoever has had enough stands aside"
            ways.append((f"{block.name}: one round more", detail, [_changed(more)]))
    return ways
