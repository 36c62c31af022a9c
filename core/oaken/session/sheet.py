"""What a device needs to run a class on its own: the plan laid out once, as columns of plain numbers.

A device that has the sheet of every era and the events can tell the clock, who is where and what is planned at any
second without the server; `web/src/run/run_state.ts` folds them the same way, held to this by golden cases.
"""

from __future__ import annotations

from itertools import groupby

from pydantic import BaseModel, ConfigDict

from oaken.domain.catalogue import Catalogue, Exercise
from oaken.domain.room import settable_kg
from oaken.physiology.strength.loading import as_set
from oaken.plan import Branch, Leg, RelayBlock, Slot, Station
from oaken.plan.notation import line_of
from oaken.schedule.class_file import ClassFile
from oaken.schedule.timeline import Doing, SlotUse, Step, load_kg
from oaken.session.clock import Era, RunState, marks
from oaken.session.events import Changed, Event, UnitBack, UnitLost, standing
from oaken.session.face import Call, cues
from oaken.session.relays import teams_of

MOST_LOADS_SHOWN = 400


def _line_at(slot: SlotUse, parts: dict[str, Slot | Station | Leg], known: Catalogue) -> str:
    """What is done at a slot as a line: what stands in the plan, or what somebody does in its place."""
    if slot.stands_for >= 0 and slot.part is not None:
        return line_of(slot.part, known)
    return line_of(parts[slot.id], known) if slot.id in parts else slot.exercise.name


def _decisions_at(part: Slot | Station | Leg | None) -> list[Branch]:
    return part.decisions if isinstance(part, Slot) else []


def _cues_at(part: Slot | Station | Leg | None, exercise: Exercise) -> list[str]:
    """What is said at a machine: the instructor's own note first, then the cues of the trade."""
    return [*([part.note] if part is not None and part.note else []), *exercise.cues]


class _Sheet(BaseModel):
    model_config = ConfigDict(json_schema_serialization_defaults_required=True)


class SheetTasks(_Sheet):
    """Somebody's sets of a block at their own pace, in the order of their way, as columns: the part (an index of the
    sheet's parts), the number of the set, where (an index of the floor's kinds), seconds of work, of the rest behind,
    of set-up and of load change, the load it needs and leaves on the unit (kg; only compared), whether the unit is kept
    for the next, the visit it belongs to, and when its turn, its person and its work were planned, in seconds of the
    block."""

    part: list[int]
    number: list[int]
    kind: list[int]
    work_s: list[float]
    rest_s: list[float]
    set_up_s: list[float]
    load_change_s: list[float]
    load: list[float | None]
    leaves: list[float | None]
    keeps: list[bool]
    visit: list[int]
    turn_s: list[float]
    ready_s: list[float]
    start_s: list[float]


class SheetKind(_Sheet):
    """A kind of place of a floor: the units of its places (none: unlimited), and whether the class has lost all of
    them, so that what needs one is left out."""

    name: str
    units: list[int]
    gone: bool


class SheetFloor(_Sheet):
    """What a block at people's own pace is dispatched from while it runs: everybody's tasks, places, walking seconds
    between the units of `walks_between`, own seconds of units for set-up and load change, gates of visits and how many
    each lets in, and when everybody may begin."""

    tasks: list[SheetTasks]
    kinds: list[SheetKind]
    walks_between: list[int]
    walks_s: list[list[float]]
    own_times: dict[int, tuple[float | None, float | None]]
    gates: dict[int, list[str]]
    width: dict[str, int]
    release_s: list[float]


class SheetBlock(_Sheet):
    """A block with its seconds; `own_pace`: nothing in it is on the bell, and `floor` is what it is dispatched from. Of
    a relay, its `teams`, and the seconds that a tag takes."""

    id: str
    name: str
    kind: str
    own_pace: bool
    start_s: float
    end_s: float
    floor: SheetFloor | None
    teams: list[list[int]]
    tag_s: float


class SheetCue(_Sheet):
    """What is called at a second."""

    second: float
    call: Call
    words: str


