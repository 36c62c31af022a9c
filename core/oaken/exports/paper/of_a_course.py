"""A course on paper: every week with its classes, and what changes in it."""

from __future__ import annotations

from datetime import timedelta

from oaken.basis.words import counted
from oaken.domain.catalogue import Catalogue
from oaken.exports.paper.document import Cell, Paper, PaperCard, PaperLines, PaperTable
from oaken.programme.course import Course, change_words, changes_in, meets_in, monday_in

LONGEST_CELL = 4
"""So many changes of a week are told one by one; more are counted."""


def programme(course: Course, catalogue: Catalogue) -> Paper:
    """The weeks of a course as a table that goes on over pages under its head: Mondays, classes with day and time, and
    what is different from the base classes. A week that is dropped, and a class that is left out, are told."""
    rows: list[list[Cell]] = []
    for week in range(1, course.weeks + 1):
        monday = monday_in(course, week)
        held: list[str] = []
        gone: list[str] = []
        for meeting in course.meetings:
            if meeting.weeks and week not in meeting.weeks:
                continue
            base = next(base_class.name for base_class in course.bases if base_class.id == meeting.base)
            on = monday + timedelta(days=meeting.weekday)
            words = f"{on:%a} {on.day} {on:%b}, {meeting.time}: {base}"
            (held if meets_in(course, meeting, week) else gone).append(words)
        told = ["not held" if week in course.dropped else "", *(f"not held: {item}" for item in gone)]
        lines = [*held, *(told[:1] if week in course.dropped else told[1:])]
        changes = dict.fromkeys(
            change_words(change, catalogue) for base in course.bases for change in changes_in(course, base.id, week)
        )
        said = list(changes)[:LONGEST_CELL]
        more = [f"and {len(changes) - len(said)} more"] if len(changes) > len(said) else []
        name = course.names.get(week, "")
        dates = f"{monday.day} {monday:%b %Y}"
        rows.append([str(week), dates, name, "\n".join(lines) or "–", "; ".join([*said, *more])])
    table = PaperTable(
        head=["week", "Monday", "", "classes", "what changes"],
        widths=[0.6, 1.2, 1.4, 4, 3.6],
        rows=rows,
        strong=[0],
    )
    cards = [PaperCard(title="Week by week", parts=[table])]
    if course.note:
        cards.append(PaperCard(title="To say", parts=[PaperLines(lines=course.note.splitlines())]))
    bases = counted(len(course.bases), "base class", "base classes")
    under = f"{counted(course.weeks, 'week')} from {course.starts.day} {course.starts:%B %Y} · {bases}"
    return Paper(kind="programme", title=course.name, under=under, landscape=True, wall=True, cards=cards)
