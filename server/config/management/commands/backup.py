"""Makes a copy of the database, also while the application runs."""

import sqlite3
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError, CommandParser

from config.copies import NoCopy, copy_by_the_clock, copy_of


class Command(BaseCommand):
    """A whole copy, for its owner only."""

    help = "Copy the database while the application runs. Exit code 1 where no copy could be made."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--to", type=Path, help="a file that must not exist (default: a dated one in copies/)")
        parser.add_argument("--keep", type=int, help="of the copies made so, keep the last N; for a line of cron")

    def handle(self, *args: Any, **options: Any) -> None:
        database = Path(str(settings.DATABASES["default"]["NAME"]))
        if options["keep"] is not None and (options["keep"] < 1 or options["to"]):
            raise CommandError("--keep takes a number from 1, and goes without --to.")
        try:
            if options["keep"]:
                made = copy_by_the_clock(database, options["keep"])
            else:
                made = copy_of(database, "by-hand", options["to"])
        except (NoCopy, sqlite3.Error, OSError) as error:
            raise CommandError(f"No copy was made: {error}") from error
        if made is None:
            raise CommandError(f"There is no database yet: {database}")
        self.stdout.write(f"The database is copied to {made} ({made.stat().st_size / 1e6:.1f} MB).")
