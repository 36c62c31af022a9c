"""People's own phones: an address shows its person's way alone, takes that their sets are done, and ends when revoked."""

from __future__ import annotations

import json
from collections.abc import Callable, Sequence
from datetime import datetime, timedelta
from typing import Any

import pytest
from django.test import Client
from django.utils import timezone
from logbook import runs
from logbook.keeping import erase
from logbook.models import Run
from oaken.basis.limits import most
from oaken.schedule.class_file import ClassFile
from oaken.session import Event, RunState, replay_events
from people.models import Person
from planning.models import PlannedClass
from running import phones
from running.following import Follower, events_message

Send = Callable[..., tuple[int, Any]]
pytestmark = pytest.mark.usefixtures("demo")

FIRST_S = 70.0
"""So long after the block at people's own pace began, everybody's first set is over."""


@pytest.fixture
def run(send: Send) -> Run:
    """A class that has been at people's own pace for a while."""
    planned = next(item for item in PlannedClass.objects.all() if item.key == "machine-pairs")
    _, opened = send(
        "POST", "/api/runs", {"class_id": planned.pk, "revision": planned.revisions.latest("number").number}
    )
    run = Run.objects.get(pk=opened["id"])
    block = next(block for block in runs.file_of(run).plan.blocks if block.kind == "sets")
    happened(
        send, run, ("began", FIRST_S + 1, {"follows": "people"}), ("went_on", FIRST_S, {"block": block.id, "second": 0})
    )
    return run


def happened(send: Send, run: Run, *events: tuple[str, float, dict[str, Any]]) -> None:
    now = timezone.now()
    said = [
        {"id": f"e-{kind}-{ago:g}", "kind": kind, "device": "t",
         "happened_at": (now - timedelta(seconds=ago)).isoformat(), **more}
        for kind, ago, more in events
    ]  # fmt: skip
    status, kept = send("POST", f"/api/runs/{run.pk}/events", {"events": said})
    assert (status, kept["refused"]) == (200, [])


class Phone:
    """Somebody's own phone, which has no account."""

    def __init__(self, path: str) -> None:
        self.path, self.client = path, Client(headers={"host": "127.0.0.1"})

    def look(self) -> tuple[int, Any]:
        answer = self.client.get(f"/api{self.path}")
        return answer.status_code, answer.json()

    def press(self, name: str, what: str, **more: Any) -> tuple[int, Any]:
        body = {"id": name, "what": what, **more}
        answer = self.client.post(f"/api{self.path}/presses", body, content_type="application/json")
        return answer.status_code, answer.json()

    def done(self, name: str, ago_s: float = 0) -> tuple[int, Any]:
        here = self.look()[1]["view"]["here"]
        return self.press(name, "done", part=here["part"], number=here["number"], ago_s=ago_s)


def phones_in(send: Send, run: Run, people: list[str] | None = None) -> dict[str, Phone]:
    status, made = send("POST", f"/api/runs/{run.pk}/phones", {"people": people})
    assert status == 201
    return {item["person"]: Phone(item["path"]) for item in made}


def test_there_are_none_until_they_are_made_and_none_when_they_are_revoked(send: Send, run: Run) -> None:
    assert send("GET", f"/api/runs/{run.pk}/phones") == (200, [])
    people = runs.people_of(run.pk)
    made = phones_in(send, run, people[:2])
    assert list(made) == people[:2]
    assert list(phones_in(send, run)) == people
    # who has one keeps it
    assert phones_in(send, run)[people[0]].path == made[people[0]].path
    first = send("GET", f"/api/runs/{run.pk}/phones")[1][0]
    assert send("DELETE", f"/api/runs/{run.pk}/phones/{first['id']}")[0] == 204
    assert made[people[0]].look()[0] == made[people[0]].press("a", "tag")[0] == 404
    assert made[people[1]].look()[0] == 200
    # made again it is another address
    assert phones_in(send, run, people[:1])[people[0]].path != made[people[0]].path
    assert made[people[0]].look()[0] == 404
    assert send("DELETE", f"/api/runs/{run.pk}/phones")[0] == 204
    assert made[people[1]].look()[0] == 404
    status, faults = send("POST", f"/api/runs/{run.pk}/phones", {"people": ["nobody-here"]})
    assert (status, "not in this class" in json.dumps(faults)) == (422, True)


