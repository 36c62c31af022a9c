"""Writes slots, blocks and whole classes as an instructor would in a notebook."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import TypeVar

from oaken.basis.words import counted
from oaken.domain.catalogue import Catalogue, Exercise
from oaken.domain.prescription import (
    Load,
    LoadChange,
    MachineSetting,
    Manner,
    Segment,
    SetRun,
    Tempo,
    Until,
    each_set,
    merged,
)
from oaken.domain.prescription.schemes import ramp
from oaken.plan import Block, ClassPlan, Leg, Other, Slot, Station, fitted, fitted_sets
from oaken.plan.notation.kinds import way_of

MOST_IN_A_LIST = 12
Value = TypeVar("Value")


def number(value: float) -> str:
    """A number with no more digits than it has."""
    return f"{value:.2f}".rstrip("0").rstrip(".")


def line_of(part: Slot | Station | Leg, catalogue: Catalogue) -> str:
    """One slot, station or leg as a line, with what may stand in its place behind “or”."""
    return " ".join(lines_of(part, catalogue))


def lines_of(part: Slot | Station | Leg, catalogue: Catalogue) -> list[str]:
    """The same with every “or” and every decision in a line of its own."""
    exercise = catalogue.exercises[part.exercise]
    name = _spoken(exercise)
    note = [f'"{part.note}"'] if part.note else []
    match part:
        case Slot():
            last = ["after the last"] if part.after_last else []
            first = ", ".join([f"{name} {dose_of(part.sets, exercise, catalogue)}", *last, *note])
            asked = [f"if {decision.when}: {decision.then}" for decision in part.decisions]
            return [first, *(_other(other, exercise, catalogue) for other in part.others), *asked]
        case Station():
            part = fitted(part, exercise)
            head = f"{name} {_load(part.load)}".strip() if part.load else name
            return [", ".join([head, *_manner(part, load=False), *note])]
        case Leg():
            done = fitted(part.turn, exercise)
            turn = " ".join([_measure(done), *_modifiers(done, exercise, _Shared.nothing())])
            rest = [f"rest {part.rest_s}"] if part.rest_s else []
            return [", ".join([f"{name} {part.turns} turns of {turn}", *rest, *note])]


def _spoken(exercise: Exercise) -> str:
    return exercise.name[:1].lower() + exercise.name[1:]


def _other(other: Other, own: Exercise, catalogue: Catalogue) -> str:
    exercise = catalogue.exercises[other.exercise] if other.exercise else own
    said = ["or"]
    if other.exercise:
        said.append(_spoken(exercise))
    if other.sets:
        said.append(dose_of(other.sets, exercise, catalogue))
    whom = [*other.people, *([f"level {other.level}"] if other.level else [])]
    if whom:
        said.append(f"for {', '.join(whom)}")
    return " ".join(said)


def text_of(plan: ClassPlan, catalogue: Catalogue) -> str:
    """A whole class as text; reading it gives the same class back."""
    lines = [f"class {plan.name}", f"slot {plan.slot_min} min"]
    if plan.starts:
        lines.append(f"starts {plan.starts}")
    lines += [f"room {plan.room}", f"people {', '.join(plan.people)}"]
    lines += wish_lines(plan, catalogue)
    if plan.aim != "mixed":
        lines.append(f"aim {plan.aim}")
    if plan.level != "standard":
        lines.append(f"level {plan.level}")
    lines += [f"choose {question}: {school}" for question, school in sorted(plan.choices.items())]
    if plan.note:
        lines += [f"note {line}" if line else "note" for line in plan.note.split("\n")]
    for block in plan.blocks:
        lines += ["", head_of(block)]
        for parts in block.groups_of_parts:
            for place, part in enumerate(parts):
                first, *others = lines_of(part, catalogue)
                lines += [("+ " if place else "") + first, *(f"  {other}" for other in others)]
    return "\n".join(lines) + "\n"


def wish_lines(plan: ClassPlan, catalogue: Catalogue) -> list[str]:
    """Who goes with whom, who does something else, what is taken, and the air of the room, one line each."""
    lines = [f"together {', '.join(company)}" for company in plan.together]
    lines += [f"apart {', '.join(company)}" for company in plan.apart]
    for item in plan.instead:
        whom = [*item.people, *([f"level {item.level}"] if item.level else [])]
        names = (catalogue.exercises[name].name.lower() for name in (item.exercise, item.other))
        lines.append(f"instead {': '.join(names)} for {', '.join(whom)}")
    if plan.taken:
        lines.append(f"taken {', '.join(plan.taken)}")
    if plan.newcomers:
        lines.append(f"new {', '.join(plan.newcomers)}")
    for own in plan.settings:
        values = ", ".join(f"{name.replace('_', ' ')} {value}" for name, value in own.values.items())
        lines.append(f"setting {own.person} on {own.unit}: {values}")
    if plan.air is not None:
        lines.append(f"air {plan.air.temperature_c:g} °C, {plan.air.humidity_percent:g} %")
    return lines


def head_of(block: Block) -> str:
    """The line that opens a block."""
    way = way_of(block)
    if block.purpose:
        way.append(f"for {block.purpose.replace('_', '-')}")
    note = [f'"{block.note}"'] if block.note else []
    return f"block {block.name}: {', '.join([*way, f'then {block.move_on_s}', *note])}"


# ---- one slot -------------------------------------------------------------------------------------------------


class _Shared:
    """What every segment of a slot has in common and is therefore said once, behind the sets."""

    def __init__(self, sets: Sequence[SetRun], exercise: Exercise) -> None:
        segments = [segment for run in sets for segment in run.segments]
        self.sides = _common([segment.sides or _own_side(exercise) for segment in segments])
        self.load = _common([segment.load for segment in segments if segment.change is None])
        self.tempo = _common([segment.tempo for segment in segments])
        self.held_s = _common([segment.held_s for segment in segments])
        self.partial = _common([segment.partial for segment in segments])
        self.alternating = _common([segment.alternating for segment in segments])
        self.helper = _common([run.helper for run in sets])
        self.stance = _common([segment.stance for segment in segments])
        self.heels_cm = _common([segment.heels_cm for segment in segments])
        self.aids = _common([segment.aids for segment in segments])
        self.setting = _common([segment.setting for segment in segments])
        self.pause_s = _common([segment.pause_after_s for run in sets for segment in run.segments[:-1]])
        self.loads = None if self.load is not None else _loads_by_set(sets)

    @classmethod
    def nothing(cls) -> _Shared:
        """Nothing is shared: everything is said where it belongs."""
        empty = cls.__new__(cls)
        empty.sides = empty.load = empty.tempo = empty.held_s = empty.partial = None
        empty.stance = empty.heels_cm = empty.aids = empty.setting = empty.pause_s = empty.loads = empty.alternating = (
            empty.helper
        ) = None
        return empty

    def words(self, exercise: Exercise) -> list[str]:
        """The clauses of what is shared."""
        said = [_sides(self.sides, exercise)] if self.sides else []
        if self.load is not None:
            said.append(_load(self.load))
        if self.loads is not None:
            said.append(_load_list(self.loads))
        common = Manner(
            tempo=self.tempo,
            held_s=self.held_s or 0,
            partial=bool(self.partial),
            alternating=bool(self.alternating),
            stance=self.stance or (),
            heels_cm=self.heels_cm,
            aids=self.aids or (),
            setting=self.setting,
        )
        said += _manner(common, load=False)
        if self.pause_s:
            said.append(f"pause {self.pause_s}")
        if self.helper:
            said.append("with helper")
        return [word for word in said if word]


def _common(values: Sequence[Value | None]) -> Value | None:
    """The value that all of them have; None when they differ."""
    return values[0] if values and all(value == values[0] for value in values) else None


def _own_side(exercise: Exercise) -> str | None:
    return "each_side" if exercise.one_sided else None


def _loads_by_set(runs: Sequence[SetRun]) -> list[Load] | None:
    """One load for each set, where all are of one kind and every segment takes its set's load."""
    loads: list[Load] = []
    for run in each_set(list(runs)):
        own = [segment.load for segment in run.segments if segment.change is None]
        first = run.segments[0].load
        if first is None or any(load != first for load in own):
            return None
        loads.append(first)
    ways = {load.way for load in loads}
    listed = 1 < len(loads) <= MOST_IN_A_LIST and len(ways) == 1 and not loads[0].by_effort
    return loads if listed else None


