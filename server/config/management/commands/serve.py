"""Serves the application: on this machine alone, or where other devices reach it."""

import os
import socket
import sys
from datetime import datetime
from pathlib import Path
from typing import Any

import uvicorn
from django.conf import settings
from django.core.management.base import BaseCommand, CommandError, CommandParser

from config.authority import authority_file, fingerprint
from config.copies import Clock, damage_of, newest_whole_copy
from config.names import EVERYWHERE, LOOPBACK, addresses, names_to_answer_to

WITHOUT_TLS = (
    "Without TLS, phones and other laptops do not keep their screen awake, do not go on when this server is away,\n"
    "  and read no belts; whoever listens on the network reads passwords. Use it for a look only."
)


class Command(BaseCommand):
    """Uvicorn, after a look whether the port is free."""

    help = "Serve the application with uvicorn."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--host", default="", help="address to listen on; 0.0.0.0 for all of this machine")
        parser.add_argument("--port", type=int, default=8000)
        parser.add_argument("--certificate", default="", help="PEM file with the certificate and its chain")
        parser.add_argument("--key", default="", help="PEM file with the certificate's key")
        parser.add_argument("--plain", action="store_true", help="without TLS, where others reach it")
        parser.add_argument(
            "--copy-every", type=float, default=24.0, metavar="H", help="copy the database every H hours; 0 for never"
        )
        parser.add_argument("--keep", type=int, default=7, metavar="N", help="how many of these copies are kept")
        parser.add_argument("--check", action="store_true", help="only say whether the port is free")

    def handle(self, *args: Any, **options: Any) -> None:
        host, port = options["host"] or settings.HOST, options["port"]
        database = Path(str(settings.DATABASES["default"]["NAME"]))
        certificate, key = self._certificate(host, options)
        self._look(host, port)
        self._look_at_the_database(database)
        if options["check"]:
            return
        wanted = {"OAKEN_HOST": host, "OAKEN_TLS": str(certificate or "")}
        if tuple(wanted.values()) != (settings.HOST, settings.TLS):
            # hosts and cookies follow from where it listens, and are read once: this begins anew with them
            again = [sys.executable, sys.argv[0], "serve", "--port", str(port)]
            again += ["--copy-every", str(options["copy_every"]), "--keep", str(options["keep"])]
            again += ["--certificate", str(certificate), "--key", str(key)] if certificate else ["--plain"]
            os.execve(sys.executable, again, {**os.environ, **wanted})
        if options["copy_every"] > 0:
            Clock(database, options["copy_every"], options["keep"]).start()
        self._tell(host, port, certificate, own=not options["certificate"] or _is_own(certificate))
        uvicorn.run(
            "config.asgi:application",
            host=host,
            port=port,
            log_level="warning",
            access_log=False,
            ssl_certfile=certificate,
            ssl_keyfile=key,
            # who says that a request came from elsewhere is believed only where a proxy of the house stands in front
            proxy_headers=bool(settings.ORIGIN),
            forwarded_allow_ips="127.0.0.1,::1",
            # a stream that somebody follows would never end by itself
            timeout_graceful_shutdown=2,
        )

    def _certificate(self, host: str, options: dict[str, Any]) -> tuple[Path | None, Path | None]:
        if bool(options["certificate"]) != bool(options["key"]):
            raise CommandError("A certificate and its key go together: CERTIFICATE=… KEY=…")
        if options["certificate"]:
            files = Path(options["certificate"]), Path(options["key"])
            for file in files:
                if not file.is_file():
                    raise CommandError(f"There is no file {file}.")
            return files
        if options["plain"] or host in LOOPBACK:
            return None, None
        # the library that makes certificates is large, and only this needs it
        from config.certificates import own_certificate

        return own_certificate(settings.DATA / "tls", ["127.0.0.1", "localhost", *names_to_answer_to(host)])

    def _look(self, host: str, port: int) -> None:
        family = socket.AF_INET6 if ":" in host else socket.AF_INET
        with socket.socket(family) as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                probe.bind((host, port))
            except socket.gaierror as error:
                raise CommandError(f"{host} is no address: give one of this machine, or 0.0.0.0.") from error
            except OSError as error:
                if error.errno == 99:
                    raise CommandError(f"{host} is no address of this machine.") from error
                raise CommandError(
                    f"Port {port} is taken by another program. Choose another: make demo PORT={port + 1}"
                ) from error

    def _look_at_the_database(self, database: Path) -> None:
        """Says loudly what is wrong with a damaged database, and what puts it right: on it nothing is served."""
        wrong = damage_of(database)
        if wrong is None:
            return
        copy = newest_whole_copy(database)
        mend = (
            f"The newest whole copy was made {datetime.fromtimestamp(copy.stat().st_mtime):%A %d %B %Y, %H:%M}:\n"
            f"    .venv/bin/python server/manage.py restore {copy}\n"
            "  puts it in place; the damaged file is kept beside it."
            if copy is not None
            else f"There is no whole copy in {database.parent / 'copies'}: put one of yours back with “restore”."
        )
        raise CommandError(f"THE DATABASE IS DAMAGED, nothing is served.\n  {database}: {wrong}\n  {mend}")

    def _tell(self, host: str, port: int, certificate: Path | None, *, own: bool) -> None:
        scheme = "https" if certificate else "http"
        reached = addresses() or ["127.0.0.1"] if host in EVERYWHERE else [host]
        for item in reached:
            shown = f"[{item}]" if ":" in item else item
            self.stdout.write(
                self.style.SUCCESS(f"\n  Oaken Circuit is at {scheme}://{shown}:{port}/  (stop with Ctrl+C)")
            )
        self.stdout.write("")
        if certificate and own:
            authority = authority_file(settings.DATA / "tls")
            self.stdout.write(
                "  The certificate is this house's own. A device that shall go on without the server has to trust\n"
                f"  {scheme}://{reached[0]}:{port}/house-certificate\n  SHA-256 {fingerprint(authority)}\n"
            )
        if not certificate and host not in LOOPBACK:
            self.stdout.write(self.style.WARNING(f"  {WITHOUT_TLS}\n"))
        self.stdout.flush()


def _is_own(certificate: Path | None) -> bool:
    return certificate is not None and certificate.parent == settings.DATA / "tls"
