"""Reads how a part of a set is done: load, tempo, position, machine setting and the like."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from oaken.basis.words import in_kg
from oaken.domain.catalogue import Catalogue, Exercise
from oaken.domain.catalogue.spoken import heard
from oaken.domain.prescription import Effort, Load, LoadChange, MachineSetting, Tempo
from oaken.domain.room.hardware import LB_KG
from oaken.plan.notation.faults import Misread
from oaken.plan.notation.measures import SECONDS, Fields, read_seconds, read_until
from oaken.plan.notation.scan import Token, Tokens
from oaken.plan.notation.vocabulary import (
    AIDS,
    EACH_SIDE,
    HELPED,
    IN_ALL,
    NUMBER_WORDS,
    PARTIAL,
    PARTIAL_AND_FULL,
    STANCES,
)

PLATE_KG = 20.0
"""What “a plate” is: the large one (common practice, no source)."""

KM_PER_MILE = 1.609344
CM_PER_INCH = 2.54
POUNDS = ("lb", "lbs", "pound", "pounds")


def read_modifiers(tokens: Tokens, into: Fields) -> None:
    """Everything that is said of a part behind its count."""
    while read_modifier(tokens, into):
        pass


def read_modifier(tokens: Tokens, into: Fields) -> bool:
    """One word on how a part is done; False when what comes next is something else."""
    token = tokens.now
    if token is None:
        return False
    if tokens.says("tempo") and (after := tokens.peek()) and after.kind == "tempo":
        tokens.at += 1
        token = after
    if token.kind == "tempo":
        tokens.at += 1
        phases = [float(part) for part in token.text.split("-")]
        if max(phases) > 30 or sum(phases) == 0:
            raise Misread(token.column, token.text, "a tempo is lowering-pause-lifting(-pause), each 0 to 30 s")
        return _put(into, "tempo", Tempo(*phases), token)
    loads = read_loads(tokens)
    if loads is not None:
        if len(loads) > 1:
            raise Misread(token.column, token.text, "a list of loads stands behind a comma: one for each set")
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
    for phrases, name, value_ in _PLAIN:
        if tokens.take_any(*phrases):
            return _put(into, name, value_, token)
    if _read_heels(tokens, into) or _read_aid(tokens, into) or _read_stance(tokens, into):
        return True
    if tokens.take("held", "hold"):
        held = tokens.need_number("the pause on each repetition (s)", 0.1, 30, whole=False)
        tokens.take(*SECONDS)
        return _put(into, "held_s", held, token)
    if tokens.take("until"):
        return _put(into, "until", read_until(tokens), token)
    if tokens.take("drop", "add"):
        return _put(into, "change", read_change(tokens, -1 if token.text.lower() == "drop" else 1), token)
    if tokens.take("pause"):
        pause, high = read_seconds(tokens, "a pause", 1, 600)
        if high is not None:
            raise Misread(token.column, token.text, "a pause is one number of seconds", [f"pause {pause}"])
        return _put(into, "pause_after_s", pause, token)
    return False


_PLAIN: list[tuple[tuple[str, ...], str, Any]] = [
    (EACH_SIDE, "sides", "each_side"),
    (IN_ALL, "sides", "in_all"),
    (("both sides",), "sides", "both"),
    (PARTIAL_AND_FULL, "alternating", True),
    (PARTIAL, "partial", True),
    (HELPED, "helped", True),
]

_FEET = {"high": "feet high", "low": "feet low", "narrow": "narrow", "close": "narrow", "wide": "wide"}


def _read_stance(tokens: Tokens, into: Fields) -> bool:
    """Positions of feet and heels, one after another: `feet low and narrow`, `heels up toes back`."""
    token = tokens.now
    assert token is not None
    found: list[str] = []
    if tokens.says("feet") and tokens.says(*_FEET, ahead=1):
        tokens.at += 1
        while tokens.says(*_FEET) or (found and tokens.says("and") and tokens.says(*_FEET, ahead=1)):
            word = tokens.listed[tokens.at].text.lower()
            tokens.at += 1
            if word != "and":
                found.append(_FEET[word])
    else:
        stance = next((stance for stance in STANCES if tokens.take_words(stance)), None)
        if stance is None:
            return False
        found.append(stance)
    known = into.get("stance", ())
    for item in found:
        if item in known:
            raise Misread(token.column, token.text, "is said twice")
        known = (*known, item)
    into["stance"] = known
    return True


def _read_heels(tokens: Tokens, into: Fields) -> bool:
    """The height of what the heels stand on: `heels 2.5 cm`, `heels on 2 cm`, `heels 1 in`."""
    token = tokens.now
    assert token is not None
    ahead = 2 if tokens.says("on", ahead=1) else 1
    height = tokens.peek(ahead)
    if not tokens.says("heels") or height is None or height.kind != "number":
        return False
    tokens.at += ahead
    value = tokens.need_number("the height under the heels (cm)", 0.1, 10, whole=False)
    if tokens.take("in", "inch", "inches"):
        value = round(value * CM_PER_INCH, 1)
        tokens.notice(height, f"{height.text} in are {value:g} cm")
        if value > 10:
            raise Misread(height.column, height.text, "the height under the heels (cm): 0.1 to 10")
    else:
        tokens.take("cm")
    return _put(into, "heels_cm", value, token)


def _read_aid(tokens: Tokens, into: Fields) -> bool:
    """What is worn or laid under: `with a belt`, `straps`, `on a wedge`, `pad`."""
    token = tokens.now
    assert token is not None
    aid = next((aid for aid, phrases in AIDS.items() if tokens.take_any(*phrases)), None)
    if aid is None:
        return False
    known = into.get("aids", ())
    if aid in known:
        raise Misread(token.column, token.text, "is said twice")
    into["aids"] = (*known, aid)
    return True


def _put(into: Fields, name: str, value: Any, token: Token) -> bool:
    if name in into:
        raise Misread(token.column, token.text, "is said twice")
    if {name, *into} >= {"load", "change"}:
        raise Misread(
            token.column, token.text, "a part has a load of its own or a change from the one before, not both"
        )
    into[name] = value
    return True


# ---- loads ----------------------------------------------------------------------------------------------------


def read_loads(tokens: Tokens) -> list[Load] | None:
    """`@70%`, `@60 kg`, `@2 left`, `@8RM`, `@effort 8/10`, or a list with one load for each set; also without the mark
    where a unit says what it is. None where no load comes next."""
    start = tokens.now
    marked = bool(tokens.take("@")) or bool(tokens.says("at") and _a_figure(tokens.peek()) and tokens.take("at"))
    by_word = _load_by_word(tokens)
    if by_word is not None:
        return [by_word]
    values, at = _figures(tokens)
    if not values:
        if not marked:
            return None
        raise tokens.fault("a load is missing: 70% of best, 60 kg, 2 left or 8RM", ["70%", "60 kg", "2 left"])
    make = _load_unit(tokens, values, start)
    if make is None:
        if marked:
            raise tokens.fault("a load has a unit: % of best, kg, or lb", ["%", "kg"])
        tokens.at = at
        return None
    return [make(value) for value in values]


def _a_figure(token: Token | None) -> bool:
    return token is not None and token.kind in ("number", "range")


def _figures(tokens: Tokens) -> tuple[list[Token], int]:
    """Numbers with strokes between them, and where they began."""
    at = tokens.at
    first = tokens.take_kind("number")
    if first is None:
        return [], at
    values = [first]
    while tokens.says("/"):
        tokens.at += 1
        value = tokens.take_kind("number")
        if value is None:
            raise tokens.fault("another load is missing behind the stroke")
        values.append(value)
    return values, at


def _load_unit(tokens: Tokens, values: list[Token], start: Token | None) -> Callable[[Token], Load] | None:
    if tokens.take("%"):
        if tokens.says("incline", "grade"):
            return None
        if tokens.take("of"):
            tokens.take_any("best", "max", "maximum", "1 RM")
        return lambda value: Load(share_of_best=_between(value, 0.01, 120, "percent of best") / 100)
    if tokens.take("kg", "kilos", "kilograms"):
        if tokens.take_any("a side", "per side"):
            return lambda value: Load(a_side_kg=_between(value, 0, 300, "kilograms a side"))
        return lambda value: Load(load_kg=_between(value, 0, 600, "kilograms"))
    pounds = tokens.take(*POUNDS)
    if pounds:
        side = tokens.take_any("a side", "per side")
        for value in values:
            kg = _between(value, 0, 1320, "pounds") * LB_KG
            tokens.notice(value, f"{value.text} lb are {kg:.1f} kg")
        if side:
            return lambda value: Load(a_side_kg=round(float(value.text) * LB_KG, 2))
        return lambda value: Load(load_kg=round(float(value.text) * LB_KG, 2))
    if tokens.take("plate", "plates"):
        tokens.take_any("a side", "per side", "each side")
        tokens.notice(values[0], f"a plate is {PLATE_KG:g} kg, on each side")
        return lambda value: Load(a_side_kg=_between(value, 0.5, 12, "plates a side") * PLATE_KG)
    if len(values) == 1:
        if tokens.take_any("left in reserve", "left", "in reserve", "in the tank", "RIR"):
            return lambda value: Load(reps_left=_between(value, 0, 10, "repetitions left"))
        if tokens.take("rm"):
            return lambda value: Load(rep_max=whole_rep_max(value))
    return None


def whole_rep_max(value: Token) -> int:
    """The number of a repetition maximum."""
    number = _between(value, 1, 30, "a repetition maximum")
    if number != int(number):
        raise Misread(value.column, value.text, "a repetition maximum is a whole number")
    return int(number)


def _load_by_word(tokens: Tokens) -> Load | None:
    """Loads that begin with a word: `effort 8/10`, `RPE 8`, `RIR 2`, `last two hard`, `a plate a side`."""
    token = tokens.now
    if token is None:
        return None
    if tokens.take("effort", "rpe"):
        value = tokens.need_number("an effort", 1, 20, whole=False)
        of = 10 if value <= 10 else 20
        if tokens.take("/") or tokens.take("of"):
            scale = tokens.now
            of = int(tokens.need_number("the scale of the effort", 10, 20))
            if of not in (10, 20) or (of == 10 and value > 10) or (of == 20 and value < 6):
                assert scale is not None
                raise Misread(scale.column, scale.text, "effort is 1 to 10 of 10, or 6 to 20 of 20", ["10", "20"])
        else:
            tokens.notice(token, f"{value:g} of {of}")
        return Load(effort=Effort(value=value, of=10 if of == 10 else 20))
    if tokens.take("rir"):
        return Load(reps_left=tokens.need_number("repetitions left", 0, 10, whole=False))
    if tokens.says("last") and (count := _number_or_word(tokens.peek())) and tokens.says("hard", "heavy", ahead=2):
        tokens.at += 3
        tokens.notice(token, f"the last {count} are hard where about one more could be done: 1 left")
        return Load(reps_left=1)
    if tokens.take_any("a plate a side", "a plate each side", "one plate a side", "a plate"):
        tokens.notice(token, f"a plate is {PLATE_KG:g} kg, on each side")
        return Load(a_side_kg=PLATE_KG)
    return None


def _number_or_word(token: Token | None) -> int | None:
    if token is None:
        return None
    if token.kind == "number" and "." not in token.text:
        return int(token.text)
    return NUMBER_WORDS.get(token.text.lower())


def _between(value: Token, low: float, high: float, what: str) -> float:
    if not low <= float(value.text) <= high:
        raise Misread(value.column, value.text, f"{what}: {low:g} to {high:g}")
    return float(value.text)


def read_change(tokens: Tokens, sign: int) -> LoadChange:
    """`20%`, `2 steps`, `5 kg`, `a plate`: what stands behind drop or add."""
    token = tokens.now
    if tokens.take_any("a plate", "a step", "one plate", "one step"):
        return LoadChange(steps=sign)
    value = tokens.need_number("the change of load", 0.01, 400, whole=False)
    assert token is not None
    if tokens.take("%"):
        if (sign < 0 and value > 90) or value > 100:
            raise Misread(token.column, token.text, "a drop is at most 90 %, an addition at most 100 %")
        return LoadChange(percent=sign * value)
    if tokens.take("step", "steps", "plate", "plates"):
        if value != int(value) or value > 20:
            raise Misread(token.column, token.text, "machine steps: a whole number from 1 to 20")
        return LoadChange(steps=sign * int(value))
    if tokens.take("kg"):
        if value > 200:
            raise Misread(token.column, token.text, "a change of load is at most 200 kg")
        return LoadChange(kg=sign * value)
    if tokens.take(*POUNDS):
        tokens.notice(token, f"{token.text} lb are {value * LB_KG:.1f} kg")
        return LoadChange(kg=round(sign * value * LB_KG, 2))
    raise tokens.fault("a change of load has a unit: %, steps or kg", ["%", "steps", "kg"])


# ---- machine settings -----------------------------------------------------------------------------------------

_SETTING_UNITS = {"km/h": ("speed_kmh", 0.1, 45, False), "w": ("power_w", 10, 1200, True),
                  "watts": ("power_w", 10, 1200, True), "watt": ("power_w", 10, 1200, True),
                  "steps/min": ("steps_per_min", 5, 200, True)}  # fmt: skip


def _read_setting(tokens: Tokens) -> tuple[str, float] | None:
    token, unit = tokens.now, tokens.peek()
    assert token is not None
    if token.kind == "number" and unit and unit.text.lower() in _SETTING_UNITS:
        name, low, high, is_whole = _SETTING_UNITS[unit.text.lower()]
        value = tokens.need_number(name.split("_")[0], low, high, whole=is_whole)
        tokens.at += 1
        return name, int(value) if is_whole else value
    if token.kind == "number" and tokens.says("mph", ahead=1):
        value = tokens.need_number("speed (mph)", 0.1, 28, whole=False)
        tokens.at += 1
        tokens.notice(token, f"{token.text} mph are {value * KM_PER_MILE:.1f} km/h")
        return "speed_kmh", round(value * KM_PER_MILE, 1)
    if token.kind == "number" and tokens.says("%", ahead=1) and tokens.says("incline", "grade", ahead=2):
        value = tokens.need_number("the incline (%)", 0, 40, whole=False)
        tokens.at += 2
        return "incline_percent", value
    if token.kind == "number" and tokens.says("cm", "in", "inch", "inches", ahead=1) and tokens.says("step", ahead=2):
        value = tokens.need_number("the height of a step", 1, 60, whole=False)
        height = _height(tokens, token, value)
        tokens.take("step", "steps")
        return height
    if tokens.take("incline", "grade"):
        value = tokens.need_number("the incline (%)", 0, 40, whole=False)
        tokens.take("%")
        return "incline_percent", value
    if token.text.lower() == "step" and unit and unit.kind == "number":
        tokens.take("step")
        value = tokens.need_number("the height of a step (cm)", 1, 60, whole=False)
        return _height(tokens, unit, value)
    if tokens.take("level", "resistance"):
        return "level", int(tokens.need_number("the level", 1, 40))
    return None


def _height(tokens: Tokens, token: Token, value: float) -> tuple[str, float]:
    cm = value
    if tokens.take("in", "inch", "inches"):
        cm = value * CM_PER_INCH
        tokens.notice(token, f"{token.text} in are {cm:.0f} cm")
    else:
        tokens.take("cm")
    if not 2 <= round(cm) <= 60:
        raise Misread(token.column, token.text, "the height of a step (cm) is 2 to 60")
    return "step_height_m", round(cm) / 100


# ---- whether an exercise can take it --------------------------------------------------------------------------


def refuse_what_it_cannot_take(tokens: Tokens, exercise: Exercise, catalogue: Catalogue, parts: list[Fields]) -> None:
    """Raise a Misread for a load on what carries none, and for a setting that its machine has not got."""
    for said in parts:
        load: Load | None = said.get("load")
        change = said.get("change")
        if (load is not None and not exercise.can_take(load)) or (change is not None and not exercise.takes_load):
            where = _load_word(tokens)
            raise Misread(where.column, where.text, *_no_load(exercise, catalogue))
        if load is not None and load.load_kg is not None and not exercise.takes_load:
            others = _loaded_ways(exercise, catalogue)
            more = f"; made for a load is {' or '.join(others)}" if others else ""
            tokens.notice(_load_word(tokens), f"{in_kg(load.load_kg)} are held in {exercise.name.lower()}{more}")
        setting: MachineSetting | None = said.get("setting")
        if setting is not None:
            _refuse_setting(tokens, exercise, setting)


def _load_word(tokens: Tokens) -> Token:
    words = ("@", "effort", "rpe", "rir", "drop", "add", "kg", "lb", "%", "left", "rm", "plate", "plates", "last")
    return next((item for item in tokens.listed if item.text.lower() in words), tokens.listed[0])


def _no_load(exercise: Exercise, catalogue: Catalogue) -> tuple[str, list[str]]:
    if exercise.nature == "rhythmic":
        return f"{exercise.name} carries no load: an effort, or a setting of the machine", ["effort 13/20"]
    if exercise.nature in ("mobility", "pause"):
        return f"{exercise.name} carries no load", []
    names = _loaded_ways(exercise, catalogue)
    return f"{exercise.name} carries no load of its own; with one it is {' or '.join(names)}", names


def _loaded_ways(exercise: Exercise, catalogue: Catalogue) -> list[str]:
    """The names of what comes nearest to an exercise and is made for a load, at most three."""
    named = [catalogue.exercises[name] for name in (*exercise.harder, *exercise.easier) if name in catalogue.exercises]
    loaded = [substitute for substitute in (*named, *catalogue.substitutes(exercise)) if substitute.takes_load]
    own = {*heard(exercise.name)}
    names = list(dict.fromkeys(item.name.lower() for item in loaded))
    return sorted(names, key=lambda name: -len(own & {*heard(name)}))[:3]


_SETTING_WORDS = {
    "speed_kmh": "5.5 km/h", "incline_percent": "incline 8%", "power_w": "180 W", "level": "level 7",
    "steps_per_min": "24 steps/min", "step_height_m": "step 20 cm",
}  # fmt: skip
_SETTING_MARKS = {
    "speed_kmh": ("km/h", "mph"), "incline_percent": ("incline", "grade"), "power_w": ("w", "watts", "watt"),
    "level": ("level", "resistance"), "steps_per_min": ("steps/min",), "step_height_m": ("step", "cm", "in"),
}  # fmt: skip


def _refuse_setting(tokens: Tokens, exercise: Exercise, setting: MachineSetting) -> None:
    for name in setting.model_dump(exclude_none=True):
        if name in exercise.settings:
            continue
        marks = _SETTING_MARKS[name]
        where = next((item for item in tokens.listed if item.text.lower() in marks), tokens.listed[0])
        right = [_SETTING_WORDS[setting_word] for setting_word in _SETTING_WORDS if setting_word in exercise.settings]
        message = f"{exercise.name} has no such setting" + (f": {' or '.join(right)}" if right else "")
        raise Misread(where.column, where.text, message, right)
