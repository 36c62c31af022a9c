"""A client of the API on a database that holds the demo."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import pytest
from django.core.management import call_command
from django.test import Client


@pytest.fixture
def demo(db: None) -> None:
    """The demo data, loaded as `make demo` loads it."""
    call_command("load_demo", verbosity=0)


@pytest.fixture
def client() -> Client:
    """A browser's requests, as far as the API can tell."""
    return Client(headers={"host": "127.0.0.1"})


@pytest.fixture
def send(client: Client) -> Callable[..., Any]:
    """Send JSON and get the status and the answer's JSON."""

    def send_json(method: str, path: str, body: Any = None) -> tuple[int, Any]:
        answer = client.generic(method, path, b"" if body is None else _encoded(body), content_type="application/json")
        return answer.status_code, answer.json() if answer.content else None

    return send_json


def _encoded(body: Any) -> bytes:
    import orjson

    return orjson.dumps(body)
