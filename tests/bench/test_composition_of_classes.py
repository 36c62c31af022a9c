"""What generated strength classes are made of, by room and crowd: load, machines and waits, by the judge of the tests.

The goals are those of classes as they are really taught (common practice, no source)."""

from __future__ import annotations

import time
from statistics import median
from typing import NamedTuple

from class_judge import Judged, crowd_of, dumbbells_only, empty_file, judged, room_of
from oaken.design.generator import ClassRequest, generate
from showing import show


class Goal(NamedTuple):
    """Percent of exercises with load and on machines at least, and the longest wait in seconds."""

    loaded: float
    machines: float
    wait_s: float


ONE_OF_EACH: dict[tuple[str, int], Goal] = {
    ("pairs", 6): Goal(75, 60, 90), ("pairs", 8): Goal(75, 60, 90), ("stations", 6): Goal(75, 60, 0),
    ("stations", 8): Goal(75, 60, 0), ("pairs", 12): Goal(75, 50, 150), ("partners", 12): Goal(75, 50, 0),
    ("pairs", 16): Goal(70, 50, 180), ("partners", 16): Goal(70, 50, 0), ("partners", 24): Goal(70, 50, 0),
}  # fmt: skip
TWO_OF_EACH: dict[tuple[str, int], Goal] = {
    ("pairs", 8): Goal(85, 60, 120), ("stations", 8): Goal(85, 60, 0), ("pairs", 12): Goal(85, 60, 120),
    ("partners", 16): Goal(75, 40, 0), ("pairs", 16): Goal(75, 40, 210), ("mixed", 16): Goal(75, 40, 120),
    ("pairs", 24): Goal(75, 40, 210), ("partners", 24): Goal(75, 40, 0),
}  # fmt: skip
DUMBBELLS: dict[tuple[str, int], Goal] = {("pairs", 8): Goal(65, 0, 135), ("stations", 8): Goal(65, 0, 0)}


def test_strength_classes_by_room_and_crowd() -> None:
    took: list[float] = []
    found: list[Judged] = []
    for name, room, goals in (
        ("one of each", room_of(1), ONE_OF_EACH),
        ("two of each", room_of(2), TWO_OF_EACH),
        ("dumbbells only", dumbbells_only(), DUMBBELLS),
    ):
        for (manner, many), goal in goals.items():
            file = empty_file(room, crowd_of(many))
            request = ClassRequest.model_validate(
                {"room": "room", "people": file.plan.people, "slot_min": 60, "aim": "strength", "manner": manner}
            )
            began = time.process_time()
            generated = generate(request, file).generated
            took.append(time.process_time() - began)
            assert generated is not None
            one = judged(file, generated.plan)
            found.append(one)
            cell = f"{name}, {many} people, {manner}"
            show(f"{cell}: load missing of {goal.loaded} %", max(0.0, goal.loaded - 100 * one.loaded), "points", 0)
            show(
                f"{cell}: machines missing of {goal.machines} %",
                max(0.0, goal.machines - 100 * one.on_machine),
                "points",
                0,
            )
            show(f"{cell}: longest wait", one.wait_s, "s", goal.wait_s)
    show(
        "strength classes in which unloaded sets have 8 repetitions or fewer",
        sum(item.unloaded_few > 0 for item in found),
        "",
        0,
    )
    show("chance to end inside below 80 %", sum(item.chance < 80 for item in found), f"of {len(found)}", 1)
    show("idle share of the main part, the largest", 100 * max(item.idle for item in found), "%", 5)
    show("heads of groups inverted, the largest", 100 * max(item.heads_inverted for item in found), "%", 10)
    show(
        "people without a loaded main lift, the largest share",
        100 * max(1 - item.with_main_lift for item in found),
        "%",
        5,
    )
    show("CPU of a generated class, median", median(took), "s", 3)
    show("CPU of a generated class, slowest", max(took), "s", 12)
