"""Takes a whole studio out as one file of open formats, also while the application runs."""

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.utils import timezone
from moving.studio_export import export_studio
from studio.models import Studio


class Command(BaseCommand):
    """The same file as the studio's page gives."""

    help = "Write a studio to FILE, a zip of open formats that must not exist. Exit code 1 where nothing was written."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)
        parser.add_argument("--studio", default="", help="name of the studio, where there are several")

    def handle(self, *args: Any, **options: Any) -> None:
        here = Studio.objects.filter(arriving_since=None)
        chosen = list(here.filter(name=options["studio"]) if options["studio"] else here)
        if len(chosen) != 1:
            names = ", ".join(f"“{item.name}”" for item in here) or "none yet"
            raise CommandError(f"Which studio? --studio with one of: {names}")
        file: Path = options["file"]
        beside = file.with_name(f"{file.name}.part")
        if file.exists():
            raise CommandError(f"{file} exists: nothing is written over.")
        try:
            with beside.open("wb") as target:
                export_studio(chosen[0], target, timezone.now())
            beside.rename(file)
        except OSError as error:
            raise CommandError(f"{file} cannot be written: {error.strerror}") from error
        finally:
            beside.unlink(missing_ok=True)
        self.stdout.write(f"“{chosen[0].name}” is in {file} ({file.stat().st_size / 1e6:.1f} MB).")
