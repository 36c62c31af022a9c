"""Gives somebody a new password when the old one is lost; every session of theirs ends."""

import getpass
import secrets
from typing import Any

from django.contrib.auth import get_user_model
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.core.management.base import BaseCommand, CommandError, CommandParser


class Command(BaseCommand):
    """Asks for the new password twice, or makes one."""

    help = "Set a new password for an account; whoever is signed in with it is signed out."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("name", help="the name to sign in with")
        parser.add_argument("--make", action="store_true", help="make a password and print it, instead of asking")

    def handle(self, *args: Any, **options: Any) -> None:
        users = get_user_model()
        user = users.objects.filter(username__iexact=options["name"]).first()
        if user is None:
            names = ", ".join(users.objects.order_by("username").values_list("username", flat=True)[:20])
            raise CommandError(f"There is no account {options['name']!r}. There are: {names or 'none'}.")
        if options["make"]:
            password = secrets.token_urlsafe(12)
        else:
            password = getpass.getpass("New password: ")
            if password != getpass.getpass("Again: "):
                raise CommandError("The two are not the same; nothing was changed.")
        try:
            validate_password(password, user)
        except ValidationError as refused:
            raise CommandError(" ".join(refused.messages)) from refused
        user.set_password(password)
        user.save(update_fields=["password"])
        shown = f": {password}" if options["make"] else "."
        self.stdout.write(f"{user.get_username()} has a new password{shown}")
        self.stdout.write("Every device that was signed in with the old one has to sign in again.")
