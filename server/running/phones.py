"""People's own phones in a run: who has an address, what each shows at a moment, and what one may say."""

from __future__ import annotations

import secrets
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from threading import Lock

from cachetools import LRUCache
from django.db import transaction
from django.utils import timezone
from logbook import runs
from logbook.clock import now_of
from logbook.models import Run
from oaken.basis.faults import FaultyInput, faults_in
from oaken.basis.limits import in_words, most
from oaken.session import Event, PersonNow, RunState, Sheet, people_now, replay_events
from oaken.session.events import SetDone, Tagged, Withdrawn, standing
from oaken.session.own_phone import OwnView, own_view
from oaken.session.set_parts import parts_as_planned
from oaken.session.sheet import SheetSet

from running.cards import cards_of
from running.following import following, last_event
from running.models import PhonePass

_fault = faults_in("your own phone", "")

SAYS_BY = "own phone"
"""By whom a run's log says that such a press was made."""


def phones_of(run: Run) -> Sequence[PhonePass]:
    """The addresses of a run that were not revoked, in the order of its people."""
    place = {key: number for number, key in enumerate(runs.people_of(run.pk))}
    found = run.phone_passes.filter(revoked_at=None, person__erased=False).select_related("person")
    return sorted(found, key=lambda item: place.get(item.person.key, len(place)))


def phone_of(token: str) -> PhonePass | None:
    """Whose address this is; None where it was revoked, or is nobody's."""
    found = PhonePass.objects.select_related("run__studio", "person").defer("run__file")
    return found.filter(token=token, revoked_at=None, person__erased=False).first()


def make_phones(run: Run, people: Sequence[str] | None = None) -> None:
    """Give everybody of these (None: of the class) an address who has none. Raises FaultyInput for somebody who is not
    in the class."""
    known = runs.people_of(run.pk)
    found = {person.key: person for person in run.studio.people.filter(key__in=known, erased=False)}
    people = list(found) if people is None else people
    strange = [name for name in people if name not in found]
    if strange:
        raise FaultyInput([_fault("people", f"{strange[0]!r} is not in this class", "people of the class")])
    now = timezone.now()
    with transaction.atomic():
        for name in people:
            token = secrets.token_urlsafe(18)
            new = {"token": token, "made_at": now}
            phone, made = PhonePass.objects.get_or_create(run=run, person=found[name], defaults=new)
            if not made and phone.revoked_at is not None:
                PhonePass.objects.filter(pk=phone.pk).update(token=token, made_at=now, revoked_at=None)


def revoke_phones(run: Run, number: int | None = None) -> None:
    """From now on nothing is shown or taken under an address, or (None) any address, of a run."""
    phones = run.phone_passes.filter(revoked_at=None)
    (phones if number is None else phones.filter(pk=number)).update(revoked_at=timezone.now())
    following.look_again()


@dataclass(frozen=True)
class _Moment:
    """A run at a moment, folded once for all its phones."""

    run_state: RunState
    events: list[Event]
    sheets: list[Sheet]
    people: list[PersonNow]
    settings: dict[str, dict[str, str]]


GRID_S = 1.0
"""Phones that ask within one such second are answered from one fold of the run."""

_moments: LRUCache[int, tuple[tuple[object, ...], _Moment]] = LRUCache(maxsize=64)
_locks: LRUCache[int, Lock] = LRUCache(maxsize=256)
_lock = Lock()


