"""A class asked for in a few words: what is understood is put in, what is not is told and changes nothing."""

from __future__ import annotations

import pytest
from oaken.design.generator import ClassRequest, read_request
from oaken.domain.catalogue import catalogue

BEGUN = ClassRequest(room="room", people=[f"p{at}" for at in range(14)])


@pytest.mark.parametrize(
    ("text", "fields"),
    [
        ("back day, 14, 45 min, no jumps", {"day": "back", "slot_min": 45}),
        ("heavy front day for 12 people, 1 h, pairs", {"day": "front", "aim": "strength", "slot_min": 60, "manner": "pairs"}),
        ("stations for beginners, 50 minutes", {"manner": "stations", "level": "beginner", "slot_min": 50}),
        ("Conditioning, 30'", {"aim": "conditioning", "slot_min": 30}),
        ("1.5 h, supersets, advanced", {"slot_min": 90, "manner": "pairs", "level": "advanced"}),
    ],
)  # fmt: skip
def test_what_is_said_is_put_in(text: str, fields: dict[str, object]) -> None:
    asked = read_request(text, BEGUN, catalogue())
    assert asked.unread == []
    assert {name: getattr(asked.class_request, name) for name in fields} == fields


def test_people_are_counted_off_the_list() -> None:
    assert len(read_request("12", BEGUN, catalogue()).class_request.people) == 12
    asked = read_request("20 people", BEGUN, catalogue())
    assert asked.unread == ["“20 people”: the list has 14 people"]
    assert asked.class_request == BEGUN


def test_what_is_left_out_and_what_stays() -> None:
    asked = read_request(
        "no jumps, without kettlebells, no lunges, no wall sit, keep leg press, more calves", BEGUN, catalogue()
    )
    out = asked.class_request.leave_out
    assert (out.tags, out.equipment, out.patterns, out.exercises) == (
        ("impact",), ("kettlebell",), ("lunge",), ("wall-sit",),
    )  # fmt: skip
    assert asked.class_request.pinned == ("leg-press",)
    assert asked.class_request.accents == ("calves",)


@pytest.mark.parametrize("text", ["blue moon", "no such thing", "more elbows", "300 min", "3 min"])
def test_what_is_not_understood_is_told_and_changes_nothing(text: str) -> None:
    asked = read_request(text, BEGUN, catalogue())
    assert len(asked.unread) == 1
    assert asked.read == []
    assert asked.class_request == BEGUN


def test_anything_at_all_can_be_said() -> None:
    for text in ("", ",,,", "and and and", "9" * 400, "no ", "keep", "- - -", "ü" * 500):
        assert read_request(text, BEGUN, catalogue()).class_request == BEGUN
