"""Readings whose belt or browser had a wild clock go: no class of theirs can be told, and they broke what reads them."""

from datetime import UTC, datetime
from typing import Any

from django.db import migrations

EARLIEST, LATEST = datetime(2000, 1, 1, tzinfo=UTC), datetime(2100, 1, 1, tzinfo=UTC)
LONGEST_S = 43_200


def drop(apps: Any, schema_editor: Any) -> None:
    hearts = apps.get_model("logbook", "LiveHeart")
    # a year that Python cannot hold is not read at all: the database compares its text (a bare “2000” it would take for
    # a number, and every text is more than a number)
    with schema_editor.connection.cursor() as cursor:
        cursor.execute("delete from logbook_liveheart where first_at < '2000-01-01' or first_at >= '2100-01-01'")
    wrong = [
        pk
        for pk, seconds in hearts.objects.values_list("pk", "seconds").iterator()
        if not all(isinstance(one, int | float) and abs(one) <= LONGEST_S for one in seconds)
    ]
    for at in range(0, len(wrong), 500):
        hearts.objects.filter(pk__in=wrong[at : at + 500]).delete()


class Migration(migrations.Migration):
    dependencies = [("logbook", "0010_read_by_name")]
    operations = [migrations.RunPython(drop, migrations.RunPython.noop)]
