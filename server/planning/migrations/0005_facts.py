"""What lists and the calendar ask of a class, taken from its newest revision."""

from typing import Any

from django.db import migrations

FIELDS = ("name", "starts", "repeats", "slot_min", "room", "people")
NAMES = ("exercise", "other", "rest_doing")


def exercises_in(document: Any) -> set[str]:
    found: set[str] = set()
    waiting = [document]
    while waiting:
        here = waiting.pop()
        if isinstance(here, dict):
            found.update(here[name] for name in NAMES if isinstance(here.get(name), str))
            waiting.extend(here.values())
        elif isinstance(here, list):
            waiting.extend(here)
    return found


def fill(apps: Any, schema_editor: Any) -> None:
    revisions = apps.get_model("planning", "Revision")
    for planned in apps.get_model("planning", "PlannedClass").objects.all():
        newest = revisions.objects.filter(planned_class=planned).order_by("-number").first()
        if newest is None:
            continue
        document = newest.document
        planned.facts = {name: document.get(name) for name in FIELDS} | {
            "exercises": sorted(exercises_in(document)),
            "length_s": newest.length_s,
        }
        planned.save(update_fields=["facts"])


class Migration(migrations.Migration):
    dependencies = [("planning", "0004_courses")]
    operations = [migrations.RunPython(fill, migrations.RunPython.noop)]
