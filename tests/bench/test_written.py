"""How many spoken names are read, and how long a first class takes to make."""

from __future__ import annotations

from typing import Any

from oaken.design.first_class import MANNERS, Wanted, first_class
from oaken.schedule.class_file.reading import load_class
from oaken.schedule.timeline.layout import block_length, laid_out
from places import ROOT
from showing import milliseconds, show
from spoken import score


def test_spoken_names() -> None:
    found = score()
    assert found.names >= 250
    missed = found.names - found.read - found.offered - len(found.wrong)
    show(f"spoken names neither read nor offered first, of {found.names}", 100 * missed / found.names, "%", 5)
    show("spoken names silently read as another exercise", len(found.wrong), "names", 0)


def test_first_class(benchmark: Any) -> None:
    file = load_class(ROOT / "examples" / "machine-pairs.json")
    people = file.participants

    def made() -> int:
        # as for somebody who has just opened the page: nothing is known from before
        for kept in (laid_out, block_length):
            kept.cache_clear()
        wanted = [
            Wanted.model_validate({"room": file.room.id, "people": [person.id for person in people], "manner": manner})
            for manner in MANNERS
        ]
        return sum(len(first_class(item, file.room_today, people, file.catalogue()).blocks) for item in wanted)

    blocks, median = milliseconds(benchmark, made, rounds=3)
    assert blocks == 3 * len(MANNERS)
    show("a first class for 12 people, mean of the four manners", median / len(MANNERS), "ms", 1500)
