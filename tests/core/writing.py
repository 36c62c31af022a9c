"""Plans by chance in which everything the notation can say occurs."""

from __future__ import annotations

from typing import Any, get_args

from hypothesis import strategies as st
from oaken.domain.catalogue import catalogue
from oaken.domain.prescription import Aid, Stance
from oaken.plan import ClassPlan

KNOWN = catalogue()
LOADED = sorted(name for name, exercise in KNOWN.exercises.items() if exercise.takes_load)
COVERING = sorted(name for name, exercise in KNOWN.exercises.items() if exercise.speed_m_per_s)
ANY = sorted(KNOWN.exercises)


def maybe(strategy: st.SearchStrategy[Any]) -> st.SearchStrategy[Any]:
    """Mostly nothing."""
    return st.none() | st.none() | strategy


def fields(required: dict[str, Any], optional: dict[str, Any]) -> st.SearchStrategy[dict[str, Any]]:
    return st.fixed_dictionaries(required, optional=optional)


loads = (
    st.integers(5, 120).map(lambda percent: {"share_of_best": percent / 100})
    | st.integers(1, 300).map(lambda halves: {"load_kg": halves / 2})
    | st.integers(1, 100).map(lambda halves: {"a_side_kg": halves / 2})
    | st.integers(0, 8).map(lambda halves: {"reps_left": halves / 2})
    | st.integers(1, 30).map(lambda reps: {"rep_max": reps})
    | st.integers(1, 10).map(lambda value: {"effort": {"value": value, "of": 10}})
    | st.integers(6, 20).map(lambda value: {"effort": {"value": value, "of": 20}})
)
signs = st.just({"talking": True}) | st.integers(60, 180).map(lambda bpm: {"bpm": bpm})
notes = st.sampled_from(["", "", "", "knees out, or stop", "for the tired: less + slower"])
changes = (
    st.integers(-90, 100).filter(bool).map(lambda value: {"percent": value})
    | st.integers(-20, 20).filter(bool).map(lambda value: {"steps": value})
    | st.integers(-40, 40).filter(bool).map(lambda value: {"kg": value / 4})
)
settings = st.fixed_dictionaries(
    {"speed_kmh": st.integers(10, 300).map(lambda tenths: tenths / 10)},
    optional={"incline_percent": st.integers(1, 150).map(lambda tenths: tenths / 10)},
) | st.fixed_dictionaries(
    {"steps_per_min": st.integers(12, 60)}, optional={"step_height_m": st.sampled_from([0.1, 0.2, 0.35]), "level": st.integers(1, 20)}
) | st.integers(20, 400).map(lambda watts: {"power_w": watts})  # fmt: skip
tempos = st.tuples(
    st.integers(1, 6), st.integers(0, 3), st.sampled_from([1, 1.5, 2]), st.sampled_from([0, 0, 1, 2.5])
).map(list)
manners: dict[str, Any] = {
    "tempo": maybe(tempos),
    "held_s": st.sampled_from([0, 0, 0, 1, 2.5]),
    "partial": st.sampled_from([False, False, True]),
    "alternating": st.sampled_from([False, False, False, True]),
    "heels_cm": maybe(st.integers(1, 20).map(lambda half: half / 2)),
    "aids": st.just([]) | st.just([]) | st.lists(st.sampled_from(get_args(Aid)), max_size=3, unique=True),
    "stance": maybe(st.lists(st.sampled_from(get_args(Stance)), min_size=1, max_size=3, unique=True)),
}


