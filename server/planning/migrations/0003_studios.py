"""Classes belong to a studio; a class without a key has an empty one."""

from typing import Any

import django.db.models.deletion
from django.db import migrations, models


def one_studio(apps: Any, schema_editor: Any) -> None:
    classes = apps.get_model("planning", "PlannedClass")
    classes.objects.filter(key=None).update(key="")
    if classes.objects.filter(studio=None).exists():
        studios = apps.get_model("studio", "Studio")
        studio = studios.objects.order_by("id").first() or studios.objects.create(name="Our studio")
        classes.objects.filter(studio=None).update(studio=studio)


STUDIO: Any = {"on_delete": django.db.models.deletion.CASCADE, "related_name": "classes", "to": "studio.studio"}


class Migration(migrations.Migration):
    atomic = False
    dependencies = [("planning", "0002_richer_plans"), ("studio", "0004_studios")]

    operations = [
        migrations.AddField("plannedclass", "studio", models.ForeignKey(null=True, **STUDIO)),
        # keys were unique, and many will be empty
        migrations.AlterField("plannedclass", "key", models.SlugField(blank=True, max_length=60, null=True)),
        migrations.RunPython(one_studio, migrations.RunPython.noop),
        migrations.AlterField("plannedclass", "studio", models.ForeignKey(**STUDIO)),
        migrations.AlterField("plannedclass", "key", models.SlugField(blank=True, max_length=60)),
        migrations.AddConstraint(
            "plannedclass",
            models.UniqueConstraint(
                condition=models.Q(("key", ""), _negated=True),
                fields=("studio", "key"),
                name="class_key_once_a_studio",
            ),
        ),
    ]
