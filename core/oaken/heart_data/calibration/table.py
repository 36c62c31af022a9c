"""What a recording's heart told, as text for people who read it in a terminal."""

from __future__ import annotations

from oaken.heart_data.calibration.own_demand import HeartTold, Judged


def _held(one: Judged) -> str:
    """How many readings lay within the stated range, in words; empty where none is stated."""
    if one.held_percent is None:
        return ""
    within = "its range" if one.range_bpm is None else f"± {one.range_bpm:.1f} bpm"
    return f"  {one.held_percent:3.0f} % within {within}"


def _constants(told: HeartTold) -> str:
    if told.level_bpm is None or told.gain is None or told.rise_s is None or told.fall_s is None:
        return "none that could be this heart's"
    level, gain = f"level {told.level_bpm:.0f} bpm", f"gain {told.gain:.2f}"
    return f"{level}, {gain}, {told.rise_s:.0f} s up, {told.fall_s:.0f} s down"


def as_table(told: HeartTold) -> str:
    """Body, fit, and every way of telling the part that was not seen, a line each."""
    rows = [f"{item.name:14} {item.error_bpm:5.1f} bpm  {item.bias_bpm:+5.1f} bpm{_held(item)}" for item in told.judged]
    return "\n".join(
        [
            f"demand: {told.demand}",
            f"body: {told.body}",
            f"seen: {told.seen_min:.0f} min, judged on the {told.unseen_min:.0f} min after it",
            f"fit: {_constants(told)}",
            f"     {told.fit}",
            "               mean error       bias",
            *rows,
            *(f"note: {note}" for note in told.notes),
        ]
    )
