"""What a careful colleague would say of a class before the doors open: a line each, with why, and what mends it.

Figures are held against the class's own history first, against ranges (usual.json) where there is none.
"""

from __future__ import annotations

import json
import re
from collections import Counter, defaultdict
from collections.abc import Iterator
from functools import cache
from itertools import accumulate
from statistics import mean, median, pstdev
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from oaken.basis.data_files import shipped_text
from oaken.basis.names import first_name
from oaken.basis.words import counted
from oaken.design.generator import Lately
from oaken.design.generator.pool import floor_places
from oaken.design.generator.request import choosing
from oaken.design.goal_seeking import FigureGoal
from oaken.design.goal_seeking.goals import goal_of
from oaken.domain.people.conditions import kind_to
from oaken.forecast import forecast
from oaken.forecast.cautions.in_order import REAL_WORK, usual_rank
from oaken.forecast.cautions.room import working_substitutes
from oaken.forecast.order_done import share_small_first, small_before_large
from oaken.forecast.report import Forecast, SlotReport, figures
from oaken.plan import Aim, Block, CircuitBlock, SetsBlock, Slot, TogetherBlock
from oaken.plan.changes import AddBlock, Change, MakeRotation, SwapExercise
from oaken.schedule.class_file import ClassFile
from oaken.schedule.timeline import Doing
from oaken.schedule.timeline.schedule import NO_EQUIPMENT

Basis = Literal["own history", "published range", "common practice"]


class PastClass(BaseModel):
    """A class that these people did: how many days before this one, its aim, and figures of one person by name."""

    model_config = ConfigDict(frozen=True)

    days: Annotated[float, Field(ge=0)]
    aim: Aim
    figures: dict[str, float]


class History(BaseModel):
    """What is known of the weeks before: classes, and every exercise with the last time."""

    model_config = ConfigDict(frozen=True)

    classes: Annotated[tuple[PastClass, ...], Field(max_length=60)] = ()
    lately: Annotated[tuple[Lately, ...], Field(max_length=300)] = ()


def hard_before(history: History) -> float | None:
    """How many days ago a class lies that was among these people's hardest, where that is too near for another;
    None where there is none, or too little is known."""
    near = _near_hard(history)
    return None if near is None else near[0]


def _near_hard(history: History) -> tuple[float, float, float, float] | None:
    """Days and effort of the nearest hard class that is too near, the effort from which on a class is hard, and the
    middle one."""
    rules = usual()
    past = [
        (planned_class.days, planned_class.figures["session_effort"])
        for planned_class in history.classes
        if "session_effort" in planned_class.figures
    ]
    if len(past) < rules.least_past:
        return None
    efforts = sorted(effort for _, effort in past)
    hard = max(efforts[int(rules.hard_share * (len(past) - 1))], rules.hard_above * median(efforts))
    near = [item for item in past if item[0] < rules.hard_days and item[1] >= hard]
    return (*min(near), hard, median(efforts)) if near else None


class Mend(BaseModel):
    """What the press beside a remark does, in one of these ways: a change of the plan (and `more`), a figure that is
    aimed at while the class stays inside its slot, an exercise for a muscle, seconds more for the warm-up, or a block
    put first."""

    model_config = ConfigDict(extra="forbid")

    label: Annotated[str, Field(max_length=120)]
    change: Change | None = None
    more: Annotated[tuple[Change, ...], Field(max_length=12)] = ()
    aimed: FigureGoal | None = None
    muscle: Annotated[str, Field(max_length=60)] | None = None
    warm_up_s: Annotated[int, Field(ge=5, le=1200)] | None = None
    first: Annotated[str, Field(max_length=60)] | None = None


class Remark(BaseModel):
    """A line that is worth a word: about what, why, on which ground, for whom (numbers), and what mends it."""

    about: Literal["figure", "order", "queue", "apart", "warm-up", "muscle", "hard days", "slot", "floor", "note"]
    line: str
    why: str
    basis: Basis = "common practice"
    source: str = "common practice, no source"
    people: list[int] = []
    slots: list[str] = []
    mend: Mend | None = None


class Review(BaseModel):
    """Every remark, the weightiest first, and how many past classes they rest on."""

    remarks: list[Remark]
    classes: int


class _Range(BaseModel):
    figure: str
    aims: list[Aim]
    low: float
    high: float
    unit: str
    why: str
    source: str


