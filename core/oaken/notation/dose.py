"""Reads what stands behind an exercise's name: sets, segments, how they are done, and the rests."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

from oaken.catalogue import Catalogue, Exercise
from oaken.notation.faults import Misread
from oaken.notation.names import take_exercise
from oaken.notation.scan import Token, Tokens
from oaken.notation.vocabulary import STANCES
from oaken.prescription import Load, LoadChange, MachineSetting, Segment, SetRun, Tempo, each_set
from oaken.prescription.schemes import ramp

Fields = dict[str, Any]


@dataclass
class Clauses:
    """What is said once for all sets of a line."""

    manner: Fields = field(default_factory=dict)
    loads: list[Load] | None = None
    change: LoadChange | None = None
    pause_s: int | None = None
    rests_s: list[int] | None = None
    rest_doing: str | None = None
    where: Token | None = None
    loads_at: Token | None = None
    rests_at: Token | None = None


def read_sets(tokens: Tokens, exercise: Exercise, catalogue: Catalogue) -> list[SetRun]:
    """The sets of a slot. Raises a Misread at the word that cannot be."""
    start = tokens.now
    if tokens.take("ramp"):
        sure, most, reps = _ramp_counts(tokens)
        clauses = read_clauses(tokens, catalogue)
        if clauses.change is None:
            raise Misread(start.column if start else 0, "ramp", "a ramp says what is added: “add 1 step”, “add 5 kg”")
        change, clauses.change = clauses.change, None
        runs = ramp(sure, reps, change, None, most if most > sure else None)
        return _with_clauses(runs, clauses, exercise)
    runs = read_run(tokens, catalogue)
    while tokens.take("then"):
        runs += read_run(tokens, catalogue)
    clauses = read_clauses(tokens, catalogue)
    if sum(run.times for run in runs) > 40:
        raise Misread(start.column if start else 0, start.text if start else "", "a slot has at most 40 sets")
    return _with_clauses(runs, clauses, exercise)


def _ramp_counts(tokens: Tokens) -> tuple[int, int, int]:
    token = tokens.take_kind("range")
    if token:
        low, high = (int(part) for part in token.text.split("-"))
        if not 1 <= low < high <= 30:
            raise Misread(token.column, token.text, "a ramp has 1 to 30 sets, the lower number first")
    else:
        low = high = int(tokens.need_number("the number of sets", 1, 30))
    if not tokens.take("x", "×"):
        raise tokens.fault("“x” and the repetitions of each set are missing: ramp 6-7 x 6")
    return low, high, int(tokens.need_number("the number of repetitions", 1, 200))


def read_run(tokens: Tokens, catalogue: Catalogue) -> list[SetRun]:
    """`3 x 12`, `8/6/4/2`, `7 + 7 + 7 pause 10`, with a rest and “if able” of their own."""
    times = 1
    token, cross = tokens.now, tokens.peek()
    if token and token.kind == "number" and cross and cross.text.lower() in ("x", "×"):
        times = int(tokens.need_number("the number of sets", 1, 30))
        tokens.take("x", "×")
    inside = bool(tokens.take("("))
    first = _read_measures(tokens)
    segments: list[Fields] = [first[0]]
    _read_modifiers(tokens, segments[0])
    if len(first) > 1:
        if times > 1 or inside:
            raise tokens.fault("a list of sets (8/6/4/2) stands by itself; several equal lists are written with “then”")
        ending = _ending(tokens, catalogue)
        return [SetRun(segments=[Segment(**{**segments[0], **count})], **ending) for count in first]
    while tokens.take("+"):
        more = _read_measures(tokens)
        if len(more) > 1:
            raise tokens.fault("a list (8/6/4/2) is several sets; parts of one set are joined with +")
        segments.append(more[0])
        _read_modifiers(tokens, more[0])
    if inside and not tokens.take(")"):
        raise tokens.fault("the bracket is not closed: “)”", [")"])
    if len(segments) > 12:
        raise tokens.fault("a set has at most 12 parts")
    if segments[-1].get("pause_after_s"):
        raise tokens.fault("a pause stands between two parts of a set; behind the last one it is a rest", ["rest"])
    ending = _ending(tokens, catalogue)
    return [SetRun(times=times, segments=[Segment(**one) for one in segments], **ending)]


def _ending(tokens: Tokens, catalogue: Catalogue) -> Fields:
    """What stands behind a run of sets: a rest of its own, and whether it is only for the able."""
    said: Fields = {}
    if tokens.take("rest"):
        said["rest_s"] = _seconds(tokens, "a rest", 0, 1800)
        if tokens.take("doing"):
            said["rest_doing"] = take_exercise(tokens, catalogue).id
    if tokens.take_words("if able"):
        said["if_able"] = True
    return said


def _read_measures(tokens: Tokens) -> list[Fields]:
    """One count, or a list of counts that are sets of their own."""
    common: Fields = {}
    if tokens.take("hold"):
        common["hold"] = True
    if tokens.take("max"):
        common["to_failure"] = True
        if not tokens.take("~"):
            raise tokens.fault("“max” says what to expect: max~8", ["max~8"])
    token = tokens.take_kind("range")
    if token:
        if common:
            raise Misread(token.column, token.text, "is one expected number here, not a range")
        low, high = (int(part) for part in token.text.split("-"))
        if not 1 <= low < high <= 200:
            raise Misread(token.column, token.text, "a range of repetitions is 1 to 200, the lower number first")
        return [{"reps": low, "reps_to": high}]
    token = tokens.take_kind("clock")
    if token:
        minutes, seconds = (int(part) for part in token.text.split(":"))
        return [{**common, "seconds": _within(token, 60 * minutes + seconds, "a time", 1, 3600, "s")}]
    first = tokens.now
    if first is not None and first.kind in ("word", "other") and not first.text[0].isdigit() and first.text[0] != "-":
        raise tokens.unknown()
    if first is None or first.kind != "number":
        raise tokens.fault("how many? 12, 15-20, 40 s, 100 m or max~8", ["12", "40 s", "max~8"])
    found = [first]
    tokens.at += 1
    while tokens.now and tokens.now.text == "/" and (after := tokens.peek()) and after.kind == "number":
        found.append(after)
        tokens.at += 2
    unit = tokens.take("s", "sec", "min", "m")
    name = unit.text.lower() if unit else ""
    if common.get("hold") and name in ("", "m"):
        raise Misread(found[-1].column, found[-1].text, "a hold is given in seconds: 30 s", [f"{found[-1].text} s"])
    limits = {"": ("repetitions", 1, 200), "m": ("metres", 1, 10_000), "min": ("minutes", 1, 60)}
    what, low_, high_ = limits.get(name, ("seconds", 1, 3600))
    key = {"": "reps", "m": "metres"}.get(name, "seconds")
    factor = 60 if name == "min" else 1
    return [{**common, key: factor * _within(one, float(one.text), what, low_, high_, "")} for one in found]


def _within(token: Token, value: float, what: str, low: int, high: int, unit: str) -> int:
    if value != int(value) or not low <= value <= high:
        raise Misread(token.column, token.text, f"{what}: a whole number from {low} to {high} {unit}".rstrip())
    return int(value)


def _read_modifiers(tokens: Tokens, into: Fields) -> None:
    while _read_modifier(tokens, into):
        pass


def _read_modifier(tokens: Tokens, into: Fields) -> bool:
    """One word on how a segment is done; False when what comes next is something else."""
    token = tokens.now
    if token is None:
        return False
    if token.kind == "tempo":
        tokens.at += 1
        phases = [float(part) for part in token.text.split("-")]
        if max(phases) > 30 or sum(phases) == 0:
            raise Misread(token.column, token.text, "a tempo is lowering-pause-lifting(-pause), each 0 to 30 s")
        return _put(into, "tempo", Tempo(*phases), token)
    if token.text == "@":
        loads = read_loads(tokens)
        if len(loads) > 1:
            raise Misread(token.column, "@", "a list of loads stands behind a comma: one for each set")
        return _put(into, "load", loads[0], token)
    if token.kind not in ("word", "number"):
        return False
    setting = _read_setting(tokens)
    if setting is not None:
        name, value = setting
        known = into.get("setting")
        settings = {} if known is None else known.model_dump(exclude_none=True)
        if name in settings:
            raise Misread(token.column, token.text, "is set twice")
        into["setting"] = MachineSetting(**{**settings, name: value})
        return True
    if token.kind == "number":
        return False
    for phrase, name, value in _PLAIN:
        if tokens.take_words(phrase):
            return _put(into, name, value, token)
    if tokens.take("held"):
        held = tokens.need_number("the pause on each repetition (s)", 0.1, 30, whole=False)
        tokens.take("s")
        return _put(into, "held_s", held, token)
    if tokens.take("drop", "add"):
        return _put(into, "change", _change(tokens, -1 if token.text.lower() == "drop" else 1), token)
    if tokens.take("pause"):
        return _put(into, "pause_after_s", _seconds(tokens, "a pause", 1, 600), token)
    return False


_PLAIN: list[tuple[str, str, Any]] = [
    ("each side", "sides", "each_side"),
    ("in all", "sides", "in_all"),
    ("both sides", "sides", "both"),
    ("partial", "partial", True),
    *((stance, "stance", stance) for stance in STANCES),
]


def _put(into: Fields, name: str, value: Any, token: Token) -> bool:
    if name in into:
        raise Misread(token.column, token.text, "is said twice")
    if {name, *into} >= {"load", "change"}:
        raise Misread(
            token.column, token.text, "a part has a load of its own or a change from the one before, not both"
        )
    into[name] = value
    return True


def read_loads(tokens: Tokens) -> list[Load]:
    """`@70%`, `@60 kg`, or a list with one load for each set."""
    mark = tokens.take("@")
    assert mark is not None
    values = [tokens.take_kind("number")]
    if values[0] is None:
        raise tokens.fault("a load is missing: 70% of best, or 60 kg", ["70%", "60 kg"])
    while tokens.take("/"):
        values.append(tokens.take_kind("number"))
        if values[-1] is None:
            raise tokens.fault("another load is missing behind the stroke")
    numbers = [value for value in values if value is not None]
    if tokens.take("%"):
        make: Callable[[float], Load] = lambda value: Load(share_of_best=value / 100)  # noqa: E731
        low, high, what = 0.01, 120.0, "percent of best"
    elif tokens.take("kg"):
        make = lambda value: Load(load_kg=value)  # noqa: E731
        low, high, what = 0.0, 600.0, "kilograms"
    else:
        raise tokens.fault("a load has a unit: % of best, or kg", ["%", "kg"])
    for value in numbers:
        if not low <= float(value.text) <= high:
            raise Misread(value.column, value.text, f"{what}: {low:g} to {high:g}")
    return [make(float(value.text)) for value in numbers]


def _change(tokens: Tokens, sign: int) -> LoadChange:
    token = tokens.now
    value = tokens.need_number("the change of load", 0.01, 200, whole=False)
    assert token is not None
    if tokens.take("%"):
        if (sign < 0 and value > 90) or value > 100:
            raise Misread(token.column, token.text, "a drop is at most 90 %, an addition at most 100 %")
        return LoadChange(percent=sign * value)
    if tokens.take("step", "steps"):
        if value != int(value) or value > 20:
            raise Misread(token.column, token.text, "machine steps: a whole number from 1 to 20")
        return LoadChange(steps=sign * int(value))
    if tokens.take("kg"):
        return LoadChange(kg=sign * value)
    raise tokens.fault("a change of load has a unit: %, steps or kg", ["%", "steps", "kg"])


_SETTING_UNITS = {"km/h": ("speed_kmh", 0.1, 45, False), "w": ("power_w", 10, 1200, True),
                  "steps/min": ("steps_per_min", 5, 200, True)}  # fmt: skip


def _read_setting(tokens: Tokens) -> tuple[str, float] | None:
    token, unit = tokens.now, tokens.peek()
    assert token is not None
    if token.kind == "number" and unit and unit.text.lower() in _SETTING_UNITS:
        name, low, high, whole = _SETTING_UNITS[unit.text.lower()]
        value = tokens.need_number(name.split("_")[0], low, high, whole=whole)
        tokens.at += 1
        return name, int(value) if whole else value
    if tokens.take("incline"):
        value = tokens.need_number("the incline (%)", 0, 40, whole=False)
        tokens.take("%")
        return "incline_percent", value
    if token.text.lower() == "step" and unit and unit.kind == "number":
        tokens.take("step")
        value = tokens.need_number("the height of a step (cm)", 2, 60)
        tokens.take("cm")
        return "step_height_m", value / 100
    if tokens.take("level"):
        return "level", int(tokens.need_number("the level", 1, 40))
    return None


def _seconds(tokens: Tokens, what: str, low: int, high: int) -> int:
    token = tokens.take_kind("clock")
    if token:
        minutes, seconds = (int(part) for part in token.text.split(":"))
        return _within(token, 60 * minutes + seconds, what, low, high, "s")
    token = tokens.now
    value = tokens.need_number(f"{what} (s)", low, high)
    assert token is not None
    if tokens.take("min"):
        return _within(token, value * 60, what, low, high, "s")
    tokens.take("s", "sec")
    return int(value)


def read_clauses(tokens: Tokens, catalogue: Catalogue) -> Clauses:
    """Everything behind the first comma; the line ends with it."""
    clauses = Clauses(where=tokens.now)
    while tokens.now is not None:
        if not tokens.take(","):
            raise tokens.unknown()
        if not _read_clause(tokens, clauses, catalogue):
            raise tokens.unknown() if tokens.now else tokens.fault("something is missing behind the comma")
        while tokens.now is not None and tokens.now.text != ",":
            if not _read_clause(tokens, clauses, catalogue):
                raise tokens.unknown()
    return clauses


def _read_clause(tokens: Tokens, clauses: Clauses, catalogue: Catalogue) -> bool:
    token = tokens.now
    if token is None:
        return False
    if tokens.take("rest"):
        if clauses.rests_s is not None:
            raise Misread(token.column, token.text, "is said twice")
        clauses.rests_s, clauses.rests_at = [_seconds(tokens, "a rest", 0, 1800)], token
        while tokens.take("/"):
            clauses.rests_s.append(_seconds(tokens, "a rest", 0, 1800))
        if tokens.take("doing"):
            clauses.rest_doing = take_exercise(tokens, catalogue).id
        return True
    if token.text == "@":
        if clauses.loads is not None:
            raise Misread(token.column, token.text, "is said twice")
        clauses.loads, clauses.loads_at = read_loads(tokens), token
        return True
    said: Fields = dict(clauses.manner)
    if not _read_modifier(tokens, said):
        return False
    change, pause = said.pop("change", None), said.pop("pause_after_s", None)
    if change is not None:
        clauses.change, clauses.where = change, token
    if pause is not None:
        clauses.pause_s = pause
    clauses.manner = said
    return True


def _with_clauses(runs: list[SetRun], clauses: Clauses, exercise: Exercise) -> list[SetRun]:
    if clauses.change is not None:
        where = clauses.where
        word = where.text if where else ""
        message = "say behind which part: 10 + max~8 drop 20%; or begin with “ramp”"
        raise Misread(where.column if where else 0, word, message, ["ramp"])
    count = sum(run.times for run in runs)
    loads, rests = clauses.loads, clauses.rests_s
    if loads is not None and len(loads) not in (1, count):
        mark = clauses.loads_at
        raise Misread(
            mark.column if mark else 0, "@", f"{count} sets need one load or {count} of them, not {len(loads)}"
        )
    if rests is not None and len(rests) > max(count, 1):
        said = clauses.rests_at
        raise Misread(said.column if said else 0, "rest", f"{count} sets have at most {count} rests, not {len(rests)}")
    singly = (loads is not None and len(loads) > 1) or (rests is not None and len(rests) > 1)
    found = []
    for place, run in enumerate(each_set(runs) if singly else runs):
        load = None if loads is None else loads[min(place, len(loads) - 1)]
        segments = [
            _with_manner(segment, clauses, load, last=number == len(run.segments) - 1, exercise=exercise)
            for number, segment in enumerate(run.segments)
        ]
        update: Fields = {"segments": segments}
        if rests is not None and run.rest_s == 0:
            update["rest_s"] = rests[min(place, len(rests) - 1)]
            update["rest_doing"] = clauses.rest_doing if update["rest_s"] else None
        found.append(run.model_copy(update=update))
    return found


def _with_manner(segment: Segment, clauses: Clauses, load: Load | None, *, last: bool, exercise: Exercise) -> Segment:
    given = segment.model_dump(exclude_defaults=True)
    update = {name: value for name, value in clauses.manner.items() if name not in given}
    if load is not None and segment.load is None and segment.change is None:
        update["load"] = load
    if clauses.pause_s is not None and not last and not segment.pause_after_s:
        update["pause_after_s"] = clauses.pause_s
    if "sides" not in update and segment.sides is None and exercise.one_sided:
        update["sides"] = "each_side"
    return segment.model_copy(update=update)


def read_station_manner(tokens: Tokens, catalogue: Catalogue) -> Fields:
    """How a station is done: load, tempo and the like, with or without commas between them."""
    said: Fields = {}
    _read_modifiers(tokens, said)
    while tokens.take(","):
        before = dict(said)
        _read_modifiers(tokens, said)
        if said == before:
            raise tokens.unknown() if tokens.now else tokens.fault("something is missing behind the comma")
    token = tokens.now
    if token is not None:
        if token.kind == "number":
            raise Misread(token.column, token.text, "the clock of the block says how long a station is: no count here")
        raise tokens.unknown()
    for name in ("change", "sides", "pause_after_s"):
        if name in said:
            raise Misread(0, tokens.line.strip(), f"a station on the clock takes no {name.split('_')[0]}")
    return said


def read_turn(tokens: Tokens, exercise: Exercise) -> tuple[Segment, int]:
    """One turn of a relay's leg, and the rest after the leg; the line ends with it."""
    counts = _read_measures(tokens)
    if len(counts) > 1:
        raise tokens.fault("a turn is one count")
    turn = counts[0]
    _read_modifiers(tokens, turn)
    rest_s = 0
    while tokens.take(","):
        if tokens.take("rest"):
            rest_s = _seconds(tokens, "a rest", 0, 1800)
        elif not _read_modifier(tokens, turn):
            raise tokens.unknown() if tokens.now else tokens.fault("something is missing behind the comma")
        _read_modifiers(tokens, turn)
    if tokens.now is not None:
        raise tokens.unknown()
    for name in ("change", "pause_after_s"):
        if name in turn:
            raise tokens.fault(f"a turn takes no {name.split('_')[0]}")
    if exercise.one_sided:
        turn.setdefault("sides", "each_side")
    return Segment(**turn), rest_s
