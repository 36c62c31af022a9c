"""People belong to a studio; what an instructor writes down of them, and the heart fitted to their recordings."""

from typing import Any

import django.db.models.deletion
from django.db import migrations, models


def one_studio(apps: Any, schema_editor: Any) -> None:
    people = apps.get_model("people", "Person")
    if people.objects.filter(studio=None).exists():
        studios = apps.get_model("studio", "Studio")
        studio = studios.objects.order_by("id").first() or studios.objects.create(name="Our studio")
        people.objects.filter(studio=None).update(studio=studio)


STUDIO: Any = {"on_delete": django.db.models.deletion.CASCADE, "related_name": "people", "to": "studio.studio"}
PERSON: Any = {"on_delete": django.db.models.deletion.CASCADE, "to": "people.person"}


class Migration(migrations.Migration):
    atomic = False
    dependencies = [("people", "0001_initial"), ("studio", "0004_studios")]

    operations = [
        migrations.AddField("person", "studio", models.ForeignKey(null=True, **STUDIO)),
        migrations.RunPython(one_studio, migrations.RunPython.noop),
        migrations.AlterField("person", "studio", models.ForeignKey(**STUDIO)),
        migrations.AlterField("person", "key", models.SlugField(max_length=60)),
        migrations.AddConstraint(
            "person", models.UniqueConstraint(fields=("studio", "key"), name="person_key_once_a_studio")
        ),
        migrations.AddField("person", "group", models.CharField(blank=True, max_length=60, default="")),
        migrations.AddField("person", "max_formula", models.CharField(default="tanaka", max_length=10)),
        migrations.AddField("person", "heart_fit", models.JSONField(blank=True, null=True)),
        migrations.AddField("person", "careful", models.JSONField(blank=True, default=list)),
        migrations.AddField("person", "screening", models.JSONField(blank=True, null=True)),
        migrations.AddField("person", "health_note", models.TextField(blank=True, max_length=2000, default="")),
        migrations.AddField("person", "revision", models.PositiveIntegerField(default=1)),
        migrations.AddField("person", "erased", models.BooleanField(default=False)),
        migrations.AlterField("person", "group", models.CharField(blank=True, max_length=60)),
        migrations.AlterField("person", "health_note", models.TextField(blank=True, max_length=2000)),
        migrations.RemoveConstraint("best", "best_once_a_person"),
        migrations.RenameModel("Best", "Lift"),
        migrations.AlterField("lift", "person", models.ForeignKey(related_name="lifts", **PERSON)),
        migrations.AlterField("lift", "best_kg", models.FloatField(blank=True, null=True)),
        migrations.AddField("lift", "best_from", models.CharField(blank=True, max_length=120, default="")),
        migrations.AlterField("lift", "best_from", models.CharField(blank=True, max_length=120)),
        migrations.AddField("lift", "working_kg", models.FloatField(blank=True, null=True)),
        migrations.AddConstraint(
            "lift", models.UniqueConstraint(fields=("person", "exercise"), name="lift_once_a_person")
        ),
        migrations.CreateModel(
            name="UnitSetting",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("room", models.SlugField(max_length=60)),
                ("unit", models.SlugField(max_length=60)),
                ("name", models.CharField(max_length=20)),
                ("value", models.CharField(max_length=20)),
                ("person", models.ForeignKey(related_name="settings", **PERSON)),
            ],
            options={
                "ordering": ["room", "unit", "name"],
                "constraints": [
                    models.UniqueConstraint(
                        fields=("person", "room", "unit", "name"), name="setting_once_a_person_and_unit"
                    )
                ],
            },
        ),
    ]
