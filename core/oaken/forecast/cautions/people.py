"""What can go wrong for the people: hearts too long too high, what to be careful about, loads that cannot be told."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from oaken.basis.names import first_name
from oaken.domain.catalogue import Catalogue, Condition
from oaken.domain.people import Level, Person
from oaken.domain.people.conditions import Concern, concerns, conditions, kinder, safer_words
from oaken.domain.room import Room
from oaken.forecast.cautions.in_order import works_of
from oaken.forecast.report import Caution, Fix, PersonForecast, Severity, Subject
from oaken.plan import ClassPlan
from oaken.plan.changes import DoInstead

LONG_NEAR_MAXIMAL_MIN = 5.0
LONG_VIGOROUS_MIN: dict[Level, float] = {"beginner": 20.0, "standard": 40.0, "advanced": 60.0}
"""Minutes of vigorous heart rate that are plenty in one class, by level (common practice, no source)."""

LEAST_MODERATE_MIN, SHORT_CLASS_MIN = 10.0, 20.0
"""Below so many minutes of moderate heart rate or more, a class of some length hardly trains the heart (common
practice, no source)."""


def people_cautions(
    plan: ClassPlan,
    room: Room,
    people: Sequence[Person],
    forecasts: list[PersonForecast],
    unknown_loads: list[set[str]],
    at_maximum: list[dict[str, float]],
    catalogue: Catalogue,
) -> list[Caution]:
    """Every caution that comes from who is in the class."""
    return [
        *_careful(plan, room, people, catalogue),
        *_long_near_maximal(forecasts),
        *_long_vigorous(people, forecasts),
        *_hardly_moderate(forecasts),
        *_medication(forecasts),
        *_at_maximum(at_maximum, catalogue),
        *_unknown_loads(unknown_loads, catalogue),
    ]


def _careful(plan: ClassPlan, room: Room, people: Sequence[Person], catalogue: Catalogue) -> Iterator[Caution]:
    """Exercises that ask for care with somebody who does them, condition by condition."""
    wishes = plan.wishes()
    met: dict[tuple[str, str, Condition], tuple[Concern, list[str], list[int]]] = {}
    for work in works_of(plan, catalogue):
        for number, person in enumerate(people, 1):
            done = catalogue.exercises[wishes.does(work.exercise.id, person)]
            for concern in concerns(person, done):
                key = (work.exercise.id, done.id, concern.condition)
                _, slots, numbers = met.setdefault(key, (concern, [], []))
                if work.id not in slots:
                    slots.append(work.id)
                if number not in numbers:
                    numbers.append(number)
    for (planned, doing, condition), (concern, slots, numbers) in met.items():
        own = [people[number - 1] for number in numbers]
        exercise, name = catalogue.exercises[doing], conditions()[condition].name
        severity: Severity = "note"
        fix = None
        if not concern.known:
            message = f"nobody has said how {exercise.name.lower()} suits {name}"
            safer = "say so in the catalogue, or choose an exercise that is known"
        elif not concern.for_care:
            message = f"{exercise.name.lower()} with care for {name}: {concern.why}"
            safer = concern.say
        else:
            other = next(iter(kinder(exercise, condition, own, catalogue, lambda kind: bool(room.working(kind)))), None)
            severity = "caution"
            message = f"{exercise.name.lower()} asks for care ({name}): {concern.why}"
            safer = safer_words(concern.say, other, condition)
            if other is not None:
                change = DoInstead(exercise=planned, other=other.id, people=tuple(person.id for person in own))
                whom = "them" if len(own) > 1 else first_name(own[0].name)
                fix = Fix(label=f"{other.name} for {whom}", change=change)
        yield Caution(
            severity=severity,
            block=-1,
            slots=slots,
            people=numbers,
            message=message,
            safer=safer,
            fix=fix,
            about="careful",
            condition=condition,
            health=True,
        )


def _long_near_maximal(forecasts: list[PersonForecast]) -> Iterator[Caution]:
    long = [
        person for person in forecasts if person.heart_applies and person.minutes_by_class[4] > LONG_NEAR_MAXIMAL_MIN
    ]
    if long:
        longest = max(person.minutes_by_class[4] for person in long)
        yield _about(
            "caution",
            long,
            f"near-maximal heart rate for up to {longest:.0f} min",
            "longer rests or a lighter load for them",
        )


def enough_vigorous_min(person: Person) -> float:
    """Minutes of vigorous heart rate that are plenty for this person in one class."""
    limits = [conditions()[item].vigorous_min for item in person.careful]
    return min([LONG_VIGOROUS_MIN[person.level], *(limit for limit in limits if limit is not None)])


def _long_vigorous(people: Sequence[Person], forecasts: list[PersonForecast]) -> Iterator[Caution]:
    """Who is likely to be vigorous or above for too long, and who may be."""
    likely, possible, with_care = [], [], []
    for person, told in zip(people, forecasts, strict=True):
        minutes = told.figures.vigorous_or_more
        enough = enough_vigorous_min(person)
        if minutes is None or minutes.high <= enough + 1:
            continue
        if enough < LONG_VIGOROUS_MIN[person.level]:
            with_care.append(told)
        elif minutes.value > enough:
            likely.append(told)
        elif minutes.value > 0.7 * enough:
            possible.append(told)
    chances: list[tuple[Severity, list[PersonForecast], str]] = [
        ("caution", likely, "likely"),
        ("note", possible, "possible"),
    ]
    for severity, found, chance in chances:
        if found:
            most = max(item.figures.vigorous_or_more.value for item in found if item.figures.vigorous_or_more)
            yield _about(
                severity,
                found,
                f"vigorous heart rate for longer than is plenty at their level: {chance}, up to {most:.0f} min",
                "a lighter load, longer rests or a round less for them",
            )
    if with_care:
        yield _about(
            "caution",
            with_care,
            "more vigorous minutes than what they have to be careful about allows",
            "stay able to talk: lighter loads, longer rests, a round less",
            health=True,
        )


def _hardly_moderate(forecasts: list[PersonForecast]) -> Iterator[Caution]:
    low = []
    for person in forecasts:
        minutes = person.figures.moderate_or_more
        if (
            minutes is not None
            and minutes.value < LEAST_MODERATE_MIN
            and sum(person.minutes_by_class) > SHORT_CLASS_MIN
        ):
            low.append(person)
    if low:
        yield _about(
            "note",
            low,
            f"hardly reach moderate: less than {LEAST_MODERATE_MIN:.0f} min",
            "more load, shorter rests or a harder variant for them, if the heart is to be trained",
        )


def _about(
    severity: Severity,
    people: list[PersonForecast],
    message: str,
    safer: str,
    *,
    about: Subject = "heart",
    health: bool = False,
) -> Caution:
    return Caution(
        severity=severity,
        block=-1,
        slots=[],
        people=[person.number for person in people],
        message=message,
        safer=safer,
        about=about,
        health=health,
    )


def _medication(forecasts: list[PersonForecast]) -> Iterator[Caution]:
    without = [person for person in forecasts if not person.heart_applies]
    if without:
        yield _about(
            "caution",
            without,
            "heart medication: heart-rate figures do not apply",
            "guide by perceived effort, and by what their doctor said",
            about="medication",
            health=True,
        )


LONG_AT_MAXIMUM_S = 120.0
"""So long nobody holds more than their maximal uptake (common practice, no source)."""


def _at_maximum(found: list[dict[str, float]], catalogue: Catalogue) -> Iterator[Caution]:
    """Work that asks of somebody more than they can take up."""
    everything: dict[str, float] = {}
    for own in found:
        for exercise, seconds in own.items():
            everything[exercise] = max(everything.get(exercise, 0.0), seconds)
    if everything:
        names = ", ".join(catalogue.exercises[exercise].name.lower() for exercise in sorted(everything))
        yield Caution(
            severity="caution" if max(everything.values()) >= LONG_AT_MAXIMUM_S else "note",
            block=-1,
            slots=[],
            people=[number for number, own in enumerate(found, 1) if own],
            message=f"more is asked than somebody can take up: {names}; energy and heart count their maximum",
            safer="a lower setting, a kinder variant, or shorter bouts for them",
            about="heart",
        )


def _unknown_loads(unknown: list[set[str]], catalogue: Catalogue) -> Iterator[Caution]:
    exercises = sorted(set().union(*unknown))
    if exercises:
        names = ", ".join(catalogue.exercises[exercise].name.lower() for exercise in exercises)
        yield Caution(
            severity="note",
            block=-1,
            slots=[],
            people=[number for number, missing in enumerate(unknown, 1) if missing],
            message=f"no best known for {names}: their load is not in the volume load",
            safer="enter a best, or a load in kilograms",
        )