def test_a_phone_shows_its_own_person_with_load_and_setting_and_nothing_of_others(send: Send, run: Run) -> None:
    file = runs.file_of(run)
    made = phones_in(send, run)
    cards = {card["person"]: set(card["settings"].values()) for card in send("GET", f"/api/runs/{run.pk}/cards")[1]}
    settings = set()
    for name in file.plan.people:
        status, own = made[name].look()
        view = own["view"]
        assert status == 200
        text = json.dumps(own)
        assert [person.name for person in file.people if person.name in text] == [view["called"]]
        assert all(person.key not in text for person in Person.objects.all())
        assert view["press"] == "done"
        # the load is the one that the class's sheet has for this set of theirs
        sheet = runs.sheets(run, [event for _, event in runs.events_of(run)])[-1]
        shown = next(person for person in sheet.people if person.id == name)
        planned = next(
            item for item in shown.sets
            if (sheet.parts[item.part].id, item.number) == (view["here"]["part"], view["here"]["number"])
        )  # fmt: skip
        assert (view["here"]["kg"], view["here"]["reps"]) == (planned.kg, planned.reps)
        shown_settings = {place["setting"] for place in (view["here"], view["next"]) if place} - {""}
        assert shown_settings <= cards[name]
        settings |= shown_settings
    assert settings


def test_a_press_moves_its_person_on_at_once_and_counts_once(send: Send, run: Run) -> None:
    name = runs.people_of(run.pk)[0]
    phone = phones_in(send, run)[name]
    before = phone.look()[1]["view"]
    status, after = phone.done("own-1")
    assert status == 200
    assert after["view"]["known"]
    assert (after["view"]["here"]["part"], after["view"]["here"]["number"]) != (
        before["here"]["part"], before["here"]["number"])  # fmt: skip
    assert after["said"] == "own-1"
    # sent again, as a phone does that heard no answer, and later
    here = before["here"]
    again = phone.press("own-1", "done", part=here["part"], number=here["number"], ago_s=4)
    assert again[0] == 200
    # and what is logged already is not said again
    assert phone.press("own-2", "done", part=here["part"], number=here["number"])[0] == 200
    kept = [event for _, event in runs.events_of(run) if event.kind == "set_done"]
    assert [(event.id, event.by, event.person, event.number) for event in kept] == [
        ("own-1", "own phone", name, here["number"])]  # fmt: skip
    assert kept[0].load_kg == (here["kg"][0] if here["kg"] else None)
    # taken back, they are where they were
    status, back = phone.press("own-3", "take_back", of="own-1")
    assert (status, back["said"]) == (200, None)
    assert back["view"]["here"]["part"] == here["part"]


def test_a_press_that_was_made_without_a_connection_counts_when_it_was_made(send: Send, run: Run) -> None:
    phone = phones_in(send, run)[runs.people_of(run.pk)[1]]
    assert phone.done("late", ago_s=25)[0] == 200
    kept = next(event for _, event in runs.events_of(run) if event.id == "late")
    assert (timezone.now() - kept.happened_at).total_seconds() == pytest.approx(25, abs=5)


