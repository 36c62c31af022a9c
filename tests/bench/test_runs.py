"""What a run costs: 3,000 events folded, and the actual timeline of forty people written out."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import Any

from crowd import big_class
from oaken.schedule.class_file import read_class
from oaken.session import Event, actual_class, log_of, replay_events
from oaken.session.events import Began, Paused, Resumed, SetDone, TimeAdded
from showing import milliseconds, show

BEGAN = datetime(2026, 11, 24, 18, 30, tzinfo=UTC)


def many_events(people: list[str], part: str) -> list[Event]:
    """3,000 events over an hour: mostly sets that are written down, with a pause or some time added now and then."""
    found: list[Event] = [Began(id="b", happened_at=BEGAN)]
    for number in range(2999):
        at = BEGAN + timedelta(seconds=1 + number * 1.15)
        name = f"e{number}"
        if number % 100 == 0:
            found.append(TimeAdded(id=name, happened_at=at, seconds=5))
        elif number % 250 == 1:
            found.append(Paused(id=name, happened_at=at))
        elif number % 250 == 4:
            found.append(Resumed(id=name, happened_at=at))
        else:
            person = people[number % len(people)]
            found.append(SetDone(id=name, happened_at=at, person=person, part=part, number=1 + number % 9, reps=10))
    return found


def test_folding_a_run(benchmark: Any) -> None:
    file = read_class(big_class(40))
    assert len(file.plan.people) == 40
    events = many_events(file.plan.people, file.plan.blocks[1].parts[0].id)
    now = BEGAN + timedelta(seconds=3400)

    def told() -> Any:
        run_state = replay_events(file, events, now)
        return actual_class(file, run_state), log_of(file, events, run_state)

    (went, log), median = milliseconds(benchmark, told, rounds=10)
    assert went.timeline.crowd == 40
    assert any(row.done for row in log)
    show("3,000 events folded, actual timeline and log of 40 people", median, "ms", 100)
