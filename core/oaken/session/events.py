"""What happens in a class, as an append-only list of events: nothing is ever edited, a mistake is withdrawn.

Events are ordered by when they happened, not by when they arrived, and each counts once however often it was sent: any
order, doubling or splitting of deliveries gives the same class.
"""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime
from typing import Annotated, Literal

from pydantic import Field, TypeAdapter

from oaken.basis.moments import LATEST, Moment
from oaken.domain.people import Closed
from oaken.domain.prescription import SetUp
from oaken.plan import Asked, Reference
from oaken.plan.changes import Change
from oaken.session.set_parts import MOST_PARTS, Performed, SetPart

EventId = Annotated[str, Field(min_length=1, max_length=60, pattern=r"^[A-Za-z0-9._-]+$")]
Words = Annotated[str, Field(min_length=1, max_length=500)]


class RunEvent(Closed):
    """What every event has: an id made by the device, when it happened by the device's clock set right by the server's,
    when the server had it (None: not yet), by whom and on which device."""

    id: EventId
    happened_at: Moment
    received_at: Moment | None = None
    by: Annotated[str, Field(max_length=60)] = ""
    device: Annotated[str, Field(max_length=60)] = ""


class Saw(Closed):
    """What whoever pressed saw when they did: how the clock stood, and where."""

    state: Literal["not begun", "runs", "paused", "time added", "runs over", "waits for ready", "plan is over", "ended"]
    block: Reference
    second: Annotated[float, Field(ge=0, le=43_200, allow_inf_nan=False)]


class Press(RunEvent):
    """A press on the clock, which another hand may mean at the same moment; an older device did not say what it saw."""

    saw: Saw | None = None


class Began(RunEvent):
    """The class began: the clock runs from its first second. Only the first one counts. In blocks at people's own pace
    it `follows` its plan's clock, or the people: from where each really is (older devices followed the plan)."""

    kind: Literal["began"] = "began"
    follows: Literal["plan", "people"] = "plan"


class Paused(Press):
    """The clock stands still."""

    kind: Literal["paused"] = "paused"


class Resumed(Press):
    """The clock goes on, after a pause or after waiting for ready."""

    kind: Literal["resumed"] = "resumed"


class TimeAdded(Press):
    """What is under way takes so many seconds more."""

    kind: Literal["time_added"] = "time_added"
    seconds: Annotated[float, Field(gt=0, le=1800, allow_inf_nan=False)]


class WentOn(Press):
    """The clock was set to a second of a block: skipped on, or back (`way`; None: to a place that was chosen). Two who
    press at once mean the same place."""

    kind: Literal["went_on"] = "went_on"
    block: Reference
    second: Annotated[float, Field(ge=0, le=43_200, allow_inf_nan=False)] = 0.0
    way: Literal["on", "back"] | None = None


class MovedOn(RunEvent):
    """One person was moved on (or back) at their own pace: they stand at a second of a block, the class where it is."""

    kind: Literal["moved_on"] = "moved_on"
    person: Reference
    block: Reference
    second: Annotated[float, Field(ge=0, le=43_200, allow_inf_nan=False)]


class Tagged(RunEvent):
    """In a relay, whoever of this person's team works is done and has tagged the next."""

    kind: Literal["tagged"] = "tagged"
    person: Reference
    block: Reference


class WaitsForReady(Press):
    """The clock stops at the next change, until somebody resumes it."""

    kind: Literal["waits_for_ready"] = "waits_for_ready"


UNPLANNED = "unplanned."
"""What stands before an exercise's id in place of a part, where the plan has no part for what was done."""


class SetDone(RunEvent, Performed):
    """One set as it was really done. `number` counts the sets of the part from 1; of a one-sided exercise `side` says
    which, and repetitions are those of one side. Where it was done in several goes (a cluster, drops, rest-pause)
    `parts` are these, each with what differs: the load and the rest before the set itself are those of the first part,
    how the set itself ended is how the last one did. `set_up` is how somebody stood, and what they wore (None: as
    planned). `exercise` and `unit` are what it was done with, as whoever wrote it saw it (None: an older device did not
    say); of an exercise that was not planned, `part` is “unplanned.” and its id."""

    kind: Literal["set_done"] = "set_done"
    person: Reference
    part: Reference
    number: Annotated[int, Field(ge=1, le=400)]
    exercise: Reference | None = None
    unit: Reference | None = None
    side: Literal["left", "right"] | None = None
    parts: Annotated[tuple[SetPart, ...], Field(max_length=MOST_PARTS)] = ()
    set_up: SetUp | None = None
    note: Annotated[str, Field(max_length=500)] = ""


class _OfASet(RunEvent):
    """Something of one set of somebody: the part of the plan, and the number of the set from 1."""

    person: Reference
    part: Reference
    number: Annotated[int, Field(ge=1, le=400)]
    unit: Reference | None = None


class SetStarted(_OfASet):
    """Somebody is at this set now: what the plan has before it is over."""

    kind: Literal["set_started"] = "set_started"


class TookAnother(_OfASet):
    """Somebody does this first, because what came next was taken: what the plan has before it is still to do."""

    kind: Literal["took_another"] = "took_another"


class SetSkipped(_OfASet):
    """Somebody leaves this set out and goes on with the next."""

    kind: Literal["set_skipped"] = "set_skipped"


class BranchDecided(_OfASet):
    """A decision was asked before this set of somebody: what was looked at and what was to be done then, in the words
    of the plan, and whether it was so."""

    kind: Literal["decided"] = "decided"
    when: Asked
    then: Asked
    so: bool


