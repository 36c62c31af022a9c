"""Writes the API's schema, from which the interface's client is generated."""

import json
from typing import Any

from django.core.management.base import BaseCommand

from config.api import api


class Command(BaseCommand):
    """Prints the OpenAPI schema, always in the same order."""

    help = "Print the OpenAPI schema of the API."

    def handle(self, *args: Any, **options: Any) -> None:
        schema = api.get_openapi_schema()
        self.stdout.write(json.dumps(schema, separators=(",", ":"), sort_keys=True, ensure_ascii=False))
