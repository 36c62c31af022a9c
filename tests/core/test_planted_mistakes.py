"""Good classes are left in peace, and a mistake that is planted in one of them is found.

Classes and mistakes are written by hand, as instructors write them (common practice, no source)."""

from __future__ import annotations

from typing import Any, NamedTuple

import pytest
from class_judge import crowd_of, room_of
from oaken.design.generator import Lately
from oaken.design.review import Advice, History, PastClass, advise
from oaken.domain.catalogue import catalogue
from oaken.domain.people import Person
from oaken.plan.notation import read_class
from oaken.schedule.class_file import ClassFile, check_class

KNOWN = catalogue()
WARM = """block Warm-up: together, for warm-up, then 30
easy walk 3 min
marching 2 min
leg swings 12
hip hinge drill 12
glute bridge 12
"""
COOL = """block Cool-down: together, for cool-down
easy walk 2 min
quadriceps stretch 30 s, each side
hamstring stretch 30 s, each side
"""
PAIRS = """block Pairs: sets, then 60
leg press 1 x 8, @50% then 3 x 7, @72%
+ lying leg curl 4 x 10, @2 left, rest 60
hip thrust 1 x 8, @50% then 3 x 7, @72%
+ leg extension 4 x 10, @2 left, rest 60
hack squat 4 x 8, @2 left
+ seated calf raise 4 x 12, @2 left, rest 60
"""
STATIONS = """block Stations: stations 40/40, 3 rounds, then 60
leg press @2 left
lying leg curl @2 left
goblet squat @2 left
hip thrust @2 left
plank
leg extension @2 left
seated calf raise @2 left
step-up
"""
FINISHER = """block Finisher: stations 30/20, 2 rounds, for conditioning, then 60
bodyweight squat
marching
glute bridge
high knees
shuttle run
jog on the spot
lateral band walk
floor calf raise
"""
GOOD = {
    "pairs": WARM + PAIRS + COOL,
    "stations": WARM + STATIONS + COOL,
    "pairs, then a finisher": WARM + PAIRS + FINISHER + COOL,
    "straight sets": WARM
    + """block Sets: sets, then 60
leg press 4 x 7, @72%, rest 75
hip thrust 4 x 8, @70%, rest 75
seated leg curl 3 x 10, @2 left, rest 60
standing calf raise 3 x 12, @2 left, rest 45
plank 3 x 30 s, rest 30
"""
    + COOL,
    "a falling scheme": WARM
    + """block Sets: sets, then 60
leg press 12/10/8/6, @60/65/70/75%, rest 75
+ standing calf raise 3 x 12, @2 left, rest 60
dumbbell romanian deadlift 3 x 8, @2 left
+ leg extension 3 x 12, @2 left, rest 60
goblet squat 3 x 10, @2 left
+ seated leg curl 3 x 12, @2 left, rest 60
"""
    + COOL,
    "dumbbells and the floor": WARM
    + """block Pairs: sets, then 60
goblet squat 4 x 10, @2 left
+ long-lever bridge 4 x 15, rest 60
dumbbell romanian deadlift 4 x 10, @2 left
+ plank 4 x 30 s, rest 60
"""
    + COOL,
    "a drop set last": WARM
    + """block Pairs: sets, then 60
hack squat 4 x 8, @2 left
+ lying leg curl 3 x 10 then 10 + max~6 drop 20%, @60%, rest 75
hip thrust 4 x 8, @70%
+ seated calf raise 4 x 12, @2 left, rest 75
goblet squat 4 x 8, @2 left
+ plank 4 x 30 s, rest 75
"""
    + COOL,
}


def a_class(text: str, aim: str = "strength", many: int = 6, **of_first: Any) -> ClassFile:
    room, people = room_of(2), crowd_of(many)
    if of_first:
        people[0] = Person.model_validate({**people[0].model_dump(), **of_first})
    head = f"class Legs\nslot 60 min\naim {aim}\nroom {room.id}\npeople {', '.join(person.id for person in people)}\n"
    plan = read_class(head + text, KNOWN)
    return check_class(ClassFile(format="oaken-class/2", plan=plan, room=room, people=people))


def to_change(file: ClassFile, history: History | None = None) -> list[Advice]:
    return [item for item in advise(file, history).advice if item.severity != "note"]


