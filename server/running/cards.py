"""What somebody's card says while a class runs: how they set each machine; for instructors also what to be careful of
and the last note on them."""

from __future__ import annotations

from collections import defaultdict

from logbook.models import Run, RunEvent
from oaken.domain.people.conditions import conditions
from people.models import UnitSetting
from pydantic import BaseModel, ConfigDict


class Card(BaseModel):
    """One person's card. `settings` are by unit, in words; `careful` and `last_note` are empty for assistants."""

    model_config = ConfigDict(json_schema_serialization_defaults_required=True)

    person: str
    settings: dict[str, str]
    careful: list[str]
    last_note: str


def cards_of(run: Run, *, health: bool) -> list[Card]:
    """The cards of everybody in a run. `health` is whether the reader may know of it."""
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
    return [
        Card(
            person=name,
            settings={unit: ", ".join(words) for unit, words in set_as[name].items()},
            careful=careful.get(name, []) if health else [],
            last_note=_last_note(run, name) if health else "",
        )
        for name in names
    ]


def _last_note(run: Run, person: str) -> str:
    """What was written of somebody last, in this run or one before."""
    written = RunEvent.objects.filter(run__studio=run.studio, kind__in=("noted", "stopped_for"), body__person=person)
    found = written.order_by("-received_at", "-pk").values_list("body__words", flat=True).first()
    return found or ""
