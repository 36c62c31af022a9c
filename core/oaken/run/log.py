"""What was done: every set that was planned, and every set that was written down, each with how it stands."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

from oaken.class_file import ClassFile
from oaken.room import Unit, nearest_kg
from oaken.run.clock import Course
from oaken.run.events import AsPlanned, Event, SetDone, standing
from oaken.timeline import Bout, Doing, Step, Timeline, load_kg

Written = Literal["not written", "as planned", "done"]
"""Not written is not the same as done as planned."""


@dataclass(frozen=True, slots=True)
class LogRow:
    """One set of one person: what was planned (None where nothing was), how it stands, and what was written down of it,
    side by side for a one-sided exercise. `bouts` are what was planned of it, `unit` where (empty for none),
    `start_s` when it was to begin, on the axis of the plan as it was last. Loads are those that can be set."""

    person: str
    block: str
    part: str
    exercise: str
    number: int
    planned_kg: float | None
    planned_reps: float | None
    written: Written
    done: tuple[SetDone, ...] = ()
    bouts: tuple[Bout, ...] = ()
    unit: str = ""
    start_s: float | None = None

    @property
    def window(self) -> tuple[int, int] | None:
        """The planned repetitions of its first stretch, a side where sides are counted; None where it goes by the
        clock."""
        first = self.bouts[0].segment if self.bouts else None
        if first is None or first.reps is None:
            return None
        low, high = first.reps, first.reps_to or first.reps
        return (max(1, low // 2), max(1, high // 2)) if first.sides == "in_all" else (low, high)


def log_of(file: ClassFile, events: Sequence[Event], course: Course) -> list[LogRow]:
    """The log of a class, person after person in the order of the plan, each in the order of their own path. Sets that
    nobody planned (a ramp that went on) come behind those of their part."""
    counting = standing(events)
    done: dict[tuple[str, str, int], dict[str | None, SetDone]] = {}
    for event in counting:
        if isinstance(event, SetDone):
            # the one that happened last is how it was
            done.setdefault((event.person, event.part, event.number), {})[event.side] = event
    ticked = [event for event in counting if isinstance(event, AsPlanned)]
    rows: list[LogRow] = []
    people = {person.id: person for person in file.participants}
    timeline, plan = course.era.timeline, course.era.plan
    for person, name in enumerate(file.plan.people):
        numbers: dict[str, int] = {}
        for step, bouts, number_of_slot, zero_s in _sets_of(timeline, person):
            assert step.bout is not None
            unit = file.room.units[step.unit] if step.unit >= 0 else None
            slot = timeline.slots[number_of_slot]
            numbers[slot.id] = number = numbers.get(slot.id, 0) + 1
            block = plan.blocks[slot.block].id
            written = tuple(done.pop((name, slot.id, number), {}).values())
            as_planned = any(_speaks_of(one, name, slot.id, block, number) for one in ticked)
            rows.append(
                LogRow(
                    person=name,
                    block=block,
                    part=slot.id,
                    exercise=slot.exercise.id,
                    number=number,
                    planned_kg=_as_set(load_kg(step.bout, people[name], slot.exercise), unit),
                    planned_reps=step.bout.reps or None,
                    written="done" if written else "as planned" if as_planned else "not written",
                    done=written,
                    bouts=bouts,
                    unit="" if unit is None else unit.id,
                    start_s=step.start_s + zero_s,
                )
            )
    return [*rows, *_unplanned(course, done)]


def _sets_of(timeline: Timeline, person: int) -> Iterator[tuple[Step, tuple[Bout, ...], int, float]]:
    """The steps that open a set of somebody, each with the bouts of that set, the slot it is at, and where its
    block begins."""
    for passage in timeline.passages:
        opened: Step | None = None
        bouts: list[Bout] = []
        for step in passage.layout.paths[person]:
            if step.doing is not Doing.WORK or step.bout is None:
                continue
            if step.opens_set:
                if opened is not None:
                    yield opened, tuple(bouts), opened.slot + passage.first_slot, passage.zero_s
                opened, bouts = step, []
            if opened is not None and step.slot == opened.slot:
                bouts.append(step.bout)
        if opened is not None:
            yield opened, tuple(bouts), opened.slot + passage.first_slot, passage.zero_s


def _as_set(kg: float | None, unit: Unit | None) -> float | None:
    return kg if kg is None or unit is None or unit.hardware is None else nearest_kg(unit.hardware, kg)


def _speaks_of(event: AsPlanned, person: str, part: str, block: str, number: int) -> bool:
    place = event.part in (None, part) and event.block in (None, block)
    return place and event.person in (None, person) and event.number in (None, number)


def _unplanned(course: Course, done: dict[tuple[str, str, int], dict[str | None, SetDone]]) -> list[LogRow]:
    parts = {
        part.id: (block.id, part.exercise) for era in course.eras for block in era.plan.blocks for part in block.parts
    }
    return [
        LogRow(person, *_where(parts, part), number, None, None, "done", tuple(sides.values()))
        for (person, part, number), sides in sorted(done.items())
    ]


def _where(parts: dict[str, tuple[str, str]], part: str) -> tuple[str, str, str]:
    block, exercise = parts.get(part, ("", ""))
    return block, part, exercise
