"""Reads what stands behind an exercise's name: sets, their parts, how they are done, and the rests."""

from __future__ import annotations

from dataclasses import dataclass, field

from oaken.domain.catalogue import Catalogue, Exercise
from oaken.domain.prescription import Load, LoadChange, Segment, SetRun, Until, each_set
from oaken.domain.prescription.schemes import ramp
from oaken.plan.notation.faults import Misread
from oaken.plan.notation.manner import (
    read_change,
    read_loads,
    read_modifier,
    read_modifiers,
    refuse_what_it_cannot_take,
)
from oaken.plan.notation.measures import (
    CROSS,
    GETTING_BREATH_S,
    MINUTES,
    SECONDS,
    Fields,
    read_measures,
    read_seconds,
    read_times,
    read_until,
    rising,
)
from oaken.plan.notation.names import take_exercise
from oaken.plan.notation.scan import Token, Tokens
from oaken.plan.notation.vocabulary import AFTER_THE_LAST, HELPER, NUMBER_WORDS

MOST_SETS = 40
MOST_PARTS = 12
DROP_SHARE = 2 / 3
"""The part of a set's repetitions that are expected of a drop behind it (common practice, no source)."""


@dataclass(frozen=True)
class Rest:
    """A rest as it is written: its seconds, the upper end of a range, and the sign that ends it sooner."""

    seconds: int
    to_s: int | None = None
    until: Until | None = None


@dataclass
class Clauses:
    """What is said once for all sets of a line."""

    manner: Fields = field(default_factory=dict)
    loads: list[Load] | None = None
    change: LoadChange | None = None
    drops_on: int | None = None
    pause_s: int | None = None
    rests: list[Rest] | None = None
    rest_doing: str | None = None
    helper: bool = False
    if_able: bool = False
    where: Token | None = None
    loads_at: Token | None = None
    rests_at: Token | None = None
    pause_at: Token | None = None


@dataclass
class WrittenDose:
    """What a line says behind its exercise."""

    sets: list[SetRun]
    note: str = ""
    after_last: bool = False


def read_dose(tokens: Tokens, exercise: Exercise, catalogue: Catalogue) -> WrittenDose:
    """The sets of a slot, and what is said of it as a whole. Raises a Misread at the word that cannot be.

    Clauses behind a comma hold for the sets since the clauses before them.
    """
    start = tokens.now
    dose = WrittenDose([])
    while True:
        if tokens.take("ramp"):
            sure, most, reps = _ramp_counts(tokens)
            clauses = _read_clauses(tokens, catalogue, dose)
            if clauses.change is None or clauses.drops_on is not None:
                raise Misread(
                    start.column if start else 0, "ramp", "a ramp says what is added: “add 1 step”, “add 5 kg”"
                )
            change, clauses.change = clauses.change, None
            runs = ramp(sure, reps, change, None, most if most > sure else None)
        else:
            runs = _read_run(tokens, exercise, catalogue)
            while tokens.take("then"):
                runs += _read_run(tokens, exercise, catalogue)
            clauses = _read_clauses(tokens, catalogue, dose)
        dose.sets += _with_clauses(tokens, runs, clauses, exercise, catalogue)
        if not tokens.take("then"):
            break
    if sum(run.times for run in dose.sets) > MOST_SETS:
        message = f"an exercise has at most {MOST_SETS} sets"
        raise Misread(start.column if start else 0, start.text if start else "", message)
    return dose


def _ramp_counts(tokens: Tokens) -> tuple[int, int, int]:
    token = tokens.take_kind("range")
    if token:
        low, high = rising(token, "sets of a ramp", 1, 30)
    else:
        low = high = int(tokens.need_number("the number of sets", 1, 30))
    if tokens.take("sets"):
        tokens.take("of")
    elif not tokens.take(*CROSS):
        raise tokens.fault("“x” and the repetitions of each set are missing: ramp 6-7 x 6")
    reps = int(tokens.need_number("the number of repetitions", 1, 200))
    tokens.take("reps")
    return low, high, reps


# ---- runs of sets ---------------------------------------------------------------------------------------------


