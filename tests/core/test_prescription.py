"""A set is a list of segments: what each counts and how long it lasts, against hand-computed seconds."""

import pytest
from oaken.prescription import Load, Segment, Tempo, clocked_work, rounds_of, straight_sets


@pytest.mark.parametrize(
    ("segment", "seconds", "reps"),
    [
        # 10 reps of 3-0-1: 10 × 4 s
        (Segment(10, None, Tempo(3, 0, 1)), 40, 10),
        # 8 a side of 2-0-1 with 5 s to change sides: 2 × 24 + 5
        (Segment(8, None, Tempo(2, 0, 1), "each_side", 5), 53, 16),
        # 20 in all, shared by both sides, still with one change of side: 60 + 5
        (Segment(20, None, Tempo(2, 0, 1), "in_all", 5), 65, 20),
        # 40 s on the clock at 3 s a rep: 13 whole reps
        (Segment(None, 40, Tempo(2, 0, 1)), 40, 13),
        # 30 s held each side, with the change between
        (Segment(None, 30, Tempo(0, 0, 0, 1), "each_side", 5), 65, 60),
        # 40 s in all: the change of side is within them
        (Segment(None, 40, Tempo(0, 0, 0, 1), "in_all", 5), 40, 40),
    ],
)
def test_segment_counts_time_and_repetitions(segment: Segment, seconds: float, reps: int) -> None:
    assert segment.duration_s() == seconds
    assert segment.total_reps() == reps


def test_pace_stretches_repetitions_but_never_the_clock() -> None:
    assert Segment(10, None, Tempo(3, 0, 1)).duration_s(1.25) == 50
    assert Segment(None, 40, Tempo(3, 0, 1)).duration_s(1.25) == 40


@pytest.mark.parametrize("both", [{"reps": 5, "seconds": 30}, {"reps": None, "seconds": None}])
def test_a_segment_is_either_reps_or_seconds(both: dict[str, int | None]) -> None:
    with pytest.raises(ValueError, match="exactly one"):
        Segment(tempo=Tempo(2, 0, 1), **both)


def test_straight_sets_rest_after_every_set() -> None:
    made = straight_sets(4, Tempo(2, 0, 1), reps=8, rest_s=90, load=Load(load_kg=60))
    assert [(one.reps, one.pause_after_s) for (one,) in made] == [(8, 90)] * 4


def test_a_superset_rests_only_after_the_round() -> None:
    one, two = (straight_sets(1, Tempo(2, 0, 1), reps=reps)[0] for reps in (10, 12))
    rounds = rounds_of([one, two], rounds=3, rest_s=60)
    assert len(rounds) == 3
    assert [[work_set[-1].pause_after_s for work_set in in_turn] for in_turn in rounds] == [[0, 60]] * 3


def test_clocked_work_shares_its_seconds_between_the_sides() -> None:
    (segment,) = clocked_work(40, Tempo(1, 0, 1.5), one_sided=True)
    assert segment.sides == "in_all"
    assert segment.duration_s() == 40


def test_a_load_is_a_share_of_the_best_or_kilograms() -> None:
    assert Load(share_of_best=0.5).kg(120) == 60
    assert Load(share_of_best=0.5).kg(None) is None
    assert Load(load_kg=60).share(120) == 0.5
    assert Load(load_kg=60).kg(None) == 60
    with pytest.raises(ValueError, match="exactly one"):
        Load(share_of_best=0.5, load_kg=60)
