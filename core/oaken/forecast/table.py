"""A forecast as a short table for people at a terminal."""

from __future__ import annotations

from oaken.basis.estimate import Estimate
from oaken.basis.words import clock
from oaken.forecast.report import Forecast, figures_of_people
from oaken.plan import ClassPlan


def as_table(plan: ClassPlan, result: Forecast) -> str:
    """The class's figures, its blocks and its people, one line each, every figure with its unit."""
    over = result.length.value - result.slot_s
    against = f"{clock(abs(over))} {'over' if over > 0 else 'inside'} the slot of {result.slot_s // 60} min"
    told = result.figures
    lines = [
        plan.name,
        f"{'length':24} {clock(result.length.value):>8} min:s  ({clock(result.length.low)}–{clock(result.length.high)})"
        f", {against}",
        *(_line(figure.in_sentence, getattr(told, figure.id), figure.digits) for figure in figures_of_people()),
        _line("energy, whole class", result.class_energy),
        "",
        f"{'block':32} {'from':>6} {'to':>6} {'work':>6} {'energy':>10}",
    ]
    lines += [
        f"{block.name[:32]:32} {clock(block.start_s):>6} {clock(block.end_s):>6} {block.work_share:>4.0f} % "
        f"{block.kcal:>5.0f} kcal"
        for block in result.blocks
    ]
    lines += ["", f"{'person':28} {'mean':>9} {'highest':>9} {'vigorous':>9} {'energy':>9} {'waiting':>8}"]
    for person in result.people:
        own = person.figures
        lines.append(
            f"{person.number:>3} {person.name[:24]:24} {_short(own.heart_mean)} {_short(own.heart_peak)} "
            f"{_short(own.vigorous_or_more)} {_short(own.energy)} {clock(own.waiting.value):>8}"
        )
    if result.cautions:
        lines += ["", "cautions"]
        lines += [f"  {caution.severity}: {caution.message} — {caution.safer}" for caution in result.cautions]
    return "\n".join([*lines, "", result.stop_signs])


def _line(name: str, figure: Estimate | None, digits: int = 0) -> str:
    if figure is None:
        return f"{name:24} {'—':>8}"
    span = f"({figure.low:.{digits}f}–{figure.high:.{digits}f})"
    return f"{name:24} {figure.value:>8.{digits}f} {figure.unit}  {span}"


def _short(figure: Estimate | None) -> str:
    return f"{'—':>9}" if figure is None else f"{figure.value:>4.0f} {figure.unit:4}"