def dose_of(sets: Sequence[SetRun], exercise: Exercise, catalogue: Catalogue) -> str:
    """What stands behind an exercise's name: the sets, and what is said of them."""
    sets = merged(fitted_sets(sets, exercise))
    pieces = _pieces(sets)
    if len(pieces) > 1 and _differ(pieces, exercise):
        said = [_piece(piece, exercise, catalogue) for piece in pieces]
        # the clauses of a piece hold for all since the last ones: each but the last needs some of its own
        if all(len(clauses) > 1 for clauses in said[:-1]):
            return " then ".join(", ".join(clauses) for clauses in said)
    return ", ".join(_piece(sets, exercise, catalogue))


def _pieces(sets: Sequence[SetRun]) -> list[list[SetRun]]:
    """Runs of sets; those for the able stay with the same ones before them."""
    found: list[list[SetRun]] = []
    for run in sets:
        if found and _more_of(found[-1][-1], run):
            found[-1].append(run)
        else:
            found.append([run])
    return found


def _more_of(run: SetRun, able: SetRun) -> bool:
    """Whether the sets for the able are more of the same."""
    return able.if_able and not run.if_able and able.model_copy(update={"times": run.times, "if_able": False}) == run


def _differ(pieces: Sequence[Sequence[SetRun]], exercise: Exercise) -> bool:
    """Whether runs of sets differ both in what they count and in their load or rest."""
    bare: dict[str, object] = {"load": None}

    def counted_as(run: SetRun) -> list[Segment]:
        return [segment.model_copy(update=bare) for segment in run.segments]

    runs = [piece[0] for piece in pieces]
    sets = [run for piece in pieces for run in piece]
    if _ramp(sets, exercise, _Shared(sets, exercise)) is not None:
        return False
    if _list(sets, exercise, _Shared(sets, exercise), False) is not None and len(_rests_of(sets)) <= MOST_IN_A_LIST:
        return False
    rests = {(run.rest_s, run.rest_to_s, run.rest_until, run.rest_doing) for run in runs}
    loads = {tuple(segment.load for segment in run.segments if segment.change is None) for run in runs}
    firsts = {run.segments[0].load for run in runs}
    alike = all(counted_as(run) == counted_as(runs[0]) for run in runs)
    return not alike and (len(rests) > 1 or (len(loads) > 1 and len(firsts) > 1))


