"""On the spot: what can be done in the middle of a class, with the effect that it really has; hearts while it runs."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import Any

import pytest
from oaken.basis.faults import FaultyInput
from oaken.forecast import forecast
from oaken.schedule.class_file import ClassFile
from oaken.schedule.class_file.reading import load_class
from oaken.schedule.timeline import Doing
from oaken.session import Event, Expected, Offer, actual_class, expected_hearts, heart_now, offers, replay_events
from oaken.session.events import Began, Paused, event_of
from oaken.session.live_adjustments import Ask, Comes, ExtraRound, Leaves, LosesUnit, RunsLate, TooHot
from places import ROOT

BEGAN = datetime(2026, 11, 24, 18, 30, tzinfo=UTC)
STATIONS = load_class(ROOT / "examples" / "stretcher-legs.json")
PAIRS = load_class(ROOT / "examples" / "machine-pairs.json")
LONG = load_class(ROOT / "examples" / "long-carry.json")


def at(second: float) -> datetime:
    return BEGAN + timedelta(seconds=second)


EVENTS: list[Event] = [Began(id="b", happened_at=BEGAN), Paused(id="p", happened_at=at(2000))]


def ways(file: ClassFile, second: float, ask: Ask) -> list[Offer]:
    return offers(file, EVENTS, at(second), ask)


def taken(file: ClassFile, second: float, offer: Offer) -> list[Event]:
    more = [event_of({**event, "id": f"o{n:03}", "happened_at": at(second)}) for n, event in enumerate(offer.events)]
    return [EVENTS[0], *more]


@pytest.mark.parametrize(
    ("file", "ask"),
    [(STATIONS, LosesUnit(unit="thrust")), (PAIRS, LosesUnit(unit="press-1")), (LONG, RunsLate()), (STATIONS, ExtraRound()),
     (LONG, TooHot()), (PAIRS, Leaves(person="tobin")), (PAIRS, Comes(person="tobin"))],
)  # fmt: skip
def test_an_offer_does_what_it_says(file: ClassFile, ask: Any) -> None:
    before = actual_class(file, replay_events(file, EVENTS[:1], at(1000)))
    found = ways(file, 1000, ask)
    assert found
    for offer in found:
        after = actual_class(file, replay_events(file, taken(file, 1000, offer), at(1000)))
        told = forecast(after.file, after.timeline)
        assert offer.effect.length_s == pytest.approx(told.length.value, abs=0.1)
        apart = after.timeline.length_s - before.timeline.length_s
        assert offer.effect.ends_later_s == pytest.approx(apart, abs=0.2)


def test_a_lost_machine_has_substitutes_that_do_not_need_it() -> None:
    found = ways(STATIONS, 1000, LosesUnit(unit="thrust"))
    assert len(found) >= 4
    for offer in found[:-1]:
        (swap,) = [event["change"] for event in offer.events if event["kind"] == "changed"]
        assert STATIONS.catalogue().exercises[swap["exercise"]].equipment != "hip-thrust"
    # where another of its kind is left, that one does it
    assert [way.events[0]["kind"] for way in ways(STATIONS, 1000, LosesUnit(unit="press-1"))] == ["unit_lost"]


def test_sets_done_stay_when_a_machine_is_lost_and_nobody_does_one_again_or_misses_one() -> None:
    """In a block at their own pace everybody has as many sets in all as without the loss."""
    plain = _sets_of(PAIRS, EVENTS[:1])
    (offer,) = ways(PAIRS, 1000, LosesUnit(unit="press-1"))
    assert {event["kind"] for event in offer.events} == {"unit_lost", "went_on", "moved_on"}
    lost = _sets_of(PAIRS, taken(PAIRS, 1000, offer))
    assert lost == plain


def _sets_of(file: ClassFile, events: list[Event]) -> list[int]:
    """The sets everybody did from the beginning to the end, those that were cut and went on counted once."""
    real = actual_class(file, replay_events(file, events, at(40_000)))
    return [
        sum(1 for step in path if step.doing is Doing.WORK and step.opens_set and step.slot >= 0)
        for path in real.timeline.paths
    ]


def test_whoever_comes_late_can_begin_at_the_first_exercise_and_does_more_of_it() -> None:
    late = [*EVENTS[:1], event_of({"id": "l", "kind": "left", "happened_at": BEGAN, "person": "tobin"})]
    found = offers(PAIRS, late, at(1500), Comes(person="tobin"))
    assert [item.name for item in found] == [
        "joins where the others are", "begins at the first exercise", "begins at once with the next set"
    ]  # fmt: skip
    number = PAIRS.plan.people.index("tobin")
    firsts = []
    for offer in found:
        more = [event_of({**event, "id": f"o{n}", "happened_at": at(1500)}) for n, event in enumerate(offer.events)]
        real = actual_class(PAIRS, replay_events(PAIRS, [*late, *more], at(40_000)))
        steps = [step for step in real.timeline.paths[number] if step.doing is Doing.WORK and step.start_s >= 1500]
        firsts.append(real.timeline.slots[steps[0].slot].id)
    plain = actual_class(PAIRS, replay_events(PAIRS, EVENTS[:1], at(40_000)))
    own = [step for step in plain.timeline.paths[number] if step.block == 1 and step.doing is Doing.WORK]
    assert firsts[1] == plain.timeline.slots[own[0].slot].id
    assert firsts[0] != firsts[1]
    # circuits go on by the bell: there is one way in
    assert len(ways(STATIONS, 1000, Comes(person="tobin"))) == 1


def test_running_late_offers_only_what_ends_sooner_the_most_first() -> None:
    found = [way.effect.ends_later_s for way in ways(LONG, 1000, RunsLate())]
    assert found == sorted(found)
    assert all(seconds < 0 for seconds in found)


def test_what_is_not_in_this_class_is_refused_and_so_is_a_class_that_is_not_under_way() -> None:
    for ask in (LosesUnit(unit="nothing"), Comes(person="nobody")):
        with pytest.raises(FaultyInput, match="not in this class"):
            ways(STATIONS, 1000, ask)
    with pytest.raises(FaultyInput, match="not under way"):
        offers(STATIONS, [], at(0), TooHot())


# ---- hearts -----------------------------------------------------------------------------------------------------

HEART = Expected("tobin", 60, 180, [100.0] * 600, 2.0, 10, applies=True)


def readings(*spans: tuple[int, int, float]) -> list[tuple[float, float]]:
    return [(float(second), bpm) for start, stop, bpm in spans for second in range(start, stop)]


def test_a_heart_is_told_with_its_class_of_intensity_and_the_forecast() -> None:
    now = heart_now(HEART, readings((0, 60, 140)), 60, 58, None)
    assert (now.bpm, now.expected_bpm, now.intensity) == (140, 100, "vigorous")
    assert now.vigorous_s == 59
    assert now.look_at == []
    assert heart_now(HEART, readings((0, 60, 131)), 60, 58, None).intensity == "moderate"


def test_a_belt_that_fell_off_and_too_long_above_vigorous_are_to_be_looked_at() -> None:
    silent = heart_now(HEART, readings((0, 60, 140)), 90, 88, None)
    assert silent.bpm is None
    assert silent.look_at == ["belt silent for 0:31"]
    long = heart_now(HEART, readings((0, 640, 150)), 640, 600, None)
    assert long.look_at == ["vigorous for 10:39, 10 min are enough"]


def test_a_heart_that_does_not_come_down_in_the_rest_is_told_after_a_minute() -> None:
    falls = readings((0, 100, 150), (100, 170, 130))
    stays = readings((0, 100, 150), (100, 170, 145))
    assert heart_now(HEART, falls, 165, 165, 100).look_at == []
    assert heart_now(HEART, stays, 165, 165, 100).look_at == ["came down by 5 bpm only in the first minute of the rest"]
    assert heart_now(HEART, stays, 150, 150, 100).look_at == []


def test_with_heart_medication_effort_is_asked_and_no_class_is_told() -> None:
    hearts = expected_hearts(STATIONS.model_copy(update={"people": [
        person.model_copy(update={"heart_medication": True}) if person.id == "tobin" else person for person in STATIONS.people]}))  # fmt: skip
    told = heart_now(hearts["tobin"], [], 60, 60, None)
    assert told.intensity is None
    assert told.look_at == ["heart medication: ask how hard it is (6–20)"]
    assert hearts["marit"].applies


def followed(second: float, *more: Any) -> list[Event]:
    """A class that follows its people and stands in its block of sets."""
    own = [event_of({"id": f"f{n}", "kind": kind, "happened_at": at(when), **fields})
           for n, (when, kind, fields) in enumerate(more)]  # fmt: skip
    return [Began(id="b", happened_at=BEGAN, follows="people"), *own, Paused(id="p", happened_at=at(second + 1))]


@pytest.mark.parametrize(
    "ask",
    [LosesUnit(unit="thrust"), LosesUnit(unit="press-1"), RunsLate(), Leaves(person="tobin"), Comes(person="tobin")],
)
def test_where_people_are_followed_an_offer_is_one_event_and_does_what_it_says(ask: Any) -> None:
    events = followed(1500)
    before = actual_class(PAIRS, replay_events(PAIRS, events, at(1500)))
    found = offers(PAIRS, events, at(1500), ask)
    assert found
    for offer in found:
        assert len(offer.events) <= (2 if isinstance(ask, Comes) else 1)
        made = [event_of({**event, "id": f"o{n:03}", "happened_at": at(1500)}) for n, event in enumerate(offer.events)]
        after = actual_class(PAIRS, replay_events(PAIRS, [*events[:-1], *made], at(1500)))
        assert offer.effect.ends_later_s == pytest.approx(after.timeline.length_s - before.timeline.length_s, abs=0.2)


def test_running_late_at_ones_own_pace_offers_the_last_set_of_each() -> None:
    names = [offer.name for offer in offers(PAIRS, followed(1500), at(1500), RunsLate())]
    assert any(name.endswith("one set of everything less") for name in names)
    assert any("without the last set" in name for name in names)
