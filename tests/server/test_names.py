"""One type for every name: what nobody sees is not in it, and what was kept before stays readable."""

from __future__ import annotations

from collections.abc import Callable
from importlib import import_module
from types import SimpleNamespace
from typing import Any

import pytest
from django.apps import apps
from django.db import connection
from django.test import Client
from hypothesis import given
from hypothesis import strategies as st
from logbook.models import Run
from oaken.basis.names import cleaned, first_name
from oaken.domain.people import Person
from people.models import Person as KeptPerson
from planning.models import Revision
from pydantic import ValidationError
from studio.models import Studio
from test_what_was_done import opened

Send = Callable[..., tuple[int, Any]]
ADULT = {"id": "a", "age": 40, "body_mass_kg": 70}


@pytest.mark.parametrize(
    ("given", "kept"),
    [
        ("Ada\r\nByron", "Ada  Byron"),
        ("\u202eAda\u202c", "Ada"),
        ("A\u200bda", "Ada"),
        ("Ada\x00", "Ada"),
        ("\ufeff Ada", "Ada"),
        ("Šťastný Ώ 王 नि", "Šťastný Ώ 王 नि"),
        ("می‌خواهم", "می‌خواهم"),
    ],
)
def test_what_nobody_sees_is_not_in_a_name(given: str, kept: str) -> None:
    assert Person.model_validate({**ADULT, "name": given}).name == kept


@pytest.mark.parametrize("nothing", ["\x01", "\u200b\u202e", " \t\r\n", "\u200d", "\ue000", ""])
def test_a_name_with_nothing_to_be_seen_is_refused(nothing: str) -> None:
    with pytest.raises(ValidationError):
        Person.model_validate({**ADULT, "name": nothing})


@given(st.text(max_size=60))
def test_cleaning_is_done_once(text: str) -> None:
    once = cleaned(text)
    assert cleaned(once) == once
    assert all(sign.isprintable() or sign in "\u200c\u200d" or ord(sign) > 0x2FF for sign in once)


def test_placeholders_keep_their_numbers() -> None:
    names = ["Beginner 1", "Beginner 2", "Guest B", "Tobin Askrigg", "Jean Paul Ames", "Number #7"]
    assert [first_name(name) for name in names] == ["Beginner 1", "Beginner 2", "Guest B", "Tobin", "Jean", "Number #7"]


@pytest.mark.usefixtures("demo")
def test_a_name_of_one_control_sign_that_was_kept_breaks_nothing(demo: Studio, send: Send, client: Client) -> None:
    live = opened(send, "Stretcher legs")
    run = Run.objects.get(pk=live["id"])
    key = live["sheets"][0]["people"][0]["id"]
    KeptPerson.objects.filter(studio=demo, key=key).update(name="\x01")
    assert run.file is not None
    for person in run.file["people"]:
        if person["id"] == key:
            person["name"] = "\u200b"
    run.save()
    revision = Revision.objects.get(pk=run.saved_as_id)
    revision.document["blocks"][0]["name"] = "\u202e"
    Revision.objects.filter(pk=revision.pk).update(document=revision.document)
    import_module("logbook.migrations.0014_names_to_be_seen").name_them(apps, SimpleNamespace(connection=connection))
    assert KeptPerson.objects.get(studio=demo, key=key).name == "Unnamed"
    wall = send("POST", f"/api/runs/{live['id']}/walls", {"names": "first_names"})[1]
    shown = client.get(f"/api{wall['path']}")
    assert shown.status_code == 200
    assert "Unnamed" in [item["name"] for item in shown.json()["sheets"][0]["people"]]
    for kind in ("poster", "log-sheet"):
        status, paper = send("POST", f"/api/runs/{live['id']}/papers", {"kind": kind})
        assert status == 200, paper
    assert send("GET", f"/api/classes/{live['class_id']}")[1]["plan"]["blocks"][0]["name"] == "Unnamed"


@pytest.mark.usefixtures("demo")
def test_the_api_refuses_a_name_of_nothing_at_its_place(send: Send) -> None:
    status, answer = send("GET", "/api/people/tobin")
    assert status == 200
    record = {**answer["record"], "name": "\x01"}
    status, answer = send("PUT", "/api/people/tobin", {"based_on": answer["revision"], "record": record})
    assert status == 422
    assert answer["faults"][0]["field"] == "name"
