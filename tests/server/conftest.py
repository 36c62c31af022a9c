"""A signed-in client of the API on a database that holds the demo."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any
from urllib.parse import urlencode

import pytest
from django.contrib.auth import get_user_model
from django.core.cache import cache
from django.test import Client
from studio.models import Studio


@pytest.fixture(autouse=True)
def nobody_has_tried() -> None:
    """Wrong passwords of other tests are forgotten."""
    cache.clear()


@pytest.fixture
def demo(db: None) -> Studio:
    """The studio that holds the demo data."""
    return Studio.objects.get()


@pytest.fixture
def client(db: None) -> Client:
    """The demo's instructor, signed in, as far as the API can tell."""
    signed_in = Client(headers={"host": "127.0.0.1"})
    signed_in.force_login(get_user_model().objects.get(username="ranger"))
    return signed_in


@pytest.fixture
def send(client: Client) -> Callable[..., Any]:
    """Send JSON and get the status and the answer's JSON."""

    def send_json(method: str, path: str, body: Any = None) -> tuple[int, Any]:
        answer = client.generic(method, path, b"" if body is None else _encoded(body), content_type="application/json")
        return answer.status_code, answer.json() if answer.content else None

    return send_json


@pytest.fixture
def upload(client: Client) -> Callable[..., Any]:
    """Send a file as it is, what else is said of it in the address, and get the status and the answer's JSON."""

    def send_file(path: str, content: bytes | str, **said: Any) -> tuple[int, Any]:
        body = content.encode() if isinstance(content, str) else content
        address = f"{path}?{urlencode(said)}" if said else path
        # the test client says nothing of the kind of an empty body
        answer = client.generic("POST", address, body, CONTENT_TYPE="application/octet-stream")
        return answer.status_code, answer.json() if answer.content else None

    return send_file


def _encoded(body: Any) -> bytes:
    import orjson

    return orjson.dumps(body)
