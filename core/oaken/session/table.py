"""A run as a short table for people at a terminal: the clock, the actual class block by block, and the log."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence

from oaken.basis.words import clock, in_kg
from oaken.session.actual import Actual
from oaken.session.clock import RunState
from oaken.session.face import face_of
from oaken.session.log import LogRow, set_words
from oaken.session.now import PersonNow


def as_table(run_state: RunState, went: Actual, log: Sequence[LogRow], now: Sequence[PersonNow]) -> str:
    """Everything a run comes to, every figure with its unit; times are min:s since the class began."""
    face = face_of(run_state)
    name = run_state.era.plan.blocks[face.block].name
    lines = [
        run_state.era.plan.name,
        f"clock    {clock(face.passed_s)}  {face.state}: {name} {clock(face.in_block_s)}, {clock(face.left_s)} left, "
        f"the class ends at {clock(face.passed_s + face.ends_in_s)}",
    ]
    if face.calls:
        lines.append("next     " + ", ".join(f"{cue.call} in {seconds:.0f} s" for seconds, cue in face.calls[:4]))
    lines += ["", *(_person(item) for item in now)]
    lines += ["", f"{'block':24} {'from':>8} {'to':>8}  planned"]
    planned = {
        block.id: span
        for block, span in zip(run_state.eras[0].plan.blocks, run_state.eras[0].timeline.blocks, strict=True)
    }
    for block, span in zip(went.file.plan.blocks, went.timeline.blocks, strict=True):
        was = planned.get(block.id)
        told = f"{clock(was.start_s)}–{clock(was.end_s)}" if was else "again, or not planned"
        lines.append(f"{block.name:24.24} {clock(span.start_s):>8} {clock(span.end_s):>8}  {told}")
    counts = Counter(row.written for row in log)
    lines += [
        "",
        f"log      {len(log)} sets: "
        + ", ".join(f"{counts[item]} {item}" for item in ("done", "as planned", "not written")),
    ]
    lines += [_row(row) for row in log if row.done]
    lines += [f"notice   {notice}" for notice in run_state.notices]
    return "\n".join(lines)


def _person(one: PersonNow) -> str:
    doing = "away" if one.away else one.doing.name.lower()
    here = f"{one.here.name}, {clock(one.left_s)} left" if one.here else f"{clock(one.left_s)} left"
    coming = f"  next {one.next.name} in {clock(one.next_in_s)}" if one.next and one.next_in_s is not None else ""
    return f"{one.number:>3} {one.person:16.16} {doing:9} {'' if one.away else here}{coming}"


def _row(row: LogRow) -> str:
    said = [": ".join(filter(None, [set_words(row, item) or "done", item.note])) for item in row.done]
    wanted = [
        f"{row.planned_reps:g} reps" if row.planned_reps else "",
        in_kg(row.planned_kg) if row.planned_kg else "",
    ]
    planned = " ".join(filter(None, wanted)) or "not planned"
    return f"  {row.person:12.12} {row.exercise:22.22} set {row.number:<3} {'; '.join(said)}  ({planned})"
