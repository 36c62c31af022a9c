"""The machine's clock is set while a class runs: the class does not jump with it."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from typing import Any

import pytest
from django.utils import timezone
from logbook import clock
from logbook.models import Run, RunEvent
from logbook.runs import events_of, file_of
from oaken.session import replay_events
from test_what_was_done import opened

Send = Callable[..., tuple[int, Any]]
pytestmark = pytest.mark.usefixtures("demo")


def press(send: Send, run: int, kind: str, moment: datetime, **more: Any) -> dict[str, Any]:
    event = {"id": f"{kind}-{moment.timestamp()}", "kind": kind, "happened_at": moment.isoformat(), **more}
    answer: dict[str, Any] = send("POST", f"/api/runs/{run}/events", {"events": [event]})[1]
    return answer


@pytest.mark.parametrize("jump", [timedelta(hours=1), timedelta(hours=-1), timedelta(seconds=40)])
def test_a_server_clock_that_is_set_moves_no_class(
    send: Send, monkeypatch: pytest.MonkeyPatch, jump: timedelta
) -> None:
    live = opened(send, "Stretcher legs")
    run = live["id"]
    true = timezone.now
    began = true()
    press(send, run, "began", began)
    monkeypatch.setattr(timezone, "now", lambda: true() + jump)
    for path in (f"/api/runs/{run}/live", f"/api/clock?run={run}"):
        told = datetime.fromisoformat(send("GET", path)[1]["now"])
        assert abs((told - true()).total_seconds()) < 5, path
    # a press now is kept as now, and the class stands where it stood
    answer = press(send, run, "paused", true())
    assert answer["kept"]
    assert answer["clamped"] == {}
    events = [each_object.body for each_object in RunEvent.objects.filter(run=run)]
    assert all(abs((datetime.fromisoformat(event["happened_at"]) - began).total_seconds()) < 30 for event in events)
    kept = Run.objects.get(pk=run)
    run_state = replay_events(file_of(kept), [event for _, event in events_of(kept)], clock.now_of(run))
    assert run_state.state == "paused"
    # a class that begins after the clock was set begins by it
    later = opened(send, "Machine pairs")["id"]
    press(send, later, "began", timezone.now())
    assert abs((clock.now_of(later) - timezone.now()).total_seconds()) < 5


def test_a_restart_of_the_machine_counts_anew(send: Send, monkeypatch: pytest.MonkeyPatch) -> None:
    run = opened(send, "Stretcher legs")["id"]
    press(send, run, "began", timezone.now())
    monkeypatch.setattr(clock, "COUNTER", "another start")
    assert abs((clock.now_of(run) - timezone.now()).total_seconds()) < 1


def test_a_press_from_a_clock_that_is_ahead_is_told_when_it_counts(send: Send) -> None:
    run = opened(send, "Stretcher legs")["id"]
    press(send, run, "began", timezone.now())
    ahead = datetime.now(UTC) + timedelta(minutes=10)
    answer = press(send, run, "paused", ahead)
    (moment,) = answer["clamped"].values()
    assert abs((datetime.fromisoformat(moment) - timezone.now()).total_seconds()) < 5


def test_a_class_that_is_typed_in_afterwards_has_no_steady_clock(send: Send) -> None:
    run = opened(send, "Stretcher legs")["id"]
    press(send, run, "began", datetime.now(UTC) - timedelta(hours=5))
    assert Run.objects.get(pk=run).anchor is None
