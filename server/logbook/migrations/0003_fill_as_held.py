"""Classes held before: the class file as it is known on the day of this migration, marked as made later.

What their room and people were on the day itself was not kept by earlier versions. From here on nothing that changes in
the studio changes it.
"""

from typing import Any

from django.db import migrations

PERSON_FIELDS = (
    "name",
    "age",
    "body_mass_kg",
    "height_cm",
    "level",
    "resting_bpm",
    "max_bpm",
    "max_formula",
    "vo2max",
    "heart_medication",
    "heart_fit",
    "careful",
    "screening",
)
UNIT_FIELDS = (
    "kind",
    "name",
    "count",
    "people_at_once",
    "x_m",
    "y_m",
    "width_m",
    "depth_m",
    "turned",
    "set_up_s",
    "load_change_s",
    "settings",
    "hardware",
    "out_of_order",
)
ZONE_FIELDS = ("name", "x_m", "y_m", "width_m", "depth_m")


def picked(row: Any, names: tuple[str, ...]) -> dict[str, Any]:
    return {name: getattr(row, name) for name in names}


def file_of(apps: Any, studio: Any, revision: Any) -> dict[str, Any] | None:
    plan = revision.document
    room = apps.get_model("studio", "Room").objects.filter(studio=studio, key=plan.get("room")).first()
    if room is None:
        return None
    units = apps.get_model("studio", "MachineUnit").objects.filter(room=room).order_by("id")
    zones = apps.get_model("studio", "RoomZone").objects.filter(room=room).order_by("id")
    people = []
    for person in apps.get_model("people", "Person").objects.filter(studio=studio, key__in=plan["people"]):
        lifts = apps.get_model("people", "Lift").objects.filter(person=person, best_kg__isnull=False)
        people.append(
            {
                "id": person.key,
                "sex": person.sex or None,
                "bests_kg": {lift.exercise: lift.best_kg for lift in lifts},
                **picked(person, PERSON_FIELDS),
            }
        )
    own = apps.get_model("studio", "OwnEntry").objects.filter(studio=studio).order_by("kind", "key")
    return {
        "format": revision.format,
        "plan": plan,
        "room": {
            "id": room.key,
            "name": room.name,
            "width_m": room.width_m,
            "depth_m": room.depth_m,
            "zones": [{"id": zone.key, **picked(zone, ZONE_FIELDS)} for zone in zones],
            "units": [{"id": unit.key, **picked(unit, UNIT_FIELDS)} for unit in units],
        },
        "people": people,
        "own": {
            "exercises": [one.document for one in own if one.kind == "exercise"],
            "equipment": [one.document for one in own if one.kind == "equipment"],
        },
        "house_rules": studio.house_rules,
    }


def fill(apps: Any, schema_editor: Any) -> None:
    revisions = apps.get_model("planning", "Revision").objects
    for held in apps.get_model("logbook", "Held").objects.select_related("studio"):
        held.saved_as = revisions.get(planned_class_id=held.planned_class_id, number=held.revision)
        held.file = file_of(apps, held.studio, held.saved_as)
        held.rebuilt = True
        held.save(update_fields=["saved_as", "file", "rebuilt"])


class Migration(migrations.Migration):
    dependencies = [("logbook", "0002_as_held")]
    operations = [migrations.RunPython(fill, migrations.RunPython.noop)]
