"""What a forecast says: the shapes of its result, the same for the command line, the server and the screens."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Literal, NamedTuple

from pydantic import BaseModel

from oaken.basis.estimate import Estimate
from oaken.domain.catalogue import Condition
from oaken.domain.people import HeartFit, Level
from oaken.physiology.heat import Heat
from oaken.plan.changes import Change

Severity = Literal["clash", "caution", "note"]
Subject = Literal["plan", "waiting", "warmth", "house", "heart", "careful", "medication"]


class Figures(BaseModel):
    """Every figure of one person, or the mean of the class. None where a figure does not apply.

    Heart figures of a person who takes heart medication are None: perceived effort replaces them.
    """

    work_share: Estimate
    load_per_minute: Estimate | None
    sets_per_minute: Estimate
    time_under_tension: Estimate
    volume_load: Estimate | None
    waiting: Estimate
    heart_mean: Estimate | None
    heart_peak: Estimate | None
    warm_up_reached: Estimate | None
    moderate_or_more: Estimate | None
    vigorous_or_more: Estimate | None
    impulse: Estimate | None
    zone_sum: Estimate | None
    session_effort: Estimate | None
    energy: Estimate
    energy_net: Estimate
    energy_by_table: Estimate | None
    energy_by_heart_rate: Estimate | None
    energy_by_lifting: Estimate
    after_class: Estimate
    fluid: Estimate


class PathStretch(NamedTuple):
    """One step of a path: when, what (as in `PathColumns`), at which slot and on which unit."""

    start_s: float
    end_s: float
    doing: int
    slot: int
    unit: int

    @property
    def seconds(self) -> float:
        """How long it takes."""
        return self.end_s - self.start_s


class PathColumns(BaseModel):
    """One person's steps in columns of equal length; a step ends where the next begins, the last with the class.

    `doing`: 0 work, 1 change, 2 rest, 3 wait, 4 finished, 5 breather. `slot` indexes `Forecast.slots`, `lane` the
    places of that slot, `unit` the room's units; -1 means none.
    """

    start_s: list[float]
    doing: list[int]
    slot: list[int]
    lane: list[int]
    unit: list[int]
    round: list[int]

    def stretches(self, end_s: float) -> Iterator[PathStretch]:
        """Every step with its end: the beginning of the next one, the last with the class."""
        ends = [*self.start_s[1:], end_s]
        yield from map(PathStretch, self.start_s, ends, self.doing, self.slot, self.unit)


class Target(BaseModel):
    """What to go by in a block: a range of heart rate in bpm or, where heart rates do not apply, of perceived effort
    on the 6–20 scale; with the name of the intensity class it stands for."""

    block: int
    class_name: str
    low: float
    high: float
    by: Literal["bpm", "effort"]


class PersonForecast(BaseModel):
    """The class as one person lives it. `bpm` is sampled every `Forecast.sample_s` seconds from 0, `kcal` and the
    ends of the likely range, `bpm_low` and `bpm_high`, every `Forecast.kcal_sample_s`, with the end of the class as
    their last value. `fitted` tells whether the person's own recordings went in; `workload` is the mean share of the
    reserve that the class asks for, also where heart rates do not apply."""

    id: str
    number: int
    name: str
    level: Level
    rest_bpm: Estimate | None
    max_bpm: Estimate | None
    vo2max: Estimate | None
    fitted: HeartFit | None
    heart_applies: bool
    workload: float
    targets: list[Target]
    path: PathColumns
    bpm: list[float]
    bpm_low: list[float]
    bpm_high: list[float]
    kcal: list[float]
    minutes_by_class: list[float]
    figures: Figures


class SlotSeconds(BaseModel):
    """Seconds of one person at a slot, alone: the whole in three outlooks, and what the expected whole is made of."""

    shortest: float
    expected: float
    longest: float
    work: float
    change_of_side: float
    load_change: float
    set_up: float
    rest: float


class Overheads(BaseModel):
    """What a person spends on average on everything that is neither work nor rest, in seconds of the whole class."""

    walking: Estimate
    set_up: Estimate
    load_change: Estimate
    change_of_side: Estimate


class SlotReport(BaseModel):
    """One exercise at its place in the plan. `places` is how many can do it at once (0: the room has none).

    `line` is the slot in the written notation. `stands_for` is -1, or the index of the slot in whose place somebody
    does this exercise.
    """

    block: int
    group: int
    id: str
    exercise: str
    name: str
    equipment: str
    equipment_name: str
    places: int
    line: str
    seconds: SlotSeconds
    stands_for: int


class BlockForecast(BaseModel):
    """A block on the time axis with its own share of the figures (means per person)."""

    id: str
    name: str
    kind: str
    start_s: float
    end_s: float
    shortest_s: float
    longest_s: float
    bound_s: float
    turns: int
    breathers: int
    work_share: float
    waiting_s: float
    kcal: float


class Fix(BaseModel):
    """A safer choice that can be applied: what the button says, and the change it makes."""

    label: str
    change: Change


class Caution(BaseModel):
    """Something the instructor should see before the class: what, where, why, and a safer choice.

    `about` says which kind of thing it is; `health` marks what tells of somebody's health: not everybody who helps
    may read it.
    """

    severity: Severity
    block: int
    slots: list[str]
    people: list[int]
    message: str
    safer: str
    fix: Fix | None = None
    about: Subject = "plan"
    condition: Condition | None = None
    health: bool = False

    @property
    def fingerprint(self) -> tuple[Severity, str]:
        """What it says but for its numbers, of waiting but for where: so it is known again in another plan."""
        said = (
            f"waiting in block {self.block}"
            if self.about == "waiting"
            else re.sub(r"[0-9][0-9.:,]*", "#", self.message)
        )
        return self.severity, said


class MuscleShare(BaseModel):
    """Seconds of tension of a muscle, mean per person: as prime mover (also block by block), and as helper."""

    muscle: str
    name: str
    prime_s: float
    helping_s: float
    prime_by_block_s: list[float]


class Band(BaseModel):
    """Fractions of the heart-rate reserve over the class: slowest, middle and fastest heart at each sample."""

    low: list[float]
    median: list[float]
    high: list[float]


class Forecast(BaseModel):
    """Everything computed of one class, on one time axis that starts at 0 s."""

    length: Estimate
    slot_s: int
    chance_inside: Estimate
    overheads: Overheads
    sample_s: int
    kcal_sample_s: int
    figures: Figures
    class_energy: Estimate
    blocks: list[BlockForecast]
    slots: list[SlotReport]
    people: list[PersonForecast]
    band: Band | None
    kcal: list[float]
    kcal_low: list[float]
    kcal_high: list[float]
    minutes_by_class: list[float]
    class_names: list[str]
    class_limits: list[float]
    muscles: list[MuscleShare]
    cautions: list[Caution]
    stop_signs: str
    heat: Heat | None

    def cautions_beyond(self, before: Forecast) -> list[Caution]:
        """Clashes and cautions that another forecast, of the same class before a change, had not."""
        then = {caution.fingerprint for caution in before.cautions}
        return [caution for caution in self.cautions if caution.severity != "note" and caution.fingerprint not in then]
