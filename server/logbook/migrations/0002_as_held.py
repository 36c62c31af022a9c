"""A class that was held keeps what it was held with: room for the class file, and for the saved revision it was."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("logbook", "0001_initial"),
        ("people", "0002_records"),
        ("planning", "0003_studios"),
        ("studio", "0005_retired"),
    ]

    operations = [
        migrations.AddField(
            "held",
            "saved_as",
            models.ForeignKey(
                null=True,
                on_delete=django.db.models.deletion.RESTRICT,
                related_name="held",
                to="planning.revision",
            ),
        ),
        migrations.AddField("held", "file", models.JSONField(null=True, blank=True)),
        migrations.AddField("held", "rebuilt", models.BooleanField(default=False)),
    ]
