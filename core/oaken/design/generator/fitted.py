"""Doses the main part of a class so that the whole fits its slot, and lets the easy parts take up what is left."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field
from typing import NamedTuple

from oaken.design.generator.composed import STEP_S, Dose, Frame, class_of
from oaken.design.generator.pool import Choice
from oaken.forecast.build import CERTAINTY
from oaken.plan import Block, ClassPlan, SetsBlock
from oaken.schedule.arrange.search import BlockSearch
from oaken.schedule.class_file import ClassFile
from oaken.schedule.timeline import BlockAt, Circumstances, Outlook, blocks_at, lengths
from oaken.schedule.timeline.layout import block_length
from oaken.schedule.timeline.lineup import line_up

SURE = 1.1
"""A class ends so many deviations before its slot: nearly nine of ten such classes end inside."""

LEAST_MARGIN_S = 15
ROTATION_EFFORT = 0.01
"""Effort of the search for a rotation, as a share of the one that is asked for by hand."""

SHORT_WAIT_S, LONG_WAIT_S = 20.0, 60.0
"""Nobody waits longer than the first: no rotation is looked for. Somebody waits longer than the second, all the class
through: it is looked for thoroughly."""

LOOKED_BEYOND_S = (0.0, 30.0)
"""Orders that take so much longer than the block may are gone through on the way to one that does not."""

MOST_SEARCHED = 1000
"""Sets of a block above which an order made at once has to do: a better one can be looked for by hand."""

GOOD_STRAIN = 1.5
"""As near to the usual dose as this, no other is looked for."""

WORKS = (0, -5, 5, -10, 10, 15, 20)
SETS = (0, -1, 1, 2)


class FittedPart(NamedTuple):
    """A block of the main part as a function of its dose, with the exercises in it."""

    block: Callable[[Dose], Block]
    chosen: list[Choice]
    on_clock: bool
    change_s: int
    turn_s: int | None = None
    works_s: tuple[int, ...] = ()
    rest_share: float = 1.0
    """`rest_share`: of the usual rest, where another exercise of the group is rest as well."""


@dataclass(frozen=True)
class Fitted:
    """A class with its dose, and how many seconds of its slot are left; below 0 it is too long."""

    plan: ClassPlan
    frame: Frame
    doses: tuple[Dose, ...]
    main: tuple[Block, ...]
    spare_s: float
    left_s: float
    workload: float
    """`left_s` is what the easy parts could not take up (below 0: what is missing for nine of ten such classes to end
    inside), `workload` how far the dose is from what is usual for the aim."""


@dataclass
class Fitter:
    """Everything that does not change from dose to dose."""

    file: ClassFile
    frame: Frame
    parts: Sequence[FittedPart]
    usual: Dose
    around: Circumstances = field(init=False)
    _longer: float | None = field(init=False, default=None)

    def __post_init__(self) -> None:
        wishes = self._class([part.block(self._dose(part)) for part in self.parts], self.frame).wishes()
        self.around = Circumstances.of(self.file.room_today, self.file.participants, self.file.catalogue(), wishes)

    @property
    def chosen(self) -> list[Choice]:
        """Every exercise of the main part."""
        return [item for part in self.parts for item in part.chosen]

    @property
    def slot_s(self) -> float:
        """The slot in seconds."""
        return self.frame.pool.class_request.slot_min * 60.0

    def candidates(self, *, every: bool) -> list[Fitted]:
        """Classes with different doses, those that fit first, then by how usual they are. Without `every` one that is
        near enough to the usual ends the search."""
        found = []
        for doses in self._doses():
            main = tuple(part.block(dose) for part, dose in zip(self.parts, doses, strict=True))
            found.append(self.fitted(main, doses))
            if not every and found[-1].left_s >= 0 and found[-1].workload < GOOD_STRAIN:
                break
        return sorted(found, key=lambda item: (self._misfit(item), item.workload))

    def fitted(self, main: tuple[Block, ...], doses: tuple[Dose, ...]) -> Fitted:
        """The class of these blocks with what is left of the slot in its easy parts."""
        frame, left = self.frame.fitting(self._left(main))
        plan = self._class(main, frame)
        spare = self.slot_s - self._seconds(main, frame, Outlook.EXPECTED)
        workload = sum(self._workload(dose, part) for dose, part in zip(doses, self.parts, strict=True))
        workload += abs(frame.easy_s - self.frame.easy_s) / 90 + max(0.0, left) / 60
        return Fitted(plan, frame, doses, main, spare, left, workload)

    def _left(self, main: Sequence[Block]) -> float:
        """Seconds that a class with the usual easy parts is shorter than it may be so that most of its like end inside
        the slot."""
        expected = self._seconds(main, self.frame, Outlook.EXPECTED)
        if self._longer is None:
            # how much longer it may take hardly changes with the dose: it is laid out once
            self._longer = self._seconds(main, self.frame, Outlook.LONGEST) / expected - 1
        return self.slot_s - max(LEAST_MARGIN_S, SURE * self._longer * expected / CERTAINTY) - expected

    def rotated(self, one: Fitted, *, thorough: bool = True) -> Fitted:
        """The same with the order in which people wait least, or with a good one that is made at once."""
        main = tuple(
            self._with_rotation(block, thorough=thorough) if isinstance(block, SetsBlock) else block
            for block in one.main
        )
        if main == one.main:
            return one
        # another order of the visits may take longer in another way
        self._longer = None
        return self.fitted(main, one.doses)

    def _seconds(self, main: Sequence[Block], frame: Frame, outlook: Outlook) -> float:
        """How long the class is."""
        warm_up, cool_down = frame.ends
        blocks = [warm_up, *main, cool_down]
        return lengths(blocks, blocks_at(blocks, self.around), outlook).class_s

    def longest_wait_s(self, one: Fitted) -> float:
        """Seconds that whoever waits most waits in the main part."""
        waits = [block_length(BlockAt.of(block, self.around)).waits_s for block in one.main]
        return max((float(sum(own)) for own in zip(*waits, strict=True)), default=0.0)

    def _with_rotation(self, block: SetsBlock, *, thorough: bool) -> SetsBlock:
        waits = block_length(BlockAt.of(block, self.around)).waits_s
        if max(waits) <= SHORT_WAIT_S:
            return block
        lineup = line_up(block, self.around, Outlook.EXPECTED)
        search = BlockSearch(lineup, ROTATION_EFFORT)
        before, best = search.before, search.at_once()
        if thorough and best.longest_wait_s > LONG_WAIT_S and search.floor.work.sets <= MOST_SEARCHED:
            # the block fits as it is: what is no longer is as good, and what is shorter leaves less to wait for
            as_long = [BlockSearch(lineup, ROTATION_EFFORT, before.length_s + more).run() for more in LOOKED_BEYOND_S]
            found = [trial for trial in (best, *as_long, search.run()) if trial.length_s <= before.length_s]
            best = min(found, key=lambda trial: (trial.longest_wait_s, trial.waiting_s), default=best)
        better = best.longest_wait_s < before.longest_wait_s or best.rank < before.rank
        return block.model_copy(update={"rotation": best.rotation}) if better else block

    def _class(self, main: Sequence[Block], frame: Frame) -> ClassPlan:
        return class_of(main, frame, self.chosen)

    def _dose(self, part: FittedPart) -> Dose:
        rest_s = int(self.usual.rest_s * part.rest_share // STEP_S) * STEP_S
        dose = self.usual.with_(change_s=part.change_s, turn_s=part.turn_s, rest_s=rest_s)
        return dose.with_(work_s=part.works_s[0]) if part.works_s else dose

    def _budget(self, doses: Sequence[Dose]) -> float:
        """Seconds too few (below 0) or too many, with these doses and the usual easy parts."""
        main = [part.block(dose) for part, dose in zip(self.parts, doses, strict=True)]
        return self._left(main)

    def _doses(self) -> Iterator[tuple[Dose, ...]]:
        """Doses worth looking at: groups with the rest that fits, stations with the rounds that do."""
        usual = [self._dose(part) for part in self.parts]
        at_own_pace = [at for at, part in enumerate(self.parts) if not part.on_clock]
        on_clock = [at for at, part in enumerate(self.parts) if part.on_clock]
        wanted = self.frame.pool.class_request.sets
        for more in SETS if at_own_pace and wanted is None else (0,):
            doses = list(usual)
            for at in at_own_pace:
                # beside the wanted working sets there is one that leads up to them
                sets = min(5, max(2, doses[at].sets + more)) if wanted is None else wanted + 1
                doses[at] = doses[at].with_(sets=sets)
            if not on_clock:
                yield tuple(self._rested(doses, at_own_pace))
                continue
            at = on_clock[0]
            part = self.parts[at]
            for work in part.works_s or [self.usual.work_s + less for less in WORKS]:
                if work < 20:
                    continue
                timed = [*doses]
                for rounds in range(1, 7):
                    timed[at] = doses[at].with_(work_s=work, rounds=rounds)
                    left = self._budget(timed)
                    if left < self.frame.least_s - self.frame.easy_s:
                        break
                    if left <= self.frame.most_s - self.frame.easy_s:
                        yield tuple(self._rested(timed, at_own_pace))
        if on_clock:
            # where nothing fits: one round of the usual
            shortest = [dose.with_(rounds=1) if self.parts[at].on_clock else dose for at, dose in enumerate(usual)]
            yield tuple(shortest)

    def _rested(self, doses: list[Dose], own_pace: Sequence[int]) -> list[Dose]:
        """Rests longer or shorter by what is left, down to half and up to nearly double the usual."""
        if not own_pace:
            return doses
        left = self._budget(doses)
        rests = sum(len(self._groups(at, doses[at])) * doses[at].sets for at in own_pace)
        found = list(doses)
        for at in own_pace:
            usual = self._dose(self.parts[at]).rest_s
            rest = min(max(usual + left / max(1, rests), usual / 2, 15), usual * 1.75)
            found[at] = doses[at].with_(rest_s=int(rest // STEP_S) * STEP_S)
        return found

    def _groups(self, at: int, dose: Dose) -> list[object]:
        block = self.parts[at].block(dose)
        return list(block.groups) if isinstance(block, SetsBlock) else []

    def _workload(self, dose: Dose, part: FittedPart) -> float:
        usual = self._dose(part)
        if part.on_clock:
            return abs(dose.work_s - usual.work_s) / 10 + abs(dose.rounds - usual.rounds) / 2
        return abs(dose.sets - usual.sets) * 1.5 + abs(dose.rest_s - usual.rest_s) / 15

    def _misfit(self, one: Fitted) -> float:
        """Too long counts most, then too little certainty; a slot that is not filled counts by the minute."""
        if one.spare_s < 0:
            return 1000 - one.spare_s
        return 100 - one.left_s if one.left_s < 0 else round(one.left_s / 60)
