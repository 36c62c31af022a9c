"""What can go wrong for the people: hearts long near their maximum, medication, loads that cannot be told."""

from __future__ import annotations

from oaken.catalogue import Catalogue
from oaken.report import Caution, PersonForecast

LONG_NEAR_MAXIMAL_MIN = 5.0


def people_cautions(
    forecasts: list[PersonForecast], unknown_loads: list[set[str]], catalogue: Catalogue
) -> list[Caution]:
    """Every caution that comes from who is in the class."""
    return [*_long_near_maximal(forecasts), *_medication(forecasts), *_unknown_loads(unknown_loads, catalogue)]


def _long_near_maximal(forecasts: list[PersonForecast]) -> list[Caution]:
    long = [
        person for person in forecasts if person.heart_applies and person.minutes_by_class[4] > LONG_NEAR_MAXIMAL_MIN
    ]
    if not long:
        return []
    longest = max(person.minutes_by_class[4] for person in long)
    return [
        Caution(
            severity="caution",
            block=-1,
            slots=[],
            people=[person.number for person in long],
            message=f"near-maximal heart rate for up to {longest:.0f} min",
            safer="longer rests or a lighter load for them",
        )
    ]


def _medication(forecasts: list[PersonForecast]) -> list[Caution]:
    numbers = [person.number for person in forecasts if not person.heart_applies]
    if not numbers:
        return []
    return [
        Caution(
            severity="caution",
            block=-1,
            slots=[],
            people=numbers,
            message="heart medication: heart-rate figures do not apply",
            safer="guide by perceived effort, and by what their doctor said",
        )
    ]


def _unknown_loads(unknown: list[set[str]], catalogue: Catalogue) -> list[Caution]:
    exercises = sorted(set().union(*unknown))
    if not exercises:
        return []
    names = ", ".join(catalogue.exercises[exercise].name.lower() for exercise in exercises)
    return [
        Caution(
            severity="note",
            block=-1,
            slots=[],
            people=[number for number, missing in enumerate(unknown, 1) if missing],
            message=f"no best known for {names}: their load is not in the volume load",
            safer="enter a best, or a load in kilograms",
        )
    ]
