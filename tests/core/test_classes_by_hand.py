"""Classes built in every way the notebook knows: they are read, timed to hand-computed seconds, and written back.

One person, machines beside one another (no walk). Set-up and load-change seconds of the catalogue's equipment: leg press
and hack squat 10/20, leg curl and extension 8/5, hip thrust 12/20, calf 6/5, squat rack 10/25, abductor 8/5, kettlebell
5/5, bike and treadmill 10/3, bench and mat 4/0, floor 3/0. The rest behind the last set is not part of the class.
"""

from __future__ import annotations

import pytest
from making import LIFTS, person
from oaken.domain.catalogue import catalogue
from oaken.forecast import forecast
from oaken.plan.notation import read_class, text_of
from oaken.schedule.class_file import ClassFile
from oaken.schedule.class_file import read_class as read_file

KNOWN = catalogue()
HEAD = "class By hand\nslot 60 min\nroom room\npeople p1"
KINDS = [kind for kind in KNOWN.equipment if kind != "none"]
ROOM = {"id": "room", "name": "Room", "units": [{"id": kind, "kind": kind, "name": kind} for kind in KINDS]}
BESTS = {lift: 100 for lift in [*LIFTS, "hack-squat", "back-squat"]}
SETS = "block Work: sets, then 30"

BY_HAND = {
    # set-up 10 + 4 × 12 reps × 5 s + 3 rests × 60
    "straight sets": (SETS, ["leg press 4 x 12, 3-1-1, rest 60"], 10 + 4 * 60 + 180),
    # set-up 8, load 5, 17.5 reps expected × 3 s
    "rep range": (SETS, ["leg extension 3 x 15-20, @50%, rest 45"], 8 + 5 + 3 * 52.5 + 90),
    # another load before each of four sets
    "rising load": (SETS, ["leg press 8/6/4/2, @70/75/80/85%, rest 120"], 10 + 4 * 20 + 20 * 3 + 360),
    "falling load": (SETS, ["lying leg curl 10/20/30/40, @60/50/40/30%, rest 60"], 8 + 4 * 5 + 100 * 3 + 180),
    # the seventh set is expected, and left out of the shortest outlook
    "ramp": (SETS, ["leg press ramp 6-7 x 6, add 1 step, @40%, rest 60"], 10 + 7 * 20 + 7 * 18 + 360),
    # one pin moved within the last set
    "single drop": (SETS, ["leg extension 2 x 12 then 12 + max~8 drop 20%, @60%, rest 60"], 13 + 36 * 3 + 5 + 24 + 120),
    # two pins within each set, one back up before the second and the third
    "double drop": (
        SETS,
        ["lying leg curl 3 x (10 + max~8 drop 2 steps + max~6 drop 2 steps), @65%, rest 90"],
        8 + 3 * 5 + 3 * 10 + 3 * 72 + 180,
    ),
    "rest-pause": (SETS, ["hack squat max~8 + 7, @75%, pause 8, rest 120"], 10 + 20 + 24 + 8 + 21),
    "cluster": (SETS, ["back squat 3 x (7 + 7 + 7), @65%, pause 10, rest 120"], 10 + 25 + 3 * (63 + 20) + 240),
    "tempo per set": (SETS, ["hip thrust 2 x 10 2-0-1-1 then 10 4-0-2, @60%, rest 60"], 32 + 2 * 40 + 60 + 120),
    "pause per rep": (SETS, ["standing calf raise 3 x 15, @60%, held 2, rest 30"], 11 + 3 * 15 * 5 + 60),
    "last rep held": (SETS, ["leg extension 3 x (12 + hold max~15 s), @50%, rest 60"], 13 + 3 * (36 + 15) + 120),
    "with a hold, then plain": (SETS, ["hip thrust 3 x (10 held 2 + 10), @60%, rest 60"], 32 + 3 * (60 + 40) + 120),
    "partial, then full": (SETS, ["leg press 3 x (10 partial + 10), @60%, rest 60"], 30 + 3 * (15 + 30) + 120),
    "foot positions": (
        SETS,
        ["standing calf raise 3 x (5 toes in + 5 toes out + 5 toes ahead), @60%, rest 30"],
        11 + 3 * 45 + 60,
    ),
    "narrow, then wide": (SETS, ["leg press 2 x (10 narrow + 10 wide), @60%, rest 60"], 30 + 2 * 60 + 60),
    "as many as possible": (SETS, ["goblet squat max~12/9/6, @16 kg, rest 60"], 10 + 27 * 3 + 120),
    "timed hold": (SETS, ["wall sit 3 x 40 s, rest 30"], 3 + 120 + 60),
    # 8 × 3 s on each side and 5 s to change
    "each side": (SETS, ["rear-foot split squat 3 x 8, each side, rest 45"], 4 + 3 * (48 + 5) + 90),
    "in all": (SETS, ["walking lunge 3 x 20, in all, rest 45"], 3 + 3 * 60 + 90),
    # 90 m at 3 m/s
    "distance": (SETS, ["short run 4 x 90 m, rest 90 doing easy walk"], 3 + 4 * 30 + 270),
    "machine work": (SETS, ["treadmill walk 10 min, 5.5 km/h incline 8%"], 10 + 600),
    # 300 m at 9 km/h are 120 s
    "distance at a speed": (SETS, ["treadmill run 300 m, 9 km/h"], 10 + 120),
    "intervals": (SETS, ["bike 8 x (30 s 220 W + 30 s 90 W)"], 10 + 480),
    "per-round rest": (SETS, ["leg press 3 x 10, @70%, rest 60/90/120"], 30 + 3 * 30 + 60 + 90),
    "warm-up sets": (SETS, ["leg press 2 x 12, @30%, rest 30"], 30 + 2 * 36 + 30),
    # one unit: set up once, no walk, one load
    "same-unit superset": (
        SETS,
        ["hip abduction 3 x 15, @40 kg", "+ hip adduction 3 x 15, @40 kg, rest 45"],
        8 + 5 + 3 * 90 + 90,
    ),
    "superset": (SETS, ["leg extension 3 x 12, @60%", "+ lying leg curl 3 x 12, @60%, rest 60"], 26 + 3 * 72 + 120),
    "tri-set": (
        SETS,
        ["leg press 3 x 12, @60%", "+ goblet squat 3 x 10, @16 kg", "+ plank 3 x 30 s, rest 90"],
        30 + 10 + 4 + 3 * (36 + 30 + 30) + 180,
    ),
    # the floor is settled on anew each round
    "giant set": (
        SETS,
        ["leg press 2 x 10", "+ leg extension 2 x 10", "+ lying leg curl 2 x 10", "+ wall sit 2 x 20 s, rest 60"],
        10 + 8 + 8 + 2 * 3 + 2 * (90 + 20) + 60,
    ),
    # press and curl in turn: both stay set up
    "whole circuit, then again": (
        "block Work: sets, whole circuit, in order, then 30",
        ["leg press 2 x 10, rest 30", "lying leg curl 2 x 10, rest 30"],
        10 + 8 + 4 * 30 + 3 * 30,
    ),
    "back and forth": (SETS, ["leg press 2 x 10, rest 30", "lying leg curl 2 x 10, rest 30"], 18 + 4 * 30 + 3 * 30),
    # R·S·w + (R·S − 1)·c with ten stations: 1335 s
    "stations": (
        "block Work: stations 30/15, 3 rounds, then 30",
        [
            "leg press",
            "lying leg curl",
            "leg extension",
            "hip thrust",
            "standing calf raise",
            "bike",
            "plank",
            "step-up",
            "goblet squat",
            "wall sit",
        ],
        1335,
    ),
    "stations with round rest": (
        "block Work: stations 40/20, 2 rounds, round rest 90, then 30",
        ["leg press @50%", "plank", "step-up"],
        6 * 40 + 4 * 20 + 90,
    ),
    "you go, I go": ("block Work: stations 60/20, 2 rounds, turn 15, then 30", ["step-up", "plank"], 4 * 60 + 3 * 20),
    # 8 turns of 12 × 1.7 s, seven tags
    "tag relay": (
        "block Work: relay of 2, tag 3, for finisher, then 30",
        ["kettlebell swing 8 turns of 12 @16 kg"],
        8 * 20.4 + 7 * 3,
    ),
    "finisher": (
        "block Work: sets, for finisher, then 30",
        ["bike 3 x 60 s, 180 W", "+ jump lunge 3 x 20, in all, rest 120"],
        # bike set up once, the floor anew each round; 20 × 1.4 s, the sides in turn
        10 + 3 * 3 + 3 * (60 + 28) + 240,
    ),
    "warm-up together": (
        "block Work: together, for warm-up, then 30",
        ["brisk marching on the spot 4 min", "leg swings 20 s, each side", "bodyweight squat 12, 2-0-1"],
        240 + 45 + 36,
    ),
    "activation": (
        "block Work: together, for activation, then 30",
        ["bird dog 5 x 10 s, each side", "glute bridge 12, held 2"],
        4 + 5 * 25 + 12 * 5,
    ),
    "rolling": ("block Work: together, for rolling, then 30", ["roll the calves 30 s, each side"], 4 + 65),
    # warm-up sets and work sets with loads and rests of their own: two load changes, 12.5 and 7 reps expected
    "warm-up, then work": (
        SETS,
        ["leg press 2 x 10-15, @30%, rest 60 then 4 x 6-8, @78%, rest 120"],
        10 + 2 * 20 + 25 * 3 + 28 * 3 + 2 * 60 + 3 * 120,
    ),
    "three or four sets": (SETS, ["hip thrust 3-4 x 10, @60%, rest 60"], 32 + 4 * 40 + 180),
    "a range of rests": (SETS, ["leg press 3 x 10, @70%, rest 60-120"], 30 + 90 + 2 * 90),
    "so many left": (SETS, ["leg press 3 x 8, @2 left, rest 90"], 30 + 72 + 180),
    "repetition maximum": (SETS, ["back squat 3 x 5, @5RM, rest 120"], 35 + 45 + 240),
    "effort to ten": (SETS, ["leg press 3 x 10, @effort 8/10, rest 60"], 30 + 90 + 120),
    "effort to twenty": (SETS, ["bike 5 min, @effort 13/20"], 10 + 300),
    "until a heart rate": (SETS, ["bike 5-10 min until 105 bpm"], 10 + 450),
    "rest until talking": (SETS, ["leg press 3 x 10, @70%, rest 60-180 until you can talk"], 30 + 90 + 240),
    "plates a side": (SETS, ["hack squat 3 x 10, @20 kg a side, rest 90"], 30 + 90 + 180),
    "helped repetitions": (SETS, ["leg press 3 x (8 + 3 helped), @80%, rest 120"], 30 + 99 + 240),
    # whoever helps with 30 s of work rests no less, whatever is planned
    "with a helper": (SETS, ["back squat 3 x 10, @70%, with helper, rest 15"], 35 + 90 + 60),
    "a part if able": (SETS, ["hip thrust 3 x (10 + 5 if able), @60%, rest 60"], 32 + 180 + 120),
    # 10 × (0.75 × 3 s)
    "half and whole in turn": (SETS, ["leg press 3 x 10, @50%, partial and full, rest 60"], 30 + 67.5 + 120),
    "positions together": (SETS, ["leg press 3 x 12, @60%, narrow, feet low, rest 60"], 30 + 108 + 120),
    "a note": (SETS, ['back squat 3 x 5, @80%, rest 150, "pins at hip height"'], 35 + 45 + 300),
    "this or that": (
        SETS,
        ["hack squat 3 x 10, @60%, rest 90", "  or leg press 3 x 12, @60%, rest 60"],
        30 + 90 + 180,
    ),
    "another dose for one": (
        SETS,
        ["leg press 4 x 8, @75%, rest 90", "  or 2 x 15, @50%, rest 90 for p1"],
        30 + 90 + 90,
    ),
    "only after the last": (
        SETS,
        ["leg press 3 x 10, @70%, rest 60", "+ bodyweight squat 20, 2-0-1, after the last"],
        30 + 90 + 180 + 3 + 60,
    ),
    "writing it down": ("block Work: sets, log 20, then 30", ["leg press 3 x 10, @70%, rest 15"], 30 + 90 + 40),
    "plates back": (
        "block Work: sets, plates back 30, then 30",
        ["leg press 3 x 10, @70%, rest 60"],
        30 + 90 + 120 + 30,
    ),
    "talk, water, tidy-up": (
        "block Work: together, for tidy-up, then 30",
        ["talk 2 min", "water break 60 s", "tidy-up 3 min"],
        360,
    ),
}


