"""Say what you want: how quickly and how well figures are reached and classes are generated, beside a random class and
the first one that fits."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from random import Random
from statistics import mean, median

import pytest
from generator_cases import Case, a_case
from generator_checker import faults_of
from oaken.design.first_class import Wanted, first_class
from oaken.design.generator import GeneratedClass, generate
from oaken.design.generator.request import choosing, target_of
from oaken.design.generator.weighed import Weighed, weighed
from oaken.design.goal_seeking import QUICK, FigureGoal, TradeAxis, reach, trade_off
from oaken.design.goal_seeking.goals import Seen
from oaken.domain.prescription import Load, Segment
from oaken.forecast import forecast
from oaken.plan import CircuitBlock, ClassPlan, Group, SetsBlock, Slot, Station, settled
from oaken.schedule.class_file import ClassFile
from oaken.schedule.class_file.reading import load_class
from places import ROOT
from showing import show

CASES = range(40)
EXAMPLES = ("stretcher-legs", "machine-pairs", "scree-and-stairs", "long-carry")
SMALL, LARGE = ((2, 4), (3, 12), (5, 8), (6, 10), (10, 12), (14, 8)), ((0, 24), (4, 24), (9, 30), (13, 40))
"""Generated rooms and groups for aiming: the number of the case, and for how many people."""

ABOUT: dict[str, tuple[float, float]] = {
    "energy": (0.85, 1.15), "heart_mean": (0.95, 1.05), "work_share": (0.88, 1.12), "length": (0.9, 1.08),
    "vigorous_or_more": (0.6, 1.4), "volume_load": (0.85, 1.15), "time_under_tension": (0.85, 1.15),
    "impulse": (0.8, 1.2), "load_per_minute": (0.85, 1.15),
}  # fmt: skip
"""What a figure is aimed at, as a share of what it is."""


def example(name: str) -> ClassFile:
    return load_class(ROOT / "examples" / f"{name}.json")


def seconds(work: Callable[[], object]) -> float:
    began = time.perf_counter()
    work()
    return time.perf_counter() - began


def test_figures_of_a_candidate() -> None:
    file = example("machine-pairs")
    plans = [
        file.plan.model_copy(
            update={
                "blocks": [
                    _rested(block, more) if isinstance(block, SetsBlock) else block for block in file.plan.blocks
                ]
            }
        )
        for more in range(1, 13)
    ]
    forecast(file)
    quick = median(seconds(lambda plan=plan: Seen(file.model_copy(update={"plan": plan})).figures) for plan in plans)  # type: ignore[misc]
    show("figures of a class of 12 after one block changed", 1000 * quick, "ms", 30)


def _rested(block: SetsBlock, more: int) -> SetsBlock:
    groups = [
        group.model_copy(
            update={"slots": [slot.model_copy(update={"sets": [run.model_copy(update={"rest_s": run.rest_s + more}) for run in slot.sets]})
                              for slot in group.slots]}
        )
        for group in block.groups
    ]  # fmt: skip
    return block.model_copy(update={"groups": groups})


def targets(file: ClassFile) -> Iterator[tuple[FigureGoal, list[FigureGoal]]]:
    """What a class is asked for: each figure somewhat less and more, a third less waiting, more of a muscle, fewer hard
    minutes for a level; while the slot is kept."""
    told = forecast(file)
    slot = FigureGoal(figure="length", want="at_most", value=max(told.length.value, file.plan.slot_min * 60) + 60)

    def now(aimed: FigureGoal) -> float:
        return Seen(file).value(aimed) or 0.0

    for figure, shares in ABOUT.items():
        there = now(FigureGoal(figure=figure, value=1))
        for share in shares if there else ():
            yield FigureGoal(figure=figure, value=round(there * share, 2)), [] if figure == "length" else [slot]
    muscle = max(told.muscles, key=lambda muscle: muscle.prime_s)
    less = [FigureGoal(figure="waiting", want="at_most", value=0)]
    less += [
        FigureGoal(figure="vigorous_or_more", want="at_most", value=0, level=level)
        for level in ("beginner", "advanced")
    ]
    for aimed, worth in zip(less, (60, 3, 3), strict=True):
        if now(aimed) > worth:
            yield aimed.model_copy(update={"value": round(0.7 * now(aimed), 1)}), [slot]
    value = round(1.15 * muscle.prime_s)
    yield FigureGoal(figure="muscle", muscle=muscle.muscle, want="at_least", value=value), [slot]


def generated_file(number: int, many: int) -> ClassFile:
    """A class for a generated room and group."""
    case = a_case(number, many)
    told = generate(case.class_request, case.file, case.number)
    assert told.generated is not None
    return case.file.model_copy(update={"plan": told.generated.plan})


@pytest.mark.parametrize("crowd", ["up to 12", "24 to 40"])
def test_aiming(crowd: str) -> None:
    small = crowd == "up to 12"
    files = [example(name) for name in EXAMPLES] if small else []
    files += [generated_file(*item) for item in (SMALL if small else LARGE)]
    first, whole, apart = [], [], []
    asked = missed = unsaid = 0
    for file in files:
        for aimed, limits in targets(file):
            began = time.perf_counter()
            reach(file, aimed, limits, QUICK)
            first.append(time.perf_counter() - began)
            began = time.perf_counter()
            found = reach(file, aimed, limits)
            whole.append(time.perf_counter() - began)
            asked += 1
            best = next((proposal for proposal in found.proposals if proposal.reached), None)
            if best is not None:
                after = Seen(file.model_copy(update={"plan": best.plan})).value(aimed)
                apart.append(abs((after or 0.0) - best.value) / max(aimed.near, 1e-9))
            elif not found.reached_already:
                missed += 1
                unsaid += not found.caught
    people = f"for {crowd} people"
    show(f"first proposal {people}, median", median(first), "s", 0.3 if small else 0.6)
    show(f"all proposals {people}, median", median(whole), "s", 1.5 if small else 2.5)
    show(f"all proposals {people}, slowest", max(whole), "s", 5)
    show(f"of {asked} targets {people} not reached", 100 * missed / asked, "%", 10 if small else 20)
    show(f"of these, nothing named that stands in the way {people}", unsaid, "", 0)
    show(f"figures of the search beside the forecast {people}, worst, in what counts as near", max(apart), "", 0.5)


def test_a_curve_of_twelve_points() -> None:
    file = example("machine-pairs")
    forecast(file)
    across, up = TradeAxis(figure="energy", better="more"), TradeAxis(figure="vigorous_or_more", better="less")
    show("curve of two figures for 12 people", seconds(lambda: trade_off(file, across, up)), "s", 3)


def test_generated_classes_beside_others() -> None:
    took, made, firsts, randoms = [], [], [], []
    broken = 0
    for number in CASES:
        case = a_case(number)
        began = time.perf_counter()
        told = generate(case.class_request, case.file, case.number)
        took.append(time.perf_counter() - began)
        assert told.generated is not None
        broken += len(faults_of(case.file, told.generated.plan)[0])
        made.append(told.generated.figures)
        firsts.append(_weighed(case, _first_fit(case)))
        randoms.append(_weighed(case, _random_class(case, told.generated)))
    show("a generated class, median", median(took), "s", 3)
    show("a generated class, slowest of 40", max(took), "s", 12)
    show("hard rules broken by 40 generated classes", broken, "", 0)
    show("generated class: idle share of the main part, mean", 100 * mean(item.idle_share for item in made), "%", 2)
    show("generated class: longest wait, mean", mean(item.longest_wait_s for item in made), "s", 90)
    show("generated class: tension off target, mean", 100 * mean(item.off_target_share for item in made), "%", 12)
    show("generated class: classes that end after their slot", sum(item.spare_s < 0 for item in made), "of 40", 0)
    show("generated class: cautions of care, in all", sum(item.for_care for item in made), "", 0)
    for name, others in (("the first fit", firsts), ("a random class", randoms)):
        for what, read in READ.items():
            ratio = mean(map(read, made)) / max(1e-9, mean(map(read, others)))
            show(f"{what} of a generated class beside {name}", ratio, "times", 1)


READ: dict[str, Callable[[Weighed], float]] = {
    "idle share": lambda item: item.idle_share,
    "tension off target": lambda item: item.off_target_share,
    "seconds beside the slot": lambda item: abs(item.spare_s),
    "cautions of care": lambda item: item.for_care,
}


def _weighed(case: Case, plan: ClassPlan) -> Weighed:
    file = case.file.model_copy(update={"plan": plan})
    return weighed(file, forecast(file), target_of(case.class_request, case.file.catalogue()))


def _first_fit(case: Case) -> ClassPlan:
    """The class that the menu gives first, in the same manner as far as it knows it."""
    class_request = case.class_request
    manner = (
        class_request.manner
        if class_request.manner in ("stations", "partners", "pairs", "straight sets")
        else "stations"
    )
    wanted = Wanted.model_validate(
        {
            "room": class_request.room,
            "people": class_request.people,
            "slot_min": class_request.slot_min,
            "aim": class_request.aim,
            "manner": manner,
        }
    )
    return first_class(wanted, case.file.room_today, case.file.participants, case.file.catalogue())


def _random_class(case: Case, like: GeneratedClass) -> ClassPlan:
    """The class with other exercises in its main part, drawn by lot from what the room has: a valid class of the same
    shape and slot."""
    chance, known, room = Random(case.number), case.file.catalogue(), case.file.room_today
    able = [
        item.id
        for item in known.choosable
        if item.loads_muscle and item.pattern in choosing().patterns and item.speed_m_per_s is None
        and (item.equipment == "none" or room.working(item.equipment))
    ]  # fmt: skip
    plan = like.plan.model_copy(deep=True)
    for block in plan.blocks:
        if isinstance(block, CircuitBlock):
            block.stations = [Station(id=station.id, exercise=chance.choice(able)) for station in block.stations]
        if isinstance(block, SetsBlock):
            block.rotation = None
            block.groups = [
                Group(id=group.id, slots=[_drawn(slot, able, chance, case) for slot in group.slots])
                for group in block.groups
            ]
    plan.instead = []
    return settled(ClassPlan.model_validate(plan.model_dump()), known)


def _drawn(slot: Slot, able: list[str], chance: Random, case: Case) -> Slot:
    exercise = case.file.catalogue().exercises[chance.choice(able)]
    load = Load(share_of_best=0.6) if exercise.takes_load else None
    segment = Segment(seconds=30) if exercise.is_static else Segment(reps=10, load=load)
    return Slot(
        id=slot.id, exercise=exercise.id, sets=[run.model_copy(update={"segments": [segment]}) for run in slot.sets]
    )