def _moment_of(run: Run, now: datetime) -> _Moment:
    """The run at a second of its clock. Raises FaultyInput where an earlier version did not keep its file."""
    key = (run.pk, run.opened_at, last_event(run.pk), int(now.timestamp() // GRID_S))
    with _lock:
        of_run = _locks.setdefault(run.pk, Lock())
    # phones of one run ask together; one of them does the work
    with of_run:
        with _lock:
            known = _moments.get(run.pk)
        if known is not None and known[0] == key:
            return known[1]
        run = Run.objects.select_related("studio").get(pk=run.pk)
        file = runs.file_of(run)
        events = [event for _, event in runs.events_of(run)]
        run_state = replay_events(file, events, run.ended_at or now)
        found = _Moment(
            run_state,
            standing(events),
            runs.sheets(run, events),
            people_now(file, run_state),
            {card.person: card.settings for card in cards_of(run, health=False)},
        )
        with _lock:
            _moments[run.pk] = (key, found)
        return found


def shown_on(phone: PhonePass) -> tuple[OwnView, str | None]:
    """What somebody's own phone shows now, and the id of its last press that still counts and can be taken back."""
    moment, person = _moment_of(phone.run, now_of(phone.run_id)), phone.person.key
    now = next(now for now in moment.people if now.person == person)
    view = own_view(moment.run_state, moment.sheets[-1], now, moment.settings.get(person, {}))
    return view, next((event.id for event in reversed(moment.events) if event.device == _device(phone)), None)


def _device(phone: PhonePass) -> str:
    return f"{SAYS_BY} {phone.pk}"


@dataclass(frozen=True)
class Said:
    """What somebody said on their own phone, so many seconds ago: that a set of theirs is over, that their team has
    tagged, or that an earlier press was none (`of`, its id)."""

    id: str
    ago_s: float
    set_id: tuple[str, int] | None = None
    of: str | None = None


def say(phone: PhonePass, said: Said) -> None:
    """Keep what was said; what was kept before, and a set that is logged already, changes nothing. Raises FaultyInput
    where nothing can be said (any more)."""
    run, now = phone.run, now_of(phone.run_id)
    if run.events.filter(event_id=said.id).exists():
        return
    if run.ended_at is not None:
        raise FaultyInput([_fault("", "the class is over", "a class that runs")])
    moment = _moment_of(run, now)
    if moment.run_state.began_at is None:
        raise FaultyInput([_fault("", "the class has not begun yet", "a class that runs")])
    if run.events.filter(body__device=_device(phone)).count() >= most("run.phone_presses"):
        raise FaultyInput([_fault("", "this phone has said as much as it may", in_words("run.phone_presses"))])
    event = _event(phone, moment, said, max(moment.run_state.began_at, now - timedelta(seconds=said.ago_s)))
    if event is None:
        return
    kept = runs.append(run, [event.model_dump(mode="json", exclude_none=True)], SAYS_BY)
    if kept.refused:
        raise FaultyInput([_fault("", kept.refused[0].message, "something that can be kept")])
    following.wake(run.pk)


def _event(phone: PhonePass, moment: _Moment, said: Said, at: datetime) -> Event | None:
    """What is kept of it; None where it says nothing new."""
    person = phone.person.key
    if said.of is not None:
        if not any(event.id == said.of and event.device == _device(phone) for event in moment.events):
            raise FaultyInput([_fault("of", "is no press of this phone that still counts", "the last press")])
        return Withdrawn(id=said.id, happened_at=at, device=_device(phone), event=said.of)
    if said.set_id is None:
        block, _ = moment.run_state.era.place(moment.run_state.second)
        return Tagged(
            id=said.id, happened_at=at, device=_device(phone), person=person, block=moment.sheets[-1].blocks[block].id
        )
    sets = ((sheet, own) for sheet in reversed(moment.sheets) for own in _sets(sheet, person))
    found = next(((sheet, own) for sheet, own in sets if (sheet.parts[own.part].id, own.number) == said.set_id), None)
    if found is None:
        part, number = said.set_id
        raise FaultyInput([_fault("part", f"set {number} of {part!r} is none of yours", "a set of your own")])
    sheet, own = found
    part, number = said.set_id
    if any(isinstance(event, SetDone) and (event.person, event.part, event.number) == (person, part, number)
           for event in moment.events):  # fmt: skip
        return None
    here = next(now.here for now in moment.people if now.person == person)
    unit = here.unit if here is not None and here.part == part else _unit(sheet, own)
    # as it was planned for them, until somebody says how it really was
    return SetDone(
        id=said.id,
        happened_at=at,
        device=_device(phone),
        person=person,
        part=part,
        number=number,
        exercise=sheet.parts[own.part].exercise,
        unit=unit,
        load_kg=own.kg[0] if own.kg else None,
        reps=own.reps[0] if len(own.reps) == 1 else None,
        parts=parts_as_planned(own.reps, own.kg),
        seconds=own.seconds if not own.reps else None,
    )


def _sets(sheet: Sheet, person: str) -> list[SheetSet]:
    return next((shown.sets for shown in sheet.people if shown.id == person), [])


def _unit(sheet: Sheet, own: SheetSet) -> str | None:
    return sheet.units[own.unit].id if own.unit >= 0 else None