class _Usual(BaseModel):
    model_config = ConfigDict(extra="forbid")

    ranges: list[_Range]
    least_past: int
    apart_share: float
    warm_share: float
    least_warm_up_s: int
    weeks_without: int
    watched: list[str]
    hard_days: float
    hard_share: float
    hard_above: float
    least_inside: float
    small_first: float


@cache
def usual() -> _Usual:
    """The ranges and bounds from the data file beside this module."""
    text = shipped_text("oaken.design.review", "usual.json")
    return _Usual.model_validate(json.loads(text))


LEAST_DOSE_S = 30.0
"""Seconds of tension in the main part from which on a muscle was trained, about a set (common practice, no source)."""

WATCHED: tuple[str, ...] = (
    "work_share", "sets_per_minute", "heart_mean", "vigorous_or_more", "session_effort", "energy", "volume_load",
)  # fmt: skip
"""Figures that are held against one's own history."""


def review(file: ClassFile, history: History | None = None, predicted: Forecast | None = None) -> Review:
    """Everything worth a word. The file must have been checked; `predicted` is its forecast where known already."""
    known = history or History()
    look = _Reviewer(file, known, predicted or forecast(file))
    remarks = [
        *look.notes(), *look.slot(), *look.warm_up(), *look.order(), *look.order_done(), *look.queues(),
        *look.floor(), *look.apart(), *look.hard_days(), *look.figures(), *look.muscles(),
    ]  # fmt: skip
    return Review(remarks=remarks, classes=len(known.classes))


