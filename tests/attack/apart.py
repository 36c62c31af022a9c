"""Measures one call in a process of its own: processor seconds, and memory above what was there before."""

from __future__ import annotations

import os
import pickle
import resource
import sys
import time
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

REFERENCE_S = 0.085
"""What `reference` takes on the machine on which the bounds were set, in processor seconds."""


@dataclass(frozen=True)
class Cost:
    """Processor seconds and megabytes of a call, and what it came to (an exception by its kind and words)."""

    seconds: float
    megabytes: float
    outcome: str


def reference() -> float:
    """Processor seconds of a fixed piece of work: how fast this machine is at the moment."""
    begun = time.process_time()
    total = 0
    rows: list[dict[str, Any]] = [{"a": number, "b": str(number)} for number in range(1000)]
    for turn in range(600):
        total += sum(row["a"] for row in rows if len(row["b"]) > turn % 3)
    return time.process_time() - begun


def slower() -> float:
    """How many times slower than the reference machine this one is; never less than one."""
    return max(1.0, min(reference() for _ in range(2)) / REFERENCE_S)


TRIES = 3
"""How often a call is measured before it counts as too dear: what else runs on the machine takes its share of caches."""


def within(call: Callable[[], Any], seconds: float) -> Cost:
    """The cost of a call, its seconds as on the reference machine: the first try within the bound, or the least."""
    costs = []
    for _ in range(TRIES):
        before = slower()
        cost = cost_of(call)
        costs.append(replace(cost, seconds=cost.seconds / max(before, slower())))
        if costs[-1].seconds <= seconds:
            break
    return min(costs, key=lambda cost: cost.seconds)


def cost_of(call: Callable[[], Any]) -> Cost:
    """Run a call in a fork of this process and measure it."""
    reading, writing = os.pipe()
    child = os.fork()
    if child == 0:
        os.close(reading)
        before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
        begun = time.process_time()
        try:
            outcome = f"fine: {call()!r:.80}"
        except Exception as error:  # noqa: BLE001
            outcome = f"{type(error).__name__}: {error}"
        spent = time.process_time() - begun
        grown = (resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before) / 1024
        with os.fdopen(writing, "wb") as out:
            pickle.dump(Cost(spent, grown, outcome), out)
        sys.stdout.flush()
        os._exit(0)
    os.close(writing)
    with os.fdopen(reading, "rb") as found:
        told: Cost = pickle.load(found)
    os.waitpid(child, 0)
    return told
