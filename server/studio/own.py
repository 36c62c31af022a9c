"""The instructor's own exercises and equipment kinds: under the same rules as the shipped catalogue."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Collection
from typing import Any, Literal

from django.db import transaction
from oaken.basis.faults import Fault, FaultyInput, faults_in, faults_of
from oaken.basis.limits import most
from oaken.domain.catalogue import Catalogue, Collision, EquipmentKind, Exercise, OwnEntries, catalogue, shipped_again
from oaken.domain.catalogue.entries import SHIPPED_AGAIN
from pydantic import ValidationError

from studio.models import MachineUnit, OwnEntry, Studio, new_state

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
            replaced=[row.key for row in rows if row.kind == "equipment" and row.decided == "shipped"],
        )
    with _lock:
        _read[state] = found
        _read.move_to_end(state)
        while len(_read) > KEPT_STUDIOS:
            _read.popitem(last=False)
    return found


def house_catalogue(studio: Studio) -> Catalogue:
    """The shipped catalogue with what was added here. What was kept is known for ever, whatever is shipped later."""
    return catalogue().with_own(own_entries(studio))


def collisions(studio: Studio) -> list[Collision]:
    """The entries that were added here and that the shipped catalogue has now too, by id or name, as long as nobody has
    decided about them."""
    open_ones = set(studio.own_entries.filter(decided="", retired=False).values_list("key", flat=True))
    return [collision for collision in house_catalogue(studio).collisions if collision.id in open_ones]


Decision = Literal["keep", "shipped", "rename"]


def decide(studio: Studio, key: str, decision: Decision, name: str = "") -> None:
    """What becomes of an own entry that is shipped now too: both stay (`keep`); it gets another name (`rename`); or the
    shipped one is used from now on. An exercise is retired for that, so that classes that name it stay as they are; the
    units of an equipment kind become units of the shipped kind.

    Raises FaultyInput, and changes nothing, where there is nothing to decide or the name is taken.
    """
    found = next((collision for collision in house_catalogue(studio).collisions if collision.id == key), None)
    if found is None:
        raise FaultyInput([_fault("id", f"{key!r} has nothing in common with the shipped catalogue", "another entry")])
    with transaction.atomic():
        entry = studio.own_entries.get(key=key)
        entry.decided = "shipped" if decision == "shipped" else "kept"
        if decision == "rename":
            entry.document = {**entry.document, "name": name}
            _refuse_name(studio, entry)
        elif decision == "shipped":
            entry.retired = True
        entry.save()
        _changed(studio)
        if decision == "shipped" and entry.kind == "equipment":
            _units_become(studio, key, found.shipped)


def _refuse_name(studio: Studio, entry: OwnEntry) -> None:
    """Raises FaultyInput where a changed entry is none, or its name is another one's."""
    try:
        if entry.kind == "equipment":
            name = EquipmentKind.model_validate(entry.document).name.lower()
            kinds = house_catalogue(studio).equipment
            taken = [kind.id for kind in kinds.values() if kind.name.lower() == name and kind.id != entry.key]
        else:
            exercise = Exercise.model_validate(entry.document)
            taken = [right for field, _, right in house_catalogue(studio).faults_of(exercise) if field == "name"]
    except ValidationError as error:
        raise FaultyInput(faults_of(error, entry.document)) from error
    if taken:
        raise FaultyInput([_fault("name", "is the name of another entry", "a name of its own")])


def _units_become(studio: Studio, key: str, shipped: str) -> None:
    """Units of an own kind, and own exercises at it, are of the shipped kind from now on. One of the same id takes its
    place as it is."""
    if shipped == shipped_again(key):
        return
    MachineUnit.objects.filter(room__studio=studio, kind=key).update(kind=shipped)
    for entry in studio.own_entries.filter(kind="exercise"):
        if entry.document.get("equipment") == key:
            entry.document = {**entry.document, "equipment": shipped}
            entry.save(update_fields=["document"])
    _changed(studio)


def keep_exercise(studio: Studio, exercise: Exercise) -> Exercise:
    """Add or replace an exercise. Raises FaultyInput, and keeps nothing, where it does not fit the catalogue."""
    known = house_catalogue(studio)
    found = [_fault(where, f"{name!r} does not fit", right) for where, name, right in known.faults_of(exercise)]
    found += _shipped_ids(studio, exercise.id, catalogue().exercises)
    _keep(studio, "exercise", exercise.id, exercise.model_dump(mode="json", exclude_none=True), found)
    return exercise


def keep_equipment(studio: Studio, kind: EquipmentKind) -> EquipmentKind:
    """Add or replace an equipment kind. Raises FaultyInput where its id is taken."""
    found = _shipped_ids(studio, kind.id, catalogue().equipment)
    _keep(studio, "equipment", kind.id, kind.model_dump(mode="json"), found)
    return kind


def _shipped_ids(studio: Studio, key: str, shipped: Collection[str]) -> list[Fault]:
    """The fault of an entry that is added anew under an id of the shipped catalogue; one that was there before keeps
    its id."""
    if (key in shipped or key.startswith(SHIPPED_AGAIN)) and not studio.own_entries.filter(key=key).exists():
        return [_fault("id", f"{key!r} is an id of the shipped catalogue", "an id of its own")]
    return []


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
