"""A class as everything that is printed of it needs it: laid out once, with times of day and loads as they are set."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from functools import cached_property

from oaken.basis.names import first_name
from oaken.domain.catalogue import Catalogue
from oaken.domain.people import Person
from oaken.domain.room import Room
from oaken.plan import ClassPlan
from oaken.plan.dates import first_occasion
from oaken.plan.notation import line_of
from oaken.schedule.arrange.load_sheet import LoadRow, load_sheet
from oaken.schedule.class_file import ClassFile
from oaken.schedule.timeline import Doing, SlotUse, Step, Timeline, timeline_in
from oaken.schedule.timeline.schedule import Circumstances


@dataclass(frozen=True)
class CardVisit:
    """Somebody's time at one slot of the plan: from the first set-up or work to the end of the last set there."""

    slot: int
    unit: int
    from_s: float
    end_s: float
    sets: int


@dataclass(frozen=True)
class Printed:
    """A class that is printed. The file must have been checked.

    `last` is what somebody did of an exercise last time, in words, by their id and the exercise's; `targets` what they
    did last and at best in each set of a slot at this scheme, in words by the set's number, by their id and the ids of
    the slot and the exercise; `settings` how they set a unit, by their id and the unit's, where the class itself does
    not say it; `opens` the address behind the code on the run sheet, empty for none.
    """

    file: ClassFile
    last: Mapping[tuple[str, str], str] = field(default_factory=dict)
    targets: Mapping[tuple[str, str, str], Mapping[int, str]] = field(default_factory=dict)
    settings: Mapping[tuple[str, str], str] = field(default_factory=dict)
    opens: str = ""

    @property
    def plan(self) -> ClassPlan:
        """What is planned."""
        return self.file.plan

    @cached_property
    def known(self) -> Catalogue:
        """The catalogue with the studio's own entries."""
        return self.file.catalogue()

    @cached_property
    def room(self) -> Room:
        """The room as this class finds it."""
        return self.file.room_today

    @cached_property
    def people(self) -> list[Person]:
        """Everybody, in the order of their numbers."""
        return self.file.participants

    @cached_property
    def timeline(self) -> Timeline:
        """Who does what at each second, as planned."""
        around = Circumstances.of(self.room, self.people, self.known, self.plan.wishes())
        return timeline_in(self.plan, around)

    @cached_property
    def loads(self) -> dict[tuple[int, str], LoadRow]:
        """Loads as they are set, by the person's number and the slot."""
        change = {kind.id: kind.load_change_s for kind in self.known.equipment.values()}
        return {
            (row.person, row.slot): row
            for row in load_sheet(self.timeline, self.people, self.room, change, self.known.usual_steps_kg)
        }

    @property
    def when(self) -> str:
        """The day and time as they are said."""
        first = first_occasion(self.plan.starts)
        return self.plan.starts if first is None else f"{first.on:%A} {first.on.day} {first.on:%B %Y}, {first.time}"

    def clock(self, second: float) -> str:
        """The time of day at a second of the class; where it has none, minutes and seconds since its beginning."""
        first = first_occasion(self.plan.starts)
        if first is None:
            minutes, rest = divmod(round(second), 60)
            return f"{minutes}:{rest:02d}"
        hour, minute = map(int, first.time.split(":"))
        start = datetime(first.on.year, first.on.month, first.on.day, hour, minute)
        return f"{start + timedelta(seconds=round(second)):%H:%M:%S}"

    def visits(self, person: int) -> list[CardVisit]:
        """Somebody's visits in the order of time (index of the person)."""
        found: list[CardVisit] = []
        begun: float | None = None
        for step in self.timeline.paths[person]:
            if step.slot < 0:
                continue
            if step.doing is Doing.CHANGE and (step.set_up_s or step.load_change_s) and begun is None:
                begun = step.start_s
            if step.doing is not Doing.WORK:
                continue
            found.append(self._visit(step, step.start_s if begun is None else begun))
            begun = None
            if len(found) > 1 and (found[-2].slot, found[-2].unit) == (found[-1].slot, found[-1].unit):
                last, before = found.pop(), found.pop()
                found.append(CardVisit(last.slot, last.unit, before.from_s, last.end_s, before.sets + last.sets))
        return found

    @staticmethod
    def _visit(step: Step, begun: float) -> CardVisit:
        return CardVisit(step.slot, step.unit, begun, step.end_s, int(step.opens_set))

    @cached_property
    def own_settings(self) -> dict[tuple[str, str], str]:
        """How people set units, by their id and the unit's: what the class says stands for what was written down."""
        planned = {
            (setting.person, setting.unit): ", ".join(f"{name} {value}" for name, value in setting.values.items())
            for setting in self.plan.settings
        }
        return {**self.settings, **planned}

    def slot(self, index: int) -> SlotUse:
        """A slot of the timeline."""
        return self.timeline.slots[index]

    def line(self, slot: SlotUse) -> str:
        """What is done there, as it is written."""
        return slot.exercise.name if slot.part is None else line_of(slot.part, self.known)

    def unit(self, index: int) -> str:
        """The name of a unit; the floor has none."""
        return "floor" if index < 0 else self.room.units[index].name

    def first_name(self, number: int) -> str:
        """What somebody is called on a wall: the first name, with the number."""
        return f"{number} {first_name(self.people[number - 1].name)}"