class AsPlanned(RunEvent):
    """Sets went as planned: of a person, a part, a block, or (with none of them) of everybody; with a `number` that set
    of each part only. What was written down of a set itself comes before this, whichever came first."""

    kind: Literal["as_planned"] = "as_planned"
    person: Reference | None = None
    part: Reference | None = None
    block: Reference | None = None
    number: Annotated[int, Field(ge=1, le=400)] | None = None


class Came(RunEvent):
    """Somebody of the class is there."""

    kind: Literal["came"] = "came"
    person: Reference


class Left(RunEvent):
    """Somebody is not there (any more)."""

    kind: Literal["left"] = "left"
    person: Reference


class UnitLost(RunEvent):
    """A unit of the room cannot be used from now on; `changes` are made to the plan with it (another exercise in its
    place, an order for what is left)."""

    kind: Literal["unit_lost"] = "unit_lost"
    unit: Reference
    changes: Annotated[tuple[Change, ...], Field(max_length=20)] = ()


class UnitBack(RunEvent):
    """A unit can be used again."""

    kind: Literal["unit_back"] = "unit_back"
    unit: Reference


class Changed(RunEvent):
    """What is left of the plan was changed, by one of the plan's own changes."""

    kind: Literal["changed"] = "changed"
    change: Change


class Noted(RunEvent):
    """Something to remember, of somebody or of the class."""

    kind: Literal["noted"] = "noted"
    words: Words
    person: Reference | None = None


class EffortTold(RunEvent):
    """How hard it is, as somebody says it: 6 (none) to 20 (the most), in place of a heart that tells nothing."""

    kind: Literal["effort_told"] = "effort_told"
    person: Reference
    effort: Annotated[int, Field(ge=6, le=20)]


class StoppedFor(RunEvent):
    """Somebody was stopped: what was seen. What they did stays."""

    kind: Literal["stopped_for"] = "stopped_for"
    person: Reference
    words: Words


class Ended(RunEvent):
    """The class is over. Only the first one counts."""

    kind: Literal["ended"] = "ended"


class Withdrawn(RunEvent):
    """Another event, which happened before, is taken back."""

    kind: Literal["withdrawn"] = "withdrawn"
    event: EventId


Event = Annotated[
    Began
    | Paused
    | Resumed
    | TimeAdded
    | WentOn
    | MovedOn
    | Tagged
    | WaitsForReady
    | SetDone
    | SetStarted
    | TookAnother
    | SetSkipped
    | BranchDecided
    | AsPlanned
    | Came
    | Left
    | UnitLost
    | UnitBack
    | Changed
    | Noted
    | EffortTold
    | StoppedFor
    | Ended
    | Withdrawn,
    Field(discriminator="kind"),
]


_event: TypeAdapter[Event] = TypeAdapter(Event)


def event_of(document: object) -> Event:
    """One event from its JSON. Raises pydantic's ValidationError."""
    return _event.validate_python(document)


def in_order(events: Iterable[Event]) -> list[Event]:
    """The events in the order in which they happened, each once; of two with one id the first one received counts."""
    found: dict[str, Event] = {}
    for event in events:
        known = found.get(event.id)
        if known is None or _received(event) < _received(known):
            found[event.id] = event
    return sorted(found.values(), key=lambda event: (event.happened_at, event.id))


def _received(event: Event) -> tuple[datetime, datetime, str]:
    return (event.received_at or LATEST, event.happened_at, event.model_dump_json(exclude={"received_at"}))


TOGETHER_S = 2.0
"""Two hands that press the same on two devices within so many seconds mean it once."""

PRESSED_AT_ONCE_S = 1.5
"""The same for time that was added on devices that did not say yet what they saw."""


def standing(events: Iterable[Event]) -> list[Event]:
    """The events that count, in their order: none that was withdrawn, and no withdrawal. A withdrawal counts for what
    happened before it, and can be withdrawn itself."""
    ordered = in_order(events)
    gone: set[str] = set()
    # the last first: whether a withdrawal counts is known before what it withdraws is looked at
    for place in range(len(ordered) - 1, -1, -1):
        event = ordered[place]
        if isinstance(event, Withdrawn) and event.id not in gone:
            gone |= {event.event} & {item.id for item in ordered[:place]}
    # what a second hand pressed is gone with what the first one pressed, also where that was taken back
    happened = _once([event for event in ordered if not isinstance(event, Withdrawn)])
    return [event for event in happened if event.id not in gone]


def _once(events: list[Event]) -> list[Event]:
    """The events without what a second hand pressed on another device at the same moment: the button that it meant had
    changed under it. A press that stops or goes on, after another one that did; a skip the same way; the same time
    added."""
    kept: list[Event] = []
    last: dict[str, Press] = {}
    for event in events:
        if isinstance(event, Press):
            intent = _intent(event)
            before = last.get(intent)
            if before is not None and _second_hand(event, before):
                continue
            last[intent] = event
        kept.append(event)
    return kept


def _intent(event: Press) -> str:
    """What a press is about: presses about the same thing may be meant once."""
    match event:
        case Paused() | Resumed():
            return "stop or go on"
        case WentOn():
            return f"went {event.way}" if event.way else f"to {event.block} {event.second}"
        case TimeAdded():
            return f"{event.seconds} more"
        case _:
            return type(event).__name__


def _second_hand(event: Press, before: Press) -> bool:
    apart = (event.happened_at - before.happened_at).total_seconds()
    if event.device == before.device:
        return False
    if event.saw is None:
        return isinstance(event, TimeAdded) and apart < PRESSED_AT_ONCE_S
    return apart < TOGETHER_S
