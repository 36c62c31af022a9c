"""Changes of a course in words, short enough for a cell of a week."""

from __future__ import annotations

from oaken.domain.catalogue import Catalogue
from oaken.plan.changes import (
    Change,
    DoInstead,
    InTurn,
    LeaveOut,
    LighterWeek,
    ScaleRests,
    SetLoad,
    SetRest,
    SetRounds,
    SetScheme,
    SetTest,
    ShorterRests,
    SwapExercise,
)


def change_words(change: Change, catalogue: Catalogue) -> str:
    """What a change does, in a few words."""

    def name(exercise: str) -> str:
        known = catalogue.exercises.get(exercise)
        return exercise if known is None else known.name.lower()

    match change:
        case SetScheme():
            return _scheme(change)
        case ScaleRests():
            return f"rests × {change.factor:g}"
        case ShorterRests():
            return f"rests × {change.factor:g}"
        case InTurn():
            return f"{name(change.other)} for {name(change.exercise)}"
        case DoInstead():
            return f"{name(change.other)} for {name(change.exercise)}, for some"
        case LighterWeek():
            fewer = f"{change.sets_fewer} {'set' if change.sets_fewer == 1 else 'sets'} fewer"
            return f"{fewer}, loads × {change.load_factor:g}"
        case SetTest():
            return "test: last set of the main lifts to failure"
        case SetRounds():
            return f"{change.rounds} rounds"
        case LeaveOut():
            return f"without {change.block}"
        case SetLoad():
            return f"{change.slot} at {change.share_of_best:.0%}"
        case SetRest():
            return f"{change.slot} rests {change.rest_s} s"
        case SwapExercise():
            return f"{name(change.exercise)} at {change.slot}"
        case _:
            return change.do.replace("_", " ")


def _scheme(change: SetScheme) -> str:
    reps = "" if change.reps is None else f"{change.reps}–{change.reps_to}" if change.reps_to else str(change.reps)
    sets = "" if change.sets is None else str(change.sets)
    dose = f"{sets} × {reps}" if sets and reps else f"{sets} sets" if sets else f"{reps} reps" if reps else ""
    share = "" if change.share_of_best is None else f"at {change.share_of_best:.0%}"
    rest = "" if change.rest_s is None else f"rest {change.rest_s} s"
    return " ".join(filter(None, [dose, share, rest]))
