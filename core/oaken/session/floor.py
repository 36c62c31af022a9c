"""Where everybody really is in a block at their own pace: what was pressed, and the rest dispatched again from it.

A `FloorVisit` is one going through such a block: its floor time (seconds in which the class ran, with time that was
added and without pauses), the plans it had, and what was seen. `floor_at` is a pure function of it: the same on every
device, whatever order the events came in. `web/src/live/floor.ts` does the same, held to this by golden cases.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Literal, NamedTuple

from oaken.schedule.rotation.rolling import NEVER, PersonOnFloor, Placement, RollingTask, RollingWork, SeenSet, roll

SetId = tuple[str, int]
"""A set of somebody: the part of the plan and its number."""

How = Literal["done", "started", "another", "skipped", "stands", "left", "came"]

MISSED_SHARE = 0.25
"""Who leaves out more than this share of presses is not waited for: what was not pressed is then estimated."""

CLASS_PRESSES = 3
"""From so many presses of a class on, somebody of whom nothing was pressed yet is taken to be like the others."""

HARD_SHARE = 0.6
"""A set that was pressed is not over in less than this share of its seconds: presses that follow one another faster
were made afterwards, all at once."""


TOO_SOON_SHARE, TOO_SOON_MORE_THAN = 0.8, 0.015
"""Two people who are seen to end on one place within this share of the later one's seconds: one of the presses was
late. Where more than the second share of those close together are, presses come late, and nothing is held for them."""

LATE_FROM_S, LATE_AT_MOST_S = 15.0, 60.0
"""From which median delay of everybody's first press on, late presses are taken to be as late as that."""


class SeenPress(NamedTuple):
    """Something that was seen of somebody at a second of floor time: of a set by its id, of a place in the plan by its
    second (`stands`), or that they left or came."""

    at_s: float
    how: How
    person: str
    set_id: SetId = ("", 0)
    unit: int | None = None
    second: float = 0.0


class FloorPlan(NamedTuple):
    """A plan of the block from a second of floor time on."""

    from_s: float
    work: RollingWork


@dataclass
class FloorVisit:
    """One going through a block at people's own pace. `from_s` is the second of the block at which it began, `people`
    the ids of everybody in the order of the plan, `done_before` the sets that were done in an earlier visit, `absent`
    who was away at its beginning, `now_s` its floor time so far."""

    block: str
    people: Sequence[str]
    from_s: float
    plans: list[FloorPlan]
    absent: frozenset[str] = frozenset()
    done_before: frozenset[tuple[str, SetId]] = frozenset()
    now_s: float = 0.0
    presses: list[SeenPress] = field(default_factory=list)
    pauses: list[tuple[float, float]] = field(default_factory=list)
    answered: dict[tuple[float, int, int], FloorState] = field(default_factory=dict, compare=False, repr=False)
    """What was answered last, for those who ask the same at the same moment."""

    def pause(self, seconds: float) -> None:
        """Let the floor stand still for so long."""
        if self.pauses and self.pauses[-1][0] == self.now_s:
            self.pauses[-1] = (self.now_s, self.pauses[-1][1] + seconds)
        else:
            self.pauses.append((self.now_s, seconds))
        self.answered.clear()


@dataclass(frozen=True)
class FloorState:
    """Everybody's sets as they stand: those that are over, under way and to come, in floor seconds. `ends_s` is when
    the last is expected to be over."""

    now_s: float
    placed: list[list[Placement]]

    @property
    def ends_s(self) -> float:
        """When the last set is expected to be over."""
        return max((own[-1].end_s for own in self.placed if own), default=0.0)

    def over(self, people: Sequence[str]) -> dict[str, frozenset[SetId]]:
        """What everybody has done so far."""
        return {
            name: frozenset(item.task.id for item in own if item.end_s <= self.now_s and not item.held and not item.cut)
            for name, own in zip(people, self.placed, strict=True)
        }

    @property
    def held(self) -> bool:
        """Whether somebody is waited for whose set would be over, had anybody said so."""
        return any(placement.held for own in self.placed for placement in own)


