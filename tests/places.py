"""Where things are in the checkout, and what it publishes."""

import json
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parent.parent
EXAMPLES = ("stretcher-legs", "machine-pairs", "scree-and-stairs", "long-carry")


def published_api() -> dict[str, Any]:
    """The schema of the API as it is published; `make lint` holds it to the code, which takes seconds to ask."""
    schema: dict[str, Any] = json.loads((ROOT / "docs" / "openapi.json").read_text(encoding="utf-8"))
    return schema
