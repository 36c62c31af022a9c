"""What is no longer chosen stays for what names it; a word that changes with the own entries."""

import studio.models
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("studio", "0004_studios")]

    operations = [
        migrations.AddField("ownentry", "retired", models.BooleanField(default=False)),
        migrations.AddField("room", "retired", models.BooleanField(default=False)),
        migrations.AddField("studio", "own_state", models.CharField(default=studio.models.new_state, max_length=32)),
    ]
