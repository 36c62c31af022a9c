"""Hearts while a class runs: what a belt says beside the forecast, in which class of intensity, and what to look at."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from pydantic import BaseModel, ConfigDict

from oaken.basis.words import clock
from oaken.forecast import forecast
from oaken.forecast.cautions.people import enough_vigorous_min
from oaken.physiology.intensity import CLASS_NAMES, RESERVE_LIMITS
from oaken.schedule.class_file import ClassFile
from oaken.schedule.rotation.rolling import Placement
from oaken.schedule.timeline import Doing, Timeline
from oaken.session.clock import RunState
from oaken.session.floor import FloorVisit, floor_at

SILENT_AFTER_S = 15.0
"""A belt sends every second; one that says nothing for so long has slipped or has lost the way (common practice)."""

RECOVERS_BPM, RECOVERS_WITHIN_S = 12.0, 60.0
"""A heart that comes down by less in the first minute of a rest recovers slowly (Cole et al. 1999, after exercise
tests; from memory)."""

RESTS_FROM_BPM_SHARE = 0.6
"""Only a heart that was vigorous is expected to come down by that much."""

GAP_S = 10.0
"""Readings further apart than this are not joined when minutes are counted."""

VIGOROUS = RESERVE_LIMITS[2]


@dataclass(frozen=True, slots=True)
class Expected:
    """One person's heart as it is known before the class: rates in bpm, the forecast every `every_s` seconds of the
    plan's axis, minutes of vigorous work that are enough, and whether heart rates tell anything (medication)."""

    person: str
    rest_bpm: float
    max_bpm: float
    bpm: list[float]
    every_s: float
    enough_min: float
    applies: bool

    def at(self, second: float) -> float | None:
        """The forecast at a second of the plan's axis."""
        if not self.bpm:
            return None
        return self.bpm[min(len(self.bpm) - 1, max(0, round(second / self.every_s)))]

    def share(self, bpm: float) -> float:
        """A rate as a share of the reserve."""
        return (bpm - self.rest_bpm) / (self.max_bpm - self.rest_bpm)


class HeartNow(BaseModel):
    """A heart now: the last reading and how old it is (s), the forecast for this second, the class of intensity by its
    name, seconds of vigorous work so far, and what somebody should look at, in words."""

    model_config = ConfigDict(json_schema_serialization_defaults_required=True)

    person: str
    bpm: int | None
    age_s: float | None
    expected_bpm: int | None
    intensity: str | None
    vigorous_s: float
    look_at: list[str]
    applies: bool


def expected_hearts(file: ClassFile, timeline: Timeline | None = None) -> dict[str, Expected]:
    """Everybody's heart as it is forecast. The file must have been checked."""
    predicted = forecast(file, timeline)
    people = {person.id: person for person in file.participants}
    return {
        each_person.id: Expected(
            person=each_person.id,
            rest_bpm=each_person.rest_bpm.value if each_person.rest_bpm else 60.0,
            max_bpm=each_person.max_bpm.value if each_person.max_bpm else 190.0,
            bpm=each_person.bpm,
            every_s=predicted.sample_s,
            enough_min=enough_vigorous_min(people[each_person.id]),
            applies=each_person.heart_applies,
        )
        for each_person in predicted.people
    }


@dataclass(frozen=True, slots=True)
class OnAxis:
    """Where somebody really stands: the second of the plan's axis at which they do what they do now, and since when
    they do not work, in seconds since the class began (None: they work)."""

    second: float
    resting_from_s: float | None


def on_axis(run_state: RunState, person: str) -> OnAxis:
    """Where somebody stands on the plan's axis: with the class, before it, or, where people are followed, at the set
    that they are really at."""
    number = run_state.era.plan.people.index(person)
    if run_state.floor is not None:
        block, _ = run_state.era.place(run_state.second)
        begins = run_state.era.timeline.blocks[block].start_s
        return _on_floor(run_state.floor, floor_at(run_state.floor).placed[number], begins, run_state.now_s)
    second = run_state.second + run_state.ahead_of(person)
    begun = None
    for step in run_state.era.timeline.paths[number]:
        if step.start_s > second:
            break
        if step.doing is Doing.WORK:
            begun = None
        elif begun is None:
            begun = step.start_s
    return OnAxis(second, None if begun is None else run_state.now_s - (second - begun))


