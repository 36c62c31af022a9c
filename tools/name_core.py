"""Tells this virtual environment where the core is, so that `python -m oaken` works in it without more ado."""

from __future__ import annotations

import sysconfig
from pathlib import Path

CORE = Path(__file__).resolve().parent.parent / "core"

if __name__ == "__main__":
    Path(sysconfig.get_path("purelib"), "oaken-core.pth").write_text(f"{CORE}\n", encoding="utf-8")