def floor_at(visit: FloorVisit) -> FloorState:
    """Where everybody is in a visit, and what they do next."""
    asked = (visit.now_s, len(visit.presses), len(visit.plans))
    if asked not in visit.answered:
        visit.answered.clear()
        visit.answered[asked] = _floor_at(visit)
    return visit.answered[asked]


def _floor_at(visit: FloorVisit) -> FloorState:
    people = [PersonOnFloor([]) for _ in visit.people]
    begin = visit.plans[0].work
    if visit.from_s > 0:
        planned = [PersonOnFloor(list(range(len(own)))) for own in begin.tasks]
        for person, own in zip(people, roll(begin, planned, 0.0), strict=True):
            person.fixed = [
                _moved(placement, -visit.from_s) for placement in own if placement.work_from_s < visit.from_s
            ]
    late_s = _late_s(visit)
    placed: list[list[Placement]] = [person.fixed for person in people]
    for number, (from_s, work) in enumerate(visit.plans):
        last = number == len(visit.plans) - 1
        until = visit.now_s if last else visit.plans[number + 1].from_s
        people = [
            _stand(visit, work, number_of, placed[number_of], from_s, until, late_s or 0.0)
            for number_of in range(len(visit.people))
        ]
        if late_s is None:
            _judge(people)
        placed = roll(work, people, until, visit.pauses)
    return FloorState(visit.now_s, placed)


def _moved(placement: Placement, by_s: float) -> Placement:
    return placement._replace(
        leave_s=placement.leave_s + by_s,
        arrive_s=placement.arrive_s + by_s,
        rested_s=placement.rested_s + by_s,
        set_up_from_s=placement.set_up_from_s + by_s,
        work_from_s=placement.work_from_s + by_s,
        end_s=placement.end_s + by_s,
    )


def _stand(
    visit: FloorVisit,
    work: RollingWork,
    number: int,
    before: list[Placement],
    from_s: float,
    until_s: float,
    late_s: float,
) -> PersonOnFloor:
    """What is known of somebody in one of the visit's plans, from what they did in the plan before it."""
    name, tasks = visit.people[number], work.tasks[number]
    index_of = work.index_of[number]
    own = _Own(tasks)
    over = {set_id for person, set_id in visit.done_before if person == name}
    under_way: Placement | None = None
    for placement in before:
        if placement.work_from_s >= from_s:
            own.stands_at = placement.unit if placement.leave_s <= from_s else None
            break
        index = index_of.get(placement.task.id)
        if placement.end_s > from_s or placement.held:
            lost = placement.unit >= 0 and not any(placement.unit in units for units in work.stock.values())
            same = index is not None and tasks[index].kind == placement.task.kind
            if lost:
                # the set is broken off, and done again elsewhere
                own.fixed.append(placement._replace(end_s=from_s, held=False, cut=True))
                break
            if same:
                under_way = placement
                break
        own.fixed.append(placement)
        if not placement.cut:
            over.add(placement.task.id)
    own.order = [index for index, task in enumerate(tasks) if task.id not in over]
    if under_way is not None:
        first = index_of[under_way.task.id]
        own.order = [first, *(index for index in own.order if index != first)]
        own.seen[first] = SeenSet(start_s=under_way.work_from_s, unit=under_way.unit, assumed=not under_way.known)
    away_since: float | None = 0.0 if name in visit.absent else None
    for press in visit.presses:
        if press.person != name or press.at_s > until_s:
            continue
        if press.how == "left":
            away_since = press.at_s if away_since is None else away_since
        elif press.how == "came":
            if away_since is not None:
                own.away.append((away_since, press.at_s))
            begins = any(
                other.how == "stands" and other.person == name and other.at_s == press.at_s for other in visit.presses
            )
            if name in visit.absent and away_since == 0.0 and not begins:
                # whoever comes late joins where the others are, unless it is said where they begin
                own.join(press.at_s)
            away_since = None
        elif press.at_s >= from_s:
            if press.how == "stands":
                own.stand(press.at_s, press.second)
            elif press.set_id in index_of and index_of[press.set_id] in own.order:
                at = max(from_s, press.at_s - late_s) if press.how == "done" else press.at_s
                own.press(press._replace(at_s=at), index_of[press.set_id])
    if away_since is not None:
        own.away.append((away_since, NEVER))
    return own.known()


