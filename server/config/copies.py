"""Copies of the database: whole, also of what still stands in its write-ahead log, for their owner only, and made while
the application runs; put back while it runs, too."""

from __future__ import annotations

import os
import shutil
import sqlite3
import subprocess
import sys
import tempfile
import threading
import time
from contextlib import closing
from datetime import datetime
from pathlib import Path

WAIT_S = 30
"""How long a copy waits for a writer."""

MANAGE = Path(__file__).resolve().parent.parent / "manage.py"

BY_THE_CLOCK = "by-the-clock"
DAMAGED = "damaged"
LOOK_EVERY_S = 300.0


class NoCopy(Exception):
    """A file that cannot be put back, and why."""


def copy_of(database: Path, why: str, to: Path | None = None) -> Path | None:
    """Copy a database to a dated file beside it, or to a file that does not exist yet; None where there is none yet.

    Raises sqlite3.Error, and leaves nothing half copied, where it cannot be read or there is no room; NoCopy where the
    file exists.
    """
    if not database.exists():
        return None
    target = _dated(database, why) if to is None else to
    if target.exists():
        raise NoCopy(f"{target} exists: a copy is never written over")
    beside = target.with_name(f"{target.name}.part")
    beside.unlink(missing_ok=True)
    try:
        with closing(sqlite3.connect(database, timeout=WAIT_S)) as kept:
            kept.execute("VACUUM INTO ?", (str(beside),))
        beside.chmod(0o600)
        beside.rename(target)
    finally:
        beside.unlink(missing_ok=True)
    return target


def damage_of(database: Path) -> str | None:
    """What is wrong with a database, in SQLite's words; None for one that is whole, or not there yet."""
    if not database.exists():
        return None
    try:
        with closing(sqlite3.connect(f"{database.resolve().as_uri()}?mode=ro", uri=True, timeout=WAIT_S)) as kept:
            told: str = kept.execute("PRAGMA quick_check(1)").fetchone()[0]
            kept.execute("SELECT count(*) FROM sqlite_master").fetchone()
    except sqlite3.OperationalError as error:
        # locked, full, or no rights: nothing that a copy would mend
        return None if is_busy(error) or is_out_of_room(error, database.parent) else str(error)
    except sqlite3.DatabaseError as error:
        return str(error)
    return None if told == "ok" else told


def is_busy(error: BaseException) -> bool:
    """Whether a database could not be used for now, because somebody else writes."""
    return any(word in str(error) for word in ("locked", "busy"))


ROOM_BYTES = 1_000_000
"""With less free room than this the files that SQLite needs beside a database cannot be made."""


def is_out_of_room(error: BaseException, folder: Path) -> bool:
    """Whether a database in this folder failed because its disk is full. SQLite says so where a page has no room; where
    the files beside the database have none it only says that they cannot be opened, or their size not be set."""
    said = str(getattr(error, "sqlite_errorname", ""))
    if said == "SQLITE_FULL" or "full" in str(error):
        return True
    return said.startswith(("SQLITE_IOERR", "SQLITE_CANTOPEN")) and shutil.disk_usage(folder).free < ROOM_BYTES


def newest_whole_copy(database: Path) -> Path | None:
    """The copy beside a database that was made last and is whole."""
    found = [path for path in (database.parent / "copies").glob("*.sqlite3") if DAMAGED not in path.name]
    by_age = sorted(found, key=lambda path: path.stat().st_mtime_ns, reverse=True)
    return next((path for path in by_age if damage_of(path) is None), None)


def _dated(database: Path, why: str) -> Path:
    folder = database.parent / "copies"
    folder.mkdir(mode=0o700, exist_ok=True)
    stem = f"{database.stem}-{datetime.now():%Y%m%d-%H%M%S}-{why}"
    paths = (folder / f"{stem}{f'-{n}' if n > 1 else ''}.sqlite3" for n in range(1, 1000))
    return next(path for path in paths if not path.exists())


def copies_by_the_clock(database: Path) -> list[Path]:
    """The copies that were made by the clock, the oldest first."""
    found = (database.parent / "copies").glob(f"{database.stem}-*-{BY_THE_CLOCK}*.sqlite3")
    return sorted(found, key=lambda path: path.stat().st_mtime_ns)


