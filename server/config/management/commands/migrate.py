"""Brings the database to this version; makes a copy of it before anything in it changes, and writes out anew what the
weeks are read from where an earlier version did it by other rules."""

from pathlib import Path
from typing import Any

from django.core.management.commands.migrate import Command as DjangosCommand
from django.db import connections
from django.db.migrations.executor import MigrationExecutor

from config.copies import copy_of


class Command(DjangosCommand):
    """Django's own command, with a copy before it."""

    def handle(self, *args: Any, **options: Any) -> None:
        connection = connections[options["database"]]
        name = str(connection.settings_dict["NAME"])
        executor = MigrationExecutor(connection)
        ahead = executor.migration_plan(executor.loader.graph.leaf_nodes())
        if executor.loader.applied_migrations and ahead and "memory" not in name:
            kept = copy_of(Path(name), "before-migration")
            if kept is not None:
                self.stdout.write(f"The database as it was is kept as {kept}.")
        super().handle(*args, **options)
        if ahead and not options.get("app_label"):
            from logbook.runs import materialise_missing

            done = materialise_missing()
            if done:
                self.stdout.write(f"{done} classes were written out for the weeks.")
