"""The data tables that ship beside the code that reads them."""

from __future__ import annotations

import json
from importlib.resources import files
from typing import Any


def shipped_text(package: str, *name: str) -> str:
    """The text of a file that ships in a package, by the parts of its path."""
    return files(package).joinpath(*name).read_text(encoding="utf-8")


def shipped_json(package: str, *name: str) -> Any:
    """The document in a JSON file that ships in a package."""
    return json.loads(shipped_text(package, *name))
