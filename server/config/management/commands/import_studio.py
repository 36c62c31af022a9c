"""Takes a studio in from its file, also while the application runs, and also on an empty installation."""

from getpass import getpass
from pathlib import Path
from typing import Any

from django.contrib.auth import password_validation
from django.contrib.auth.models import User
from django.core.exceptions import ValidationError
from django.core.management.base import BaseCommand, CommandError, CommandParser
from moving.studio_import import import_studio
from oaken.basis.faults import FaultyInput


class Command(BaseCommand):
    """A studio of its own, with one instructor; whole or not at all."""

    help = "Keep the studio of FILE as a new one. Exit code 1 where nothing was kept, with every fault at its place."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)
        parser.add_argument(
            "--user", required=True, help="who is an instructor in it; a new account where there is none"
        )

    def handle(self, *args: Any, **options: Any) -> None:
        user = User.objects.filter(username=options["user"]).first() or _new(options["user"])
        try:
            with options["file"].open("rb") as source:
                if user.pk is None:
                    user.save()
                studio = import_studio(source, user)
        except OSError as error:
            raise CommandError(f"{options['file']} cannot be read: {error.strerror}") from error
        except FaultyInput as error:
            raise CommandError(f"Nothing was kept.\n{error}") from error
        self.stdout.write(f"“{studio.name}” is here; {user.username} is an instructor in it.")


def _new(name: str) -> User:
    user = User(username=name)
    password = getpass(f"A password for {name}: ")
    try:
        password_validation.validate_password(password, user)
    except ValidationError as error:
        raise CommandError(" ".join(error.messages)) from error
    user.set_password(password)
    return user
