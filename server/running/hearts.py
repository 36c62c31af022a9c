"""Hearts as they come in: packets decoded, kept, laid beside the forecast and told to instructors once a second."""

from __future__ import annotations

import logging
from collections import defaultdict
from datetime import datetime, timedelta
from threading import Lock
from typing import Any

from cachetools import LRUCache
from logbook import runs
from logbook.clock import now_of
from logbook.keeping import record
from logbook.models import LiveHeart, Run
from oaken.basis.faults import FaultyInput, faults_in
from oaken.basis.limits import in_words, most
from oaken.heart_data.recordings import HeartSeries
from oaken.heart_data.recordings.packets import FaultyPacket, decode
from oaken.session import (
    Expected,
    HeartNow,
    RunState,
    changing,
    expected_hearts,
    heart_now,
    on_axis,
    people_now,
    replay_events,
)

from running.following import following

_fault = faults_in("what a belt said", "")

logger = logging.getLogger("oaken.running")

TELLS_EVERY_S = 0.9
"""Instructors hear of hearts once a second; belts of a class do not send at the same moment."""

AROUND = timedelta(minutes=30)
"""Readings from so long before the beginning to so long after the end of a class are its recording."""

LONGEST = timedelta(seconds=most("recording.s"))
"""What a belt said longer ago is of no class that runs now."""

Reading = tuple[datetime, float]


class LiveHearts:
    """The readings of the runs of this process, read again from what is kept where it was started anew."""

    def __init__(self) -> None:
        self._lock = Lock()
        self._readings: LRUCache[int, dict[str, list[Reading]]] = LRUCache(maxsize=8)
        self._expected: LRUCache[tuple[object, ...], dict[str, Expected]] = LRUCache(maxsize=8)
        self._told: dict[int, datetime] = {}

    def readings(self, run: Run) -> dict[str, list[Reading]]:
        """Everybody's readings with contact, oldest first."""
        with self._lock:
            found = self._readings.get(run.pk)
        if found is None:
            found = defaultdict(list)
            for piece in run.live_hearts.select_related("person"):
                for second, bpm in zip(piece.seconds, piece.bpm, strict=True):
                    if bpm > 0:
                        found[piece.person.key].append((piece.first_at + timedelta(seconds=second), bpm))
            with self._lock:
                self._readings[run.pk] = found
        return found

    def expected(self, run: Run, run_state: RunState, chain: tuple[str, ...]) -> dict[str, Expected]:
        """Everybody's forecast for the plan as it is now."""
        key = (run.pk, *chain)
        with self._lock:
            found = self._expected.get(key)
        if found is None:
            file = runs.file_of(run).model_copy(update={"plan": run_state.era.plan})
            found = expected_hearts(file)
            with self._lock:
                self._expected[key] = found
        return found

    def may_tell(self, run: int, now: datetime) -> bool:
        """Whether it is time to tell of this run's hearts again."""
        with self._lock:
            last = self._told.get(run)
            if last is not None and (now - last).total_seconds() < TELLS_EVERY_S:
                return False
            self._told[run] = now
            return True


hearts = LiveHearts()


def keep_packets(run: Run, person: str, packets: list[tuple[datetime, bytes]]) -> int:
    """Keep what a belt sent; gives the number of readings. Raises FaultyInput, and keeps nothing, for a packet that is
    none, and for somebody who is not in this class."""
    who = run.studio.people.filter(key=person).first()
    if who is None or person not in runs.people_of(run.pk):
        raise FaultyInput([_fault("person", f"{person!r} is not in this class", "somebody who is")])
    readings: list[Reading] = []
    now = now_of(run.pk)
    for number, (sent_at, packet) in enumerate(packets):
        # a clock that is ahead counts as now, as with events; one that is far behind is of another class
        moment = min(sent_at, now)
        if now - moment > LONGEST:
            message = f"was read at {moment:%Y-%m-%d %H:%M} UTC, more than {LONGEST.total_seconds() / 3600:.0f} h ago"
            raise FaultyInput([_fault(f"packets[{number}].at", message, "a packet of this class")])
        try:
            measured = decode(packet)
        except FaultyPacket as error:
            raise FaultyInput([_fault(f"packets[{number}]", str(error), "a Heart Rate Measurement")]) from error
        readings.append((moment, 0.0 if measured.contact is False else float(measured.bpm)))
    if not readings:
        return 0
    known = hearts.readings(run)
    if sum(map(len, known.values())) + len(readings) > most("run.readings"):
        raise FaultyInput([_fault("packets", "there are as many readings as can be kept", in_words("run.readings"))])
    first = readings[0][0]
    LiveHeart.objects.create(
        run=run,
        person=who,
        first_at=first,
        seconds=[round((moment - first).total_seconds(), 2) for moment, _ in readings],
        bpm=[bpm for _, bpm in readings],
    )
    known.setdefault(person, []).extend(reading for reading in readings if reading[1] > 0)
    return len(readings)


def hearts_of(run: Run, now: datetime) -> list[HeartNow]:
    """Everybody's heart now, beside the forecast. Raises FaultyInput where the class's file was not kept."""
    file = runs.file_of(run)
    events = [event for _, event in runs.events_of(run)]
    run_state = replay_events(file, events, now)
    if run_state.began_at is None:
        return []
    began = run_state.began_at
    expected = hearts.expected(run, run_state, tuple(event.id for event in changing(events)))
    readings = hearts.readings(run)
    found = []
    for person in people_now(file, run_state):
        heart = expected.get(person.person)
        own = readings.get(person.person, [])
        if heart is None or (not own and heart.applies):
            continue
        since = [((moment - began).total_seconds(), bpm) for moment, bpm in own]
        stands = on_axis(run_state, person.person)
        found.append(heart_now(heart, since, run_state.now_s, stands.second, stands.resting_from_s))
    return found


def tell(run: Run) -> None:
    """Tell instructors of everybody's heart, at most once a second."""
    now = now_of(run.pk)
    if hearts.may_tell(run.pk, now):
        told: list[dict[str, Any]] = [heart.model_dump(mode="json") for heart in hearts_of(run, now)]
        following.say(run.pk, "hearts", told, ["with_health"])


def make_recordings(run: Run) -> None:
    """What belts said while the class ran becomes everybody's recording of it; readings too few for one are left."""
    if run.began_at is None:
        return
    came = set(run.attendances.values_list("person__key", flat=True))
    first, last = run.began_at - AROUND, (run.ended_at or run.began_at + LONGEST) + AROUND
    for person, every in hearts.readings(run).items():
        own = sorted(item for item in every if first <= item[0] <= last)
        if person in came and len(own) > 1:
            seconds = [(moment - own[0][0]).total_seconds() for moment, _ in own]
            series = HeartSeries.of(seconds, [bpm for _, bpm in own], own[0][0], "belt")
            try:
                record(run, person, series, (own[0][0] - run.began_at).total_seconds())
            except FaultyInput as error:
                # what one belt said outside of the class keeps nobody's end of the class back
                logger.warning("a belt's readings of run %d make no recording: %s", run.pk, error.faults[0].message)
