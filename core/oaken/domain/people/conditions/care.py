"""How much an exercise asks of what somebody has to be careful about, and what is known to be kinder.

`care.json` grades every shipped exercise that is work for every condition: 0 nothing to speak of, 1 little, 2 some,
3 much, each with its reason. What is not in the table is unknown, and unknown is never taken for kind: an instructor's
own exercise is proposed only where she has said so (`kinder_for`).
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass
from functools import cache
from typing import Annotated, Literal

from pydantic import Field

from oaken.basis.data_files import shipped_json
from oaken.domain.catalogue import Catalogue, Condition, Exercise, catalogue
from oaken.domain.people.conditions.about import conditions
from oaken.domain.people.person import Closed, Person

Verdict = Literal["kinder", "same", "worse", "unknown"]

ASKS_FOR_CARE = 2
"""From this grade on an exercise asks for care; what is proposed in its place lies below it."""


class Grade(Closed):
    """Exercises that ask equally much for one reason; `say` is how to do them with less of it."""

    asks: Annotated[int, Field(ge=0, le=3)]
    why: Annotated[str, Field(min_length=3, max_length=200)]
    say: Annotated[str, Field(min_length=3, max_length=200)] | None = None
    exercises: Annotated[tuple[str, ...], Field(min_length=1)]


class ConditionCare(Closed):
    """The grades of one condition, and by movement pattern what is proposed first in place of what asks for care."""

    groups: tuple[Grade, ...]
    instead: dict[str, tuple[str, ...]]


@dataclass(frozen=True, slots=True)
class CareQuestion:
    """How much an exercise asks (0–3), why, and how it is done with less of it (empty: nothing to say)."""

    asks: int
    why: str
    say: str


@dataclass(frozen=True, slots=True)
class Concern:
    """Why an exercise asks for care with a person, and how it is done with less of it.

    `asks` is the grade (None where nobody has said how the exercise suits the condition); one below ASKS_FOR_CARE comes
    from a note on how the exercise is done.
    """

    condition: Condition
    name: str
    why: str
    say: str
    asks: int | None

    @property
    def known(self) -> bool:
        """Whether somebody has said how the exercise suits the condition."""
        return self.asks is not None

    @property
    def for_care(self) -> bool:
        """Whether another exercise would be kinder, or this one only has to be done with an eye on it."""
        return self.asks is None or self.asks >= ASKS_FOR_CARE


@cache
def care_table() -> dict[Condition, ConditionCare]:
    """The checked table. Raises ValueError where it contradicts the catalogue or itself."""
    raw = shipped_json("oaken.domain.people.conditions", "care.json")
    table: dict[Condition, ConditionCare] = {
        condition: ConditionCare.model_validate(raw["conditions"][condition]) for condition in conditions()
    }
    known = catalogue()
    work = {exercise.id for exercise in known.exercises.values() if exercise.is_work}
    for condition, care in table.items():
        graded = [(name, grade.asks) for grade in care.groups for name in grade.exercises]
        names = [name for name, _ in graded]
        if len(set(names)) != len(names) or set(names) != work:
            odd = sorted(work.symmetric_difference(names)) or sorted({name for name in names if names.count(name) > 1})
            raise ValueError(f"care.json, {condition}: every exercise that is work stands there once; see {odd[:5]}")
        asks = dict(graded)
        for grade in care.groups:
            if grade.asks >= ASKS_FOR_CARE and grade.say is None:
                raise ValueError(f"care.json, {condition}: what asks for care says how it is done with less of it")
        for pattern, others in care.instead.items():
            wrong = [name for name in others if asks.get(name, ASKS_FOR_CARE) >= ASKS_FOR_CARE]
            if pattern not in known.patterns or wrong:
                raise ValueError(f"care.json, {condition}, instead of {pattern}: {wrong or 'no such pattern'}")
    return table


@cache
def _grades() -> dict[Condition, dict[str, Grade]]:
    return {
        condition: {name: grade for grade in care.groups for name in grade.exercises}
        for condition, care in care_table().items()
    }


def asked(condition: Condition, exercise: Exercise) -> CareQuestion | None:
    """What an exercise asks of a condition; None where nobody has said."""
    note = next((caution.say for caution in exercise.cautions if caution.who == condition), "")
    grade = _grades()[condition].get(exercise.shipped_id)
    if grade is not None:
        return CareQuestion(grade.asks, grade.why, note or grade.say or "")
    if condition in exercise.kinder_for:
        return CareQuestion(1, "its instructor has said that it is kind", note)
    by_tag = next((say for tag, say in conditions()[condition].tags.items() if tag in exercise.tags), "")
    if note or by_tag:
        return CareQuestion(ASKS_FOR_CARE, "it is marked so", note or by_tag)
    return None


def verdict(condition: Condition, other: Exercise, than: Exercise) -> Verdict:
    """Whether one exercise is kinder than another to somebody with this condition."""
    here, there = asked(condition, other), asked(condition, than)
    if here is None or there is None:
        return "unknown"
    if here.asks == there.asks:
        return "same"
    return "kinder" if here.asks < there.asks else "worse"


def concerns(person: Person, exercise: Exercise) -> list[Concern]:
    """What to be careful about when this person does this exercise; at most one reason a condition.

    An exercise that is work, and of which nobody has said how it suits the condition, is one too.
    """
    found = []
    for condition in person.careful:
        told, name = asked(condition, exercise), conditions()[condition].name
        if told is None:
            if exercise.is_work:
                found.append(Concern(condition, name, "nobody has said how it suits", "", None))
        elif told.asks >= ASKS_FOR_CARE or any(note.who == condition for note in exercise.cautions):
            found.append(Concern(condition, name, told.why, told.say, told.asks))
    return found


def kind_to(people: Collection[Person], exercise: Exercise) -> bool:
    """Whether an exercise is known to ask for no care with anybody of these people."""
    met = [asked(condition, exercise) for person in people for condition in person.careful]
    return all(item is not None and item.asks < ASKS_FOR_CARE for item in met)


def kinder(
    exercise: Exercise,
    condition: Condition,
    people: Sequence[Person],
    known: Catalogue,
    works: Callable[[str], bool] = lambda equipment: True,
) -> list[Exercise]:
    """What these people could do instead, best first: known to be kinder to this condition, and to ask for no care with
    anything else that any of them has. `works` tells whether an equipment kind can be had."""
    first = [known.standing_as(name) for name in care_table()[condition].instead.get(exercise.pattern, ())]
    near = [*first, *exercise.easier, *(substitute.id for substitute in known.substitutes(exercise))]
    options = [
        known.exercises[name] for name in dict.fromkeys(near) if name in known.exercises and name not in known.retired
    ]
    return [
        other
        for other in options
        if other.id != exercise.id
        and verdict(condition, other, exercise) == "kinder"
        and kind_to(people, other)
        and (other.equipment == "none" or works(other.equipment))
    ]


def safer_words(say: str, other: Exercise | None, condition: Condition) -> str:
    """The safer choice in words: how to do it with less, and exactly the exercise that the button puts there."""
    instead = ""
    if other is not None:
        note = next((caution.say for caution in other.cautions if caution.who == condition), "")
        instead = f"{other.name.lower()} instead" + (f" ({note})" if note else "")
    return ", or ".join(filter(None, [say, instead])) or "leave it out, or ask whoever treats them"