def _piece(sets: Sequence[SetRun], exercise: Exercise, catalogue: Catalogue) -> list[str]:
    shared = _Shared(sets, exercise)
    rests, in_runs = _rests(sets, catalogue)
    dose = None if in_runs else _ramp(sets, exercise, shared)
    if dose is None:
        dose = _list(sets, exercise, shared, in_runs) or _runs(sets, exercise, shared, in_runs, catalogue)
    return [dose, *shared.words(exercise), *rests]


def _ramp(sets: Sequence[SetRun], exercise: Exercise, shared: _Shared) -> str | None:
    """Sets that each add the same to the one before, to a number of sets or until form fails."""
    first, *others = sets
    change = others[0].segments[0].change if others else None
    reps = first.segments[0].reps
    if change is None or reps is None or first.times != 1 or len(first.segments) > 1 or len(others) > 2:
        return None
    sure = 1 + sum(run.times for run in others if not run.if_able)
    most = sum(run.times for run in sets)
    load = first.segments[0].load
    unlike = any(
        _modifiers(segment.model_copy(update={"change": None}), exercise, shared)
        for run in sets
        for segment in run.segments
    )
    built = ramp(sure, reps, change, load, most if most > sure else None)
    bare = [_bare(run) for run in sets]
    if built != bare or unlike:
        return None
    count = str(sure) if most == sure else f"{sure}-{most}"
    return f"ramp {count} x {reps}, {_change(change)}"


def _bare(run: SetRun) -> SetRun:
    """The run without its rest and without what is said once for the whole slot."""
    plain = {"sides": None, "tempo": None, "held_s": 0, "partial": False, "alternating": False, "stance": (),
             "heels_cm": None, "aids": (), "setting": None}  # fmt: skip
    return run.unrested().model_copy(
        update={
            "helper": False,
            "segments": [segment.model_copy(update=plain) for segment in run.segments],
        }
    )


