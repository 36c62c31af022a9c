"""What was done: every set that was planned, and every set that was written down, each with how it stands.

Each set belongs to the plan that stood when it was done. A plan that changes later (another exercise where a machine
broke) changes nothing of what was done before: the log takes every set from the plan it was done by.
"""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Literal

from oaken.basis.words import in_kg
from oaken.domain.catalogue import Exercise
from oaken.domain.room import Unit, load_to_set
from oaken.schedule.class_file import ClassFile
from oaken.schedule.timeline import Bout, Doing, SlotUse, Step, Timeline, load_kg
from oaken.session.clock import RunState
from oaken.session.events import UNPLANNED, AsPlanned, Event, SetDone, standing
from oaken.session.set_parts import Performed, parts_of, performed_words

Written = Literal["not written", "as planned", "done"]
"""Not written is not the same as done as planned."""


@dataclass(frozen=True, slots=True)
class LogRow:
    """One set of one person: what was planned (None where nothing was), how it stands, and what was written down of it,
    side by side for a one-sided exercise. `bouts` are what was planned of it, `unit` where (empty for none), `start_s`
    when it was to begin, on the axis of the plan it belongs to: `era` is which of the plans the class had. Repetitions
    that were done are those of one side where sides take turns; `planned_reps` are those of both. Loads are those that
    can be set: `planned_kg` of the first bout, `loads_kg` of each."""

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
    era: int = 0
    loads_kg: tuple[float | None, ...] = ()
    one_sided: bool = False

    @property
    def window(self) -> tuple[int, int] | None:
        """The planned repetitions of its first stretch, a side where sides are counted; None where it goes by the
        clock."""
        return self.bouts[0].segment.window if self.bouts else None


@dataclass(frozen=True, slots=True)
class LoadStretch:
    """What was done at one load without a change: repetitions of both sides together (None where nobody counted),
    kilograms (None where nobody knows), and what else was said of it (None where it was ticked as planned)."""

    reps: int | None
    load_kg: float | None
    said: Performed | None = None


def stretches_of(row: LogRow, done: SetDone | None) -> list[LoadStretch]:
    """A set as it was done, load by load; `done` is None where it was ticked as planned. Later parts of a set of which
    no load was said are as much lighter as they were planned to be."""
    if done is None:
        counts = [bout.segment.reps is not None for bout in row.bouts]
        reps = [round(bout.reps) if counted else None for bout, counted in zip(row.bouts, counts, strict=True)]
        return [LoadStretch(*rep) for rep in zip(reps, row.loads_kg, strict=True)]
    sides = 2 if row.one_sided and done.side is None else 1
    load = row.planned_kg
    first = row.loads_kg[0] if row.loads_kg else None
    shares = [(kg / first if kg is not None and first else 1.0) for kg in row.loads_kg] or [1.0]
    found: list[LoadStretch] = []
    share = shares[0]
    for at, part in enumerate(parts_of(done, done.parts)):
        before, share = share, shares[min(at, len(shares) - 1)]
        if part.load_kg is not None:
            load = part.load_kg
        elif load is not None and before:
            load *= share / before
        found.append(LoadStretch(None if part.reps is None else part.reps * sides, load, part))
    return found


def set_words(row: LogRow, done: SetDone | None) -> str:
    """A set as it is told in tables and activities, repetitions of both sides together: `10 × 60 kg + 8 × 45 kg, 2
    helped, to failure`."""
    told = " + ".join(_stretch_words(stretch) for stretch in stretches_of(row, done))
    return told if done is None else _with_side(done, told)


def event_words(done: SetDone) -> str:
    """A set as an event tells it, without what was planned."""
    parts = parts_of(done, done.parts)
    return _with_side(done, " + ".join(_stretch_words(LoadStretch(item.reps, item.load_kg, item)) for item in parts))


def _with_side(done: SetDone, told: str) -> str:
    said = "; ".join(filter(None, [told, "" if done.set_up is None else str(done.set_up)]))
    return f"{done.side} {said}" if done.side else said


def _stretch_words(stretch: LoadStretch) -> str:
    count = "" if stretch.reps is None else str(stretch.reps)
    load = "" if stretch.load_kg is None else in_kg(stretch.load_kg)
    lifted = " × ".join(filter(None, [count, load]))
    if stretch.said is None:
        return lifted
    return ", ".join(filter(None, [lifted, *performed_words(stretch.said)]))


