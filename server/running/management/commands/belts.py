"""Simulated belts on everybody of a run: standard packets once a second, sent as a program beside real belts would."""

from __future__ import annotations

import json
import ssl
import time
from typing import Any
from urllib.error import HTTPError, URLError
from urllib.request import Request, urlopen

from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import connection
from logbook import runs
from logbook.clock import now_of
from logbook.models import Run
from oaken.heart_data.calibration import packets_of
from oaken.heart_data.recordings.belts import Belt
from oaken.schedule.class_file import ClassFile
from oaken.session import replay_events


class Command(BaseCommand):
    """A stand-in for a receiver of real belts: what it sends follows from the plan at the second the class is at."""

    help = "Send the packets of simulated belts for a run until it ends."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--run", type=int, required=True)
        parser.add_argument("--to", required=True, help="address with the run's pass: …/api/belts/PASS")
        parser.add_argument("--without", nargs="*", default=[], help="people who wear none")

    def handle(self, *args: Any, **options: Any) -> None:
        run = Run.objects.filter(pk=options["run"]).first()
        if run is None:
            raise CommandError(f"There is no run {options['run']}.")
        file = runs.file_of(run)
        worn = {name: _belt(file, name, run.pk) for name in file.plan.people if name not in options["without"]}
        while True:
            run.refresh_from_db()
            if run.ended_at is not None:
                return
            now = now_of(run.pk)
            run_state = replay_events(file, [event for _, event in runs.events_of(run)], now)
            connection.close()
            if run_state.began_at is not None:
                for name, packets in worn.items():
                    packet = packets.get(int(run_state.second))
                    if packet is not None and not _send(options["to"], name, now.isoformat(), packet):
                        return
            time.sleep(1.0)


def _belt(file: ClassFile, person: str, seed: int) -> dict[int, bytes]:
    return dict(packets_of(file, person, Belt(), seed))


def _send(address: str, person: str, moment: str, packet: bytes) -> bool:
    """Send one packet; tells whether to go on. Without the server it is lost, as a real one would be."""
    body = json.dumps({"person": person, "packets": [{"at": moment, "hex": packet.hex()}]}).encode()
    request = Request(address, body, {"Content-Type": "application/json"})
    # the certificate is the studio's own, and the address this machine's
    trusting = ssl.create_default_context()
    trusting.check_hostname, trusting.verify_mode = False, ssl.CERT_NONE
    try:
        with urlopen(request, timeout=5, context=trusting if address.startswith("https") else None):
            return True
    except HTTPError as error:
        return error.code != 404
    except (URLError, OSError):
        return True