def copy_by_the_clock(database: Path, keep: int) -> Path | None:
    """One more copy; of those made so the last `keep` stay."""
    made = copy_of(database, BY_THE_CLOCK)
    for old in copies_by_the_clock(database)[: -max(1, keep)]:
        old.unlink(missing_ok=True)
    return made


class Clock(threading.Thread):
    """Makes a copy whenever the last one made so is older than `every_h` hours, for as long as the process lives."""

    def __init__(self, database: Path, every_h: float, keep: int) -> None:
        super().__init__(name="copies", daemon=True)
        self.database, self.every_s, self.keep = database, every_h * 3600, keep

    def run(self) -> None:
        while True:
            self.look()
            time.sleep(min(LOOK_EVERY_S, self.every_s))

    def look(self) -> Path | None:
        """Make a copy if it is time; what went wrong is told, and tried again."""
        last = copies_by_the_clock(self.database)
        if last and time.time() - last[-1].stat().st_mtime < self.every_s:
            return None
        try:
            return copy_by_the_clock(self.database, self.keep)
        except (sqlite3.Error, OSError) as error:
            print(f"No copy of the database was made: {error}", file=sys.stderr, flush=True)
            return None


def put_back(copy: Path, database: Path) -> Path | None:
    """Make the database what a copy says, also while the application runs; the copy of an older version is brought to
    this one first. Gives the copy of what was there before; a database that was damaged is set aside under a name that
    says so (`DAMAGED`), and a server that runs has to be started anew.

    Raises NoCopy, and changes nothing, where the file is no whole database of this application, or of a newer version.
    """
    with tempfile.TemporaryDirectory(prefix="oaken-back-", dir=database.parent) as folder:
        here = Path(folder) / database.name
        _whole(copy, here)
        environment = {**os.environ, "OAKEN_DATA": folder}
        migrate = [sys.executable, str(MANAGE), "migrate", "--verbosity", "0"]
        migrated = subprocess.run(migrate, env=environment, capture_output=True, text=True)
        if migrated.returncode:
            raise NoCopy(f"{copy.name} cannot be brought to this version: {migrated.stderr.strip()[-300:]}")
        if damage_of(database) is not None:
            return _set_aside(database, here)
        before = copy_of(database, "before-restore")
        with (
            closing(sqlite3.connect(here)) as source,
            closing(sqlite3.connect(database, timeout=WAIT_S)) as target,
        ):
            # in one step, as one transaction: whoever reads meanwhile reads what was there before
            source.backup(target)
        return before


def _set_aside(database: Path, here: Path) -> Path:
    """Put a whole database in the place of one that is damaged, of which nothing can be copied; what it was stays."""
    with closing(sqlite3.connect(here, timeout=WAIT_S)) as kept:
        # everything into the one file: what stands beside the damaged one must never be read into it
        kept.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        kept.execute("PRAGMA journal_mode=DELETE")
    aside = _dated(database, DAMAGED)
    os.link(database, aside)
    for ending in ("-wal", "-shm"):
        beside = database.with_name(database.name + ending)
        if beside.exists():
            beside.rename(aside.with_name(aside.name + ending))
    here.chmod(0o600)
    # in one step: there is never no database
    here.replace(database)
    return aside


def _whole(copy: Path, here: Path) -> None:
    """Copy a file to `here` and look whether it is a whole database that this version knows."""
    try:
        shutil.copyfile(copy, here)
    except OSError as error:
        raise NoCopy(f"{copy} cannot be read ({error.strerror})") from error
    try:
        with closing(sqlite3.connect(here)) as kept:
            told = kept.execute("PRAGMA integrity_check").fetchone()[0]
            applied = {tuple(row) for row in kept.execute("SELECT app, name FROM django_migrations")}
    except sqlite3.Error as error:
        raise NoCopy(f"{copy.name} is no database of Oaken Circuit ({error})") from error
    if told != "ok":
        raise NoCopy(f"{copy.name} is damaged: {told}")
    newer = sorted(applied - _known())
    if newer:
        made_by = f"{newer[-1][0]}.{newer[-1][1]}"
        raise NoCopy(f"{copy.name} was made by a newer version ({made_by}): bring this installation up to date first")
    if not any(app == "studio" for app, _ in applied):
        raise NoCopy(f"{copy.name} is no database of Oaken Circuit")


def _known() -> set[tuple[str, str]]:
    from django.db.migrations.loader import MigrationLoader

    return set(MigrationLoader(None).disk_migrations)