def _list(runs: Sequence[SetRun], exercise: Exercise, shared: _Shared, in_runs: bool) -> str | None:
    """`8/6/4/2`: single-segment sets that differ in their count alone."""
    sets = each_set(list(runs))
    segments = [run.segments[0] for run in sets]
    if in_runs or len(runs) < 2 or len(sets) > MOST_IN_A_LIST:
        return None
    if any(len(run.segments) > 1 or run.if_able or (run.helper and not shared.helper) for run in sets):
        return None
    ranged = any(segment.reps_to is not None or segment.seconds_to is not None for segment in segments)
    if ranged or any(_modifiers(segment, exercise, shared) for segment in segments):
        return None
    parts = [_measure_parts(segment) for segment in segments]
    if len({(head, tail) for head, _, tail in parts}) > 1 or len({count for _, count, _ in parts}) == 1:
        return None
    head, _, tail = parts[0]
    return f"{head}{'/'.join(count for _, count, _ in parts)}{tail}"


def _runs(sets: Sequence[SetRun], exercise: Exercise, shared: _Shared, in_runs: bool, catalogue: Catalogue) -> str:
    said = []
    for piece in _pieces(merged([_as_listed(run, shared, in_runs) for run in sets])):
        run, able = piece[0], piece[1] if len(piece) > 1 else None
        segments = [" ".join([_measure(segment), *_modifiers(segment, exercise, shared)]) for segment in run.segments]
        whole = " + ".join(segments)
        bracket = any(segment.if_able for segment in run.segments)
        times = str(run.times) if able is None else f"{run.times}-{run.times + able.times}"
        if times != "1":
            whole = f"{times} x ({whole})" if len(segments) > 1 else f"{times} x {whole}"
        elif bracket:
            whole = f"({whole})"
        if in_runs and run.rest_s:
            whole += f" {_rest([_rest_of(run)], run.rest_doing, catalogue)}"
        if run.helper and not shared.helper:
            whole += " with helper"
        said.append(f"{whole} if able" if run.if_able else whole)
    return " then ".join(said)


def _as_listed(run: SetRun, shared: _Shared, in_runs: bool) -> SetRun:
    """The run without what a list behind the sets says for each of them, so that sets alike but for that stay one."""
    update: dict[str, object] = {}
    if shared.loads is not None:
        update["segments"] = [segment.model_copy(update={"load": None}) for segment in run.segments]
    return (run if in_runs else run.unrested()).model_copy(update=update)


def _rests(runs: Sequence[SetRun], catalogue: Catalogue) -> tuple[list[str], bool]:
    """The rests as a clause, or whether they have to be said set by set."""
    sets = each_set(list(runs))
    rests = [_rest_of(run) for run in sets]
    doing = {run.rest_doing for run in sets}
    if all(rest == "0" for rest in rests):
        return [], False
    while len(rests) > 1 and rests[-1] == rests[-2]:
        rests.pop()
    if len(doing) > 1 or len(rests) > MOST_IN_A_LIST:
        return [], True
    return [_rest(rests, doing.pop(), catalogue)], False


def _rests_of(runs: Sequence[SetRun]) -> list[str]:
    return list(dict.fromkeys(_rest_of(run) for run in runs))


def _rest_of(run: SetRun) -> str:
    """`60`, `60-120`, `60-180 until 105 bpm`."""
    said = str(run.rest_s) if run.rest_to_s is None else f"{run.rest_s}-{run.rest_to_s}"
    return said if run.rest_until is None else f"{said} {_until(run.rest_until)}"


def _until(until: Until) -> str:
    return "until you can talk" if until.talking else f"until {until.bpm} bpm"


def _rest(rests: Sequence[str], doing: str | None, catalogue: Catalogue) -> str:
    said = f"rest {'/'.join(rests)}"
    return f"{said} doing {catalogue.exercises[doing].name.lower()}" if doing else said


# ---- words ----------------------------------------------------------------------------------------------------


def _measure(segment: Segment) -> str:
    return "".join(_measure_parts(segment))