def _read_run(tokens: Tokens, exercise: Exercise, catalogue: Catalogue) -> list[SetRun]:
    """`3 x 12`, `8/6/4/2`, `7 + 7 + 7 pause 10`, with a rest and “if able” of their own."""
    times, most = read_times(tokens)
    inside = bool(tokens.take("("))
    first = read_measures(tokens)
    segments: list[Fields] = [first[0]]
    _read_part(tokens, segments[0], inside)
    if len(first) > 1:
        if times > 1 or inside:
            raise tokens.fault("a list of sets (8/6/4/2) stands by itself; several equal lists are written with “then”")
        refuse_what_it_cannot_take(tokens, exercise, catalogue, segments)
        ending = _ending(tokens, catalogue)
        return [SetRun(segments=[Segment(**{**segments[0], **count})], **ending) for count in first]
    while tokens.take("+"):
        more = read_measures(tokens)
        if len(more) > 1:
            raise tokens.fault("a list (8/6/4/2) is several sets; parts of one set are joined with +")
        segments.append(more[0])
        _read_part(tokens, more[0], inside)
    if inside and not tokens.take(")"):
        raise tokens.fault("the bracket is not closed: “)”", [")"])
    if len(segments) > MOST_PARTS:
        raise tokens.fault(f"a set has at most {MOST_PARTS} parts")
    if segments[-1].get("pause_after_s"):
        raise tokens.fault("a pause stands between two parts of a set; behind the last one it is a rest", ["rest"])
    refuse_what_it_cannot_take(tokens, exercise, catalogue, segments)
    ending = _ending(tokens, catalogue)
    parts = [Segment(**segment) for segment in segments]
    found = [SetRun(times=times, segments=parts, **ending)]
    if most > times:
        found.append(SetRun(times=most - times, segments=parts, **{**ending, "if_able": True}))
    return found


def _read_part(tokens: Tokens, segment: Fields, inside: bool) -> None:
    read_modifiers(tokens, segment)
    if inside and tokens.take_words("if able"):
        segment["if_able"] = True
        read_modifiers(tokens, segment)


def _ending(tokens: Tokens, catalogue: Catalogue) -> Fields:
    """What stands behind a run of sets: a rest of its own, a helper, and whether it is only for the able."""
    said: Fields = {}
    rest = _read_rest(tokens)
    if rest is not None:
        said.update(rest_s=rest.seconds, rest_to_s=rest.to_s, rest_until=rest.until)
        if tokens.take("doing"):
            said["rest_doing"] = take_exercise(tokens, catalogue).id
    if tokens.take_any(*HELPER):
        said["helper"] = True
    if tokens.take_words("if able"):
        said["if_able"] = True
    return said


def _read_rest(tokens: Tokens) -> Rest | None:
    """`rest 60`, `rest 60-120`, `rest until 105 bpm`, `60 s rest`, `no rest`; None where no rest comes next."""
    if tokens.take_any("no rest", "without rest"):
        return Rest(0)
    if tokens.take("rest"):
        return _rest_seconds(tokens)
    now = tokens.now
    if now is not None and now.kind in ("number", "range", "clock"):
        with_unit = tokens.says(*SECONDS, *MINUTES, ahead=1)
        if tokens.says("rest", ahead=2 if with_unit else 1):
            seconds, to_s = read_seconds(tokens, "a rest", 0, 1800)
            tokens.take("rest")
            return Rest(seconds, to_s, read_until(tokens) if tokens.take("until") else None)
    return None


def _rest_seconds(tokens: Tokens) -> Rest:
    token = tokens.now
    if tokens.take("until"):
        until = read_until(tokens)
        low, high = GETTING_BREATH_S
        assert token is not None
        tokens.notice(token, f"expected to take {low} to {high} s: write the time you expect before it")
        return Rest(low, high, until)
    seconds, to_s = read_seconds(tokens, "a rest", 0, 1800)
    return Rest(seconds, to_s, read_until(tokens) if tokens.take("until") else None)


# ---- clauses --------------------------------------------------------------------------------------------------


def _read_clauses(tokens: Tokens, catalogue: Catalogue, dose: WrittenDose) -> Clauses:
    """Everything behind a comma, to the end of the line or to the next “then”."""
    clauses = Clauses(where=tokens.now)
    while tokens.now is not None and not tokens.says("then"):
        if not tokens.take(","):
            raise tokens.unknown()
        if not _read_clause(tokens, clauses, catalogue, dose):
            raise tokens.unknown() if tokens.now else tokens.fault("something is missing behind the comma")
        while tokens.now is not None and not tokens.says(",", "then"):
            if not _read_clause(tokens, clauses, catalogue, dose):
                raise tokens.unknown()
    return clauses


