"""What becomes of somebody erased in what is kept, and in what arrives of them afterwards.

A device that was away may still send what was pressed about somebody who has been erased since. Who that was is known
by a digest of their id alone, which only this installation can make.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from django.utils.crypto import salted_hmac
from oaken.session import Event
from oaken.session.events import event_of
from studio.models import Studio

from logbook.models import ErasedKey, Run

STAYS = ("body_mass_kg", "level")
"""What stays of somebody erased, without a name: the energy and volume of past classes are computed from it."""


def _digest(key: str) -> str:
    return salted_hmac("oaken.erased", key, algorithm="sha256").hexdigest()


def remember(studio: Studio, gone: str, stand_in: str) -> None:
    """Whoever had the id `gone` has been erased: `stand_in` takes their place."""
    ErasedKey.objects.update_or_create(studio=studio, digest=_digest(gone), defaults={"stand_in": stand_in})


def without_erased(run: Run, events: list[Event]) -> list[Event]:
    """Events as they arrive, with a nameless stand-in in place of whoever was erased since; what was written of them is
    blotted out."""
    known = dict(ErasedKey.objects.filter(studio=run.studio_id).values_list("digest", "stand_in"))
    if not known:
        return events
    here = set((run.file or {}).get("plan", {}).get("people", []))
    found = []
    for event in events:
        body = event.model_dump(mode="json", exclude_none=True)
        for name in {*_named(body)} - here:
            stand_in = known.get(_digest(name))
            if stand_in is not None:
                body = without_name(body, name, stand_in)
        found.append(event_of(body))
    return found


def _named(body: dict[str, Any]) -> Iterator[str]:
    """Every word of an event that may be somebody's id: whom it is about, and all in a change of the plan."""
    if isinstance(body.get("person"), str):
        yield body["person"]
    waiting: list[Any] = [body.get("change"), body.get("changes")]
    while waiting:
        here = waiting.pop()
        if isinstance(here, str):
            yield here
        elif isinstance(here, list):
            waiting.extend(here)
        elif isinstance(here, dict):
            waiting.extend([*here, *here.values()])


def without_person(file: dict[str, Any], gone: str, stand_in: str) -> dict[str, Any]:
    """A kept class file in which a nameless stand-in takes somebody's place: body mass, level and bests stay."""
    people = []
    for person in file["people"]:
        if person["id"] == gone:
            stays = {
                name: person[name] for name in (*STAYS, "bests_kg", "working_kg", "working_sets_kg") if name in person
            }
            person = {"id": stand_in, "name": "Somebody who left", "age": 40, **stays}
        people.append(person)
    return {**file, "plan": renamed(file["plan"], gone, stand_in), "people": people}


def without_name(event: dict[str, Any], gone: str, stand_in: str) -> dict[str, Any]:
    """An event in which a nameless stand-in takes somebody's place; what was written of them is blotted out."""
    if event.get("person") != gone:
        changed: dict[str, Any] = {
            name: renamed(event[name], gone, stand_in) for name in ("change", "changes") if name in event
        }
        return {**event, **changed} if changed else event
    blotted = {field: "erased" for field in ("words", "note") if event.get(field)}
    return {**event, "person": stand_in, **blotted}


PERSON_LISTS = ("people", "together", "apart", "circle")


def renamed(document: Any, old: str, new: str) -> Any:
    """A plan's document in which one person has another id, wherever people are named."""

    def names(value: Any) -> Any:
        if isinstance(value, list):
            return [names(item) for item in value]
        return new if value == old else value

    if isinstance(document, list):
        return [renamed(item, old, new) for item in document]
    if not isinstance(document, dict):
        return document
    found = {}
    for field, value in document.items():
        if field in PERSON_LISTS:
            found[field] = names(value)
        elif field == "visits" and isinstance(value, dict):
            found[field] = {new if name == old else name: visits for name, visits in value.items()}
        else:
            found[field] = renamed(value, old, new)
    return found
