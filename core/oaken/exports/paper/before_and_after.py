"""What is used before a class and after it: the list to read, cards of machines, the sheet to write down on."""

from __future__ import annotations

from datetime import date

from oaken.basis.words import counted, in_kg
from oaken.exports.paper.document import Cell, Paper, PaperCard, PaperFacts, PaperLines, PaperTable, Part
from oaken.exports.paper.on_the_floor import as_set, letters_of, one_a_slot
from oaken.exports.paper.scene import Printed
from oaken.forecast import forecast
from oaken.forecast.pre_class.checks import start_list
from oaken.schedule.arrange.queues import queues_of

MOST_BOXED = 8
"""Sets of an exercise that have a box of their own; more go into the margin."""


def pre_class_sheet(printed: Printed, today: date) -> Paper:
    """Everything to read before the start, open items first, with a box each; for the instructor alone."""
    told = start_list(printed.file, forecast(printed.file), today)
    open_items = [f"{item.name}: {item.message}; {item.safer}" for item in told.items if item.open]
    others = [f"{item.name}: {item.message}; {item.safer}" for item in told.items if not item.open]
    cards = [
        PaperCard(title=title, parts=[PaperLines(lines=lines, checks=True)])
        for title, lines in (("To settle", open_items), ("To read", others))
        if lines
    ]
    cards.append(PaperCard(title="Stop at once", parts=[PaperLines(lines=told.stop_signs)]))
    under = f"{printed.when} · read on {today:%A} {today.day} {today:%B %Y} · not for the wall"
    return Paper(kind="before-start", title=printed.plan.name, under=under, cards=cards, foot=told.defer)


def set_up_cards(printed: Printed) -> Paper:
    """A card for every machine: own settings, and who comes when with which load."""
    units = {unit.id: unit for unit in printed.room.units}
    names = {person.id: printed.first_name(number) for number, person in enumerate(printed.people, 1)}
    cards = []
    for queue in queues_of(printed.timeline, printed.people, printed.room, printed.known.usual_steps_kg):
        rows: list[list[Cell]] = []
        for turn in queue.turns:
            load = "" if turn.load_kg is None else in_kg(turn.load_kg)
            change = "change" if turn.changes_load else ""
            rows.append([printed.clock(turn.from_s), printed.first_name(turn.number), load, change])
        own: list[tuple[str, Cell]] = [
            (names[person], words)
            for (person, unit), words in printed.own_settings.items()
            if unit == queue.unit and person in names
        ]
        parts: list[Part] = [PaperFacts(pairs=own)] if own else []
        parts.append(PaperTable(head=["from", "who", "load", ""], widths=[1, 1.4, 1, 1], rows=rows, strong=[1]))
        under = f"{counted(len(queue.turns), 'set')}, {counted(queue.load_changes, 'load change')}"
        cards.append(PaperCard(title=units[queue.unit].name, under=under, parts=parts))
    return Paper(kind="set-up", title=printed.plan.name, under=printed.when, wall=True, whole=True, cards=cards)


def log_sheet(printed: Printed) -> Paper:
    """Exercise by exercise, a row for everybody and a box for every set: as it is typed in afterwards."""
    letters = letters_of(printed)
    rows: dict[str, list[list[Cell]]] = {}
    sets: dict[str, int] = {}
    for person in range(len(printed.people)):
        for visit in one_a_slot(printed.visits(person), printed):
            slot = printed.slot(visit.slot)
            if slot.id not in letters:
                continue
            row = printed.loads.get((person + 1, slot.id))
            before = printed.targets.get((printed.people[person].id, slot.id, slot.exercise.id), {})
            last = "; ".join(words for _, words in sorted(before.items()))
            rows.setdefault(slot.id, []).append(
                [
                    printed.first_name(person + 1),
                    "" if row is None else as_set(row),
                    *([last] if printed.targets else []),
                ]
            )
            sets[slot.id] = max(sets.get(slot.id, 0), visit.sets)
    cards = []
    for slot in printed.timeline.slots:
        if slot.id not in rows:
            continue
        count = min(MOST_BOXED, sets[slot.id])
        last_time = ["last time, set by set"] if printed.targets else []
        table = PaperTable(
            head=["who", "planned", *last_time, *(f"set {number}: kg × reps" for number in range(1, count + 1))],
            widths=[1.3, 1.3, *[1.8 for _ in last_time], *[1.0] * count],
            rows=[[*row, *[None] * count] for row in rows.pop(slot.id)],
            strong=[0],
        )
        under = f"{printed.line(slot)} · a tick is “as planned”"
        cards.append(PaperCard(badge=letters[slot.id], title=slot.exercise.name, under=under, parts=[table]))
    return Paper(kind="log-sheet", title=printed.plan.name, under=printed.when, landscape=True, cards=cards)
