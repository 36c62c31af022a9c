"""Shares people out over alike machines: half on the leg press, half on the hack squat, and nobody queues."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from oaken.design.generator.pool import Choice, Pool
from oaken.design.generator.request import choosing
from oaken.schedule.timeline.schedule import NO_EQUIPMENT

SHARED_FROM = 0.5
"""From this share of the time on that a machine is in use, some of its people go to another (common practice, no
source)."""

FIXED = ("stack", "plates", "bar")
"""What machines and racks hold; a bar comes last, since it asks for more practice."""

LEAST_WHO_SHARE = 4
"""Fewer than so many are not parted."""


def shared_over_alike(
    groups: Sequence[Sequence[Choice]], pool: Pool, turn_s: Mapping[str, float], time_s: float
) -> list[list[Choice]]:
    """The groups with the people of the busiest machines shared out over alike ones that stand free.

    `turn_s` are the seconds of one person's sets of an exercise, `time_s` those of the block. Alike is what moves the
    same way with the same prime muscles on another machine, takes load as well, and can be done by everybody.
    """
    used = {choice.exercise.equipment for group in groups for choice in group}
    busy = sorted(
        (choice for group in groups for choice in group),
        key=lambda choice: (-_use(choice, pool, turn_s, time_s), choice.exercise.id),
    )
    shared: dict[str, Choice] = {}
    for choice in busy:
        doing = _doing(choice, pool)
        if _use(choice, pool, turn_s, time_s) < SHARED_FROM or len(doing) < LEAST_WHO_SHARE:
            continue
        other = _alike(choice, pool, used)
        if other is None:
            continue
        used.add(other.exercise.equipment)
        many = round(len(doing) * other.places / (choice.places + other.places))
        # whoever knows what they lift here stays here
        moved = sorted(doing, key=lambda who: (_knows(who, choice, pool), -_knows(who, other, pool)))[:many]
        known = sum(_knows(who, choice, pool) for who in doing if who not in moved)
        shared[choice.exercise.id] = choice._replace(
            shared={other.exercise.id: tuple(sorted(moved, key=doing.index))}, known_loads=known
        )
    return [[shared.get(choice.exercise.id, choice) for choice in group] for group in groups]


def places_with_alike(choice: Choice, pool: Pool) -> int:
    """The places of an exercise together with those of an alike machine that some of its people can go to."""
    other = _alike(choice, pool, {choice.exercise.equipment}) if choice.exercise.takes_load else None
    return choice.places + (0 if other is None else other.places)


def _use(choice: Choice, pool: Pool, turn_s: Mapping[str, float], time_s: float) -> float:
    """The share of the time in which its places are in use, those of all who do it one after the other."""
    if not choice.exercise.takes_load or choice.exercise.equipment == NO_EQUIPMENT:
        return 0.0
    return turn_s[choice.exercise.id] * (pool.crowd - choice.others) / (choice.places * time_s)


def _doing(choice: Choice, pool: Pool) -> list[str]:
    others = {who for people in choice.elsewhere.values() for who in people}
    return [person.id for person in pool.people if person.id not in others]


def _knows(who: str, choice: Choice, pool: Pool) -> bool:
    person = next(person for person in pool.people if person.id == who)
    return choice.exercise.id in person.bests_kg or choice.exercise.id in person.working_kg


def _alike(choice: Choice, pool: Pool, used: set[str]) -> Choice | None:
    here = choice.exercise
    found = [
        other
        for other in pool.choices.values()
        if other.exercise.takes_load
        and not other.instead
        and other.exercise.equipment not in used
        and other.exercise.pattern == here.pattern
        and other.exercise.one_sided == here.one_sided
        and set(other.exercise.prime) & set(here.prime)
        and other.exercise.id in choosing().staples
        and pool.known.equipment[other.exercise.equipment].holds in FIXED
    ]
    return min(
        found,
        key=lambda other: (
            pool.known.equipment[other.exercise.equipment].holds == FIXED[-1],
            -len(set(other.exercise.prime) & set(here.prime)),
            -other.places,
            other.exercise.id,
        ),
        default=None,
    )