def _late_s(visit: FloorVisit) -> float | None:
    """By how much those who press in this visit do so late; None where they press as sets end."""
    work = visit.plans[-1].work
    number_of = {name: number for number, name in enumerate(visit.people)}
    before: dict[int, SeenPress] = {}
    first: dict[str, float] = {}
    pressed: set[tuple[str, SetId]] = set()
    close = too_soon = 0
    for press in visit.presses:
        key = (press.person, press.set_id)
        task = work.by_id[number_of[press.person]].get(press.set_id)
        if press.how != "done" or task is None or key in pressed or press.at_s > visit.now_s:
            continue
        pressed.add(key)
        if press.person not in first:
            first[press.person] = press.at_s - (task.start_s + task.work_s - visit.from_s)
        if press.unit is None or work.places[press.unit] != 1:
            continue
        last = before.get(press.unit)
        if last is not None and last.person != press.person:
            apart = press.at_s - last.at_s
            close += apart < 3 * task.work_s
            too_soon += apart < TOO_SOON_SHARE * task.work_s
        before[press.unit] = press
    if too_soon <= TOO_SOON_MORE_THAN * close:
        return None
    delays = sorted(first.values())
    middle = delays[len(delays) // 2]
    return min(LATE_AT_MOST_S, middle) if middle >= LATE_FROM_S else 0.0


def _judge(people: list[PersonOnFloor]) -> None:
    """Say of everybody whether whoever presses for them does so promptly: what is not pressed is then not over."""
    pressed = [sum(seen.end_s is not None for seen in person.seen.values()) for person in people]
    missed = [sum(seen.end_s is None and seen.over for seen in person.seen.values()) for person in people]
    whole, left_out = sum(pressed), sum(missed)
    all_do = whole >= CLASS_PRESSES and left_out <= MISSED_SHARE * (whole + left_out)
    for person, done, not_done in zip(people, pressed, missed, strict=True):
        if done + not_done == 0:
            person.prompt = all_do
        else:
            person.prompt = done > 0 and not_done <= MISSED_SHARE * (done + not_done) + (1 if all_do else 0)


@dataclass
class _Own:
    """Somebody's sets in a plan, as presses put them in order: those before `front` are over."""

    tasks: Sequence[RollingTask]
    order: list[int] = field(default_factory=list)
    seen: dict[int, SeenSet] = field(default_factory=dict)
    not_before: dict[int, float] = field(default_factory=dict)
    fixed: list[Placement] = field(default_factory=list)
    away: list[tuple[float, float]] = field(default_factory=list)
    stands_at: int | None = None
    front: int = 0

    def press(self, press: SeenPress, index: int) -> None:
        """Take in what was seen of a set."""
        place = self.order.index(index)
        if place < self.front and self.seen[index].end_s is not None:
            return  # what is done is not done again
        if press.how == "done" and place < self.front:
            # it was not over when a later one was: they came back to it
            del self.order[place]
            self.front -= 1
            self.order.insert(self.front, index)
            place = self.front
            self.seen.pop(index)
        if place < self.front:
            self._back(place)
        elif press.how == "another" or (press.how == "done" and self._taken_first(place)):
            self._first(place)
        else:
            for earlier in self.order[self.front : place]:
                self.seen[earlier] = self.seen.get(earlier, SeenSet())._replace(over=True)
            self.front = place
        if press.how == "done":
            known = self.seen.get(index, SeenSet())
            unit = known.unit if press.unit is None else press.unit
            self.seen[index] = known._replace(end_s=press.at_s, unit=unit)
            self.front += 1
        elif press.how == "skipped":
            self.seen.pop(index, None)
            del self.order[self.front]
            if self.front < len(self.order):
                self.not_before[self.order[self.front]] = press.at_s
        else:
            self.seen[index] = SeenSet(start_s=press.at_s, unit=press.unit)

    def stand(self, at_s: float, second: float) -> None:
        """Take in that somebody was put at a second of the plan."""
        place = next(
            (
                place
                for place, index in enumerate(self.order)
                if self.tasks[index].start_s + self.tasks[index].work_s > second
            ),
            len(self.order),
        )
        if place < self.front:
            self._back(place)
            place = self.front
        for earlier in self.order[self.front : place]:
            self.seen[earlier] = self.seen.get(earlier, SeenSet())._replace(over=True)
        self.front = place
        if place < len(self.order):
            index = self.order[place]
            start = self.tasks[index].start_s
            self.seen.pop(index, None)
            if second >= start - 0.5:
                self.seen[index] = SeenSet(start_s=at_s - max(0.0, second - start))
            else:
                self.not_before[index] = at_s + (start - second)

    def join(self, at_s: float) -> None:
        """Leave out what the plan has had begin by now."""
        ahead = [index for index in self.order[self.front :] if self.tasks[index].start_s >= at_s]
        self.order = [*self.order[: self.front], *ahead]

    def _back(self, place: int) -> None:
        """What was only taken to be over from a place of the order on is not over after all."""
        behind = self.order[place : self.front]
        done = [index for index in behind if self.seen[index].end_s is not None]
        others = [index for index in behind if index not in done]
        for index in others:
            self.seen.pop(index)
        self.order = [*self.order[:place], *done, *others, *self.order[self.front :]]
        self.front = place + len(done)

    def _taken_first(self, place: int) -> bool:
        """Whether a set that was done was taken before what the plan has before it: nothing of that was begun, or too
        much of it is missing to have been forgotten by somebody who presses."""
        visit = self.tasks[self.order[place]].visit
        between = {self.tasks[index].visit for index in self.order[self.front : place]}
        if not between or visit in between:
            return False
        pressed = sum(seen.end_s is not None for seen in self.seen.values())
        missed = sum(seen.over and seen.end_s is None for seen in self.seen.values())
        if place - self.front > 1 and pressed > 0 and missed <= MISSED_SHARE * (pressed + missed):
            return True
        begun = {self.tasks[index].visit for index in self.order[: self.front]}
        begun |= {self.tasks[index].visit for index in self.seen}
        begun |= {placement.task.visit for placement in self.fixed}
        return not between & begun

    def _first(self, place: int) -> None:
        """Let the set at a place, and what is left of its visit, come before what the plan has before it."""
        ahead, index = self.order[self.front :], self.order[place]
        visit = self.tasks[index].visit
        between = {self.tasks[other].visit for other in self.order[self.front : place]}
        if visit in between or not between:
            chosen = [index]
        else:
            chosen = [other for other in ahead if self.tasks[other].visit == visit]
            chosen = [index, *(other for other in chosen if other != index)]
        for other in ahead:
            if other not in chosen:
                self.seen.pop(other, None)
        self.order = [*self.order[: self.front], *chosen, *(other for other in ahead if other not in chosen)]

    def known(self) -> PersonOnFloor:
        """What is known of them, with what cannot have been so put right."""
        soft = hard = NEVER
        for place in range(len(self.order) - 1, -1, -1):
            index = self.order[place]
            seen, task = self.seen.get(index), self.tasks[index]
            if seen is None:
                continue
            if soft < NEVER and seen.end_s is None:
                seen = seen._replace(over=True)
            if seen.end_s is not None and seen.end_s > hard:
                # pressed afterwards, all at once
                seen = seen._replace(end_s=None, over=True)
            if seen.start_s is not None and seen.start_s > min(hard, NEVER if seen.end_s is None else seen.end_s):
                seen = seen._replace(start_s=None)
            if seen.over and seen.end_s is None and soft < NEVER:
                seen = seen._replace(latest_s=soft)
            self.seen[index] = seen
            if seen.start_s is not None:
                begin = least = seen.start_s
            elif seen.end_s is not None:
                begin, least = seen.end_s - task.work_s, seen.end_s - HARD_SHARE * task.work_s
            elif seen.latest_s is not None:
                begin = least = seen.latest_s - task.work_s
            else:
                continue
            rest = self.tasks[self.order[place - 1]].rest_s if place else 0.0
            soft, hard = begin - rest, least
        return PersonOnFloor(
            order=self.order,
            seen=self.seen,
            not_before_s=self.not_before,
            away=self.away,
            fixed=self.fixed,
            stands_at=self.stands_at,
            prompt=False,
        )