class SheetPart(_Sheet):
    """A part of a block: its exercise, its line as it is written, its cues, and what is asked before and between its
    sets. `block` is an index."""

    id: str
    block: int
    exercise: str
    name: str
    line: str
    cues: list[str]
    one_sided: bool
    takes_load: bool
    decisions: list[Branch] = []


class SheetUnit(_Sheet):
    """A unit of the room; `loads_kg` is what can be set on it, lightest first (empty: any), `marked` the unit that
    stands on it."""

    id: str
    name: str
    loads_kg: list[float]
    marked: str
    lost: bool


class SheetSet(_Sheet):
    """A set as it is planned for somebody: `reps` are the repetitions of each part of a cluster or of drops (of one
    side where the exercise is one-sided) with the loads as they can be set, one after another (none where it goes by
    the clock). `ends_s` is when its last step is over; `tempo_s` are the seconds of a repetition on the way down,
    below, on the way up and above."""

    part: int
    number: int
    unit: int
    start_s: float
    ends_s: float
    reps: list[int]
    kg: list[float]
    set_as: str
    seconds: float
    tempo_s: list[float]


class SheetPerson(_Sheet):
    """Somebody's way: every step from the second in `start_s` to the next one's, what is done (`Doing`), at which part
    and unit (index, -1 for none), and the number of the set (0 for none)."""

    id: str
    number: int
    name: str
    start_s: list[float]
    doing: list[int]
    part: list[int]
    unit: list[int]
    set: list[int]
    sets: list[SheetSet]


class Sheet(_Sheet):
    """A plan laid out for running it. `after` are the events that changed the plan to this, in their order."""

    after: list[str]
    name: str
    length_s: float
    blocks: list[SheetBlock]
    marks: list[float]
    cues: list[SheetCue]
    parts: list[SheetPart]
    units: list[SheetUnit]
    people: list[SheetPerson]


def changing(events: list[Event]) -> list[Event]:
    """The events that count and may change the plan: which sheet is valid hangs on these."""
    return [event for event in standing(events) if isinstance(event, Changed | UnitLost | UnitBack)]


def sheets_of(file: ClassFile, run_state: RunState) -> list[Sheet]:
    """A sheet for every era of a run_state, the plan's own first."""
    return [sheet_of(file, era, run_state.changed_by[:number]) for number, era in enumerate(run_state.eras)]


def sheet_of(file: ClassFile, era: Era, after: list[str]) -> Sheet:
    """The sheet of a plan that certain events led to."""
    timeline, plan = era.timeline, era.plan
    parts = {part.id: part for block in plan.blocks for part in block.parts}
    known = file.catalogue()
    taken = set(plan.taken)
    people = {person.id: person for person in file.participants}
    return Sheet(
        after=after,
        name=plan.name,
        length_s=timeline.length_s,
        blocks=[
            SheetBlock(
                id=block.id,
                name=block.name,
                kind=block.kind,
                own_pace=block.OWN_PACE,
                start_s=span.start_s,
                end_s=span.end_s,
                floor=_floor(era, number),
                teams=teams_of(timeline.passages[number]) if isinstance(block, RelayBlock) else [],
                tag_s=block.change_s if isinstance(block, RelayBlock) else 0.0,
            )
            for number, (block, span) in enumerate(zip(plan.blocks, timeline.blocks, strict=True))
        ],
        marks=marks(era),
        cues=[SheetCue(second=cue.second, call=cue.call, words=cue.words) for cue in cues(era)],
        parts=[
            SheetPart(
                id=slot.id,
                block=slot.block,
                exercise=slot.exercise.id,
                name=slot.exercise.name,
                line=_line_at(slot, parts, known),
                cues=_cues_at(parts.get(slot.id), slot.exercise),
                one_sided=slot.exercise.sides == "one_sided",
                takes_load=slot.exercise.takes_load,
                decisions=_decisions_at(parts.get(slot.id)),
            )
            for slot in timeline.slots
        ],
        units=[
            SheetUnit(
                id=unit.id,
                name=unit.name,
                loads_kg=list(settable_kg(unit.hardware))[:MOST_LOADS_SHOWN] if unit.hardware else [],
                marked=unit.hardware.marked if unit.hardware else "kg",
                lost=unit.id in taken or unit.out_of_order,
            )
            for unit in file.room.units
        ],
        people=[
            _person(file, era, number, people[name].name, path)
            for number, (name, path) in enumerate(zip(plan.people, timeline.paths, strict=True), 1)
        ],
    )


