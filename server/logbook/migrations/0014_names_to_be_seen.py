"""Names with nothing in them that can be seen were accepted before, and broke the wall and papers: they are called
“Unnamed” from now on, in everything that is kept."""

import json
import re
from typing import Any

from django.db import migrations
from oaken.basis.names import cleaned

UNNAMED = "Unnamed"
PLAIN = (("people", "Person"), ("studio", "Room"), ("studio", "MachineUnit"), ("studio", "RoomZone"), ("studio", "Studio"))
DOCUMENTS = (
    ("planning", "Revision", "document"), ("planning", "CourseRevision", "document"), ("planning", "PlannedClass", "facts"),
    ("studio", "OwnEntry", "document"), ("logbook", "Run", "file"),
)  # fmt: skip
SUSPECT = re.compile(r'"name": "(?:\\u[0-9a-fA-F]{4}|\\[nrtbf]| )+"')
"""A name of a document, as text, that is made of escaped signs and spaces alone."""


def mended(document: Any) -> Any:
    """The document with every name that nobody can see called “Unnamed”."""
    if isinstance(document, list):
        return [mended(one) for one in document]
    if not isinstance(document, dict):
        return document
    return {
        key: UNNAMED if key == "name" and isinstance(value, str) and not cleaned(value) else mended(value)
        for key, value in document.items()
    }


def name_them(apps: Any, schema_editor: Any) -> None:
    for app, model in PLAIN:
        rows = apps.get_model(app, model).objects
        for pk, name in list(rows.values_list("pk", "name")):
            if not cleaned(name):
                rows.filter(pk=pk).update(name=UNNAMED)
    for app, model, field in DOCUMENTS:
        kept = apps.get_model(app, model)
        with schema_editor.connection.cursor() as cursor:
            # as text: what has no such name is not read as JSON
            cursor.execute(f"select {kept._meta.pk.column}, {field} from {kept._meta.db_table} where {field} is not null")
            while rows := cursor.fetchmany(200):
                for pk, text in rows:
                    if SUSPECT.search(text):
                        kept.objects.filter(pk=pk).update(**{field: mended(json.loads(text))})


class Migration(migrations.Migration):
    dependencies = [
        ("logbook", "0013_erased_keys"),
        ("people", "0002_records"),
        ("planning", "0005_facts"),
        ("studio", "0005_retired"),
    ]
    operations = [migrations.RunPython(name_them, migrations.RunPython.noop)]
