"""Small classes, rooms and people for the tests, by hand and by chance."""

from __future__ import annotations

from typing import Any

from hypothesis import strategies as st
from oaken.domain.catalogue import catalogue
from oaken.schedule.class_file import ClassFile, read_class

KINDS = sorted(kind for kind in catalogue().equipment if kind != "none")
LIFTS = ["leg-press", "lying-leg-curl", "leg-extension", "hip-thrust", "standing-calf-raise", "goblet-squat"]
ANYTHING = sorted(catalogue().exercises)


def person(index: int = 1, **fields: Any) -> dict[str, Any]:
    """A plain adult with bests for the lifts used here."""
    plain = {
        "id": f"p{index}",
        "name": f"Person {index}",
        "age": 40,
        "body_mass_kg": 75,
        "sex": "male",
        "resting_bpm": 60,
        "bests_kg": {lift: 100 for lift in LIFTS},
    }
    return {**plain, **fields}


def room(counts: dict[str, int] | None = None, **fields: Any) -> dict[str, Any]:
    """A room with `counts` places a kind (by default two of everything), a metre apart."""
    wanted = counts if counts is not None else {kind: 2 for kind in KINDS}
    units = [
        {"id": f"{kind}-{n}", "kind": kind, "name": f"{kind} {n}", "x_m": float(at), "y_m": 0.0}
        for at, (kind, count) in enumerate(wanted.items())
        for n in range(1, count + 1)
    ]
    return {"id": "room", "name": "Test room", "units": units, **fields}


def circuit(exercises: list[str], **fields: Any) -> dict[str, Any]:
    """A clocked circuit of these exercises."""
    block = {"kind": "circuit", "name": "Stations", "move_on_s": 0, "work_s": 30, "change_s": 15, "rounds": 1}
    return {**block, "stations": [{"exercise": exercise} for exercise in exercises], **fields}


def sets(*groups: dict[str, Any], **fields: Any) -> dict[str, Any]:
    """A block of groups."""
    return {"kind": "sets", "name": "Sets", "move_on_s": 0, "groups": list(groups), **fields}


def slot(exercise: str, times: int = 1, rest_s: int = 0, **segment: Any) -> dict[str, Any]:
    """A slot of equal sets of one segment."""
    return {"exercise": exercise, "sets": [{"times": times, "segments": [segment], "rest_s": rest_s}]}


def group(rounds: int, rest_s: int, *doses: dict[str, Any]) -> dict[str, Any]:
    """A group of slots, each with the same dose every round; the rest follows the round."""
    last = len(doses) - 1
    return {
        "slots": [
            slot(dose["exercise"], rounds, rest_s if place == last else 0, **_without(dose, "exercise"))
            for place, dose in enumerate(doses)
        ]
    }


def _without(fields: dict[str, Any], name: str) -> dict[str, Any]:
    return {key: value for key, value in fields.items() if key != name}


def together(*slots: tuple[str, int], **fields: Any) -> dict[str, Any]:
    """A block in which everybody does the same; the sides of a one-sided exercise share the seconds."""
    listed = [slot(exercise, seconds=seconds, **_shared(exercise)) for exercise, seconds in slots]
    return {"kind": "together", "name": "Together", "move_on_s": 0, "slots": listed, **fields}


def _shared(exercise: str) -> dict[str, Any]:
    known = catalogue().exercises.get(exercise)
    return {"sides": "in_all"} if known is not None and known.one_sided else {}


def class_document(*blocks: dict[str, Any], people: int | list[dict[str, Any]] = 1, **fields: Any) -> dict[str, Any]:
    """A class file as it stands in JSON. `room` among the fields replaces the room, others go to the plan."""
    who = [person(n + 1) for n in range(people)] if isinstance(people, int) else people
    where = fields.pop("room", None) or room()
    plan = {
        "name": "Test class",
        "slot_min": 45,
        "room": where["id"],
        "people": [item["id"] for item in who],
        "blocks": list(blocks),
        **fields,
    }
    return {"format": "oaken-class/2", "plan": plan, "room": where, "people": who}


def class_file(*blocks: dict[str, Any], **fields: Any) -> ClassFile:
    """The same, validated."""
    return read_class(class_document(*blocks, **fields))


# ---- by chance -------------------------------------------------------------------------------------------------

seconds = st.integers(5, 120)
exercises = st.sampled_from(ANYTHING)
shares = st.none() | st.sampled_from([0.3, 0.5, 0.7, 0.85]).map(lambda share: {"share_of_best": share})

circuits = st.builds(
    lambda stations, loads, **fields: (
        circuit([], **fields)
        | {"stations": [{"exercise": e, "load": load} for e, load in zip(stations, loads, strict=False)]}
    ),
    stations=st.lists(exercises, min_size=1, max_size=8),
    loads=st.lists(shares, min_size=8, max_size=8),
    work_s=seconds,
    change_s=st.integers(0, 60),
    rounds=st.integers(1, 4),
    round_rest_s=st.none() | st.integers(0, 120),
    move_on_s=st.integers(0, 90),
)
doses = st.fixed_dictionaries(
    {"exercise": exercises, "reps": st.integers(1, 20), "load": shares}
) | st.fixed_dictionaries({"exercise": exercises, "seconds": seconds})
groups = st.builds(
    lambda rounds, rest_s, chosen: group(rounds, rest_s, *chosen),
    rounds=st.integers(1, 4),
    rest_s=st.integers(0, 120),
    chosen=st.lists(doses, min_size=1, max_size=4),
)
set_blocks = st.builds(
    lambda chosen, move_on_s: sets(*chosen, move_on_s=move_on_s),
    chosen=st.lists(groups, min_size=1, max_size=3),
    move_on_s=st.integers(0, 90),
)
together_blocks = st.builds(
    lambda chosen, move_on_s: together(*chosen, move_on_s=move_on_s),
    chosen=st.lists(st.tuples(exercises, seconds), min_size=1, max_size=4),
    move_on_s=st.integers(0, 90),
)
legs = st.builds(
    lambda exercise, turns, rest_s, reps: {
        "exercise": exercise,
        "turn": {"reps": reps, **_shared(exercise)},
        "turns": turns,
        "rest_s": rest_s,
    },
    exercise=exercises,
    turns=st.integers(1, 12),
    rest_s=st.integers(0, 60),
    reps=st.integers(1, 15),
)
relay_blocks = st.builds(
    lambda chosen, **fields: {"kind": "relay", "name": "Relay", "legs": chosen, **fields},
    chosen=st.lists(legs, min_size=1, max_size=3),
    team_size=st.integers(2, 4),
    change_s=st.integers(0, 10),
    move_on_s=st.integers(0, 90),
)
blocks = circuits | set_blocks | together_blocks | relay_blocks
"""Every kind of block a plan can have; a test holds that none is missing."""

crowds = st.lists(
    st.fixed_dictionaries(
        {
            "age": st.integers(16, 80),
            "body_mass_kg": st.integers(45, 130),
            "sex": st.sampled_from(["male", "female", None]),
            "resting_bpm": st.none() | st.integers(40, 85),
        }
    ),
    min_size=1,
    max_size=7,
).map(lambda rows: [person(n + 1, **row) for n, row in enumerate(rows)])
rooms = st.dictionaries(st.sampled_from(KINDS), st.integers(1, 3), min_size=3, max_size=len(KINDS)).map(room)
classes = st.builds(
    lambda chosen, people, where: class_file(*chosen, people=people, room=where),
    chosen=st.lists(blocks, min_size=1, max_size=4),
    people=crowds,
    where=rooms,
)
