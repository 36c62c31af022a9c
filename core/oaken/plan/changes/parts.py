"""Changes of one part: its load, rest, segments, and another exercise in its place."""

from __future__ import annotations

from collections.abc import Callable

from oaken.domain.catalogue import Exercise
from oaken.domain.prescription import Load, Segment, SetRun
from oaken.plan.blocks import AnyPart, Leg, Slot, Station, with_runs, with_segments

SlotEdit = Callable[[Slot], Slot | None]


def with_load(slot: Slot, load: Load) -> Slot:
    """One load for all sets; changes within a set stay."""
    return with_segments(
        slot,
        lambda segment: segment if segment.change is not None else segment.model_copy(update={"load": load}),
    )


def with_short_holds(slot: Slot, seconds: int) -> Slot:
    """No timed segment longer than these seconds."""
    return with_segments(
        slot,
        lambda segment: (
            segment.model_copy(update={"seconds": min(segment.seconds, seconds)})
            if segment.seconds is not None
            else segment
        ),
    )


def without_drops(slot: Slot) -> Slot:
    """Every set ends where its first lighter segment would begin."""

    def cut(run: SetRun) -> SetRun:
        kept = []
        for place, segment in enumerate(run.segments):
            if place > 0 and segment.change is not None and segment.change.lighter:
                break
            kept.append(segment)
        kept[-1] = kept[-1].model_copy(update={"pause_after_s": 0})
        return run.model_copy(update={"segments": kept})

    return with_runs(slot, cut)


def has_drops(slot: Slot) -> bool:
    """Whether a set of it goes on at a lighter load."""
    return any(
        segment.change is not None and segment.change.lighter for run in slot.sets for segment in run.segments[1:]
    )


def refit_slot(slot: Slot, exercise: Exercise) -> Slot:
    """The slot with another exercise: with the sets that were planned for it where there are any; otherwise loads go
    where none is taken, metres become seconds, sides are said anew."""
    planned = next((other.sets for other in slot.others if other.exercise == exercise.id and other.sets), None)
    if planned is not None:
        left = [other for other in slot.others if other.exercise != exercise.id]
        return slot.model_copy(update={"exercise": exercise.id, "sets": planned, "others": left})

    def fitted(segment: Segment) -> Segment:
        update: dict[str, object] = {"stance": (), "heels_cm": None, "aids": (), "setting": None, "tempo": None}
        if not exercise.takes_load:
            update.update(load=None, change=None)
        if segment.metres is not None and exercise.speed_m_per_s is None:
            update.update(metres=None, seconds=40)
        if not exercise.one_sided:
            update["sides"] = None
        elif segment.sides is None:
            update["sides"] = "each_side"
        return segment.model_copy(update=update)

    kept = [other for other in slot.others if other.exercise not in (None, exercise.id)]
    plain = with_segments(slot.model_copy(update={"exercise": exercise.id, "others": []}), fitted)
    return plain.model_copy(update={"others": kept})


def refit(part: AnyPart, exercise: Exercise) -> AnyPart:
    """The part with another exercise in it; what that cannot take is dropped."""
    match part:
        case Slot():
            return refit_slot(part, exercise)
        case Station():
            return refit_station(part, exercise)
        case Leg():
            return refit_leg(part, exercise)


def refit_station(station: Station, exercise: Exercise) -> Station:
    """The station with another exercise."""
    update: dict[str, object] = {"exercise": exercise.id, "tempo": None, "stance": (), "setting": None}
    update |= {"heels_cm": None, "aids": ()}
    if not exercise.takes_load:
        update["load"] = None
    return station.model_copy(update=update)


def refit_leg(leg: Leg, exercise: Exercise) -> Leg:
    """The leg with another exercise."""
    slot = refit_slot(Slot(exercise=leg.exercise, sets=[SetRun(segments=[leg.turn])]), exercise)
    return leg.model_copy(update={"exercise": exercise.id, "turn": slot.sets[0].segments[0]})
