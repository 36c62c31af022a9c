"""Starts the demo over: a whole copy of the database of before is kept, then it goes."""

from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand

from config.copies import copy_of


class Command(BaseCommand):
    """Copies, then removes the database with the files that belong to it."""

    help = "Copy the database to a dated file and remove it."

    def handle(self, *args: Any, **options: Any) -> None:
        database = Path(str(settings.DATABASES["default"]["NAME"]))
        kept = copy_of(database, "before-reset")
        for side in ("-wal", "-shm", ""):
            database.with_name(database.name + side).unlink(missing_ok=True)
        if kept is not None:
            self.stdout.write(f"Starting over; the database of before is kept as {kept}.")