@pytest.mark.parametrize("name", GOOD)
@pytest.mark.parametrize("aim", ["strength", "mixed"])
def test_a_good_class_gets_no_caution(name: str, aim: str) -> None:
    assert [item.line for item in to_change(a_class(GOOD[name], aim))] == []


class Planted(NamedTuple):
    """A mistake: the text with it in, a word of the line that finds it, and what else is needed for it."""

    name: str
    text: str
    found: str
    aim: str = "strength"
    many: int = 6
    of_first: dict[str, Any] = {}
    history: History | None = None


def months_of(*exercises: str, weeks: int = 6) -> History:
    classes = tuple(PastClass(days=7.0 * week, aim="strength", figures={"session_effort": 200}) for week in range(1, 7))
    lately = tuple(Lately(exercise=name, weeks=week) for name in exercises for week in range(weeks))
    return History(classes=classes, lately=lately)


MISTAKES = [
    Planted("no warm-up", PAIRS + COOL, "nothing warms up"),
    Planted("a warm-up of a minute", PAIRS.join(["block Warm-up: together, for warm-up\nleg swings 12\n", COOL]), "warm-up is too short"),
    Planted("no cool-down", WARM + PAIRS, "without a cool-down"),
    Planted("a breath circuit before the sets", WARM + FINISHER + PAIRS + COOL, "tires before"),
    Planted("the same, with a mixed aim", WARM + FINISHER + PAIRS + COOL, "tires before", aim="mixed"),
    Planted("planks and calves before squats", WARM + "block Core: sets, then 60\nplank 3 x 30 s, rest 30\nfloor calf raise 3 x 15, rest 30\n" + PAIRS + COOL, "tires before", aim="mixed"),
    Planted("free squats behind leg extensions", WARM + PAIRS.replace("hack squat", "back squat") + COOL, "on legs that"),
    Planted("a hinge behind a hinge", WARM + "block Sets: sets, then 60\ndumbbell romanian deadlift 3 x 8, @2 left, rest 75\ngood morning 3 x 8, @2 left, rest 75\nleg press 3 x 8, @2 left, rest 75\n" + COOL, "the back is tired"),
    Planted("a press for twenty in pairs", WARM + PAIRS + COOL, "will queue", many=20),
    Planted("far too long", WARM + PAIRS.replace("4 x", "8 x").replace("3 x", "7 x") + COOL, "longer than"),
    Planted("a change without time", WARM + STATIONS.replace("40/40", "40/5") + COOL, "are short to walk"),
    Planted("one leg press for all at once", WARM + "block All: together, then 30\nleg press 60 s, @2 left\n" + PAIRS + COOL, "together, but only"),
    Planted("a bpm in a note, and heart medication", "note everybody up to 150 bpm\n" + WARM + PAIRS + COOL, "heart medication", of_first={"heart_medication": True}),
    Planted("jumps for a bad knee", WARM + STATIONS.replace("step-up", "jump squat") + COOL, "jump squat", of_first={"careful": ["knee"]}),
    Planted("long holds before the work", WARM.replace("leg swings 12", "quadriceps stretch 40 s, each side") + PAIRS + COOL, "before the work"),
    Planted("no hamstrings for weeks", WARM + "block Sets: sets, then 60\nleg press 4 x 7, @72%, rest 75\nleg extension 4 x 10, @2 left, rest 60\nseated calf raise 3 x 12, @2 left, rest 60\nplank 3 x 30 s, rest 30\n" + COOL, "hamstrings", history=months_of("leg-press", "leg-extension", "seated-calf-raise", "plank")),
    Planted("the day after a hard one", WARM + PAIRS + COOL, "hard", history=History(classes=tuple(PastClass(days=days, aim="strength", figures={"session_effort": effort}) for days, effort in ((1, 300), (8, 110), (15, 90), (22, 100), (29, 105), (36, 95))))),
    Planted("everything small first", WARM + "block Sets: sets, in order, then 60\nleg extension 3 x 10, @2 left, rest 60\nlying leg curl 3 x 10, @2 left, rest 60\nleg press 4 x 7, @72%, rest 75\n" + COOL, "leg extension"),
]  # fmt: skip


@pytest.mark.parametrize("planted", MISTAKES, ids=lambda planted: planted.name)
def test_a_planted_mistake_is_found(planted: Planted) -> None:
    file = a_class(planted.text, planted.aim, planted.many, **planted.of_first)
    lines = [f"{item.line} {item.then}" for item in advise(file, planted.history).advice]
    assert [line for line in lines if planted.found in line], lines
