"""Puts a copy of the database back, also while the application runs."""

import sqlite3
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError, CommandParser

from config.copies import DAMAGED, NoCopy, put_back


class Command(BaseCommand):
    """What was there before is kept as a copy of its own."""

    help = "Make the database what a copy says, while the application runs. Exit code 1 where nothing was changed."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("copy", type=Path, help="a file that `backup` made, or one in copies/")

    def handle(self, *args: Any, **options: Any) -> None:
        database = Path(str(settings.DATABASES["default"]["NAME"]))
        try:
            before = put_back(options["copy"], database)
        except (NoCopy, sqlite3.Error, OSError) as error:
            raise CommandError(f"Nothing was changed: {error}.") from error
        self.stdout.write(f"The database is what {options['copy']} says.")
        if before is not None and DAMAGED in before.name:
            self.stdout.write(f"What was there was damaged; it is set aside as {before}.")
            self.stdout.write(self.style.WARNING("A server that runs has to be stopped and started again now."))
        elif before is not None:
            self.stdout.write(f"What was there before is kept as {before}.")
