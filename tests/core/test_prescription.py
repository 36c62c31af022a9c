"""A set is a list of segments: what each counts and how long it lasts, against hand-computed seconds."""

from typing import Any

import building
import pytest
from oaken.domain.catalogue import catalogue
from oaken.domain.prescription import Load, LoadChange, Segment, SetRun, Tempo, each_set, merged
from oaken.domain.prescription.schemes import ramp, reshaped
from oaken.schedule.timeline import Outlook, slot_time
from oaken.schedule.timeline.bouts import LoadPath, bout_of, bouts_of

PRESS, LUNGE, SIT, RUN, WALKING = (
    catalogue().exercises[name] for name in ("leg-press", "reverse-lunge", "wall-sit", "short-run", "walking-lunge")
)


@pytest.mark.parametrize(
    ("fields", "exercise", "seconds", "reps"),
    [
        # 10 reps of 3-0-1: 10 × 4 s
        ({"reps": 10, "tempo": Tempo(3, 0, 1)}, PRESS, 40, 10),
        # 8 a side of 2-0-1 with 5 s to change sides: 2 × 24 + 5
        ({"reps": 8, "tempo": Tempo(2, 0, 1)}, LUNGE, 53, 16),
        # 20 in all, the sides in turn: 60, and no change of side; nor where an exercise alternates by itself
        ({"reps": 20, "tempo": Tempo(2, 0, 1), "sides": "in_all"}, LUNGE, 60, 20),
        ({"reps": 10, "tempo": Tempo(2, 0, 1), "sides": "each_side"}, WALKING, 60, 20),
        # every second repetition half the way: 10 × (0.75 × 3 s)
        ({"reps": 10, "alternating": True}, PRESS, 22.5, 10),
        # 4 to 6 min: 5 expected
        ({"seconds": 240, "seconds_to": 360}, SIT, 300, 0),
        # 40 s on the clock at 3 s a rep: 13 whole reps
        ({"seconds": 40}, PRESS, 40, 13),
        # 30 s held each side, with the change between
        ({"seconds": 30, "hold": True}, LUNGE, 65, 0),
        # 40 s in all: the change of side is within them
        ({"seconds": 40, "sides": "in_all"}, LUNGE, 40, 13),
        # 10 reps of 2-0-1, each held for 2 s: 10 × 5 s
        ({"reps": 10, "held_s": 2}, PRESS, 50, 10),
        # partial repetitions go half the way: 10 × 1.5 s
        ({"reps": 10, "partial": True}, PRESS, 15, 10),
        # 15 to 20: 17.5 expected, × 3 s
        ({"reps": 15, "reps_to": 20}, PRESS, 52.5, 17.5),
        # 90 m at 3 m/s
        ({"metres": 90}, RUN, 30, 37),
        ({"seconds": 40}, SIT, 40, 0),
    ],
)
def test_segment_counts_time_and_repetitions(fields: Any, exercise: Any, seconds: float, reps: float) -> None:
    done = bout_of(Segment(**fields), exercise, LoadPath(), Outlook.EXPECTED)
    assert done.work_s == pytest.approx(seconds)
    if exercise is not RUN:
        assert done.reps == reps


def test_shortest_and_longest_follow_pace_ranges_and_failure() -> None:
    spans = [
        [bout_of(segment, PRESS, LoadPath(), outlook).work_s for outlook in Outlook]
        for segment in (
            Segment(reps=10),
            Segment(reps=15, reps_to=20),
            Segment(reps=10, to_failure=True),
            Segment(seconds=40),
            Segment(seconds=20, hold=True, to_failure=True),
        )
    ]
    # Outlook order: shortest, expected, longest; pace 0.88, 1, 1.12; failure 20 % either way
    assert spans == [
        pytest.approx([26.4, 30, 33.6]),
        pytest.approx([45 * 0.88, 52.5, 60 * 1.12]),
        pytest.approx([24 * 0.88, 30, 36 * 1.12]),
        [40, 40, 40],
        pytest.approx([16, 20, 24]),
    ]