def log_of(file: ClassFile, events: Sequence[Event], run_state: RunState) -> list[LogRow]:
    """The log of a class, person after person in the order of the plan, each in the order of their own path. Sets that
    nobody planned (a ramp that went on, an exercise that was added) come behind everybody's."""
    counting = standing(events)
    eras = _Eras(file, run_state, counting)
    done: dict[Key, dict[str | None, SetDone]] = {}
    first: dict[Key, SetDone] = {}
    for event in counting:
        if isinstance(event, SetDone):
            key = (event.person, event.part, event.number)
            # the one that happened last is how it was
            done.setdefault(key, {})[event.side] = event
            first.setdefault(key, event)
    ticked = [event for event in counting if isinstance(event, AsPlanned)]
    belongs = {key: eras.of_set(item, done[key].values()) for key, item in first.items()}
    rows: list[LogRow] = []
    for person, name in enumerate(file.plan.people):
        for row in eras.rows(person, name, belongs, ticked):
            written = done.pop((name, row.part, row.number), {}).values()
            if written:
                rows.append(_of_what_was_done(row, _as_meant(row, written)))
            else:
                as_planned = any(eras.speaks_of(item, row, person) for item in ticked)
                rows.append(replace(row, written="as planned") if as_planned else row)
    unplanned = sorted(done.items())
    return [*rows, *(eras.unplanned(key, belongs[key], tuple(sides.values())) for key, sides in unplanned)]


Key = tuple[str, str, int]
"""Somebody's set: person, part, number."""


def _of_what_was_done(row: LogRow, written: tuple[SetDone, ...]) -> LogRow:
    """A row with what was written of it; where that names another unit, it was done there."""
    unit = next((item.unit for item in reversed(written) if item.unit is not None), row.unit)
    return replace(row, written="done", done=written, unit=unit)


BOTH_SIDES_FROM = 1.5
"""A count from this many times the planned repetitions of a side on, written before events said what they meant, is of
both sides together: devices then began with the count of both."""


