"""The same plan carried out otherwise: more and fewer people, a machine gone, later and warmer, all beginners.

The plan is never changed, only what it meets: what a side shows is its forecast. What is assumed of each side stands in
its words (common practice, no source).
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from datetime import datetime, timedelta

from pydantic import BaseModel

from oaken.basis.names import first_name
from oaken.basis.words import counted
from oaken.domain.people import Person
from oaken.forecast import forecast
from oaken.forecast.report import Forecast
from oaken.physiology.heat import Air
from oaken.plan import MOST_IN_CLASS
from oaken.plan.dates import first_occasion
from oaken.schedule.class_file import ClassFile
from oaken.schedule.timeline import Doing

MORE_PEOPLE, FEWER_PEOPLE = 2, 2
LATER_MIN, WARMER_C = 30, 6.0
USUAL_AIR = Air(temperature_c=21, humidity_percent=50)
"""The air of a room of which nobody has said what it is like (common practice, no source)."""

BEGINNERS_BEST, BEGINNERS_UPTAKE = 0.75, 0.85
"""What beginners lift and take up compared with those who come (common practice, no source)."""


class ScenarioBlock(BaseModel):
    """A block on the time axis of one side."""

    name: str
    kind: str
    start_s: float
    end_s: float


class Scenario(BaseModel):
    """The class in one kind of circumstances: what is different and assumed, its blocks and figures (means of the
    class; `longest_wait_s` of whoever waits most), and the clashes and cautions that are not there as planned."""

    id: str
    name: str
    what: str
    people: int
    blocks: list[ScenarioBlock]
    length_s: float
    low_s: float
    high_s: float
    chance_inside: float
    waiting_s: float
    longest_wait_s: float
    work_share: float
    heart_mean: float | None
    vigorous_min: float | None
    energy: float
    new_cautions: list[str]


class Scenarios(BaseModel):
    """The class as planned, then its other sides."""

    slot_s: int
    sides: list[Scenario]


def scenarios_of(file: ClassFile) -> Scenarios:
    """Every side that this class has. The file must have been checked."""
    planned = forecast(file)
    found = [_side("planned", "As planned", "", file, planned, planned)]
    for name, title, what, other in _others(file, planned):
        found.append(_side(name, title, what, other, forecast(other), planned))
    return Scenarios(slot_s=planned.slot_s, sides=found)


def _others(file: ClassFile, planned: Forecast) -> Iterator[tuple[str, str, str, ClassFile]]:
    if len(file.plan.people) + MORE_PEOPLE <= MOST_IN_CLASS:
        more, like = _with_more(file, planned)
        yield "more", f"{MORE_PEOPLE} more people", f"like {like}, last in the order", more
    if len(file.plan.people) - FEWER_PEOPLE >= 1:
        yield "fewer", f"{FEWER_PEOPLE} do not come", "the last two of the order", _with_fewer(file)
    gone = _without_machine(file, planned)
    if gone is not None:
        other, name, minutes = gone
        yield "machine", f"Without {name}", f"the one most used: {minutes:.0f} min of work", other
    air = file.plan.air or USUAL_AIR
    warmer = air.model_copy(update={"temperature_c": min(50.0, air.temperature_c + WARMER_C)})
    said = "as measured" if file.plan.air else "taken, nobody has measured"
    yield (
        "warmer",
        f"Half an hour later, {WARMER_C:g} °C warmer",
        f"{warmer.temperature_c:g} °C instead of {air.temperature_c:g} ({said}), {air.humidity_percent:g} % humidity",
        file.model_copy(
            update={"plan": file.plan.model_copy(update={"air": warmer, "starts": _later(file.plan.starts)})}
        ),
    )
    if any(participant.level != "beginner" for participant in file.participants):
        what = (
            f"shown every machine, {100 * BEGINNERS_BEST:.0f} % of the loads known, "
            f"{100 * BEGINNERS_UPTAKE:.0f} % of the uptake measured"
        )
        yield "beginners", "All beginners", what, _all_beginners(file)


def _with_more(file: ClassFile, planned: Forecast) -> tuple[ClassFile, str]:
    """Two more of the two people in the middle of the class, by how hard it is for them."""
    order = sorted(planned.people, key=lambda person: (person.workload, person.number))
    middle = [order[len(order) // 2], order[(len(order) - 1) // 2]][:MORE_PEOPLE]
    by_id = {person.id: person for person in file.people}
    extra = [
        by_id[item.id].model_copy(update={"id": f"one-more-{at}", "name": f"One more {at}"})
        for at, item in enumerate(middle, 1)
    ]
    plan = file.plan.model_copy(update={"people": [*file.plan.people, *(item.id for item in extra)]})
    like = " and ".join(dict.fromkeys(first_name(item.name) for item in middle))
    return file.model_copy(update={"plan": plan, "people": [*file.people, *extra]}), like


def _with_fewer(file: ClassFile) -> ClassFile:
    plan = file.plan
    gone = set(plan.people[-FEWER_PEOPLE:])

    def without(companies: list[list[str]]) -> list[list[str]]:
        left = [[name for name in company if name not in gone] for company in companies]
        return [company for company in left if len(company) > 1]

    people = [name for name in plan.people if name not in gone]
    changed = plan.model_copy(
        update={
            "people": people,
            "together": without(plan.together),
            "apart": without(plan.apart),
            "newcomers": [name for name in plan.newcomers if name not in gone],
            "settings": [setting for setting in plan.settings if setting.person not in gone],
        }
    )
    return file.model_copy(update={"plan": changed})


def _without_machine(file: ClassFile, planned: Forecast) -> tuple[ClassFile, str, float] | None:
    """The room without the unit on which most work is done; one fewer of what stands there several times."""
    used: Counter[int] = Counter()
    for person in planned.people:
        for step in person.path.stretches(planned.length.value):
            if step.doing == Doing.WORK and step.unit >= 0:
                used[step.unit] += round(step.seconds)
    machines = {at: seconds for at, seconds in used.items() if file.room.units[at].kind not in ("mat", "none")}
    if not machines:
        return None
    # of several that are alike, the work of one of them
    busiest = max(machines, key=lambda at: (machines[at] / file.room.units[at].places, -at))
    unit = file.room.units[busiest]
    left = (
        unit.model_copy(update={"count": unit.count - 1})
        if unit.count > 1 and unit.hardware is None
        else unit.model_copy(update={"out_of_order": True})
    )
    units = [left if at == busiest else unit for at, unit in enumerate(file.room.units)]
    name = f"one {unit.name.lower()}" if unit.count > 1 and unit.hardware is None else unit.name
    minutes = machines[busiest] / max(1, unit.places) / 60
    return file.model_copy(update={"room": file.room.model_copy(update={"units": units})}), name, minutes


def _later(starts: str) -> str:
    first = first_occasion(starts)
    if first is None:
        return starts
    then = datetime.fromisoformat(f"{first.on} {first.time}") + timedelta(minutes=LATER_MIN)
    return then.strftime("%Y-%m-%d %H:%M")


def _all_beginners(file: ClassFile) -> ClassFile:
    coming = set(file.plan.people)

    def beginner(person: Person) -> Person:
        if person.id not in coming or person.level == "beginner":
            return person
        lifts = {name: round(kg * BEGINNERS_BEST, 1) for name, kg in person.bests_kg.items()}
        works = {name: round(kg * BEGINNERS_BEST, 1) for name, kg in person.working_kg.items()}
        sets = {
            name: tuple(round(kg * BEGINNERS_BEST, 1) for kg in own) for name, own in person.working_sets_kg.items()
        }
        vo2max = None if person.vo2max is None else max(12.0, round(person.vo2max * BEGINNERS_UPTAKE, 1))
        changed = {
            "level": "beginner",
            "bests_kg": lifts,
            "working_kg": works,
            "working_sets_kg": sets,
            "vo2max": vo2max,
        }
        return person.model_copy(update=changed)

    plan = file.plan.model_copy(update={"newcomers": list(file.plan.people)})
    return file.model_copy(update={"plan": plan, "people": [beginner(person) for person in file.people]})


def _side(name: str, title: str, what: str, file: ClassFile, predicted: Forecast, planned: Forecast) -> Scenario:
    waits = [
        sum(step.seconds for step in person.path.stretches(predicted.length.value) if step.doing == Doing.WAIT)
        for person in predicted.people
    ]
    figures = predicted.figures
    new = predicted.cautions_beyond(planned)
    return Scenario(
        id=name,
        name=title,
        what=what or counted(len(predicted.people), "person", "people"),
        people=len(predicted.people),
        blocks=[
            ScenarioBlock(name=block.name, kind=block.kind, start_s=block.start_s, end_s=block.end_s)
            for block in predicted.blocks
        ],
        length_s=predicted.length.value,
        low_s=predicted.length.low,
        high_s=predicted.length.high,
        chance_inside=predicted.chance_inside.value,
        waiting_s=round(figures.waiting.value, 1),
        longest_wait_s=round(max(waits), 1),
        work_share=figures.work_share.value,
        heart_mean=None if figures.heart_mean is None else figures.heart_mean.value,
        vigorous_min=None if figures.vigorous_or_more is None else figures.vigorous_or_more.value,
        energy=figures.energy.value,
        new_cautions=[item.message for item in new],
    )