def _measure_parts(segment: Segment) -> tuple[str, str, str]:
    """What stands before the count, the count, and its unit."""
    head = "max~" if segment.to_failure else ""
    if segment.reps is not None:
        return head, f"{segment.reps}-{segment.reps_to}" if segment.reps_to else str(segment.reps), ""
    if segment.metres is not None:
        return head, str(segment.metres), " m"
    assert segment.seconds is not None
    if segment.hold:
        head = f"hold {head}"
    ends = [segment.seconds, *([segment.seconds_to] if segment.seconds_to else [])]
    if segment.seconds >= 120 and all(end % 60 == 0 for end in ends):
        return head, "-".join(str(end // 60) for end in ends), " min"
    return head, "-".join(map(str, ends)), " s"


def _modifiers(segment: Segment, exercise: Exercise, shared: _Shared) -> list[str]:
    """What this segment says for itself because the slot does not say it for all."""
    said = []
    if shared.sides is None:
        said.append(_sides(segment.sides or _own_side(exercise), exercise))
    if segment.load is not None and shared.load is None and shared.loads is None:
        said.append(_load(segment.load))
    if segment.change is not None:
        said.append(_change(segment.change))
    if segment.until is not None:
        said.append(_until(segment.until))
    if segment.helped:
        said.append("helped")
    own = Manner(
        tempo=segment.tempo if shared.tempo is None else None,
        held_s=segment.held_s if shared.held_s is None else 0,
        partial=segment.partial if shared.partial is None else False,
        alternating=segment.alternating if shared.alternating is None else False,
        stance=segment.stance if shared.stance is None else (),
        heels_cm=segment.heels_cm if shared.heels_cm is None else None,
        aids=segment.aids if shared.aids is None else (),
        setting=segment.setting if shared.setting is None else None,
    )
    said += _manner(own, load=False)
    if segment.if_able:
        said.append("if able")
    if segment.pause_after_s and not shared.pause_s:
        said.append(f"pause {segment.pause_after_s}")
    return [word for word in said if word]


def _sides(sides: object, exercise: Exercise) -> str:
    if sides == "both":
        return "both sides"
    return {"each_side": "each side", "in_all": "in all"}.get(str(sides), "")


def _load(load: Load | None) -> str:
    if load is None:
        return ""
    if load.reps_left is not None:
        return f"@{number(load.reps_left)} left"
    if load.rep_max is not None:
        return f"@{load.rep_max}RM"
    if load.effort is not None:
        return f"@effort {number(load.effort.value)}/{load.effort.of}"
    return _load_list([load])


def _load_list(loads: Sequence[Load]) -> str:
    """Loads that are said in the same way: shares of best, kilograms, or kilograms a side."""
    if loads[0].share_of_best is not None:
        return f"@{'/'.join(number((load.share_of_best or 0) * 100) for load in loads)}%"
    if loads[0].a_side_kg is not None:
        return f"@{'/'.join(number(load.a_side_kg or 0) for load in loads)} kg a side"
    return f"@{'/'.join(number(load.load_kg or 0) for load in loads)} kg"


def _change(change: LoadChange) -> str:
    word = "drop" if change.lighter else "add"
    if change.percent is not None:
        return f"{word} {number(abs(change.percent))}%"
    if change.steps is not None:
        return f"{word} {counted(abs(change.steps), 'step')}"
    return f"{word} {number(abs(change.kg or 0))} kg"


def _manner(manner: Manner, *, load: bool) -> list[str]:
    said: list[str] = [_load(manner.load)] if load and manner.load else []
    if manner.tempo is not None:
        said.append(tempo_words(manner.tempo))
    if manner.held_s:
        said.append(f"held {number(manner.held_s)}")
    if manner.partial:
        said.append("partial")
    if manner.alternating:
        said.append("partial and full")
    said += manner.stance
    if manner.heels_cm is not None:
        said.append(f"heels {number(manner.heels_cm)} cm")
    said += manner.aids
    if manner.setting:
        said.append(_setting(manner.setting))
    return said


def tempo_words(tempo: Tempo) -> str:
    """A tempo as it is spoken: 3-1-1, or 4-0-2-1 with a pause on top."""
    phases = tempo if tempo.top_s else tempo[:3]
    return "-".join(number(phase) for phase in phases)


def _setting(setting: MachineSetting) -> str:
    ways: list[tuple[float | None, Callable[[float], str]]] = [
        (setting.speed_kmh, lambda value: f"{number(value)} km/h"),
        (setting.incline_percent, lambda value: f"incline {number(value)}%"),
        (setting.power_w, lambda value: f"{number(value)} W"),
        (setting.steps_per_min, lambda value: f"{number(value)} steps/min"),
        (setting.step_height_m, lambda value: f"step {number(value * 100)} cm"),
        (setting.level, lambda value: f"level {number(value)}"),
    ]
    return " ".join(say(value) for value, say in ways if value is not None)