def written(name: str) -> str:
    head, lines, _ = BY_HAND[name]
    return "\n".join([HEAD, "", head, *lines, ""])


def made(name: str) -> ClassFile:
    plan = read_class(written(name), KNOWN)
    who = person(bests_kg=BESTS)
    document = {"format": "oaken-class/2", "plan": plan.model_dump(mode="json"), "room": ROOM, "people": [who]}
    return read_file(document)


@pytest.mark.parametrize("name", BY_HAND)
def test_a_class_is_read_timed_and_written_back(name: str) -> None:
    file = made(name)
    assert text_of(file.plan, KNOWN) == written(name)
    result = forecast(file)
    assert result.length.value == pytest.approx(BY_HAND[name][2], abs=0.06)
    assert result.length.low <= result.length.value <= result.length.high
    assert result.figures.energy.value > 0
    (block,) = result.blocks
    assert (block.start_s, block.end_s) == (0, pytest.approx(result.length.value, abs=0.06))
    assert block.shortest_s <= block.end_s <= block.longest_s


def test_the_outlooks_of_a_ramp_differ_by_pace_and_by_the_set_for_the_able() -> None:
    length = forecast(made("ramp")).length
    # shortest: six sets, five rests; everything off the clock 12 % quicker
    assert length.low == pytest.approx((10 + 6 * 20 + 6 * 18) * 0.88 + 300)
    assert length.high == pytest.approx((10 + 7 * 20 + 7 * 18) * 1.12 + 360)


