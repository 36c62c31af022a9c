"""Who sets what: every person's loads at every slot as the unit they come to can really hold them."""

from __future__ import annotations

from collections.abc import Mapping

from pydantic import BaseModel

from oaken.domain.people import Person
from oaken.domain.room import Room
from oaken.physiology.strength.loading import LoadAsSet, Loading, loadings, warm_up_sets
from oaken.schedule.timeline import Doing, Timeline, load_kg


class SetsOfLoads(BaseModel):
    """So many sets alike, each of these loads one after another. `counted_s` is what the plan counts for the changes
    within a set; `takes_s` what they take with the plates that have to move."""

    times: int
    loadings: list[Loading]
    counted_s: float
    takes_s: float


class WarmUpSet(BaseModel):
    """A set before the work: repetitions and the load as it is set."""

    reps: int
    load: LoadAsSet


class LoadRow(BaseModel):
    """One person's loads at one slot; `unit` is the unit they begin on. `unknown` where their best is not known."""

    person: int
    slot: str
    exercise: str
    name: str
    unit: str
    unknown: bool
    sets: list[SetsOfLoads]
    warm_up: list[WarmUpSet]


def load_sheet(
    timeline: Timeline,
    people: list[Person],
    room: Room,
    load_change_s: Mapping[str, float],
    usual_steps_kg: Mapping[str, float],
) -> list[LoadRow]:
    """Everybody's loads in the order of their path; warm-up sets before the first one whose best is known.

    `load_change_s` are seconds and `usual_steps_kg` kilograms by equipment kind, where a unit has none of its own.
    """
    rows = []
    for number, (person, path) in enumerate(zip(people, timeline.paths, strict=True), 1):
        sets: dict[int, list[list[float | None]]] = {}
        units: dict[int, int] = {}
        for step in path:
            if step.doing is not Doing.WORK or step.bout is None or step.unit < 0:
                continue
            exercise = timeline.slots[step.slot].exercise
            if not exercise.takes_load:
                continue
            units.setdefault(step.slot, step.unit)
            own = sets.setdefault(step.slot, [])
            if step.opens_set or not own:
                own.append([])
            kg = load_kg(step.bout, person, exercise)
            if not own[-1] or own[-1][-1] != kg:
                own[-1].append(kg)
        warm = True
        for slot, own in sets.items():
            unit = room.units[units[slot]]
            exercise = timeline.slots[slot].exercise
            best = person.bests_kg.get(exercise.id)
            change = unit.load_change_s if unit.load_change_s is not None else load_change_s.get(unit.kind, 0.0)
            usual = usual_steps_kg.get(unit.kind, 0.0)
            known = [[kg for kg in item if kg is not None] for item in own]
            row = LoadRow(
                person=number,
                slot=timeline.slots[slot].id,
                exercise=exercise.id,
                name=exercise.name,
                unit=unit.id,
                unknown=any(kg is None for item in own for kg in item),
                sets=_alike(
                    [loadings(unit.hardware, item, change, usual_step_kg=usual) for item in known if item], change
                ),
                warm_up=[],
            )
            if warm and best is not None and row.sets:
                sets_before = warm_up_sets(unit.hardware, best, usual)
                row = row.model_copy(
                    update={"warm_up": [WarmUpSet(reps=reps, load=load) for load, reps in sets_before]}
                )
                warm = False
            rows.append(row)
    return rows


def _alike(sets: list[list[Loading]], change_s: float) -> list[SetsOfLoads]:
    """Sets with the same loads counted together."""
    found: list[SetsOfLoads] = []
    for each_set in sets:
        if found and [loading.load for loading in found[-1].loadings] == [loading.load for loading in each_set]:
            found[-1] = found[-1].model_copy(update={"times": found[-1].times + 1})
            continue
        changes = sum(1 for loading in each_set if loading.change_s > 0)
        takes = sum(loading.change_s for loading in each_set)
        found.append(SetsOfLoads(times=1, loadings=each_set, counted_s=change_s * changes, takes_s=takes))
    return found
