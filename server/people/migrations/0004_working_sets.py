from django.db import migrations, models


class Migration(migrations.Migration):
    """Loads set by set, for whoever works with schemes whose sets differ."""

    dependencies = [
        ("people", "0003_weeks"),
    ]

    operations = [
        migrations.AddField(
            model_name="lift",
            name="working_sets_kg",
            field=models.JSONField(blank=True, default=list),
        ),
    ]
