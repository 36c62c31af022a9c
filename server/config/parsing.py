"""Reading the body of a request: strict JSON, and no deeper than any document is."""

from __future__ import annotations

from typing import Any

import orjson
from django.http import HttpRequest
from ninja.parser import Parser
from oaken.basis.limits import in_words, most


class NoJson(ValueError):
    """A body that cannot be read; the words say where and why."""


def document_of(body: bytes) -> Any:
    """What a body says. Raises NoJson for what is no JSON (numbers beyond any measure, NaN and half characters
    included) and for lists and objects deeper within one another than any document has them."""
    try:
        document = orjson.loads(body)
    except orjson.JSONDecodeError as error:
        raise NoJson(f"That is no JSON: {error.msg}, line {error.lineno}, column {error.colno}.") from error
    level, here = 0, [document]
    while here:
        level += 1
        if level > most("request.depth"):
            raise NoJson(f"Lists and objects stand too deep within one another: {in_words('request.depth')}.")
        here = [
            inner
            for item in here
            if isinstance(item, dict | list)
            for inner in (item.values() if isinstance(item, dict) else item)
            if isinstance(inner, dict | list)
        ]
    return document


class StrictParser(Parser):
    """Bodies as `document_of` reads them."""

    def parse_body(self, request: HttpRequest) -> Any:
        return document_of(request.body)
