"""Classes held before are runs of few events: the beginning, who of its people was not there, and the end as planned.

The plan's length is what was kept with its saved revision; nobody had written down when the class really ended.
"""

from datetime import timedelta
from typing import Any

from django.db import migrations


def _event(event_id: str, kind: str, moment: Any, **more: str) -> dict[str, Any]:
    return {"id": event_id, "kind": kind, "happened_at": moment.isoformat(), "by": "", "device": "", **more}


def fill(apps: Any, schema_editor: Any) -> None:
    event = apps.get_model("logbook", "RunEvent")
    for run in apps.get_model("logbook", "Run").objects.filter(events=None).select_related("saved_as"):
        ended = run.began_at + timedelta(seconds=run.saved_as.length_s)
        came = set(run.attendances.values_list("person__key", flat=True))
        people = (run.file or {"plan": {"people": []}})["plan"]["people"]
        happened = [_event(f"held-{run.pk}-began", "began", run.began_at)]
        happened += [
            _event(f"held-{run.pk}-without-{place}", "left", run.began_at, person=person)
            for place, person in enumerate(people)
            if person not in came
        ]
        happened += [_event(f"held-{run.pk}-ended", "ended", ended)]
        event.objects.bulk_create(
            event(run=run, event_id=one["id"], received_at=run.began_at, kind=one["kind"], body=one)
            for one in happened
        )
        run.opened_at, run.ended_at = run.began_at, ended
        run.save(update_fields=["opened_at", "ended_at"])


class Migration(migrations.Migration):
    dependencies = [("logbook", "0005_runs"), ("planning", "0003_studios"), ("people", "0002_records")]

    operations = [migrations.RunPython(fill, migrations.RunPython.noop)]