def test_what_a_phone_may_not_say_is_refused_and_nothing_is_kept(send: Send, run: Run, monkeypatch: Any) -> None:
    first, second = runs.people_of(run.pk)[:2]
    made = phones_in(send, run)
    here = made[first].look()[1]["view"]["here"]
    count = len(runs.events_of(run))
    said = [
        (made[first].press("x-1", "done", part="no-such-part", number=1), "none of yours"),
        (made[first].press("x-2", "done", part=here["part"], number=390), "none of yours"),
        (made[first].press("x-3", "done"), "does not go with"),
        (made[first].press("x-4", "tag", of="e-began-71"), "does not go with"),
        # what the instructor pressed, or another phone, is not theirs to take back
        (made[first].press("x-5", "take_back", of="e-began-71"), "no press of this phone"),
    ]
    assert made[second].done("y-1")[0] == 200
    said.append((made[first].press("x-6", "take_back", of="y-1"), "no press of this phone"))
    assert [(answer[0], words in json.dumps(answer[1])) for answer, words in said] == [(422, True)] * len(said)
    assert made[first].press("x-7", "erase")[0] == 422
    assert len(runs.events_of(run)) == count + 1
    monkeypatch.setattr(phones, "most", lambda name: 1 if name == "run.phone_presses" else most(name))
    assert made[second].done("y-2")[0] == 422
    happened(send, run, ("ended", 0, {}))
    status, refused = made[first].done("x-8") if made[first].look()[1]["view"]["here"] else made[first].press(
        "x-8", "done", part=here["part"], number=here["number"])  # fmt: skip
    assert (status, "over" in json.dumps(refused)) == (422, True)
    view = made[first].look()[1]["view"]
    assert (view["state"], view["here"], view["next"], view["press"]) == ("ended", None, None, None)


def test_nothing_stands_under_the_address_of_somebody_who_was_erased(send: Send, run: Run) -> None:
    made = phones_in(send, run)
    happened(send, run, ("ended", 0, {}))
    erase(Person.objects.get(key="tobin"))
    assert made["tobin"].look()[0] == 404
    assert "tobin" not in [item["person"] for item in send("GET", f"/api/runs/{run.pk}/phones")[1]]


def test_the_code_is_a_picture_of_the_address(send: Send, run: Run) -> None:
    phones_in(send, run)
    first = send("GET", f"/api/runs/{run.pk}/phones")[1][0]
    status, code = send("GET", f"/api/runs/{run.pk}/phones/{first['id']}/code")
    assert status == 200
    assert code["address"].endswith(first["path"])
    assert code["qr_svg"].startswith("<svg")


def test_a_stream_tells_a_phone_only_that_something_happened(send: Send, run: Run) -> None:
    happened(send, run, ("stopped_for", 5, {"person": "tobin", "words": "dizzy"}))
    said = events_message(runs.events_of(run), Follower("own_phone").reader, {}, 77)
    assert said == b"id: 77\nevent: changed\ndata: {}\n\n"


def test_phones_that_ask_in_the_same_second_are_answered_from_one_fold(send: Send, run: Run, monkeypatch: Any) -> None:
    made = phones_in(send, run)
    folds: list[datetime] = []

    def counted(file: ClassFile, events: Sequence[Event], now: datetime) -> RunState:
        folds.append(now)
        return replay_events(file, events, now)

    monkeypatch.setattr(phones, "replay_events", counted)
    still = timezone.now()
    monkeypatch.setattr(phones, "now_of", lambda number: still)
    assert {phone.look()[0] for phone in made.values()} == {200}
    assert len(folds) == 1


def test_in_a_relay_a_phone_tags_for_its_team(send: Send) -> None:
    relay = next(
        (item, block) for item in PlannedClass.objects.all()
        for block in item.revisions.latest("number").document["blocks"] if block["kind"] == "relay"
    )  # fmt: skip
    planned, block = relay
    number = planned.revisions.latest("number").number
    run = Run.objects.get(pk=send("POST", "/api/runs", {"class_id": planned.pk, "revision": number})[1]["id"])
    happened(send, run, ("began", 40, {"follows": "people"}), ("went_on", 30, {"block": block["id"], "second": 0}))
    name = runs.people_of(run.pk)[0]
    phone = phones_in(send, run)[name]
    assert phone.look()[1]["view"]["press"] == "tag"
    assert phone.press("t-1", "tag")[0] == 200
    kept = runs.events_of(run)[-1][1]
    assert (kept.kind, kept.person, kept.block) == ("tagged", name, block["id"])