def test_everything_around_the_work_is_counted_where_it_happens() -> None:
    result = forecast(made("double drop"))
    (slot,) = result.slots
    assert slot.line == BY_HAND["double drop"][1][0]
    assert (slot.seconds.set_up, slot.seconds.load_change, slot.seconds.work) == (8, 45, 216)
    overheads = result.overheads
    assert (overheads.set_up.value, overheads.load_change.value, overheads.walking.value) == (8, 45, 0)
    assert forecast(made("each side")).overheads.change_of_side.value == 15


def test_the_chance_of_ending_inside_follows_the_slot() -> None:
    file = made("straight sets")  # 430 s expected

    def chance(minutes: int) -> float:
        plan = file.plan.model_copy(update={"slot_min": minutes})
        return forecast(file.model_copy(update={"plan": plan})).chance_inside.value

    assert chance(60) == 99
    assert chance(5) == 1
    # 420 s: the middle is 10 s over, the lower end 30 s under (pace 0.88 of 250 s); 10 ÷ (30 ÷ 1.645) = 0.55 deviations
    assert chance(7) == pytest.approx(29, abs=1)


def test_a_machine_setting_is_the_demand_and_an_active_rest_is_more_than_standing() -> None:
    easy, hard = (
        forecast(read_line(f"treadmill walk 10 min, 4 km/h incline {grade}%")).figures.energy.value for grade in (1, 9)
    )
    # walking 66.67 m/min: (10.17 + 120·G) mL/kg/min; at 75 kg over 600 s, and 10 s of set-up
    assert hard - easy == pytest.approx(1.8 * 66.67 * 0.08 / 3.5 * 3.5 * 75 / 200 * 10, rel=0.01)
    still, walked = (
        forecast(read_line(f"short run 4 x 90 m, rest 90{doing}")).figures.energy.value
        for doing in ("", " doing easy walk")
    )
    assert walked > still


def read_line(line: str) -> ClassFile:
    BY_HAND["a line"] = (SETS, [line], 0)
    try:
        return made("a line")
    finally:
        del BY_HAND["a line"]
