"""What people did in a class, as other programs read it: one file a person, or all in a zip."""

from __future__ import annotations

import io
import zipfile
from typing import Literal

from django.http import HttpRequest, HttpResponseBase
from django.shortcuts import get_object_or_404
from ninja import Router
from oaken.basis.faults import Fault, FaultyInput
from oaken.exports.activities import Activity, LapsAt, write_fit, write_tcx
from studio.access import RowId, studio_of
from studio.files import sent
from studio.turns import long_work

from logbook import keeping

router = Router(tags=["logbook"])

Kind = Literal["fit", "tcx"]
KINDS = {"fit": "application/vnd.ant.fit", "tcx": "application/vnd.garmin.tcx+xml"}


@router.get("/runs/{run_id}/activities")
@long_work
def take_activities(
    request: HttpRequest, run_id: RowId, kind: Kind = "fit", laps: LapsAt = "blocks", person: str = ""
) -> HttpResponseBase:
    """Everybody's activity in one zip, or that of one person; with heart rate where there is a recording."""
    run = get_object_or_404(studio_of(request).runs.select_related("saved_as"), pk=run_id)
    found = keeping.activities(run, laps)
    if not found:
        message, right = "is not over, or nobody came", "a class that is over"
        raise FaultyInput([Fault(path="run", place="the class", field="run", message=message, right=right)])
    day = f"{run.began_at or run.opened_at:%Y-%m-%d}"
    if person:
        if person not in found:
            message = f"{person[:60]!r} did not come to this class"
            raise FaultyInput(
                [Fault(path="person", place="the class", field="person", message=message, right="somebody who came")]
            )
        return sent(request, io.BytesIO(written(found[person], kind)), KINDS[kind], f"{day}-{person}.{kind}")
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as target:
        for key, activity in found.items():
            target.writestr(f"{day}-{key}.{kind}", written(activity, kind))
    return sent(request, out, "application/zip", f"{day}-activities-{kind}.zip")


def written(activity: Activity, kind: Kind) -> bytes:
    """An activity in a format."""
    return write_fit(activity) if kind == "fit" else write_tcx(activity).encode()