def _floor(era: Era, block: int) -> SheetFloor | None:
    rolling = era.rolling(block)
    if rolling is None:
        return None
    work, first = rolling.work, era.timeline.passages[block].first_slot
    kinds = list(work.stock)
    units = sorted({unit for own in work.stock.values() for unit in own})
    return SheetFloor(
        tasks=[
            SheetTasks(
                part=[first + task.use for task in own],
                number=[task.id[1] for task in own],
                kind=[kinds.index(task.kind) for task in own],
                work_s=[task.work_s for task in own],
                rest_s=[task.rest_s for task in own],
                set_up_s=[task.set_up_s for task in own],
                load_change_s=[task.load_change_s for task in own],
                load=[task.load for task in own],
                leaves=[task.leaves for task in own],
                keeps=[task.keeps for task in own],
                visit=[task.visit for task in own],
                turn_s=[task.turn_s for task in own],
                ready_s=[task.ready_s for task in own],
                start_s=[task.start_s for task in own],
            )
            for own in work.tasks
        ],
        kinds=[SheetKind(name=kind, units=work.stock[kind], gone=kind in work.gone) for kind in kinds],
        walks_between=units,
        walks_s=[[work.walks_s.get((here, there), 0.0) for there in units] for here in units],
        own_times=work.own_times,
        gates={visit: list(names) for visit, names in work.gates.items()},
        width=work.width,
        release_s=list(work.release_s),
    )


def _person(file: ClassFile, era: Era, number: int, name: str, path: list[Step]) -> SheetPerson:
    key = era.plan.people[number - 1]
    numbers: dict[int, int] = {}
    set_of: list[int] = []
    for step in path:
        if step.doing is Doing.WORK and step.slot >= 0:
            if step.opens_set or step.slot not in numbers:
                numbers[step.slot] = numbers.get(step.slot, 0) + 1
            set_of.append(numbers[step.slot])
        else:
            set_of.append(0)
    return SheetPerson(
        id=key,
        number=number,
        name=name,
        start_s=[round(step.start_s, 3) for step in path],
        doing=[int(step.doing) for step in path],
        part=[step.slot for step in path],
        unit=[step.unit for step in path],
        set=set_of,
        sets=_sets(file, era, key, path, set_of),
    )


def _sets(file: ClassFile, era: Era, key: str, path: list[Step], set_of: list[int]) -> list[SheetSet]:
    who = next(person for person in file.participants if person.id == key)
    working = [(step, number) for step, number in zip(path, set_of, strict=True) if number and step.bout is not None]
    found = []
    for (slot, number), steps in groupby(working, key=lambda item: (item[0].slot, item[1])):
        own = [step for step, _ in steps]
        use = era.timeline.slots[slot]
        unit = file.room.units[own[0].unit] if own[0].unit >= 0 else None
        bouts = [step.bout for step in own if step.bout is not None]
        sides = 2 if use.exercise.one_sided else 1
        wanted = [load_kg(bout, who, use.exercise) for bout in bouts]
        step_kg = file.catalogue().equipment[use.exercise.equipment].step_kg
        loads = [as_set(unit.hardware if unit else None, kg, step_kg) for kg in wanted if kg is not None]
        found.append(
            SheetSet(
                part=slot,
                number=number,
                unit=own[0].unit,
                start_s=round(own[0].start_s, 3),
                ends_s=round(own[-1].end_s, 3),
                reps=[max(1, round(bout.reps / sides)) for bout in bouts if bout.segment.reps is not None],
                kg=[load.set_kg for load in loads],
                set_as=loads[0].words if loads else "",
                seconds=round(sum(step.end_s - step.start_s for step in own), 1),
                tempo_s=list(bouts[0].segment.tempo or use.exercise.tempo),
            )
        )
    return found
