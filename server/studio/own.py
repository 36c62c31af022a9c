"""The instructor's own exercises and equipment kinds: under the same rules as the shipped catalogue."""

from __future__ import annotations

import threading
from collections import OrderedDict
from typing import Any

from django.db import transaction
from oaken.basis.faults import Fault, FaultyInput, faults_in
from oaken.basis.limits import most
from oaken.catalogue import Catalogue, EquipmentKind, Exercise, OwnEntries, catalogue
from pydantic import ValidationError

from studio.models import OwnEntry, Studio, new_state

_fault = faults_in("the entry")

MOST_OWN_ENTRIES = most("own.entries")
KEPT_STUDIOS = 16

_read: OrderedDict[tuple[int, str], OwnEntries] = OrderedDict()
_lock = threading.Lock()


def own_entries(studio: Studio) -> OwnEntries:
    """Everything that was added here; read and checked once for every state."""
    state = (studio.pk, studio.own_state)
    with _lock:
        found = _read.get(state)
    if found is None:
        rows = list(studio.own_entries.all())
        found = OwnEntries(
            exercises=[Exercise.model_validate(row.document) for row in rows if row.kind == "exercise"],
            equipment=[EquipmentKind.model_validate(row.document) for row in rows if row.kind == "equipment"],
            retired=[row.key for row in rows if row.retired],
        )
    with _lock:
        _read[state] = found
        _read.move_to_end(state)
        while len(_read) > KEPT_STUDIOS:
            _read.popitem(last=False)
    return found


def house_catalogue(studio: Studio) -> Catalogue:
    """The shipped catalogue with what was added here."""
    return catalogue().with_own(own_entries(studio))


def keep_exercise(studio: Studio, exercise: Exercise) -> Exercise:
    """Add or replace an exercise. Raises FaultyInput, and keeps nothing, where it does not fit the catalogue."""
    known = house_catalogue(studio)
    found = [_fault(where, f"{name!r} does not fit", right) for where, name, right in known.faults_of(exercise)]
    if exercise.id in catalogue().exercises:
        found.append(_fault("id", f"{exercise.id!r} is an id of the shipped catalogue", "an id of its own"))
    _keep(studio, "exercise", exercise.id, exercise.model_dump(mode="json", exclude_none=True), found)
    return exercise


def keep_equipment(studio: Studio, kind: EquipmentKind) -> EquipmentKind:
    """Add or replace an equipment kind. Raises FaultyInput where its id is taken."""
    found = []
    if kind.id in catalogue().equipment:
        found.append(_fault("id", f"{kind.id!r} is an id of the shipped catalogue", "an id of its own"))
    _keep(studio, "equipment", kind.id, kind.model_dump(mode="json"), found)
    return kind


def own_entry_of(studio: Studio, kind: str, key: str) -> OwnEntry:
    """An entry that was added here. Raises FaultyInput where there is none."""
    entry = studio.own_entries.filter(kind=kind, key=key).first()
    if entry is None:
        raise FaultyInput([_fault("id", f"{key!r} was not added here", "an entry of your own")])
    return entry


def set_entry(studio: Studio, key: str, *, retired: bool, delete: bool = False) -> None:
    """Retire an own entry or bring it back; `delete` removes it, which only what nothing names allows."""
    with transaction.atomic():
        entry = studio.own_entries.get(key=key)
        if delete:
            entry.delete()
        else:
            entry.retired = retired
            entry.save(update_fields=["retired"])
        _changed(studio)


def _changed(studio: Studio) -> None:
    studio.own_state = new_state()
    studio.save(update_fields=["own_state"])


def _keep(studio: Studio, kind: str, key: str, document: dict[str, Any], found: list[Fault]) -> None:
    with transaction.atomic():
        if studio.own_entries.exclude(key=key).count() >= MOST_OWN_ENTRIES:
            found.append(_fault("id", f"{MOST_OWN_ENTRIES} own entries are kept at most", "take one out first"))
        other = studio.own_entries.filter(key=key).exclude(kind=kind).first()
        if other is not None:
            found.append(_fault("id", f"{key!r} is an {other.kind} already", "an id of its own"))
        if found:
            raise FaultyInput(found)
        before = studio.own_state
        studio.own_entries.update_or_create(key=key, defaults={"kind": kind, "document": document})
        _changed(studio)
        try:
            house_catalogue(studio)
        except (ValueError, ValidationError) as error:
            studio.own_state = before
            raise FaultyInput([_fault("id", str(error), "an entry that fits the catalogue")]) from error
