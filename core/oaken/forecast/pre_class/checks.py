"""Before the class starts: what an instructor has to read, person by person, and decide.

A record of what was read, never a clearance. Licensed advice and local rules come first.
"""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date
from typing import Literal

from pydantic import BaseModel

from oaken.domain.people import Person
from oaken.domain.people.conditions import conditions
from oaken.domain.people.screening import SCREENING_HOLDS_DAYS
from oaken.forecast.report import Forecast
from oaken.schedule.class_file import ClassFile

STOP_SIGNS = (
    "chest discomfort, pressure or pain, also in arm, jaw or back",
    "dizziness, faintness, confusion, or cold and clammy skin",
    "breathlessness that does not settle within minutes, or that keeps somebody from speaking",
    "a heart that races, stumbles or does not slow down after stopping",
    "sharp pain in a joint, the back or a muscle; numbness or weakness in a leg",
    "in the heat: headache, shivering, staggering, no more sweat",
)

DEFER = (
    "These are the usual cautions, not medical advice, and nothing here clears anybody to train. What a doctor, "
    "physiotherapist or other licensed person said, and the rules of this house and country, come first. In doubt: "
    "not today. In an emergency stop the class and call for help."
)

ItemKind = Literal["screening", "medication", "careful", "heart", "room", "house"]


class StartItem(BaseModel):
    """One thing to read before the start. `person` is the number in the class, None where it is about the class.

    An `open` item has to be settled (or the person stays out): the others are to be read. `slots` are the parts of
    the class it touches.
    """

    id: str
    kind: ItemKind
    person: int | None
    name: str
    open: bool
    message: str
    safer: str
    slots: list[str]


class StartList(BaseModel):
    """Everything to read before a class, people with open items first; with stop signs and what all of it defers to."""

    items: list[StartItem]
    stop_signs: list[str]
    defer: str


def start_list(file: ClassFile, predicted: Forecast, today: date) -> StartList:
    """What has to be read before this class on this day."""
    items = list(_about_the_class(predicted))
    for number, person in enumerate(file.participants, 1):
        items += [
            *_screening(number, person, today),
            *_medication(number, person),
            *_careful(number, person, predicted),
            *_heart(number, person, predicted),
        ]
    open_for = {item.person for item in items if item.open}
    order = sorted(items, key=lambda item: (item.person is not None, item.person not in open_for, item.person or 0))
    return StartList(items=order, stop_signs=list(STOP_SIGNS), defer=DEFER)


def _about_the_class(predicted: Forecast) -> Iterator[StartItem]:
    for place, caution in enumerate(predicted.cautions):
        if caution.severity == "clash" or caution.about in ("house", "warmth"):
            kind: ItemKind = "house" if caution.about == "house" else "room"
            yield StartItem(
                id=f"class-{kind}-{place}",
                kind=kind,
                person=None,
                name="the class",
                open=caution.severity == "clash"
                or (caution.about == "warmth" and predicted.heat is not None and predicted.heat.advice == "reconsider"),
                message=caution.message,
                safer=caution.safer,
                slots=caution.slots,
            )


def _item(number: int, person: Person, kind: ItemKind, message: str, safer: str, **fields: object) -> StartItem:
    given = {"open": False, "slots": [], "id": f"{person.id}-{kind}", **fields}
    return StartItem.model_validate(
        {"kind": kind, "person": number, "name": person.name, "message": message, "safer": safer, **given}
    )


def _screening(number: int, person: Person, today: date) -> Iterator[StartItem]:
    record = person.screening
    if record is None:
        yield _item(
            number, person, "screening", "no screening on record", "ask the questions before they train", open=True
        )
    elif (today - record.on).days > SCREENING_HOLDS_DAYS:
        yield _item(
            number,
            person,
            "screening",
            f"the screening of {record.on.isoformat()} is more than a year old",
            "ask the questions anew",
            open=True,
        )
    elif record.some_yes:
        yield _item(
            number,
            person,
            "screening",
            f"answered yes to at least one question on {record.on.isoformat()}"
            + (", and sought licensed advice since" if record.advised else "; no licensed advice is on record"),
            "train within what was advised" if record.advised else "not before licensed advice was sought",
            open=not record.advised,
        )


def _medication(number: int, person: Person) -> Iterator[StartItem]:
    if person.heart_medication:
        yield _item(
            number,
            person,
            "medication",
            "heart medication: heart rates do not tell how hard it is",
            "go by perceived effort (6–20) and by whether they can talk; long warm-up and cool-down",
        )


def _careful(number: int, person: Person, predicted: Forecast) -> Iterator[StartItem]:
    for name in person.careful:
        about = conditions()[name]
        here = [
            caution
            for caution in predicted.cautions
            if number in caution.people and caution.about == "careful" and caution.condition == name
        ]
        met = "; ".join(f"{item.message}: {item.safer}" for item in here)
        yield _item(
            number,
            person,
            "careful",
            f"careful: {about.name}. {about.read}",
            f"In this class — {met}" if met else "nothing in this class asks for it by itself",
            id=f"{person.id}-careful-{name}",
            slots=[slot for item in here for slot in item.slots],
        )


def _heart(number: int, person: Person, predicted: Forecast) -> Iterator[StartItem]:
    for place, caution in enumerate(predicted.cautions):
        if number in caution.people and caution.severity == "caution" and caution.about == "heart":
            yield _item(number, person, "heart", caution.message, caution.safer, id=f"{person.id}-heart-{place}")
