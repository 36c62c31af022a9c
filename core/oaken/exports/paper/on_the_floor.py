"""What is used while the class runs: the run sheet, the poster of the rotation, cards of stations and of people."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import replace

from oaken.basis.words import counted
from oaken.domain.room.hardware import Stack
from oaken.exports.paper.document import Cell, LoadPicture, Paper, PaperCard, PaperFacts, PaperLines, PaperTable, Part
from oaken.exports.paper.scene import CardVisit, Printed
from oaken.physiology.strength.loading import LoadAsSet
from oaken.schedule.arrange.load_sheet import LoadRow, SetsOfLoads

NO_CLEARANCE = "Usual cautions only: what a doctor or physiotherapist said and the rules of the studio come first."
BOXES = 3
"""Empty boxes for every set: load, repetitions, and how it ended."""


def run_sheet(printed: Printed) -> Paper:
    """Times of day, blocks with their lines, and what has to stand ready; on one page where it fits."""
    plan, timeline = printed.plan, printed.timeline
    rows: list[list[Cell]] = []
    for number, (block, span) in enumerate(zip(plan.blocks, timeline.blocks, strict=True)):
        lines = dict.fromkeys(
            printed.line(slot) for slot in timeline.slots if slot.block == number and slot.stands_for < 0
        )
        head = [printed.clock(span.start_s), printed.clock(span.end_s), block.name]
        for place, line in enumerate(lines or [""]):
            rows.append([*(head if not place else ["", "", ""]), line])
    used = {step.unit for path in timeline.paths for step in path if step.unit >= 0}
    ready = [f"{printed.room.units[unit].name}{_settings(printed, unit)}" for unit in sorted(used)]
    cards = [
        PaperCard(
            title="Running",
            parts=[PaperTable(head=["from", "to", "block", "what"], widths=[1, 1, 1.8, 5], rows=rows, strong=[0, 2])],
        )
    ]
    if plan.note:
        cards.append(PaperCard(title="To say", parts=[PaperLines(lines=plan.note.splitlines())]))
    cards.append(PaperCard(title="Stand ready", parts=[PaperLines(lines=ready, checks=True)]))
    return Paper(
        kind="run-sheet",
        title=plan.name,
        under=_head(printed),
        opens=printed.opens,
        cards=cards,
        foot=NO_CLEARANCE,
    )


def _head(printed: Printed) -> str:
    crowd = counted(len(printed.people), "person", "people")
    length = round(printed.timeline.length_s / 60)
    parts = [printed.when, printed.room.name, crowd, f"{length} of {printed.plan.slot_min} min"]
    return " · ".join(part for part in parts if part)


def _settings(printed: Printed, unit: int) -> str:
    own = [setting for setting in printed.plan.settings if setting.unit == printed.room.units[unit].id]
    return f" ({counted(len(own), 'own setting')})" if own else ""


def poster(printed: Printed) -> Paper:
    """Who is where when, to be read from afar: numbers and first names, and nothing about anybody's health."""
    letters = letters_of(printed)
    rows: list[list[Cell]] = []
    for person in range(len(printed.people)):
        way = [letters.get(printed.slot(visit.slot).id, "") for visit in printed.visits(person)]
        rows.append([printed.first_name(person + 1), "  ".join(_merged([place for place in way if place]))])
    names = [f"{letter}  {name}" for letter, name in _named(printed).items()]
    way_of_all = PaperTable(head=["who", "in this order"], widths=[1, 3], rows=rows, strong=[0])
    cards = [
        PaperCard(title="Everybody's way", parts=[way_of_all]),
        PaperCard(title="Where", parts=[PaperLines(lines=names)]),
    ]
    return Paper(
        kind="poster",
        title=printed.plan.name,
        under=printed.when,
        landscape=True,
        poster=True,
        wall=True,
        cards=cards,
    )