class _Reviewer:
    def __init__(self, file: ClassFile, history: History, predicted: Forecast) -> None:
        self.file, self.history, self.forecast = file, history, predicted
        self.plan, self.known = file.plan, file.catalogue()
        self.main = file.plan.main_part()

    def slot(self) -> Iterator[Remark]:
        chance = self.forecast.chance_inside.value
        if chance < usual().least_inside:
            length, slot = self.forecast.length.value / 60, self.plan.slot_min
            yield Remark(
                about="slot",
                line=f"it will hardly be over in time: {chance:.0f} % of such classes are",
                why=f"{length:.1f} min are expected, the class length is {slot} min",
                mend=Mend(label="Bring it inside", aimed=FigureGoal(figure="chance_inside", want="at_least", value=85)),
            )

    def warm_up(self) -> Iterator[Remark]:
        """Whether hearts are up and five minutes have passed when the real work begins."""
        begins = next((at for at, main in enumerate(self.main) if main), None)
        if begins is None:
            return
        start_s = self.forecast.blocks[begins].start_s
        warming = [at for at, block in enumerate(self.plan.blocks[:begins]) if isinstance(block, TogetherBlock)]
        rules = usual()
        if not warming:
            yield Remark(
                about="warm-up",
                line="nothing warms up before the work begins",
                why=f"work begins after {start_s / 60:.1f} min; about five minutes of easy work and drills are usual",
                mend=Mend(label="Add a warm-up", change=AddBlock(template="warm_up")),
            )
            return
        band = self.forecast.band
        before = [] if band is None else band.median[: int(start_s // self.forecast.sample_s)]
        warm = not before or max(before) >= rules.warm_share
        missing = rules.least_warm_up_s - start_s
        if missing > 0 or not warm:
            more = max(60, -(-int(missing) // 30) * 30 if missing > 0 else 0)
            reached = f"hearts come to {100 * max(before):.0f} % of the reserve" if before else "the heart is not known"
            yield Remark(
                about="warm-up",
                line="the warm-up is too short to be warm",
                why=f"work begins after {start_s / 60:.1f} min; {reached}; five minutes and "
                f"{100 * rules.warm_share:.0f} % are usual",
                mend=Mend(label=f"{more // 60}:{more % 60:02d} more, easy", warm_up_s=more),
            )

    def order(self) -> Iterator[Remark]:
        """Breathless or tiring work before the sets that a strength class is about."""
        if self.plan.aim == "conditioning":
            return
        real = [(at, block) for at, block in enumerate(self.plan.blocks) if self.main[at]]
        ranks = {at: 9 if self._is_for_breath(block) else min((self._rank(block)), default=9) for at, block in real}
        # where the aim is mixed, only calves, the trunk and what takes the breath are out of place before large work
        small = 1 if self.plan.aim in ("strength", "technique") else 3
        for place, (at, block) in enumerate(real):
            heavier = [other for other, _ in real[place + 1 :] if ranks[other] <= 1 and ranks[at] > small]
            if heavier:
                name = self.plan.blocks[heavier[0]].name
                yield Remark(
                    about="order",
                    line=f"“{block.name}” tires before “{name}” begins",
                    why=f"for {self.plan.aim} what is heaviest or asks for most form comes first, while fresh",
                    mend=Mend(label=f"“{name}” first", first=self.plan.blocks[heavier[0]].id),
                )
                return

    def order_done(self) -> Iterator[Remark]:
        """More small exercises done before a large one of the same muscle than a circle of groups brings by itself."""
        if self.plan.school("order", self.known) != "compound-first":
            return
        pairs = small_before_large(self.plan, self.forecast, self.known)
        share = share_small_first(pairs)
        if share > usual().small_first:
            worst = pairs[0]
            yield Remark(
                about="order",
                line=f"{worst.small.lower()} comes before {worst.large.lower()} for {len(worst.small_first)} of "
                f"{counted(len(worst.both), 'person', 'people')}",
                why=f"what is small is done before what is large for the same muscle in {100 * share:.0f} % of all "
                "cases: have the two in one group, the large first, or a block of the large ones before the small ones",
                slots=list(worst.slots),
            )

    def _is_for_breath(self, block: Block) -> bool:
        """Whether a block leaves people out of breath, whatever else is in it."""
        if block.purpose == "conditioning" and isinstance(block, CircuitBlock):
            return True
        breath = choosing().breath.exercises
        return 2 * sum(part.exercise in breath for part in block.parts) >= len(block.parts)

    def notes(self) -> Iterator[Remark]:
        """A heart rate that a note asks for, where somebody's heart is held down by medication."""
        held = [who for who in self.file.participants if who.heart_medication]
        if not held:
            return
        numbers = {person.id: person.number for person in self.forecast.people}
        texts = [self.plan.note, *(getattr(part, "note", "") for _, part in self.plan.placed())]
        said = next((found for text in texts if (found := _BPM.search(text))), None)
        if said is None:
            return
        many = counted(len(held), "person takes", "people take")
        yield Remark(
            about="note",
            line=f"a note asks for {said[0].strip()}, and {many} heart medication",
            why="medication may hold the heart rate down, so that a rate says nothing of how hard it is: go by breath "
            "and by how hard it feels, and by what their doctor has said",
            people=sorted(numbers[who.id] for who in held),
        )

    def _rank(self, block: Block) -> list[int]:
        exercises = [self.known.exercises[part.exercise] for part in block.parts]
        return [usual_rank(exercise) for exercise in exercises if exercise.nature in REAL_WORK]

    def queues(self) -> Iterator[Remark]:
        """The slot at which most is waited, where somebody waits more than a minute there."""
        by_slot: dict[int, Counter[int]] = defaultdict(Counter)
        for person in self.forecast.people:
            for step in person.path.stretches(self.forecast.length.value):
                if step.doing == Doing.WAIT and step.slot >= 0:
                    by_slot[step.slot][person.number] += round(step.seconds)
        if not by_slot:
            return
        slot, waits = max(by_slot.items(), key=lambda item: sum(item[1].values()))
        long = sorted(number for number, seconds in waits.items() if seconds > 60)
        if long:
            where, most = self.forecast.slots[slot], max(waits.values())
            yield Remark(
                about="queue",
                line=f"{where.name.lower()} will queue: {counted(len(long), 'person waits', 'people wait')} there for "
                f"more than a minute, up to {most // 60}:{most % 60:02d}",
                why=f"{counted(where.places, 'place')} for {counted(len(self.forecast.people), 'person', 'people')} "
                "who come in turn",
                people=long,
                slots=[where.id],
                mend=self._of_queue(where),
            )

    def _of_queue(self, where: SlotReport) -> Mend | None:
        """Another order of the visits; where one was looked for already, an exercise with more places."""
        block = self.plan.blocks[where.block]
        if isinstance(block, SetsBlock) and block.rotation is None:
            return Mend(label="Find a better rotation", change=MakeRotation(block=block.id))
        room, people = self.file.room_today, self.file.participants
        for other in working_substitutes(self.known.exercises[where.exercise], room, self.known):
            places = len(people) if other.equipment == "none" else len(room.working(other.equipment))
            if places > where.places and kind_to(people, other):
                swap = SwapExercise(slot=where.id, exercise=other.id)
                return Mend(label=f"{other.name} there", change=swap)
        return None

    def floor(self) -> Iterator[Remark]:
        """More people at once on the free floor than have room to work there."""
        places = floor_places(self.file.room_today, self.known)
        if places is None:
            return
        changes: list[tuple[float, int]] = []
        for person in self.forecast.people:
            for step in person.path.stretches(self.forecast.length.value):
                slot = self.forecast.slots[step.slot] if step.slot >= 0 else None
                if step.doing == Doing.WORK and slot and slot.equipment == NO_EQUIPMENT and self.main[slot.block]:
                    changes += [(step.start_s, 1), (step.start_s + step.seconds, -1)]
        # who ends makes room for who begins
        most = max(accumulate(change for _, change in sorted(changes)), default=0)
        if most > places:
            yield Remark(
                about="floor",
                line=f"the free floor gets crowded: {counted(most, 'person works', 'people work')} there at once",
                why=f"the machines leave room for {places} at {choosing().floor_m2:g} m² each",
            )

    def apart(self) -> Iterator[Remark]:
        """Somebody for whom the class is much harder or easier than for the others."""
        if len(self.forecast.people) < 4:
            return
        middle = median(person.workload for person in self.forecast.people)
        least = usual().apart_share
        for who in sorted(self.forecast.people, key=lambda person: -abs(person.workload - middle)):
            off = who.workload - middle
            if abs(off) < least:
                break
            harder, vigorous = off > 0, who.figures.vigorous_or_more
            mend = None
            if harder and vigorous is not None and vigorous.value > 1:
                aimed = FigureGoal(
                    figure="vigorous_or_more", want="at_most", value=round(vigorous.value / 2), person=who.id
                )
                mend = Mend(label=f"Easier, {first_name(who.name)} in mind", aimed=aimed)
            yield Remark(
                about="apart",
                line=f"{who.name} will stand apart: the class is much {'harder' if harder else 'easier'} for them",
                why=f"it asks {100 * who.workload:.0f} % of their reserve, of the middle person {100 * middle:.0f} %",
                people=[who.number],
                mend=mend,
            )

    def hard_days(self) -> Iterator[Remark]:
        """A hard class too soon after another."""
        own, near = self.forecast.figures.session_effort, _near_hard(self.history)
        if own is not None and near is not None and own.value >= near[2]:
            days, effort, hard, usually = near
            ago = "the same day" if days < 1 else counted(round(days), "day") + " before"
            yield Remark(
                about="hard days",
                line=f"a hard class {ago}, and this one is hard, too",
                why=f"session-RPE load {own.value:.0f} after {effort:.0f}; {usually:.0f} is this group's middle, and "
                f"from {hard:.0f} on a class is among their hardest",
                basis="own history",
                source=f"{counted(len(self.history.classes), 'class', 'classes')} of these people",
                mend=Mend(
                    label="Make it a middling day",
                    aimed=FigureGoal(figure="session_effort", want="at_most", value=round(usually)),
                ),
            )

    def figures(self) -> Iterator[Remark]:
        """Figures outside what these people's classes for this aim were, or outside a range where none is known."""
        rules = usual()
        alike = [planned_class for planned_class in self.history.classes if planned_class.aim == self.plan.aim]
        if len(alike) >= rules.least_past:
            for name in WATCHED:
                past = [item.figures[name] for item in alike if name in item.figures]
                own = getattr(self.forecast.figures, name)
                if own is None or len(past) < rules.least_past:
                    continue
                spread = max(2 * pstdev(past), 0.1 * abs(mean(past)), goal_of(name).near)
                low, high = min(*past, mean(past) - spread), max(*past, mean(past) + spread)
                near = goal_of(name).near
                if low - near <= own.value <= high + near:
                    continue
                more = own.value > high
                bound = high if more else max(0.0, low)
                unit, what = figures()[name].unit, figures()[name].in_sentence
                yield Remark(
                    about="figure",
                    line=f"{what} {own.value:.3g} {unit} is {'more' if more else 'less'} than this group is used to",
                    why=f"their {counted(len(past), 'class', 'classes')} for this aim had {min(past):.3g} to "
                    f"{max(past):.3g} {unit}",
                    basis="own history",
                    source=f"{counted(len(past), 'class', 'classes')} for {self.plan.aim}",
                    mend=Mend(
                        label=f"Bring it to {bound:.3g} {unit}",
                        aimed=FigureGoal(
                            figure=name, want="at_most" if more else "at_least", value=float(f"{bound:.3g}")
                        ),
                    ),
                )
            return
        for usual_range in rules.ranges:
            if self.plan.aim not in usual_range.aims:
                continue
            value, aimed = self._of_range(usual_range)
            if value is None or usual_range.low <= value <= usual_range.high:
                continue
            basis: Basis = "common practice" if usual_range.source.startswith("common practice") else "published range"
            yield Remark(
                about="figure",
                line=f"{NAMES[usual_range.figure]} {value:.0f} {usual_range.unit}: "
                f"{usual_range.low:g} to {usual_range.high:g} are usual",
                why=usual_range.why,
                basis=basis,
                source=usual_range.source,
                mend=None if aimed is None else Mend(label=f"Bring it to {in_words(aimed)}", aimed=aimed),
            )

    def _of_range(self, one: _Range) -> tuple[float | None, FigureGoal | None]:
        """What a range is about, and how a class is brought into it where that can be aimed at."""
        predicted = self.forecast
        if one.figure == "vigorous_or_more":
            value = None if predicted.figures.vigorous_or_more is None else predicted.figures.vigorous_or_more.value
            return value, FigureGoal(figure="vigorous_or_more", want="at_most", value=one.high)
        if one.figure == "heart_share":
            return 100 * median(person.workload for person in predicted.people), None
        if one.figure == "waiting_share":
            share = 100 * predicted.figures.waiting.value / max(1.0, predicted.length.value)
            return share, FigureGoal(
                figure="waiting", want="at_most", value=round(one.high / 100 * predicted.length.value)
            )
        sets: Counter[str] = Counter()
        for place, part in self.plan.placed():
            block = self.plan.blocks[int(place[1])]
            exercise = self.known.exercises[part.exercise]
            if not self.main[int(place[1])] or not exercise.loads_muscle:
                continue
            rounds = part.rounds if isinstance(part, Slot) else block.rounds if isinstance(block, CircuitBlock) else 1
            for muscle in exercise.prime:
                sets[muscle] += rounds
        return (float(max(sets.values())) if sets else None), None

    def muscles(self) -> Iterator[Remark]:
        """Large muscles that got nothing for two weeks, and get nothing here."""
        rules = usual()
        if not self.history.lately:
            return
        # the main part counts, and a dose of it: drills of a warm-up train nothing
        here = {
            muscle.muscle
            for muscle in self.forecast.muscles
            if sum(held for held, main in zip(muscle.prime_by_block_s, self.main, strict=True) if main) >= LEAST_DOSE_S
        }
        drills = {name for day in choosing().days.values() for name in day.warm_up}
        last: dict[str, int] = {}
        for item in self.history.lately:
            exercise = self.known.exercises.get(item.exercise)
            counts = exercise is not None and exercise.loads_muscle and item.exercise not in drills
            for muscle in exercise.prime if exercise is not None and counts else ():
                last[muscle] = min(item.weeks, last.get(muscle, item.weeks))
        for muscle in rules.watched:
            weeks = last.get(muscle)
            if muscle in here or (weeks is not None and weeks < rules.weeks_without):
                continue
            name = self.known.muscles[muscle].name.lower()
            yield Remark(
                about="muscle",
                line=f"nothing for the {name} here, nor for "
                + (f"{weeks} weeks before" if weeks is not None else "as long as the class log goes back"),
                why="what is trained once a week or more keeps its strength; after weeks without it is lost",
                basis="own history",
                source="the class log of these people",
                mend=Mend(label=f"Add something for the {name}", muscle=muscle),
            )


_BPM = re.compile(r"\b\d{2,3}(?:\s*(?:-|–|to)\s*\d{2,3})?\s*(?:bpm|beats)\b", re.IGNORECASE)
"""A heart rate in a text."""


def in_words(aimed: FigureGoal) -> str:
    """Where a figure is to be: seconds as minutes and seconds."""
    unit = figures()[aimed.figure].unit
    return f"{aimed.value // 60:.0f}:{aimed.value % 60:02.0f}" if unit == "s" else f"{aimed.value:.3g} {unit}"


NAMES = {
    "vigorous_or_more": "vigorous or more",
    "heart_share": "mean share of the reserve",
    "sets_a_muscle": "sets for one muscle",
    "waiting_share": "waiting",
}