def _read_clause(tokens: Tokens, clauses: Clauses, catalogue: Catalogue, dose: WrittenDose) -> bool:
    token = tokens.now
    if token is None:
        return False
    if take_note(tokens, dose):
        return True
    if tokens.take_any(*AFTER_THE_LAST):
        dose.after_last = True
        return True
    if tokens.take_any(*HELPER):
        clauses.helper = True
        return True
    if tokens.take_words("if able"):
        clauses.if_able = True
        return True
    rest = _read_rest(tokens)
    if rest is not None:
        if clauses.rests is not None:
            raise Misread(token.column, token.text, "is said twice")
        clauses.rests, clauses.rests_at = [rest], token
        while tokens.take("/"):
            clauses.rests.append(_rest_seconds(tokens))
        if tokens.take("doing"):
            clauses.rest_doing = take_exercise(tokens, catalogue).id
        return True
    loads = read_loads(tokens)
    if loads is not None:
        if clauses.loads is not None:
            raise Misread(token.column, token.text, "is said twice")
        clauses.loads, clauses.loads_at = loads, token
        return True
    if tokens.take("drop", "add"):
        clauses.change, clauses.where = read_change(tokens, -1 if token.text.lower() == "drop" else 1), token
        clauses.drops_on = _on_which(tokens)
        return True
    said: Fields = dict(clauses.manner)
    if not read_modifier(tokens, said):
        return False
    pause = said.pop("pause_after_s", None)
    if pause is not None:
        clauses.pause_s, clauses.pause_at = pause, token
    clauses.manner = said
    return True


def _on_which(tokens: Tokens) -> int | None:
    """On how many of the last sets: `on the last set`, `on the last two`, `on every set`; None where nothing is
    said."""
    if tokens.take_any("on every set", "on each set", "every set", "each set", "on all sets"):
        return MOST_SETS
    if not (tokens.says("on", "the", "last") and tokens.take_any("on the last", "the last", "last")):
        return None
    token = tokens.now
    count = 1
    if token is not None and (token.text.lower() in NUMBER_WORDS or token.kind == "number"):
        count = NUMBER_WORDS.get(token.text.lower()) or int(float(token.text))
        tokens.at += 1
    tokens.take("set", "sets")
    return max(1, count)


def take_note(tokens: Tokens, into: WrittenDose) -> bool:
    """A note in quotes, or everything behind the word “note” or “cue”."""
    token = tokens.now
    assert token is not None
    if token.kind == "quote":
        tokens.at += 1
        text = token.text[1:-1]
    elif tokens.says("note", "cue"):
        text = tokens.line[token.end :].lstrip(" :").replace('"', "")
        tokens.at = len(tokens.listed)
    else:
        return False
    if into.note:
        raise Misread(token.column, token.text, "a line has one note")
    text = " ".join(text.split())
    if not text or len(text) > 200:
        raise Misread(token.column, token.text[:20], "a note has 1 to 200 characters")
    into.note = text
    return True


# ---- together -------------------------------------------------------------------------------------------------


def _with_clauses(
    tokens: Tokens, runs: list[SetRun], clauses: Clauses, exercise: Exercise, catalogue: Catalogue
) -> list[SetRun]:
    if clauses.change is not None and clauses.drops_on is not None:
        runs = _with_drops(tokens, runs, clauses)
        parts: list[Fields] = [{"change": clauses.change}]
    elif clauses.change is not None:
        where = clauses.where
        word = where.text if where else ""
        message = "say on which set, or behind which part: drop 20% on the last set; 10 + max~8 drop 20%"
        raise Misread(where.column if where else 0, word, message, ["drop 20% on the last set", "ramp"])
    else:
        parts = []
    runs = _with_pause(runs, clauses)
    count = sum(run.times for run in runs)
    loads, rests = clauses.loads, clauses.rests
    if loads is not None and len(loads) not in (1, count):
        mark = clauses.loads_at
        raise Misread(
            mark.column if mark else 0, "@", f"{count} sets need one load or {count} of them, not {len(loads)}"
        )
    if rests is not None and len(rests) > max(count, 1):
        said = clauses.rests_at
        raise Misread(said.column if said else 0, "rest", f"{count} sets have at most {count} rests, not {len(rests)}")
    refuse_what_it_cannot_take(
        tokens, exercise, catalogue, [*parts, clauses.manner, *({"load": load} for load in loads or [])]
    )
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
            rest = rests[min(place, len(rests) - 1)]
            update.update(rest_s=rest.seconds, rest_to_s=rest.to_s, rest_until=rest.until)
            update["rest_doing"] = clauses.rest_doing if rest.seconds else None
        if clauses.helper:
            update["helper"] = True
        if clauses.if_able:
            update["if_able"] = True
        found.append(run.model_copy(update=update))
    return found


def _with_pause(runs: list[SetRun], clauses: Clauses) -> list[SetRun]:
    """A pause behind the comma stands between the parts of every set; a list of counts is then one set of parts."""
    if clauses.pause_s is None or any(len(run.segments) > 1 for run in runs):
        return runs
    at = clauses.pause_at
    if len(runs) > 1 and all(len(run.segments) == 1 and run.times == 1 and not run.rest_s for run in runs):
        return [SetRun(segments=[run.segments[0] for run in runs])]
    message = "a pause stands between the parts of a set (7 + 7 + 7, pause 10); between sets it is a rest"
    raise Misread(
        at.column if at else 0,
        at.text if at else "pause",
        message,
        [f"rest {clauses.pause_s}", f"held {min(30, clauses.pause_s)}"],
    )


