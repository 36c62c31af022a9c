"""The saved revision says which class it was: one reference in place of a class and a number."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("logbook", "0003_fill_as_held")]

    operations = [
        migrations.AlterField(
            "held",
            "saved_as",
            models.ForeignKey(
                on_delete=django.db.models.deletion.RESTRICT, related_name="held", to="planning.revision"
            ),
        ),
        migrations.RemoveField("held", "planned_class"),
        migrations.RemoveField("held", "revision"),
    ]
