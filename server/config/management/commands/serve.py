"""Serves the application on this machine."""

import socket
from typing import Any

import uvicorn
from django.core.management.base import BaseCommand, CommandError, CommandParser

HOST = "127.0.0.1"


class Command(BaseCommand):
    """Uvicorn on the loopback address, after a look whether the port is free."""

    help = "Serve the application with uvicorn."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--port", type=int, default=8000)
        parser.add_argument("--check", action="store_true", help="only say whether the port is free")

    def handle(self, *args: Any, **options: Any) -> None:
        port = options["port"]
        with socket.socket() as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                probe.bind((HOST, port))
            except OSError as error:
                raise CommandError(
                    f"Port {port} is taken by another program. Choose another: make demo PORT={port + 1}"
                ) from error
        if options["check"]:
            return
        self.stdout.write(self.style.SUCCESS(f"\n  Oaken Circuit is at http://{HOST}:{port}/  (stop with Ctrl+C)\n"))
        self.stdout.flush()
        uvicorn.run(
            "config.asgi:application",
            host=HOST,
            port=port,
            log_level="warning",
            access_log=False,
            # a stream that somebody follows would never end by itself
            timeout_graceful_shutdown=2,
        )