def letters_of(printed: Printed) -> dict[str, str]:
    """A letter and number for every slot that somebody works at: A1, A2, B1 …"""
    found: dict[str, str] = {}
    groups: dict[tuple[int, int], list[str]] = defaultdict(list)
    main = printed.plan.main_part()
    for slot in printed.timeline.slots:
        if main[slot.block] and slot.exercise.is_work and slot.id not in groups[slot.block, slot.group]:
            groups[slot.block, slot.group].append(slot.id)
    for number, ids in enumerate(group for group in groups.values() if group):
        for place, name in enumerate(ids, 1):
            letter = chr(ord("A") + number % 26) * (1 + number // 26)
            found.setdefault(name, letter if len(ids) == 1 else f"{letter}{place}")
    return found


def _named(printed: Printed) -> dict[str, str]:
    letters = letters_of(printed)
    return {
        letters[slot.id]: slot.exercise.name
        for slot in printed.timeline.slots
        if slot.id in letters and slot.stands_for < 0
    }


def _merged(way: list[str]) -> list[str]:
    """The way without going back and forth inside a group: A1 A2 A1 A2 is A."""
    found: list[str] = []
    for place in way:
        group = place.rstrip("0123456789")
        if not found or found[-1] != group:
            found.append(group)
    return found


def station_cards(printed: Printed) -> Paper:
    """A card for every slot that is worked at: where, cues, and everybody's load there by number."""
    letters = letters_of(printed)
    at: dict[str, dict[int, CardVisit]] = defaultdict(dict)
    for person in range(len(printed.people)):
        for visit in printed.visits(person):
            at[printed.slot(visit.slot).id].setdefault(person + 1, visit)
    cards = []
    for slot in printed.timeline.slots:
        if slot.id not in letters or slot.stands_for >= 0 or slot.id not in at:
            continue
        visits = at.pop(slot.id)
        units = sorted({printed.unit(visit.unit) for visit in visits.values()})
        rows: list[list[Cell]] = []
        for number in sorted(visits, key=lambda visit: visits[visit].from_s):
            row = printed.loads.get((number, slot.id))
            rows.append([printed.first_name(number), "" if row is None else as_set(row)])
        note = [] if slot.part is None or not slot.part.note else [slot.part.note]
        parts: list[Part] = [PaperLines(lines=[*note, *slot.exercise.cues])] if note or slot.exercise.cues else []
        if any(load for _, load in rows):
            parts.append(PaperTable(head=["who", "load"], widths=[2, 3], rows=rows, strong=[0]))
        cards.append(
            PaperCard(
                badge=letters[slot.id],
                title=slot.exercise.name,
                under=f"{printed.line(slot)} · {', '.join(units)}",
                parts=parts,
            )
        )
    return Paper(kind="stations", title=printed.plan.name, under=printed.when, columns=2, wall=True, cards=cards)


def as_set(row: LoadRow) -> str:
    """The loads of a row in words: one for all sets, or one after another."""
    if row.unknown or not row.sets:
        return "find it: two or three left"
    told = [_one_set(each_set) for each_set in row.sets for _ in range(each_set.times)]
    return f"{told[0]} kg" if len(set(told)) == 1 else f"{', '.join(told)} kg"


def _one_set(one: SetsOfLoads) -> str:
    return " then ".join(_in_short(loading.load) for loading in one.loadings)


def _in_short(load: LoadAsSet) -> str:
    """A load without its unit; one that was rounded, because nobody has said what the machine holds, says so."""
    return f"about {load.set_kg:g}" if load.is_rounded else f"{load.set_kg:g}"


def person_cards(printed: Printed) -> Paper:
    """A card for everybody: their own way with times, loads as they are set, own settings, and boxes to write in."""
    letters = letters_of(printed)
    return Paper(
        kind="people",
        title=printed.plan.name,
        under=printed.when,
        whole=True,
        cards=[_person_card(printed, person, letters) for person in range(len(printed.people))],
        foot=NO_CLEARANCE,
    )


def _person_card(printed: Printed, person: int, letters: dict[str, str]) -> PaperCard:
    number = person + 1
    rows: list[list[Cell]] = []
    pictures: list[Part] = []
    for visit in one_a_slot(printed.visits(person), printed):
        slot = printed.slot(visit.slot)
        row = printed.loads.get((number, slot.id))
        where = f" · {printed.unit(visit.unit)}" if visit.unit >= 0 else ""
        told = [letters.get(slot.id, ""), printed.clock(visit.from_s), f"{printed.line(slot)}{where}"]
        load = "" if row is None else as_set(row)
        mine = printed.people[person].id
        targets = printed.targets.get((mine, slot.id, slot.exercise.id), {})
        told_before = targets.get(1) or printed.last.get((mine, slot.exercise.id), "")
        last: list[Cell] = [told_before] if printed.last else []
        written = slot.id in letters
        boxes: list[Cell] = [None] * BOXES if written else [""] * BOXES
        rows.append([*told, load, *last, *boxes])
        for later in range(2, visit.sets + 1) if written else ():
            rows.append(["", "", "", f"set {later}", *[targets.get(later, "") for _ in last], *boxes])
        if row is not None and row.sets:
            picture = _picture(printed, slot.exercise.name, visit.unit, row.sets[0].loadings[0].load)
            pictures += [] if picture is None else [picture]
    mine = printed.people[person].id
    used = {visit.unit for visit in printed.visits(person) if visit.unit >= 0}
    units = {printed.room.units[unit].id: printed.room.units[unit].name for unit in sorted(used)}
    facts: list[tuple[str, Cell]] = [
        (name, printed.own_settings[mine, unit]) for unit, name in units.items() if (mine, unit) in printed.own_settings
    ]
    parts: list[Part] = [PaperFacts(pairs=facts)] if facts else []
    head, widths = ["", "from", "what", "load"], [0.6, 1.0, 4.0, 1.6]
    if printed.last:
        head, widths = [*head, "last time"], [0.6, 1.0, 3.2, 1.4, 1.6]
    table = PaperTable(head=[*head, "kg", "reps", "left"], widths=[*widths, 0.8, 0.8, 0.8], rows=rows, strong=[0])
    parts.append(table)
    return PaperCard(
        badge=str(number), title=printed.people[person].name, under=printed.room.name, parts=[*parts, *pictures]
    )


def one_a_slot(visits: list[CardVisit], printed: Printed) -> list[CardVisit]:
    """Visits with all sets of a slot together, in the order in which slots are begun."""
    found: dict[str, CardVisit] = {}
    for visit in visits:
        name = printed.slot(visit.slot).id
        before = found.get(name)
        found[name] = visit if before is None else replace(before, end_s=visit.end_s, sets=before.sets + visit.sets)
    return list(found.values())


def _picture(printed: Printed, name: str, unit: int, load: LoadAsSet) -> LoadPicture | None:
    """How a load is made up, where it is of plates or has a pin."""
    words = f"{name}: {load.words}"
    if load.a_side_kg:
        return LoadPicture(words=words, plates=load.a_side_kg)
    hardware = printed.room.units[unit].hardware if unit >= 0 else None
    if load.pin_kg is not None and isinstance(hardware, Stack):
        return LoadPicture(words=words, pin=load.pin_kg)
    return None
