"""What somebody's card says while a class runs: how they set each machine; for instructors also what to be careful of
and the last note on them."""

from __future__ import annotations

from collections import defaultdict

from logbook.models import Run, RunEvent
from logbook.runs import file_of
from logbook.sets import targets_of
from oaken.domain.people.conditions import conditions
from oaken.programme.progress import SetTarget
from people.models import UnitSetting
from pydantic import BaseModel, ConfigDict


class CardTargets(BaseModel):
    """What is to be reached in the sets of one part, where they do this exercise in it."""

    model_config = ConfigDict(json_schema_serialization_defaults_required=True)

    part: str
    exercise: str
    sets: list[SetTarget]


class Card(BaseModel):
    """One person's card. `settings` are by unit, in words; `targets` what is to be reached in their sets;
    `careful` and `last_note` are empty for assistants."""

    model_config = ConfigDict(json_schema_serialization_defaults_required=True)

    person: str
    settings: dict[str, str]
    careful: list[str]
    last_note: str
    targets: list[CardTargets] = []


def cards_of(run: Run, *, health: bool, targets: bool = False) -> list[Card]:
    """The cards of everybody in a run. `health` is whether the reader may know of it; `targets` are looked up where
    they are asked for."""
    file = run.file or {"plan": {"people": []}, "people": [], "room": {"id": ""}}
    names = file["plan"]["people"]
    set_as: dict[str, dict[str, list[str]]] = defaultdict(lambda: defaultdict(list))
    rows = UnitSetting.objects.filter(person__studio=run.studio, person__key__in=names, room=file["room"]["id"])
    for key, unit, name, value in rows.values_list("person__key", "unit", "name", "value"):
        set_as[key][unit].append(f"{name} {value}")
    for own in file["plan"].get("settings", []):
        # what the class says of a unit stands for what was written down there before
        set_as[own["person"]][own["unit"]] = [f"{name} {value}" for name, value in own["values"].items()]
    known = conditions()
    careful = {item["id"]: [known[each].name for each in item.get("careful", [])] for item in file["people"]}
    reach = _targets(run) if targets else {}
    return [
        Card(
            person=name,
            settings={unit: ", ".join(words) for unit, words in set_as[name].items()},
            careful=careful.get(name, []) if health else [],
            last_note=_last_note(run, name) if health else "",
            targets=reach.get(name, []),
        )
        for name in names
    ]


def _targets(run: Run) -> dict[str, list[CardTargets]]:
    """By person: from the classes before the day of this run."""
    if run.file is None:
        return {}
    day = (run.began_at or run.opened_at).astimezone(run.studio.zone).date()
    found: dict[str, list[CardTargets]] = defaultdict(list)
    for own in targets_of(run.studio, file_of(run), day):
        found[own.person].append(CardTargets(part=own.part, exercise=own.exercise, sets=own.sets))
    return found


def _last_note(run: Run, person: str) -> str:
    """What was written of somebody last, in this run or one before."""
    written = RunEvent.objects.filter(run__studio=run.studio, kind__in=("noted", "stopped_for"), body__person=person)
    found = written.order_by("-received_at", "-pk").values_list("body__words", flat=True).first()
    return found or ""
