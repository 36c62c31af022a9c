"""Studios and who works in them. What was kept before belongs to one studio from now on."""

from typing import Any

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


def one_studio(apps: Any, schema_editor: Any) -> None:
    studios = apps.get_model("studio", "Studio")
    rows = [apps.get_model("studio", name).objects.filter(studio=None) for name in ("Room", "OwnEntry")]
    if any(found.exists() for found in rows):
        studio = studios.objects.order_by("id").first() or studios.objects.create(name="Our studio")
        for found in rows:
            found.update(studio=studio)


STUDIO: Any = {"on_delete": django.db.models.deletion.CASCADE, "to": "studio.studio"}


class Migration(migrations.Migration):
    # what is filled in one step cannot be altered in the same transaction
    atomic = False
    dependencies = [migrations.swappable_dependency(settings.AUTH_USER_MODEL), ("studio", "0003_rooms_to_scale")]

    operations = [
        migrations.CreateModel(
            name="Studio",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("name", models.CharField(max_length=120)),
                ("house_rules", models.JSONField(blank=True, default=list)),
            ],
        ),
        migrations.CreateModel(
            name="Member",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                (
                    "role",
                    models.CharField(
                        choices=[("instructor", "instructor"), ("assistant", "assistant")], max_length=10
                    ),
                ),
                ("studio", models.ForeignKey(related_name="members", **STUDIO)),
                (
                    "user",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="memberships",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
            ],
            options={
                "ordering": ["id"],
                "constraints": [models.UniqueConstraint(fields=("user", "studio"), name="member_once_a_studio")],
            },
        ),
        migrations.AddField("room", "studio", models.ForeignKey(null=True, related_name="rooms", **STUDIO)),
        migrations.AddField("ownentry", "studio", models.ForeignKey(null=True, related_name="own_entries", **STUDIO)),
        migrations.RunPython(one_studio, migrations.RunPython.noop),
        migrations.AlterField("room", "studio", models.ForeignKey(related_name="rooms", **STUDIO)),
        migrations.AlterField("ownentry", "studio", models.ForeignKey(related_name="own_entries", **STUDIO)),
        migrations.AlterField("room", "key", models.SlugField(max_length=60)),
        migrations.AlterField("ownentry", "key", models.SlugField(max_length=60)),
        migrations.AddConstraint(
            "room", models.UniqueConstraint(fields=("studio", "key"), name="room_key_once_a_studio")
        ),
        migrations.AddConstraint(
            "ownentry", models.UniqueConstraint(fields=("studio", "key"), name="entry_key_once_a_studio")
        ),
    ]