def _on_floor(floor: FloorVisit, placed: Sequence[Placement], begins_s: float, now_s: float) -> OnAxis:
    now = floor.now_s
    at = next((at for at, item in enumerate(placed) if now < item.end_s or item.held), len(placed))
    if at < len(placed) and now >= placed[at].work_from_s:
        task = placed[at].task
        return OnAxis(begins_s + task.start_s + min(now - placed[at].work_from_s, task.work_s), None)
    if at == 0:
        # nothing was done yet, so there is no rest to recover in
        planned = placed[0].task.start_s if placed else floor.from_s
        return OnAxis(begins_s + min(floor.from_s + now, planned), None)
    before = placed[at - 1]
    over = before.task.start_s + before.task.work_s
    since = now - before.end_s
    comes = placed[at].task.start_s if at < len(placed) else over + since
    # while the floor stands still people rest as well
    stood = sum(seconds for moment, seconds in floor.pauses if moment >= before.end_s)
    return OnAxis(begins_s + min(over + since, max(over, comes)), now_s - since - stood)


def heart_now(
    expected: Expected,
    readings: Sequence[tuple[float, float]],
    now_s: float,
    second: float,
    resting_from_s: float | None,
) -> HeartNow:
    """One heart. `readings` are seconds since the class began and bpm, oldest first, without lost contact; `second` is
    where the person stands on the plan's axis, `resting_from_s` since when the person rests (None: they do not)."""
    last = readings[-1] if readings else None
    age = None if last is None else max(0.0, now_s - last[0])
    vigorous = _vigorous_s(expected, readings)
    shown = last is not None and age is not None and age <= SILENT_AFTER_S
    bpm = round(last[1]) if last is not None and shown else None
    coming = expected.at(second)
    return HeartNow(
        person=expected.person,
        bpm=bpm,
        age_s=None if age is None else round(age, 1),
        expected_bpm=None if coming is None else round(coming),
        intensity=None if bpm is None or not expected.applies else _class_of(expected.share(bpm)),
        vigorous_s=round(vigorous, 1),
        look_at=_look_at(expected, readings, now_s, age, vigorous, resting_from_s),
        applies=expected.applies,
    )


def _class_of(share: float) -> str:
    return CLASS_NAMES[bisect_right(RESERVE_LIMITS, share)]


def _vigorous_s(expected: Expected, readings: Sequence[tuple[float, float]]) -> float:
    total = 0.0
    for (at, bpm), (then, _) in pairwise(readings):
        if then - at <= GAP_S and expected.share(bpm) >= VIGOROUS:
            total += then - at
    return total


def _look_at(
    expected: Expected,
    readings: Sequence[tuple[float, float]],
    now_s: float,
    age: float | None,
    vigorous: float,
    resting_from_s: float | None,
) -> list[str]:
    found = []
    if age is not None and age > SILENT_AFTER_S:
        found.append(f"belt silent for {clock(age)}")
    if not expected.applies:
        return [*found, "heart medication: ask how hard it is (6–20)"]
    if vigorous > expected.enough_min * 60:
        found.append(f"vigorous for {clock(vigorous)}, {expected.enough_min:g} min are enough")
    if resting_from_s is not None and now_s - resting_from_s >= RECOVERS_WITHIN_S:
        before = _near(readings, resting_from_s - 1)
        after = _near(readings, resting_from_s + RECOVERS_WITHIN_S)
        if before and after and expected.share(before) >= RESTS_FROM_BPM_SHARE and before - after < RECOVERS_BPM:
            found.append(f"came down by {max(0, round(before - after))} bpm only in the first minute of the rest")
    return found


def _near(readings: Sequence[tuple[float, float]], moment: float) -> float | None:
    """The reading nearest to a moment, if there is one within a few seconds."""
    at = bisect_right(readings, moment, key=lambda reading: reading[0])
    near = [reading for reading in readings[max(0, at - 1) : at + 1] if abs(reading[0] - moment) <= GAP_S]
    return min(near, key=lambda item: abs(item[0] - moment))[1] if near else None
