"""A class that was held becomes a run, and what happens in a run is a list of events."""

import django.db.models.deletion
import django.utils.timezone
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("logbook", "0004_one_reference")]

    operations = [
        migrations.RemoveConstraint("attendance", "came_once_to_a_class"),
        migrations.RemoveConstraint("recording", "one_recording_a_person_and_class"),
        migrations.RenameModel("Held", "Run"),
        migrations.RenameField("attendance", "held", "run"),
        migrations.RenameField("recording", "held", "run"),
        migrations.AddConstraint(
            "attendance", models.UniqueConstraint(fields=["run", "person"], name="came_once_to_a_class")
        ),
        migrations.AddConstraint(
            "recording", models.UniqueConstraint(fields=["run", "person"], name="one_recording_a_person_and_class")
        ),
        migrations.AlterField(
            
            'run', 'saved_as',
            models.ForeignKey(on_delete=django.db.models.deletion.RESTRICT, related_name='runs', to='planning.revision'),
        ),
        migrations.AlterField(
            
            'run', 'studio',
            models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='runs', to='studio.studio'),
        ),
        migrations.AddField("run", "opened_at", models.DateTimeField(default=django.utils.timezone.now)),
        migrations.AddField("run", "ended_at", models.DateTimeField(blank=True, null=True)),
        migrations.AlterField("run", "began_at", models.DateTimeField(blank=True, null=True)),
        migrations.AlterField("run", "people_count", models.PositiveIntegerField(default=0)),
        migrations.AlterField("run", "kcal_total", models.FloatField(default=0.0)),
        migrations.AlterModelOptions("run", {"ordering": ["-opened_at", "-id"]}),
        migrations.AlterModelOptions("recording", {"ordering": ["run__began_at", "id"]}),
        migrations.CreateModel(
            "RunEvent",
            [
                ("id", models.BigAutoField(primary_key=True, serialize=False)),
                ("event_id", models.CharField(max_length=60)),
                ("received_at", models.DateTimeField()),
                ("kind", models.CharField(max_length=20)),
                ("body", models.JSONField()),
                (
                    "run",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="events", to="logbook.run"
                    ),
                ),
            ],
            options={"ordering": ["id"]},
        ),
        migrations.AddConstraint(
            "runevent", models.UniqueConstraint(fields=["run", "event_id"], name="event_once_a_run")
        ),
    ]
