"""Everything kept on one person, as files they can read: a page, tables, activities, and all of it as JSON."""

from __future__ import annotations

import tempfile
import zipfile
from typing import IO

import orjson
from django.http import HttpRequest, HttpResponse, HttpResponseBase
from django.shortcuts import get_object_or_404
from django.utils import timezone
from ninja import Router
from oaken.exports.activities import write_fit
from oaken.exports.paper import Format, Paper, kept_on
from oaken.exports.tables import table_lines
from people.keeping import record_of
from people.models import Person
from studio.access import needs, studio_of
from studio.files import sent
from studio.own import house_catalogue
from studio.turns import long_work

from logbook import keeping, tables
from logbook.drawing import drawn
from logbook.runs_api import name_of

router = Router(tags=["people"], auth=needs("read_health"))

OWN_TABLES = ("sets", "attendance", "figures", "hearts", "loads", "settings", "progress")

READ_ME = """\
What is kept on {name}, taken out on {day}.

page.pdf           what is written down, to read or to print
everything.json    all of it, field by field, also what stands in plans and runs
*.csv              tables for a spreadsheet: sets, attendance, figures, hearts, loads, settings, progress
activities/*.fit   each class with a recording, for other programs

Columns and formats are explained in docs/formats.md of the application.
"""


@router.get("/people/{key}/everything.zip")
@long_work
def take_everything(request: HttpRequest, key: str) -> HttpResponseBase:
    """Everything that is kept on one person, as a zip of files they can read."""
    person = _person(request, key)
    out = tempfile.TemporaryFile()  # noqa: SIM115 — closed when the last piece of it was sent
    write_files(person, out)
    return sent(request, out, "application/zip", f"{person.key}-{timezone.localdate():%Y-%m-%d}.zip")


@router.get("/people/{key}/everything.pdf")
@long_work
def draw_everything(request: HttpRequest, key: str, page: Format = "a4") -> HttpResponse:
    """What is kept on one person, as a page to print."""
    return HttpResponse(drawn(page_of(_person(request, key)), page), content_type="application/pdf")


def write_files(person: Person, out: IO[bytes]) -> None:
    """Write the zip, one file after the other."""
    today = timezone.localdate(timezone=person.studio.zone)
    asked = tables.TableAsked(person.studio, tables.EARLIEST, today, person.key)
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as target:
        target.writestr("read-me.txt", READ_ME.format(name=person.name, day=today))
        target.writestr("page.pdf", drawn(page_of(person), "a4"))
        everything = keeping.everything_about(person)
        target.writestr("everything.json", orjson.dumps(everything, option=orjson.OPT_INDENT_2))
        for name in OWN_TABLES:
            with target.open(f"{name}.csv", "w") as file:
                for part in table_lines(name, tables.TABLES[name](asked)):
                    file.write(part)
        for recording in keeping.recordings_of(person):
            if recording.run.file is None:
                continue
            activity = keeping.activities(recording.run).get(person.key)
            if activity is not None:
                day = f"{recording.run.began_at or recording.run.opened_at:%Y-%m-%d}"
                target.writestr(f"activities/{day}-{recording.run.pk}.fit", write_fit(activity))


def page_of(person: Person) -> Paper:
    """What is kept, as a page."""
    zone = person.studio.zone
    came = person.attendances.select_related("run__saved_as").order_by("-run__began_at")
    told = {
        "classes": [
            (f"{(item.run.began_at or item.run.opened_at).astimezone(zone):%Y-%m-%d}", name_of(item.run), item.figures)
            for item in came
        ],
        "bodies": [
            (str(body_reading.on), body_reading.body_mass_kg, body_reading.resting_bpm)
            for body_reading in person.body_readings.all()
        ],
        "goals": [(lift_goal.exercise, lift_goal.best_kg, str(lift_goal.by)) for lift_goal in person.lift_goals.all()],
    }
    names = {key: exercise.name for key, exercise in house_catalogue(person.studio).exercises.items()}
    return kept_on(record_of(person), told, names, timezone.localdate(timezone=zone))


def _person(request: HttpRequest, key: str) -> Person:
    here = Person.objects.filter(studio=studio_of(request), erased=False)
    return get_object_or_404(here.select_related("studio"), key=key)
