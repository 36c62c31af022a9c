"""The application as `make demo` serves it, on a free port and a database of its own."""

from __future__ import annotations

import socket
import subprocess
import sys
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from places import ROOT

PATIENCE_S = 60


@contextmanager
def serving(data: Path, environment: dict[str, str]) -> Iterator[tuple[str, int]]:
    """Migrate, load the demo, serve; gives the address and the process id, and ends the server afterwards."""
    environment = {**environment, "OAKEN_DATA": str(data)}
    manage = [sys.executable, str(ROOT / "server" / "manage.py")]
    for command in ("migrate", "load_demo"):
        subprocess.run([*manage, command, "--verbosity", "0"], env=environment, check=True, capture_output=True)
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    log = data / "server.log"
    with log.open("w", encoding="utf-8") as words:
        server = subprocess.Popen([*manage, "serve", "--port", str(port)], env=environment, stdout=words, stderr=words)
        try:
            _wait_until_it_answers(f"http://127.0.0.1:{port}/api/classes", server, log)
            yield f"http://127.0.0.1:{port}", server.pid
        finally:
            server.terminate()
            server.wait(timeout=20)


def _wait_until_it_answers(url: str, server: subprocess.Popen[bytes], log: Path) -> None:
    until = time.monotonic() + PATIENCE_S
    while time.monotonic() < until and server.poll() is None:
        try:
            with urllib.request.urlopen(url, timeout=2):
                return
        except OSError:
            time.sleep(0.05)
    raise RuntimeError(f"the server did not start: {log.read_text(encoding='utf-8')}")
