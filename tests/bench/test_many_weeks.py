"""How well the line through the sessions does on simulated histories, and how long it takes."""

from __future__ import annotations

from collections.abc import Iterable

from logbooks import KINDS, START, simulated
from oaken.programme.progress import gain_since, series_of
from showing import show

SEEDS = range(120)


def held(ended: str) -> float:
    """The share of ranges, in per cent, that hold the true best, over all kinds of history, at three moments each."""
    found = []
    for kind in KINDS:
        for seed in SEEDS:
            history = simulated(kind, seed, ended=ended)
            for place in (7, 15, 23):
                best = series_of(each_set for each_set in history.sets if each_set.run <= place).best()
                assert best is not None
                found.append(best.low <= history.truth[place] <= best.high)
    return 100 * sum(found) / len(found)


def called_better(kinds: Iterable[str], a_week: int) -> float:
    """The share of histories, in per cent, that are called better since their first session."""
    found = []
    for kind in kinds:
        for seed in SEEDS:
            gain = gain_since(series_of(simulated(kind, seed, a_week=a_week).sets), START)
            assert gain is not None
            found.append(gain.verdict == "better")
    return 100 * sum(found) / len(found)


def test_ranges_and_alarms() -> None:
    kept = {ended: held(ended) for ended in ("failed", "last open", "left", "stopped")}
    false, true = called_better(["level"], 3), called_better(["steady", "fast, then level"], 3)
    for ended in ("failed", "last open", "left"):
        show(f"80 % ranges that hold the true best (goal ≥ 75 %), sets {ended}", kept[ended], "%", 85)
    show(
        "80 % ranges that hold the true best where sets were stopped as planned, told as at least",
        kept["stopped"],
        "%",
        100,
    )
    show("histories without any gain that are called better", false, "%", 8)
    show("gains of 6 % in 12 weeks of three classes that are not found", 100 - true, "%", 10)
    assert all(75 <= kept[ended] <= 85 for ended in ("failed", "last open", "left"))
    assert false <= 8
    assert true >= 90