def _as_meant(row: LogRow, written: Iterable[SetDone]) -> tuple[SetDone, ...]:
    """What was written of a set, with its repetitions those of one side: events of today say so; of older ones without
    a side the count tells which it was."""
    if row.window is None or not row.bouts or row.planned_reps is None:
        return tuple(written)
    both = round(row.planned_reps / max(1.0, sum(row.window) / 2)) >= 2 and len(row.bouts) == 1
    limit = BOTH_SIDES_FROM * row.window[1]

    def meant(one: SetDone) -> SetDone:
        older = one.exercise is None and one.side is None and one.device != "table"
        if both and older and one.reps is not None and one.reps >= limit:
            return one.model_copy(update={"reps": one.reps // 2})
        return one

    return tuple(map(meant, written))


class _Eras:
    """The plans that a class had, and which of them every set belongs to."""

    def __init__(self, file: ClassFile, run_state: RunState, counting: Sequence[Event]) -> None:
        self.file, self.course = file, run_state
        self.people = {person.id: person for person in file.participants}
        moments = {event.id: event.happened_at for event in counting}
        self.from_: list[datetime] = [moments[name] for name in run_state.changed_by]
        self.exercises = [
            {slot.id: slot.exercise.id for slot in era.timeline.slots if slot.stands_for < 0} for era in run_state.eras
        ]
        self._sets: dict[tuple[int, int], dict[tuple[str, int], _PlannedSet]] = {}

    def sets(self, era: int, person: int) -> dict[tuple[str, int], _PlannedSet]:
        """Somebody's sets by a plan, by part and number, in the order of their path."""
        known = self._sets.get((era, person))
        if known is None:
            known = self._sets[era, person] = _sets_of(self.course.eras[era].timeline, person)
        return known

    def at(self, moment: datetime) -> int:
        """The plan that stood at a moment."""
        return bisect_right(self.from_, moment)

    def of_set(self, first: SetDone, written: Iterable[SetDone]) -> int:
        """The plan that a set belongs to: the one that stood when it was first written down. Where the event names its
        exercise, the last plan until then in which that part was this exercise."""
        era = self.at(first.happened_at)
        named = next((item.exercise for item in written if item.exercise is not None), None)
        if named is None:
            return era
        person = self.file.plan.people.index(first.person) if first.person in self.people else -1
        for earlier in range(era, -1, -1):
            if self._does(earlier, person, first.part, first.number) == named:
                return earlier
        return era

    def _does(self, era: int, person: int, part: str, number: int) -> str | None:
        planned = self.sets(era, person).get((part, number)) if person >= 0 else None
        return planned.slot.exercise.id if planned is not None else self.exercises[era].get(part)

    def rows(self, person: int, name: str, belongs: Mapping[Key, int], ticked: Sequence[AsPlanned]) -> Iterator[LogRow]:
        """Somebody's planned sets, each from the plan it belongs to: what was over when a plan was changed, or was
        written down by it, belongs to that one; everything else to the last."""
        last = len(self.course.eras) - 1
        taken: set[tuple[str, int]] = set()
        numbered = {
            (item.part, item.number): self.at(item.happened_at)
            for item in ticked
            if item.part is not None and item.number is not None and item.person in (None, name)
        }
        for era in range(last + 1):
            left_at = self.course.left_at[era].get(name, 0.0) if era < last else 0.0
            on_floor = self.course.done_in[era] if era < last else None
            for key, planned in self.sets(era, person).items():
                own = belongs.get((name, *key))
                if on_floor is not None and planned.slot.block == on_floor[0]:
                    over = key in on_floor[1].get(name, ())
                else:
                    over = planned.ends_s <= left_at
                over = over or numbered.get(key, last) == era
                mine = own == era if own is not None and key in self.sets(own, person) else over or era == last
                if mine and key not in taken:
                    taken.add(key)
                    yield self._row(era, name, key, planned)

    def _row(self, era: int, name: str, key: tuple[str, int], planned: _PlannedSet) -> LogRow:
        step, slot = planned.opens, planned.slot
        assert step.bout is not None
        unit = self.file.room.units[step.unit] if step.unit >= 0 else None
        wanted = [load_kg(bout, self.people[name], slot.exercise) for bout in planned.bouts]
        loads = tuple(load_as_set(self.file, slot.exercise, unit, kg) for kg in wanted)
        return LogRow(
            person=name,
            block=self.course.eras[era].plan.blocks[slot.block].id,
            part=key[0],
            exercise=slot.exercise.id,
            number=key[1],
            planned_kg=loads[0],
            planned_reps=step.bout.reps or None,
            written="not written",
            bouts=planned.bouts,
            unit="" if unit is None else unit.id,
            start_s=planned.starts_s,
            era=era,
            loads_kg=loads,
            one_sided=slot.exercise.one_sided,
        )

    def speaks_of(self, event: AsPlanned, row: LogRow, person: int) -> bool:
        """Whether somebody who ticked sets as planned meant this one: one of a plan that came later only where that
        still has the same exercise there."""
        place = event.part in (None, row.part) and event.block in (None, row.block)
        if not place or event.person not in (None, row.person) or event.number not in (None, row.number):
            return False
        era = self.at(event.happened_at)
        return row.era <= era or self._does(era, person, row.part, row.number) == row.exercise

    def unplanned(self, key: Key, era: int, written: tuple[SetDone, ...]) -> LogRow:
        """A set that nobody planned: one more of a part, or an exercise that was added by its name."""
        person, part, number = key
        named = next((item.exercise for item in written if item.exercise is not None), None)
        eras = [era, *range(len(self.course.eras) - 1, -1, -1)]
        found = next((era for era in eras if part in self.exercises[era]), None)
        block = ""
        if found is not None:
            plan = self.course.eras[found].plan
            block = next(block.id for block in plan.blocks if any(own.id == part for own in block.parts))
            named = named or self.exercises[found][part]
        elif named is None:
            named = part.removeprefix(UNPLANNED) if part.startswith(UNPLANNED) else ""
        exercise = self.file.catalogue().exercises.get(named)
        one_sided = exercise is not None and exercise.one_sided
        row = LogRow(person, block, part, named, number, None, None, "done", era=era, one_sided=one_sided)
        return _of_what_was_done(row, written)


@dataclass(frozen=True, slots=True)
class _PlannedSet:
    """A set as it stands on a plan's axis: the step that opens it, its bouts, its slot, and its seconds."""

    opens: Step
    bouts: tuple[Bout, ...]
    slot: SlotUse
    starts_s: float
    ends_s: float


def _sets_of(timeline: Timeline, person: int) -> dict[tuple[str, int], _PlannedSet]:
    """Somebody's sets in the order of their path, by part and number."""
    found: dict[tuple[str, int], _PlannedSet] = {}
    numbers: dict[str, int] = {}
    for passage in timeline.passages:
        groups: list[list[Step]] = []
        for step in passage.layout.paths[person]:
            if step.doing is not Doing.WORK or step.bout is None:
                continue
            if step.opens_set:
                groups.append([step])
            elif groups and step.slot == groups[-1][0].slot:
                groups[-1].append(step)
        for steps in groups:
            slot = timeline.slots[steps[0].slot + passage.first_slot]
            numbers[slot.id] = numbers.get(slot.id, 0) + 1
            found[slot.id, numbers[slot.id]] = _PlannedSet(
                opens=steps[0],
                bouts=tuple(step.bout for step in steps if step.bout is not None),
                slot=slot,
                starts_s=steps[0].start_s + passage.zero_s,
                ends_s=steps[-1].end_s + passage.zero_s,
            )
    return found


def load_as_set(file: ClassFile, exercise: Exercise, unit: Unit | None, kg: float | None) -> float | None:
    """A load of an exercise as it can be set on a unit, or rounded to the usual step of its kind of equipment."""
    if kg is None:
        return None
    kind = file.catalogue().equipment.get(exercise.equipment)
    return load_to_set(None if unit is None else unit.hardware, kg, 0.0 if kind is None else kind.step_kg)
