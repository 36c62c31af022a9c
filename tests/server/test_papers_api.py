"""What is printed, over HTTP: as data, as PDF, for instructors; faults say where they are."""

from __future__ import annotations

import io
import json
from collections.abc import Callable
from typing import Any

import pytest
from django.test import Client
from pypdf import PdfReader

Send = Callable[..., tuple[int, Any]]
pytestmark = pytest.mark.usefixtures("demo")
KINDS = ["run-sheet", "before-start", "people", "stations", "set-up", "poster", "log-sheet"]


def planned(send: Send, name: str) -> dict[str, Any]:
    """A class of the demo as the API gives it."""
    _, listed = send("GET", "/api/classes")
    found = next(one for one in listed if one["name"].startswith(name))
    return send("GET", f"/api/classes/{found['id']}")[1]


@pytest.mark.parametrize("kind", KINDS)
def test_a_paper_as_data_and_as_pdf(kind: str, send: Send, client: Client) -> None:
    plan = planned(send, "Machine")["plan"]
    status, paper = send("POST", "/api/papers", {"plan": plan, "kind": kind})
    assert (status, paper["kind"]) == (200, kind)
    assert paper["cards"]
    answer = client.post(
        "/api/papers/pdf", json.dumps({"plan": plan, "kind": kind, "page": "letter"}), content_type="application/json"
    )
    assert (answer.status_code, answer["Content-Type"]) == (200, "application/pdf")
    reader = PdfReader(io.BytesIO(answer.content))
    assert {round(float(reader.pages[0].mediabox.width)), round(float(reader.pages[0].mediabox.height))} == {612, 792}
    assert paper["title"] in reader.pages[0].extract_text()


def test_what_does_not_exist_is_told(send: Send) -> None:
    plan = planned(send, "Machine")["plan"]
    assert send("POST", "/api/papers/pdf", {"plan": plan, "kind": "banner"})[0] == 422
    status, answer = send("POST", "/api/papers/pdf", {"plan": {**plan, "people": ["nobody"]}, "kind": "people"})
    assert status == 422
    assert "nobody" in answer["faults"][0]["message"]
