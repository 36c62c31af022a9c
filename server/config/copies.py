"""Copies of the database: whole, also of what still stands in its write-ahead log, and for their owner only."""

from __future__ import annotations

import sqlite3
from contextlib import closing
from datetime import datetime
from pathlib import Path


def copy_of(database: Path, why: str) -> Path | None:
    """Copy a database to a dated file beside it; None where there is none yet.

    Raises sqlite3.Error, and leaves nothing half copied, where it cannot be read or there is no room.
    """
    if not database.exists():
        return None
    folder = database.parent / "copies"
    folder.mkdir(mode=0o700, exist_ok=True)
    stem = f"{database.stem}-{datetime.now():%Y%m%d-%H%M%S}-{why}"
    target = next(
        path for n in range(1, 1000) if not (path := folder / f"{stem}{f'-{n}' if n > 1 else ''}.sqlite3").exists()
    )
    beside = target.with_suffix(".part")
    beside.unlink(missing_ok=True)
    try:
        with closing(sqlite3.connect(database, timeout=10)) as kept:
            kept.execute("VACUUM INTO ?", (str(beside),))
        beside.chmod(0o600)
        beside.rename(target)
    finally:
        beside.unlink(missing_ok=True)
    return target