@pytest.mark.parametrize(
    ("fields", "words"),
    [
        ({"reps": 5, "seconds": 30}, "exactly one"),
        ({}, "exactly one"),
        ({"reps": 8, "reps_to": 8}, "upper end"),
        ({"reps": 8, "hold": True}, "given in seconds"),
        ({"seconds": 8, "seconds_to": 8}, "upper end"),
        ({"reps": 8, "until": {"bpm": 105}}, "how many seconds"),
        ({"reps": 8, "partial": True, "alternating": True}, "not both"),
        ({"reps": 8, "stance": ["wide", "wide"]}, "said once"),
        ({"reps": 8, "load": Load(load_kg=5), "change": LoadChange(steps=1)}, "not both"),
    ],
)
def test_a_segment_that_contradicts_itself_is_refused(fields: dict[str, Any], words: str) -> None:
    with pytest.raises(ValueError, match=words):
        Segment(**fields)


def test_loads_and_their_changes() -> None:
    assert Load(share_of_best=0.5).kg(120) == 60
    assert Load(share_of_best=0.5).kg(None) is None
    assert Load(load_kg=60).share(120) == 0.5
    assert Load(load_kg=60).kg(None) == 60
    with pytest.raises(ValueError, match="one way"):
        Load(share_of_best=0.5, load_kg=60)
    with pytest.raises(ValueError, match="not zero"):
        LoadChange(percent=0)
    kind = catalogue().equipment["leg-press"]  # plates, 5 kg a step
    runs = building.drop_sets(3, Segment(reps=10, load=Load(load_kg=100)), 2, LoadChange(percent=-20), 8, on="last two")
    kilos = [
        [round(bout.loads.kg(None) or 0, 1) for bout in done.bouts]
        for done in bouts_of(runs, PRESS, kind, Outlook.EXPECTED)
    ]
    assert kilos == [[100], [100, 80, 64], [100, 80, 64]]
    climbing = ramp(3, 6, LoadChange(steps=1), Load(load_kg=40), at_most=4)
    openings = [done.bouts[0].loads.kg(None) for done in bouts_of(climbing, PRESS, kind, Outlook.EXPECTED)]
    assert openings == [40, 45, 50, 55]
    assert len(bouts_of(climbing, PRESS, kind, Outlook.SHORTEST)) == 3


def test_equal_neighbours_are_written_once() -> None:
    plain = SetRun(segments=[Segment(reps=10)], rest_s=30)
    assert merged([plain, plain, plain]) == [plain.model_copy(update={"times": 3})]
    assert each_set(merged([plain, plain])) == [plain, plain]
    other = SetRun(segments=[Segment(reps=8)], rest_s=30)
    assert merged([plain, other, plain]) == [plain, other, plain]
    assert reshaped([plain, other], 4) == [plain, other.model_copy(update={"times": 3})]
    with pytest.raises(ValueError, match="rest_s"):
        SetRun(segments=[Segment(reps=10, pause_after_s=5)])


def test_a_slot_counts_everything_around_the_work() -> None:
    # leg press: set-up 10 s, load change 20 s; 2 sets: 10 at 3 s, drop (20 s), 8 at 3 s; 60 s rest after each
    runs = building.drop_sets(
        2, Segment(reps=10, load=Load(load_kg=80)), 1, LoadChange(steps=-2), 8, on="every", rest_s=60
    )
    time = slot_time(runs, PRESS, catalogue().equipment["leg-press"], Outlook.EXPECTED)
    # load changes: one to begin with, one drop in each set, one back up between the sets
    assert (time.work_s, time.set_up_s, time.load_change_s, time.rest_s) == (108, 10, 4 * 20, 120)
    assert time.total_s == 108 + 10 + 80 + 120
