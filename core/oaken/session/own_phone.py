"""What somebody's own phone shows them of a class: exercise, load and setting now and next, and nothing of others."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

from pydantic import BaseModel, ConfigDict

from oaken.plan import RelayBlock
from oaken.schedule.timeline import Doing
from oaken.session.clock import RunState, Standing
from oaken.session.face import face_of
from oaken.session.floor import floor_at
from oaken.session.now import PersonNow, Spot
from oaken.session.sheet import Sheet, SheetPart, SheetSet, SheetUnit

OwnDoing = Literal["work", "change", "rest", "wait", "finished", "breather", "away"]
OwnPress = Literal["done", "tag"]
"""What a phone may say: that its person's set is over, or, in a relay, that their team has tagged the next."""


class _Shown(BaseModel):
    model_config = ConfigDict(json_schema_serialization_defaults_required=True)


class OwnPlace(_Shown):
    """Where somebody is or goes: the exercise, the unit ("" for none) and how it is set for them, and the set as it is
    planned for them (`number` of `sets`; 0 where none is planned). `reps` and `kg` are of each part of the set, `kg` in
    kilograms as they can be set; `set_as` says how; `seconds` is what the set takes."""

    part: str
    exercise: str
    unit: str
    setting: str
    number: int
    sets: int
    reps: list[int]
    kg: list[float]
    set_as: str
    marked: str
    seconds: float
    one_sided: bool


class OwnView(_Shown):
    """A class as one person sees it on their own phone, at a moment. Seconds count from that moment; None: unknown, or
    never. `known` is whether what is shown follows from what was pressed, `held` whether their set should be over by
    now, `press` what the phone may say at this moment (None: nothing)."""

    name: str
    called: str
    state: Standing
    block: str
    over_in_s: float
    doing: OwnDoing
    here: OwnPlace | None
    left_s: float
    next: OwnPlace | None
    next_in_s: float | None
    known: bool
    held: bool
    press: OwnPress | None


def own_view(run_state: RunState, sheet: Sheet, now: PersonNow, settings: Mapping[str, str]) -> OwnView:
    """What somebody's phone shows where a class stands. `sheet` is that of the plan as it is now, `now` what they do,
    `settings` how each unit is set for them, in words, by the unit's id."""
    shown = sheet.people[now.number - 1]
    block, _ = run_state.era.place(run_state.second)
    face = face_of(run_state)
    over = _over(run_state, sheet, now)
    doing: OwnDoing = "away" if now.away else _NAMES[now.doing]
    runs = run_state.began_at is not None and run_state.state not in ("ended", "plan is over") and not now.away
    press: OwnPress | None = None
    if runs and run_state.floor is not None and now.here is not None:
        press = "done"
    elif runs and run_state.follows == "people" and isinstance(run_state.era.plan.blocks[block], RelayBlock):
        press = "tag"
    here = now.here if run_state.state != "ended" else None
    return OwnView(
        name=sheet.name,
        called=shown.name,
        state=run_state.state,
        block=sheet.blocks[block].name,
        over_in_s=face.ends_in_s,
        doing=doing,
        here=_place(sheet, now.number, here, now.set_number, over, settings),
        left_s=now.left_s,
        next=_place(sheet, now.number, now.next, 0, over, settings),
        next_in_s=now.next_in_s,
        known=now.known,
        held=now.held,
        press=press,
    )


_NAMES: dict[Doing, OwnDoing] = {
    Doing.WORK: "work",
    Doing.CHANGE: "change",
    Doing.REST: "rest",
    Doing.WAIT: "wait",
    Doing.FINISHED: "finished",
    Doing.BREATHER: "breather",
}


def _over(run_state: RunState, sheet: Sheet, now: PersonNow) -> set[tuple[str, int]]:
    """The sets that somebody has done, as far as anybody knows: by what was followed, or by the clock."""
    second = run_state.second + run_state.ahead_of(now.person)
    sets = sheet.people[now.number - 1].sets
    over = {(sheet.parts[item.part].id, item.number) for item in sets if item.ends_s <= second}
    if run_state.floor is not None:
        block, _ = run_state.era.place(run_state.second)
        over = {(part, number) for part, number in over if _block_of(sheet, part) != block}
        over |= floor_at(run_state.floor).over(run_state.floor.people)[now.person]
    return over


def _block_of(sheet: Sheet, part: str) -> int:
    return next(item.block for item in sheet.parts if item.id == part)


def _place(
    sheet: Sheet, person: int, spot: Spot | None, number: int, over: set[tuple[str, int]], settings: Mapping[str, str]
) -> OwnPlace | None:
    if spot is None:
        return None
    part: SheetPart = next(item for item in sheet.parts if item.id == spot.part)
    unit: SheetUnit | None = next((item for item in sheet.units if item.id == spot.unit), None)
    sets = [item for item in sheet.people[person - 1].sets if sheet.parts[item.part].id == spot.part]
    planned: SheetSet | None = next(
        (item for item in sets if (item.number == number if number else (spot.part, item.number) not in over)),
        sets[-1] if sets else None,
    )
    # a machine that is called as what is done on it says nothing more
    named = unit.name if unit is not None and unit.name.lower() != part.name.lower() else ""
    return OwnPlace(
        part=part.id,
        exercise=part.name,
        unit=named,
        setting="" if unit is None else settings.get(unit.id, ""),
        number=0 if planned is None else planned.number,
        sets=len(sets),
        reps=[] if planned is None else planned.reps,
        kg=[] if planned is None else planned.kg,
        set_as="" if planned is None else planned.set_as,
        marked="kg" if unit is None else unit.marked,
        seconds=0.0 if planned is None else planned.seconds,
        one_sided=part.one_sided,
    )