def measures(metres: bool) -> st.SearchStrategy[dict[str, Any]]:
    counts = (
        st.integers(1, 40).map(lambda reps: {"reps": reps})
        | st.tuples(st.integers(1, 20), st.integers(1, 10)).map(lambda two: {"reps": two[0], "reps_to": sum(two)})
        | st.integers(1, 40).map(lambda reps: {"reps": reps, "to_failure": True})
        | st.tuples(st.integers(1, 20), st.integers(1, 10)).map(
            lambda two: {"reps": two[0], "reps_to": sum(two), "to_failure": True}
        )
        | st.integers(1, 700).map(lambda seconds: {"seconds": seconds})
        | st.tuples(st.integers(1, 60), st.integers(1, 60), st.sampled_from([2, 60]), maybe(signs)).map(
            lambda four: (
                {"seconds": four[0] * four[2] // 2 + 1, "seconds_to": (four[0] + four[1]) * four[2] // 2 + 1}
                | {"until": four[3]}
            )
        )
        | st.tuples(st.integers(1, 60), st.booleans()).map(
            lambda two: {"seconds": two[0], "hold": True, "to_failure": two[1]}
        )
    )
    return counts | st.integers(5, 2000).map(lambda way: {"metres": way}) if metres else counts


@st.composite
def segments(draw: st.DrawFn, exercise: str, number: int) -> dict[str, Any]:
    known = KNOWN.exercises[exercise]
    made = draw(measures(known.speed_m_per_s is not None))
    made |= draw(st.fixed_dictionaries(manners))
    made["alternating"] &= not made["partial"]
    made["helped"] = draw(st.sampled_from([False, False, False, True]))
    made["if_able"] = number > 0 and draw(st.sampled_from([False, False, True]))
    made["sides"] = draw(st.sampled_from([None, None, "each_side", "in_all", "both"]))
    made["setting"] = draw(maybe(settings)) if known.equation else None
    if number and draw(st.booleans()):
        made["change"] = draw(changes)
    else:
        made["load"] = draw(maybe(loads))
    return made


@st.composite
def runs(draw: st.DrawFn, exercise: str) -> dict[str, Any]:
    count = draw(st.sampled_from([1, 1, 1, 2, 3]))
    made = [draw(segments(exercise, number)) for number in range(count)]
    pause = draw(st.sampled_from([0, 0, 5, 10]))
    for segment in made[:-1]:
        segment["pause_after_s"] = draw(st.sampled_from([pause, pause, 8]))
    rest = draw(st.sampled_from([0, 30, 60, 90]))
    return {
        "times": draw(st.integers(1, 4)),
        "segments": made,
        "rest_s": rest,
        "rest_to_s": draw(st.sampled_from([None, None, rest + 30])) if rest else None,
        "rest_until": draw(maybe(signs)) if rest else None,
        "helper": draw(st.sampled_from([False, False, True])),
        "rest_doing": draw(maybe(st.sampled_from(["easy-walk", "leg-swings"]))) if rest else None,
        "if_able": draw(st.sampled_from([False, False, False, True])),
    }


@st.composite
def varied(draw: st.DrawFn, exercise: str) -> list[dict[str, Any]]:
    """Sets that differ in one thing alone: what lists and ramps are written for."""
    base = draw(runs(exercise)) | {"times": 1}
    sort = draw(st.sampled_from(["reps", "load", "rest", "ramp", "same"]))
    count = draw(st.integers(2, 5))
    made = []
    for number in range(count):
        one = {**base, "segments": [dict(segment) for segment in base["segments"]]}
        if sort == "reps":
            one["segments"] = [{"reps": draw(st.integers(1, 30))}]
        elif sort == "load":
            for segment in one["segments"]:
                segment.pop("change", None)
                segment["load"] = {"share_of_best": (50 + 5 * number) / 100}
        elif sort == "rest":
            one |= {"rest_s": 30 + 15 * number, "rest_to_s": None, "rest_doing": None}
        elif sort == "ramp":
            change = {} if number == 0 else {"change": {"steps": 1}}
            one = {"segments": [{"reps": 6, **change}], "rest_s": 45, "if_able": number == count - 1 and number > 1}
        made.append(one)
    return made


@st.composite
def slots(draw: st.DrawFn) -> dict[str, Any]:
    exercise = draw(st.sampled_from(ANY) | st.sampled_from(LOADED) | st.sampled_from(COVERING))
    sets = draw(varied(exercise) | st.lists(runs(exercise), min_size=1, max_size=3))
    others = draw(st.lists(other_choices(), max_size=2, unique_by=str)) if draw(st.booleans()) else []
    return {
        "exercise": exercise,
        "sets": sets,
        "others": [other for other in others if other.get("exercise") != exercise],
        "note": draw(notes),
        "decisions": draw(st.lists(branches, max_size=2)) if draw(st.booleans()) else [],
        "after_last": draw(st.sampled_from([False, False, False, True])),
    }


branches = st.fixed_dictionaries(
    {
        "when": st.sampled_from(["twelve easy", "legs shaky, or sore", "heart above 170"]),
        "then": st.sampled_from(["add a plate", "leg press for 3 x 12", "rest 30 more, then go on"]),
    }
)


@st.composite
def other_choices(draw: st.DrawFn) -> dict[str, Any]:
    whoms: list[dict[str, Any]] = [
        {},
        {"level": "beginner"},
        {"people": ["p1", "p-2"]},
        {"people": ["p3"], "level": "advanced"},
    ]
    whom = draw(st.sampled_from(whoms))
    exercise = draw(st.sampled_from(LOADED))
    sets = draw(maybe(st.lists(runs(exercise), min_size=1, max_size=2)))
    return {"exercise": exercise, "sets": sets, **whom}


stations = st.fixed_dictionaries(
    {"exercise": st.sampled_from(ANY), **manners, "load": maybe(loads), "note": notes}
).map(lambda station: {**station, "alternating": station["alternating"] and not station["partial"]})
words = st.text(st.characters(codec="utf-8", categories=["L", "N", "P", "Zs"]), min_size=1, max_size=20).map(
    lambda text: " ".join(text.split()) or "A"
)
purposes = maybe(st.sampled_from(["warm_up", "strength", "finisher", "tidy_up"]))
heads: dict[str, Any] = {"name": words, "purpose": purposes, "move_on_s": st.integers(0, 120), "note": notes}
blocks = (
    fields(
        {
            **heads,
            "kind": st.just("circuit"),
            "work_s": st.just(60) | st.integers(5, 90),
            "change_s": st.integers(0, 60),
            "rounds": st.integers(1, 5),
            "round_rest_s": maybe(st.integers(0, 200)),
            "stations": st.lists(stations, min_size=1, max_size=4),
        },
        {},
    ).flatmap(lambda block: st.sampled_from([None, 15, 30]).map(lambda turn: {**block, "turn_s": turn if block["work_s"] == 60 else None}))
    | fields(
        {
            **heads,
            "kind": st.just("sets"),
            "rounds_run": st.sampled_from(["back_and_forth", "whole_circuit"]),
            "start": st.sampled_from(["spread", "in_order"]),
            "sharing": st.sampled_from(["work_in", "work_in", "hold"]),
            "within_s": maybe(st.integers(60, 4000)),
            "groups": st.lists(
                st.tuples(st.lists(slots(), min_size=1, max_size=3), maybe(st.integers(1, 3))).map(
                    lambda two: {"slots": two[0], "stage": two[1]}
                ),
                min_size=1,
                max_size=3,
            ),
            "waves": st.integers(1, 3),
            "log_s": st.sampled_from([0, 0, 10]),
            "plates_back_s": st.sampled_from([0, 0, 30]),
        },
        {},
    ).flatmap(lambda block: st.integers(0, 600).map(lambda gap: {**block, "wave_gap_s": gap if block["waves"] > 1 else 0}))
    | fields({**heads, "kind": st.just("together"), "slots": st.lists(slots(), min_size=1, max_size=3)}, {})
    | fields(
        {
            **heads,
            "kind": st.just("relay"),
            "team_size": st.integers(2, 4),
            "change_s": st.integers(0, 10),
            "legs": st.lists(
                st.builds(
                    lambda exercise, turn, load, turns, rest: {
                        "exercise": exercise,
                        "turn": {**turn, "load": load},
                        "turns": turns,
                        "rest_s": rest,
                    },
                    st.sampled_from(LOADED),
                    measures(False),
                    maybe(loads),
                    st.integers(1, 20),
                    st.sampled_from([0, 45]),
                ),
                min_size=1,
                max_size=2,
            ),
        },
        {},
    )
)  # fmt: skip
plans = st.builds(
    ClassPlan.model_validate,
    st.fixed_dictionaries(
        {
            "name": words,
            "slot_min": st.integers(5, 240),
            "starts": st.sampled_from(["", "Tuesday 18:30"]),
            "note": st.sampled_from(["", "one line", "two\n\nlines, and: more "]),
            "aim": st.sampled_from(["mixed", "strength"]),
            "level": st.sampled_from(["standard", "beginner"]),
            "choices": st.sampled_from([{}, {"calves": "first", "rest": "short"}]),
            "room": st.just("saw-floor"),
            "people": st.just(["p1", "p-2", "p3", "p4"]),
            "together": st.sampled_from([[], [["p1", "p-2"]], [["p1", "p3"], ["p-2", "p4"]]]),
            "apart": st.sampled_from([[], [["p1", "p4"]]]),
            "instead": st.sampled_from(
                [
                    [],
                    [{"exercise": "hack-squat", "other": "leg-press", "people": ["p1", "p4"]}],
                    [
                        {"exercise": "back-squat", "other": "goblet-squat", "level": "beginner"},
                        {"exercise": "leg-press", "other": "wall-sit", "people": ["p3"], "level": "advanced"},
                    ],
                ]
            ),
            "taken": st.sampled_from([[], ["leg-press-1"], ["lying-leg-curl-1", "box-2"]]),
            "newcomers": st.sampled_from([[], [], ["p1"], ["p-2", "p4"]]),
            "settings": st.sampled_from(
                [[], [], [{"person": "p1", "unit": "leg-press-1", "values": {"seat": "4", "rack_hole": "12 b"}}]]
            ),
            "blocks": st.lists(blocks, min_size=1, max_size=3),
        }
    ),
)
