"""Reads counts: how many sets, and the repetitions, seconds or metres of a part of one."""

from __future__ import annotations

from typing import Any

from oaken.domain.prescription import Until
from oaken.plan.notation.faults import Misread
from oaken.plan.notation.scan import Token, Tokens
from oaken.plan.notation.vocabulary import TALKING

Fields = dict[str, Any]

SECONDS = ("s", "sec", "secs", "second", "seconds")
MINUTES = ("min", "mins", "minute", "minutes")
METRES = ("m", "metres", "meters", "metre", "meter")
REPS = ("reps", "rep", "repetitions", "times")
CROSS = ("x", "×")

WARMING_UP_S = (300, 600)
"""How long people ride or walk until they are warm (common practice, no source)."""

GETTING_BREATH_S = (60, 180)
"""How long a rest is until a heart or a breath has come down (common practice, no source)."""


def span(token: Token) -> tuple[int, int]:
    """The two ends of a range."""
    low, high = token.text.split("-")
    return int(low), int(high)


def whole(token: Token, value: float, what: str, low: int, high: int, unit: str = "") -> int:
    """A whole number within limits. Raises a Misread."""
    if value != int(value) or not low <= value <= high:
        raise Misread(token.column, token.text, f"{what}: a whole number from {low} to {high} {unit}".rstrip())
    return int(value)


def rising(token: Token, what: str, low: int, high: int, factor: int = 1) -> tuple[int, int]:
    """A range within limits, the lower number first. Raises a Misread."""
    first, last = (factor * end for end in span(token))
    if not low <= first < last <= high:
        raise Misread(token.column, token.text, f"a range of {what} is {low} to {high}, the lower number first")
    return first, last


def clock_s(token: Token, what: str, low: int, high: int) -> int:
    """`1:30` in seconds."""
    minutes, seconds = (int(part) for part in token.text.split(":"))
    return whole(token, 60 * minutes + seconds, what, low, high, "s")


def read_seconds(tokens: Tokens, what: str, low: int, high: int) -> tuple[int, int | None]:
    """`60`, `60 s`, `1:30`, `2 min`, or a range of them with its upper end."""
    token = tokens.take_kind("clock")
    if token:
        return clock_s(token, what, low, high), None
    token = tokens.take_kind("range")
    if token:
        factor = 60 if tokens.take(*MINUTES) else 1
        if factor == 1:
            tokens.take(*SECONDS)
        return rising(token, f"{what.removeprefix('a ')}s (s)", low, high, factor)
    token = tokens.now
    value = tokens.need_number(f"{what} (s)", low, high, whole=False)
    assert token is not None
    if tokens.take(*MINUTES):
        return whole(token, value * 60, what, low, high, "s"), None
    tokens.take(*SECONDS)
    return whole(token, value, what, low, high, "s"), None


def read_until(tokens: Tokens) -> Until:
    """What stands behind “until”: `105 bpm`, or `you can talk`."""
    tokens.take_any("about", "around")
    if tokens.take_any(*TALKING):
        return Until(talking=True)
    bpm = int(tokens.need_number("a heart rate (bpm)", 60, 200))
    tokens.take("bpm")
    return Until(bpm=bpm)


def read_times(tokens: Tokens) -> tuple[int, int]:
    """`3 x`, `3 sets of`, `3-4 x`: how many sets for sure and at most; 1 and 1 where nothing is said."""
    token = tokens.now
    if token is None or token.kind not in ("number", "range"):
        return 1, 1
    if not (tokens.says(*CROSS, ahead=1) or tokens.says("sets", "set", "rounds", "round", ahead=1)):
        return 1, 1
    tokens.at += 1
    if token.kind == "range":
        low, high = rising(token, "sets", 1, 30)
    else:
        low = high = whole(token, float(token.text), "the number of sets", 1, 30)
    if tokens.take("sets", "set", "rounds", "round"):
        if not (tokens.take("of") or tokens.take(*CROSS)):
            raise tokens.fault(f"{token.text} sets of how many? {token.text} x 12", [f"{token.text} x 12"])
    else:
        tokens.take(*CROSS)
    return low, high


def read_measures(tokens: Tokens) -> list[Fields]:
    """One count, or a list of counts that are sets of their own."""
    common: Fields = {}
    if tokens.take("hold"):
        common["hold"] = True
    if tokens.take("max"):
        common["to_failure"] = True
        if not tokens.take("~"):
            raise tokens.fault("“max” says what to expect: max~8", ["max~8"])
    if tokens.take("until"):
        return [_until_alone(tokens, common)]
    token = tokens.take_kind("range")
    if token:
        return [_range(tokens, token, common)]
    token = tokens.take_kind("clock")
    if token:
        return [{**common, "seconds": clock_s(token, "a time", 1, 3600)}]
    first = tokens.now
    if first is not None and first.kind in ("word", "other") and not first.text[0].isdigit() and first.text[0] != "-":
        raise tokens.unknown()
    if first is None or first.kind != "number":
        raise tokens.fault("how many? 12, 15-20, 40 s, 100 m or max~8", ["12", "40 s", "max~8"])
    found = [first]
    tokens.at += 1
    while tokens.says("/") and (after := tokens.peek()) and after.kind == "number":
        found.append(after)
        tokens.at += 2
    key, factor, what, low, high = _unit(tokens)
    if common.get("hold") and key != "seconds":
        raise Misread(found[-1].column, found[-1].text, "a hold is given in seconds: 30 s", [f"{found[-1].text} s"])
    if key == "reps" and tokens.take_words("to failure"):
        common["to_failure"] = True
    limit = high if factor == 1 else high // factor
    return [{**common, key: factor * whole(item, float(item.text), what, low, limit)} for item in found]


def _unit(tokens: Tokens) -> tuple[str, int, str, int, int]:
    if tokens.take(*SECONDS):
        return "seconds", 1, "seconds", 1, 3600
    if tokens.take(*MINUTES):
        return "seconds", 60, "minutes", 1, 3600
    if tokens.take(*METRES):
        return "metres", 1, "metres", 1, 10_000
    if tokens.take("km"):
        return "metres", 1000, "kilometres", 1, 10_000
    tokens.take(*REPS)
    return "reps", 1, "repetitions", 1, 200


def _range(tokens: Tokens, token: Token, common: Fields) -> Fields:
    """`15-20`, `30-45 s`, `4-6 min`; behind “max” what to expect."""
    if tokens.take(*SECONDS):
        low, high = rising(token, "seconds", 1, 3600)
    elif tokens.take(*MINUTES):
        low, high = rising(token, "minutes", 1, 3600, 60)
    else:
        if common.get("hold"):
            raise Misread(token.column, token.text, "a hold is given in seconds: 20-30 s", [f"{token.text} s"])
        low, high = rising(token, "repetitions", 1, 200)
        tokens.take(*REPS)
        if tokens.take_words("to failure"):
            common["to_failure"] = True
        return {**common, "reps": low, "reps_to": high}
    return {**common, "seconds": low, "seconds_to": high}


def _until_alone(tokens: Tokens, common: Fields) -> Fields:
    """`until 105 bpm` with no time said: how long that usually takes."""
    start = tokens.now
    until = read_until(tokens)
    low, high = WARMING_UP_S if until.bpm is not None else GETTING_BREATH_S
    if start is not None:
        tokens.notice(start, f"expected to take {low // 60} to {high // 60} min: write the time you expect before it")
    return {**common, "seconds": low, "seconds_to": high, "until": until}
