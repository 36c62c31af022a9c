"""Papers drawn as PDF, apart from the process that serves."""

from __future__ import annotations

import os
import subprocess
import sys

from oaken.exports.paper import Format, Paper
from pydantic import TypeAdapter

LONGEST_S = 60
"""Nothing that is allowed takes so long to draw."""


def drawn(paper: Paper, page: Format) -> bytes:
    """Drawn in a process of its own, which takes what Typst keeps with it when it ends."""
    given = TypeAdapter(dict[str, object]).dump_json({"paper": paper.model_dump(mode="json"), "format": page})
    done = subprocess.run(
        [sys.executable, "-m", "oaken.exports.paper.pdf"],
        input=given,
        capture_output=True,
        check=True,
        timeout=LONGEST_S,
        env={**os.environ, "PYTHONPATH": os.pathsep.join(sys.path)},
    )
    return done.stdout
