"""The whole API by its own schema, as every role: no answer that the schema does not name, and never a 5xx but 503."""

from __future__ import annotations

import json
from typing import Any
from urllib.parse import urlencode

import requests
import schemathesis
from django.contrib.auth import get_user_model
from django.core.cache import cache
from django.db import transaction
from django.test import Client
from hypothesis import HealthCheck, Phase, settings
from places import EXAMPLES, ROOT, published_api
from schemathesis.core import NotSet
from schemathesis.core.transport import Response
from schemathesis.specs.openapi.checks import response_schema_conformance, status_code_conformance

SCHEMA = published_api()
TWO_PLANS = ("TwoPlans", "RepairIn", "LevelIn")
"""Bodies for which making up whole plans takes minutes: they are tried with the plans of the demo, whole and broken."""


def with_known_plans(document: dict[str, Any]) -> dict[str, Any]:
    """The schema in which those bodies hold plans that there are."""
    plans = [json.loads((ROOT / "examples" / f"{name}.json").read_text(encoding="utf-8"))["plan"] for name in EXAMPLES]
    strange: list[Any] = [{**plans[0], "people": ["nobody"]}, {**plans[1], "blocks": []}, None, []]
    for name in TWO_PLANS:
        for field, told in document["components"]["schemas"][name]["properties"].items():
            if "ClassPlan" in json.dumps(told):
                document["components"]["schemas"][name]["properties"][field] = {"enum": [*plans, *strange]}
    return document


schema = schemathesis.openapi.from_dict(with_known_plans(SCHEMA))


@schemathesis.checks.check
def not_broken(ctx: Any, response: Any, case: Any) -> None:
    """The server's own faults; 503 says when to come again."""
    assert response.status_code < 500 or response.status_code == 503, response.text
    if response.status_code >= 400 and response.content:
        told = response.json()
        assert told.get("message") or told.get("faults") or told.get("text_faults") or told == {"faults": []}


def few(examples: int) -> settings:
    """So many tries of every endpoint, the same in every run."""
    return settings(
        max_examples=examples,
        derandomize=True,
        database=None,
        deadline=None,
        phases=[Phase.generate],
        suppress_health_check=list(HealthCheck),
    )


@schema.parametrize()
@few(1)
def test_every_endpoint_keeps_to_its_schema_for_nobody(case: Any, db: None) -> None:
    try_as(None, case)


@schema.parametrize()
@few(2)
def test_every_endpoint_keeps_to_its_schema_for_an_assistant(case: Any, db: None) -> None:
    try_as("helper", case)


@schema.parametrize()
@few(3)
def test_every_endpoint_keeps_to_its_schema_for_an_instructor(case: Any, db: None) -> None:
    try_as("ranger", case)


def try_as(role: str | None, case: Any) -> None:
    """One request that the schema allows, in a transaction that is taken back; the answer has to be named in it."""
    client = Client(headers={"host": "127.0.0.1"})
    cache.clear()
    with transaction.atomic():
        if role is not None:
            user = get_user_model().objects.get(username=role)
            client.force_login(user, backend="django.contrib.auth.backends.ModelBackend")
        response = answered(client, case)
        transaction.set_rollback(True)
    if role is not None:
        assert response.status_code != 401 or "/sign" in case.path, "the session did not arrive"
    case.validate_response(response, checks=[not_broken, status_code_conformance, response_schema_conformance])


def answered(client: Client, case: Any) -> Response:
    """The answer to a case, asked with the test client's own session, in the form that the checks read."""
    as_it_is = isinstance(case.body, bytes)
    # what was not generated is a body of nothing
    body = case.body if as_it_is else "" if isinstance(case.body, NotSet) else json.dumps(case.body)
    path = case.formatted_path
    query = urlencode({key: value for key, value in (case.query or {}).items() if value is not None}, doseq=True)
    told = client.generic(
        case.method,
        f"{path}?{query}" if query else path,
        body,
        content_type="application/octet-stream" if as_it_is else "application/json",
    )
    return Response(
        status_code=told.status_code,
        headers={name.lower(): [value] for name, value in told.headers.items()},
        content=b"".join(getattr(told, "streaming_content", [])) if told.streaming else told.content,
        request=requests.Request(case.method, f"http://127.0.0.1{path}").prepare(),
        elapsed=0.0,
        verify=False,
    )
