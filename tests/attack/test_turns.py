"""Turns for long computations: never more at once than the bounds say, everybody's turn comes, and who waits too long is
told so."""

from __future__ import annotations

import threading
import time
from collections import Counter
from concurrent.futures import ThreadPoolExecutor

import pytest
from oaken.basis.limits import most
from studio.turns import Busy, Turns


def test_no_more_at_once_than_a_process_a_studio_and_a_person_may() -> None:
    turns, now, peaks = Turns(), Counter[tuple[str, int]](), Counter[tuple[str, int]]()
    lock = threading.Lock()

    def compute(number: int) -> None:
        places = [("process", 0), ("studio", number % 3), ("person", number % 5)]
        with turns.of(number % 3, number % 5, wait_s=30):
            with lock:
                for place in places:
                    now[place] += 1
                    peaks[place] = max(peaks[place], now[place])
            time.sleep(0.002)
            with lock:
                for place in places:
                    now[place] -= 1

    with ThreadPoolExecutor(24) as crowd:
        list(crowd.map(compute, range(120)))
    assert peaks["process", 0] == most("work.process")
    assert max(count for (kind, _), count in peaks.items() if kind == "studio") <= most("work.studio")
    assert max(count for (kind, _), count in peaks.items() if kind == "person") == most("work.person")
    assert not any(now.values())


def test_who_waits_too_long_is_told_and_takes_no_turn() -> None:
    turns = Turns()
    with turns.of(1, 1), pytest.raises(Busy), turns.of(1, 1, wait_s=0.01):
        raise AssertionError("two turns of one person at once")
    with turns.of(1, 1, wait_s=0.01):
        pass


def test_a_turn_ends_when_its_work_fails() -> None:
    turns = Turns()
    for _ in range(3):
        with pytest.raises(ZeroDivisionError), turns.of(1, 1, wait_s=0.01):
            raise ZeroDivisionError
