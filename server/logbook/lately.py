"""What the class log says of the weeks before a day: for generated classes and for the review, without HTTP."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from datetime import date, datetime, time, timedelta

from django.db.models import Count
from django.db.models.fields.json import KT
from oaken.design.generator import Lately
from oaken.design.review import History, PastClass
from oaken.plan.dates import first_occasion
from studio.models import Studio

from logbook.models import Attendance, DoneSet

LOOK_BACK_WEEKS = 10
DONE_BY = 0.25
"""An exercise counts as done lately where at least so many of those who come did it."""

CAME = 0.5
"""A class counts as one of these people's where at least so many of them came to it."""

MOST_CLASSES = 40


def day_of(starts: str, today: date) -> date:
    """The first day of a class by its words; today where they name none."""
    first = first_occasion(starts)
    return today if first is None else first.on


def lately_done(studio: Studio, people: Sequence[str], on: date) -> list[Lately]:
    """What these people did in the weeks before a day, each exercise with the last time and the weeks in a row."""
    since = on - timedelta(weeks=LOOK_BACK_WEEKS)
    sets = DoneSet.objects.filter(person__studio=studio, person__key__in=people, on__gte=since, on__lt=on).order_by()
    least = max(1, round(DONE_BY * len(people)))
    done = sets.values("exercise").annotate(by=Count("person", distinct=True)).filter(by__gte=least)
    weeks: dict[str, set[int]] = defaultdict(set)
    for exercise, day in sets.values_list("exercise", "on").distinct():
        weeks[exercise].add((on - day).days // 7)
    return [_of_weeks(row["exercise"], weeks[row["exercise"]]) for row in done]


def _of_weeks(exercise: str, weeks: set[int]) -> Lately:
    """An exercise that was done so many weeks ago, each of them once."""
    last = min(weeks)
    running = next(count for count in range(1, LOOK_BACK_WEEKS + 3) if last + count not in weeks)
    return Lately(exercise=exercise, weeks=last, running=running)


def history_of(studio: Studio, people: Sequence[str], on: date, now: datetime) -> History:
    """The classes of these people before a day, the mean of those of them who came, and what they did lately."""
    until = min(now, datetime.combine(on, time(23, 59), tzinfo=studio.zone))
    rows = (
        Attendance.objects.filter(person__studio=studio, person__key__in=people, run__began_at__lt=until)
        .filter(run__began_at__gte=until - timedelta(weeks=26))
        .order_by("-run__began_at")
        .annotate(aim=KT("run__saved_as__document__aim"))
        .values_list("run_id", "run__began_at", "aim", "figures")
    )
    by_run: dict[int, tuple[datetime, str, list[dict[str, float]]]] = {}
    for run, began, aim, figures in rows:
        assert began is not None
        by_run.setdefault(run, (began, aim or "mixed", []))[2].append(figures)
    least = max(1, round(CAME * len(people)))
    classes: list[PastClass] = []
    for began, aim, came in by_run.values():
        if len(came) < least or len(classes) >= MOST_CLASSES:
            continue
        names = {name for item in came for name in item}
        mean = {
            name: sum(item[name] for item in came if name in item) / sum(name in item for item in came)
            for name in sorted(names)
        }
        days = (until - began).total_seconds() / 86_400
        classes.append(PastClass.model_validate({"days": days, "aim": aim, "figures": mean}))
    return History(classes=tuple(classes), lately=tuple(lately_done(studio, people, on)[:300]))
