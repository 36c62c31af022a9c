"""Every scheme is a builder, and its line in the notebook says exactly what the builder builds."""

from __future__ import annotations

import building
import pytest
from oaken.domain.catalogue import catalogue
from oaken.domain.prescription import Load, LoadChange, MachineSetting, Segment, SetRun, Tempo
from oaken.domain.prescription.schemes import ramp
from oaken.plan import Slot
from oaken.plan.notation import line_of, read_slot

KNOWN = catalogue()


def best(percent: float) -> Load:
    """A share of the best."""
    return Load(share_of_best=percent / 100)


STEP_DOWN = LoadChange(steps=-2)
LESS = LoadChange(percent=-20)

BUILT: list[tuple[str, list[SetRun]]] = [
    ("leg press 4 x 12, 3-1-1, rest 60", building.straight_sets(4, Segment(reps=12, tempo=Tempo(3, 1, 1)), 60)),
    ("leg press 3 x 15-20, @50%", building.straight_sets(3, Segment(reps=15, reps_to=20, load=best(50)))),
    ("wall sit 3 x 40 s, rest 30", building.straight_sets(3, Segment(seconds=40), 30)),
    ("short run 4 x 100 m, rest 90", building.straight_sets(4, Segment(metres=100), 90)),
    (
        "leg press 8/6/4/2, @70/75/80/85%, rest 120",
        building.pyramid([8, 6, 4, 2], [best(p) for p in (70, 75, 80, 85)], 120),
    ),
    ("leg press 10/20/30/40, @60/50/40/30%", building.pyramid([10, 20, 30, 40], [best(p) for p in (60, 50, 40, 30)])),
    ("leg press 10/8/8, @60%", building.pyramid([10, 8, 8], [best(60)])),
    ("leg press ramp 6-7 x 6, add 1 step, @40%, rest 60", ramp(6, 6, LoadChange(steps=1), best(40), 7, 60)),
    ("leg press ramp 5 x 6, add 5 kg, @40%", ramp(5, 6, LoadChange(kg=5), best(40))),
    (
        "leg press 2 x 10 then 10 + max~8 drop 20%, @70%",
        building.drop_sets(3, Segment(reps=10, load=best(70)), 1, LESS, 8),
    ),
    (
        "leg press 10 then 2 x (10 + max~8 drop 20%), @70%",
        building.drop_sets(3, Segment(reps=10, load=best(70)), 1, LESS, 8, on="last two"),
    ),
    (
        "leg press 3 x (10 + 8 drop 2 steps + 8 drop 2 steps), @70%, rest 90",
        building.drop_sets(
            3, Segment(reps=10, load=best(70)), 2, STEP_DOWN, 8, to_failure=False, on="every", rest_s=90
        ),
    ),
    ("hack squat max~8 + 7, @75%, pause 8", building.with_pauses(1, [8, 7], 8, best(75), to_failure_first=True)),
    (
        "leg press 3 x (7 + 7 + 7), @65%, pause 10, rest 120",
        building.with_pauses(3, [7, 7, 7], 10, best(65), rest_s=120),
    ),
    (
        "leg press 2 x 10 2-0-1 then 10 4-0-2, @60%",
        building.tempo_by_set([Tempo(2, 0, 1), Tempo(2, 0, 1), Tempo(4, 0, 2)], 10, best(60)),
    ),
    ("hip thrust 3 x 15, @60%, held 2", building.straight_sets(3, Segment(reps=15, held_s=2, load=best(60)))),
    (
        "leg extension 3 x (12 + hold max~15 s), @50%, rest 60",
        building.last_rep_held(3, Segment(reps=12, load=best(50)), 15, 60),
    ),
    ("hip thrust 3 x (10 held 2 + 10)", building.mixed(3, [Segment(reps=10, held_s=2), Segment(reps=10)])),
    ("leg press 2 x (10 partial + 10)", building.mixed(2, [Segment(reps=10, partial=True), Segment(reps=10)])),
    (
        "standing calf raise 5 toes in + 5 toes out + 5 toes ahead",
        building.mixed(1, [Segment(reps=5, stance=way) for way in ("toes in", "toes out", "toes ahead")]),
    ),
    ("goblet squat max~12/9/6, @16 kg", building.as_many_as_possible([12, 9, 6], Load(load_kg=16))),
    (
        "bike 8 x (30 s 220 W + 30 s 90 W)",
        building.intervals(8, 30, MachineSetting(power_w=220), 30, MachineSetting(power_w=90)),
    ),
    (
        "leg press 3 x 10, rest 60/90/120",
        building.with_rests(building.straight_sets(3, Segment(reps=10)), [60, 90, 120]),
    ),
    ("reverse lunge 3 x 20, in all", building.on_sides(building.straight_sets(3, Segment(reps=20)), "in_all")),
]


@pytest.mark.parametrize(("line", "built"), BUILT, ids=[line for line, _ in BUILT])
def test_the_line_says_what_the_builder_builds(line: str, built: list[SetRun]) -> None:
    slot = read_slot(line, KNOWN)
    made = Slot(exercise=slot.exercise, sets=built)
    assert slot.sets == made.sets
    assert line_of(made, KNOWN) == line


def test_builders_refuse_what_does_not_add_up() -> None:
    with pytest.raises(ValueError, match="3 sets need one load or 3"):
        building.pyramid([8, 6, 4], [best(60), best(70)])
    with pytest.raises(ValueError, match="at most 40 sets"):
        Slot(
            exercise="leg-press",
            sets=[SetRun(times=30, segments=[Segment(reps=5)]), SetRun(times=11, segments=[Segment(reps=6)])],
        )


@pytest.mark.parametrize(
    ("line", "text"),
    [
        # ways in which a notebook may say the same, and how it is written back
        ("Leg Press 4x12, rest 1:30", "leg press 4 x 12, rest 90"),
        ("leg press 4 × 12 , rest 60 s", "leg press 4 x 12, rest 60"),
        ("leg press 12 then 12 then 12", "leg press 3 x 12"),
        ("leg press 3 x 10 @70% 3-0-1", "leg press 3 x 10, @70%, 3-0-1"),
        ("leg press 3 x 10, @70% 3-0-1 narrow", "leg press 3 x 10, @70%, 3-0-1, narrow"),
        ("leg press 7 pause 10 + 7 pause 10 + 7", "leg press 7 + 7 + 7, pause 10"),
        ("lying curls 3 x 10", "lying leg curl 3 x 10"),
        ("swings 3 x 15", "kettlebell swing 3 x 15"),
        ("reverse lunge 3 x 10", "reverse lunge 3 x 10, each side"),
        ("bike 1:30 min".replace(" min", ""), "bike 90 s"),
        ("bike 120 s", "bike 2 min"),
        ("bike 10 min, level 7", "bike 10 min, level 7"),
        ("stair climber 5 min, 24 steps/min step 20 cm", "stair climber 5 min, 24 steps/min step 20 cm"),
        ("leg press 3 x 10, rest 60/60/60", "leg press 3 x 10, rest 60"),
        ("leg press 3 x 10, @70/70/70%", "leg press 3 x 10, @70%"),
        ("leg press 10, rest 2 min", "leg press 10, rest 120"),
        ("leg press 3 x (12)", "leg press 3 x 12"),
        ("leg press 5 @80% then 5 add 5 kg then 5 add 5 kg", "leg press ramp 3 x 5, add 5 kg, @80%"),
    ],
)
def test_what_is_said_in_another_way_is_written_in_one(line: str, text: str) -> None:
    assert line_of(read_slot(line, KNOWN), KNOWN) == text
