"""The house's own rules where they hold."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from oaken.domain.catalogue import Catalogue
from oaken.domain.people import Person
from oaken.forecast.cautions.in_order import works_of
from oaken.forecast.report import Caution
from oaken.physiology.heat import Heat
from oaken.plan import ClassPlan, HouseRule


def house_cautions(
    rules: Sequence[HouseRule], plan: ClassPlan, people: Sequence[Person], heat: Heat | None, catalogue: Catalogue
) -> Iterator[Caution]:
    """Every rule of the studio that holds for this class, at the slots and the people it holds for."""
    wishes, works = plan.wishes(), works_of(plan, catalogue)
    for rule in rules:
        if rule.wbgt_from_c is not None and (heat is None or heat.wbgt.value < rule.wbgt_from_c):
            continue
        crowd = [
            (number, person)
            for number, person in enumerate(people, 1)
            if (rule.careful is None or rule.careful in person.careful) and rule.level in (None, person.level)
        ]
        if not crowd:
            continue
        slots: list[str] = []
        numbers: list[int] = []
        names_work = rule.exercise or rule.pattern or rule.tag
        for work in works if names_work else []:
            for number, person in crowd:
                done = catalogue.exercises[wishes.does(work.exercise.id, person)]
                if done.id == rule.exercise or done.pattern == rule.pattern or (rule.tag and rule.tag in done.tags):
                    slots += [work.id] if work.id not in slots else []
                    numbers += [number] if number not in numbers else []
        if names_work and not slots:
            continue
        names_people = rule.careful is not None or rule.level is not None
        yield Caution(
            severity="caution",
            block=-1,
            slots=slots,
            people=sorted(numbers or [number for number, _ in crowd]) if names_people else [],
            message=f"house rule: {rule.say}",
            safer=rule.safer,
            about="house",
            health=rule.careful is not None,
        )
