"""Everything that is kept on one person, as pages they can read."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date
from typing import Any

from oaken.basis.words import counted, in_kg
from oaken.domain.people import Person
from oaken.domain.people.conditions import conditions
from oaken.domain.people.record import Record
from oaken.exports.paper.document import Cell, Paper, PaperCard, PaperFacts, PaperLines, PaperTable, Part

MOST_ROWS = 200
"""So many of the newest classes stand on the page; the tables beside it have all of them."""


def kept_on(record: Record, told: Mapping[str, Any], names: Mapping[str, str], today: date) -> Paper:
    """What is written down about somebody, what they lift, how they set machines, and the classes they came to.

    `told` has `classes` (day, name, figures by name; the newest first), `bodies` (day, kg, bpm) and `goals` (exercise,
    kg, by); `names` are exercises by id.
    """
    person = record.person
    cards = [PaperCard(title="Who", parts=[PaperFacts(pairs=_facts(record))])]
    if record.health_note:
        cards.append(PaperCard(title="Note on health", parts=[PaperLines(lines=record.health_note.splitlines())]))
    lifts = sorted({*person.bests_kg, *person.working_kg}, key=lambda item: names.get(item, item))
    rows: list[list[Cell]] = []
    for lift in lifts:
        best = _kg(person.bests_kg.get(lift))
        rows.append([names.get(lift, lift), best, record.best_from.get(lift, ""), _working(person, lift)])
    cards += _table("Loads", ["exercise", "best", "from", "works with"], [3, 1, 2, 1], rows)
    settings: list[list[Cell]] = [
        [setting.room, setting.unit, setting.name, setting.value] for setting in record.settings
    ]
    cards += _table("Settings", ["room", "unit", "what", "value"], [2, 2, 1, 1], settings)
    bodies: list[list[Cell]] = [[on, _kg(kg), "" if bpm is None else f"{bpm} bpm"] for on, kg, bpm in told["bodies"]]
    cards += _table("Readings of the body", ["day", "body mass", "resting rate"], [1, 1, 1], bodies)
    goals: list[list[Cell]] = [[names.get(item, item), _kg(kg), by] for item, kg, by in told["goals"]]
    cards += _table("Goals", ["exercise", "best", "by"], [3, 1, 1], goals)
    classes: list[list[Cell]] = [
        [on, name, *(_figure(figures, item) for item in ("energy", "session_effort", "volume_load"))]
        for on, name, figures in told["classes"]
    ]
    shown = f"Classes: {counted(len(classes), 'class', 'classes')}"
    head = ["day", "class", "energy (kcal)", "session-RPE load (AU)", "volume (kg)"]
    cards += _table(shown, head, [1, 3, 1, 1.2, 1], classes[:MOST_ROWS])
    under = f"Everything that is kept, as of {today.day} {today:%B %Y}. The files beside this page have all of it."
    return Paper(kind="person", title=person.name, under=under, cards=cards)


def _facts(record: Record) -> list[tuple[str, Cell]]:
    person: Person = record.person
    screening = person.screening
    answers = "" if screening is None else f"{screening.on}: {'some yes' if screening.some_yes else 'all no'}"
    known = conditions()
    told: list[tuple[str, Cell]] = [
        ("id", person.id),
        ("group", record.group),
        ("age", f"{person.age} years"),
        ("sex", person.sex or ""),
        ("level", person.level),
        ("body mass", in_kg(person.body_mass_kg)),
        ("height", "" if person.height_cm is None else f"{person.height_cm:g} cm"),
        ("resting rate", "" if person.resting_bpm is None else f"{person.resting_bpm} bpm"),
        ("highest rate", "" if person.max_bpm is None else f"{person.max_bpm} bpm"),
        ("VO₂max", "" if person.vo2max is None else f"{person.vo2max:g} mL/kg/min"),
        ("heart medication", "yes" if person.heart_medication else "no"),
        ("careful about", ", ".join(known[item].name for item in person.careful)),
        ("screening", answers),
        ("heart fitted to recordings", "yes" if person.heart_fit else "no"),
    ]
    return [(name, value) for name, value in told if value]


def _table(title: str, head: list[str], widths: Sequence[float], rows: list[list[Cell]]) -> list[PaperCard]:
    if not rows:
        return []
    parts: list[Part] = [PaperTable(head=head, widths=list(widths), rows=rows, strong=[0])]
    return [PaperCard(title=title, parts=parts)]


def _kg(value: float | None) -> str:
    return "" if value is None else in_kg(value)


def _working(person: Person, lift: str) -> str:
    """The working load, set by set where the sets differ."""
    sets = person.working_sets_kg.get(lift)
    return " / ".join(map(in_kg, sets)) if sets else _kg(person.working_kg.get(lift))


def _figure(figures: Mapping[str, float], name: str) -> str:
    return f"{figures[name]:.0f}" if name in figures else "–"
