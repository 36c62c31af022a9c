"""Puts the demo back to its beginning: the kept database is moved aside, never deleted at once."""

from __future__ import annotations

import os
from pathlib import Path

DATA = Path(os.environ.get("OAKEN_DATA", Path(__file__).resolve().parent.parent / "var"))


def main() -> None:
    """Move the database to oaken.sqlite3.before-reset, over the one of an earlier reset."""
    kept = DATA / "oaken.sqlite3"
    for side in ("-wal", "-shm", ""):
        part = kept.with_name(kept.name + side)
        if part.exists():
            part.replace(part.with_name(f"{kept.name}.before-reset{side}"))
    print("Starting over; the database of before is kept as oaken.sqlite3.before-reset.")


if __name__ == "__main__":
    main()