def _with_drops(tokens: Tokens, runs: list[SetRun], clauses: Clauses) -> list[SetRun]:
    """The last sets with a drop behind them, to failure."""
    assert clauses.drops_on is not None
    assert clauses.where is not None
    sets = each_set(runs)
    found = []
    for place, run in enumerate(sets):
        last = run.segments[-1]
        if place < len(sets) - clauses.drops_on:
            found.append(run)
            continue
        if last.reps is None or len(run.segments) >= MOST_PARTS:
            raise Misread(clauses.where.column, clauses.where.text, "a drop follows repetitions: 10 + max~8 drop 20%")
        expected = max(1, round(DROP_SHARE * last.reps))
        drop = Segment(reps=expected, to_failure=True, change=clauses.change, sides=last.sides)
        found.append(run.model_copy(update={"segments": [*run.segments, drop]}))
    tokens.notice(
        clauses.where, "two thirds of the repetitions are expected of a drop: write another number if need be"
    )
    return found


def _with_manner(segment: Segment, clauses: Clauses, load: Load | None, *, last: bool, exercise: Exercise) -> Segment:
    given = segment.model_dump(exclude_defaults=True)
    update = {name: value for name, value in clauses.manner.items() if name not in given}
    for name in ("stance", "aids"):
        # what is said of all the sets comes on top of what is said of this part
        more = tuple(item for item in clauses.manner.get(name, ()) if item not in given.get(name, ()))
        update |= {name: (*given[name], *more)} if name in given else {}
    if load is not None and segment.load is None and segment.change is None:
        update["load"] = load
    if clauses.pause_s is not None and not last and not segment.pause_after_s:
        update["pause_after_s"] = clauses.pause_s
    if "sides" not in update and segment.sides is None and exercise.one_sided:
        update["sides"] = "each_side"
    return Segment.model_validate({**dict(segment), **update})


# ---- stations and legs ----------------------------------------------------------------------------------------


def read_station_manner(tokens: Tokens, exercise: Exercise, catalogue: Catalogue) -> Fields:
    """How a station is done: load, tempo and the like, with or without commas between them."""
    said: Fields = {}
    noted = WrittenDose([])
    read_modifiers(tokens, said)
    while tokens.take(","):
        if tokens.now is not None and take_note(tokens, noted):
            continue
        before = dict(said)
        read_modifiers(tokens, said)
        if said == before:
            raise tokens.unknown() if tokens.now else tokens.fault("something is missing behind the comma")
    token = tokens.now
    if token is not None:
        if token.kind == "number":
            raise Misread(token.column, token.text, "the clock of the block says how long a station is: no count here")
        raise tokens.unknown()
    for name in ("change", "sides", "pause_after_s", "until", "helped"):
        if name in said:
            raise Misread(0, tokens.line.strip(), f"a station on the clock takes no {name.split('_')[0]}")
    refuse_what_it_cannot_take(tokens, exercise, catalogue, [said])
    return {**said, "note": noted.note}


def read_turn(tokens: Tokens, exercise: Exercise, catalogue: Catalogue) -> Fields:
    """One turn of a relay's leg, the rest after the leg, and a note; the line ends with it."""
    counts = read_measures(tokens)
    if len(counts) > 1:
        raise tokens.fault("a turn is one count")
    turn = counts[0]
    noted = WrittenDose([])
    read_modifiers(tokens, turn)
    rest_s = 0
    while tokens.take(","):
        if tokens.now is not None and take_note(tokens, noted):
            continue
        rest = _read_rest(tokens)
        if rest is not None:
            if rest.to_s is not None or rest.until is not None:
                raise tokens.fault("the rest after a leg is one number of seconds")
            rest_s = rest.seconds
        elif not read_modifier(tokens, turn):
            raise tokens.unknown() if tokens.now else tokens.fault("something is missing behind the comma")
        read_modifiers(tokens, turn)
    if tokens.now is not None:
        raise tokens.unknown()
    for name in ("change", "pause_after_s"):
        if name in turn:
            raise tokens.fault(f"a turn takes no {name.split('_')[0]}")
    refuse_what_it_cannot_take(tokens, exercise, catalogue, [turn])
    if exercise.one_sided:
        turn.setdefault("sides", "each_side")
    return {"turn": Segment(**turn), "rest_s": rest_s, "note": noted.note}
