"""`make bench`, the largest allowed inputs: seconds of a processor and megabytes above what was there."""

from __future__ import annotations

import pytest
from apart import cost_of
from largest import ALLOWED
from showing import show


@pytest.mark.parametrize("name", ALLOWED)
def test_the_largest_allowed(name: str) -> None:
    cost = cost_of(ALLOWED[name])
    assert cost.outcome.startswith("fine"), cost
    show(name, cost.seconds, "s", 2)
    show(f"{name}, memory", cost.megabytes, "MB", 150)
