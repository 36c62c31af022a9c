"""The application as `make demo` serves it, on a free port and a database of its own."""

from __future__ import annotations

import fcntl
import json
import os
import shutil
import socket
import ssl
import subprocess
import tempfile
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from http.cookies import SimpleCookie
from pathlib import Path
from typing import Any

from warm import MANAGE, Running, manage

PATIENCE_S = 240
"""How long a server may take to answer at first: a machine that is busy with other work starts one in a minute."""


def with_demo(data: Path, environment: dict[str, str]) -> None:
    """A database that holds the demo: made once a test run, whichever process needs it first, and copied."""
    run = os.environ.get("PYTEST_XDIST_TESTRUNUID", str(os.getpid()))
    template = Path(tempfile.gettempdir()) / f"oaken-demo-{run}"
    with Path(f"{template}.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not (template / "whole").exists():
            for command in ("migrate", "load_demo"):
                manage(template, command, "--verbosity", "0", check=True, environment=environment)
            (template / "whole").touch()
    shutil.copytree(template, data, dirs_exist_ok=True, ignore=shutil.ignore_patterns("whole"))


class Server:
    """A server of its own that can be killed and started again, on the same port and data; without `warm` it starts
    from nothing, as it does outside the tests."""

    def __init__(
        self,
        data: Path,
        environment: dict[str, str],
        host: str = "127.0.0.1",
        scheme: str = "http",
        arguments: tuple[str, ...] = (),
        *,
        warm: bool = True,
    ) -> None:
        self.warm = warm
        with socket.socket() as free:
            free.bind((host, 0))
            self.port: int = free.getsockname()[1]
        self.address = f"{scheme}://{host}:{self.port}"
        self.arguments = ("serve", "--host", host, "--port", str(self.port), *arguments)
        self.log = data / "server.log"
        self.environment = {**environment, "OAKEN_DATA": str(data)}
        self.start()

    def start(self) -> None:
        """Serve, and wait until it answers."""
        if self.warm:
            self.process: Running | subprocess.Popen[bytes] = Running(self.arguments, self.environment, self.log)
            _wait_until_it_answers(f"{self.address}/mark.svg", self.process, self.log)
            return
        with self.log.open("a", encoding="utf-8") as words:
            self.process = subprocess.Popen(
                [*MANAGE, *self.arguments], env=self.environment, stdout=words, stderr=words
            )
        _wait_until_it_answers(f"{self.address}/mark.svg", self.process, self.log)

    def kill(self) -> None:
        """End it without a word, as a power cut would."""
        self.process.kill()
        self.process.wait(timeout=90)

    def stop(self) -> None:
        """End it as it is ended by hand."""
        self.process.terminate()
        self.process.wait(timeout=90)


@contextmanager
def serving(
    data: Path, environment: dict[str, str], *, demo: bool = True, warm: bool = True
) -> Iterator[tuple[str, int]]:
    """Load the demo, serve; gives the address and the process id, and ends the server afterwards."""
    if demo:
        with_demo(data, environment)
    server = Server(data, environment, warm=warm)
    try:
        yield server.address, server.process.pid
    finally:
        server.stop()


def signed_in(address: str, user: str = "ranger", password: str = "mill-by-the-weir") -> str:
    """The session of an account of the demo: what its cookie holds."""
    request = urllib.request.Request(
        f"{address}/api/sign-in",
        data=json.dumps({"user": user, "password": password}).encode(),
        headers={"Content-Type": "application/json"},
    )
    with urllib.request.urlopen(request, timeout=90) as answer:
        cookies = SimpleCookie()
        for line in answer.headers.get_all("Set-Cookie"):
            cookies.load(line)
        return cookies["sessionid"].value


def ask(address: str, session: str, method: str, path: str, body: object = None) -> Any:
    """The API as another device of the same account would call it."""
    token = "a" * 32
    request = urllib.request.Request(
        address + path,
        None if body is None else json.dumps(body).encode(),
        {
            "Content-Type": "application/json",
            "Cookie": f"sessionid={session}; csrftoken={token}",
            "X-CSRFToken": token,
        },
        method=method,
    )
    with urllib.request.urlopen(request, timeout=90) as answer:
        content = answer.read()
        return json.loads(content) if content else None


def _wait_until_it_answers(url: str, server: Running | subprocess.Popen[bytes], log: Path) -> None:
    until = time.monotonic() + PATIENCE_S
    # whether it answers is asked here, not whether it is to be trusted
    trusting = ssl.create_default_context()
    trusting.check_hostname, trusting.verify_mode = False, ssl.CERT_NONE
    while time.monotonic() < until and server.poll() is None:
        try:
            with urllib.request.urlopen(url, timeout=2, context=trusting if url.startswith("https") else None):
                return
        except OSError:
            time.sleep(0.05)
    raise RuntimeError(f"the server did not start: {log.read_text(encoding='utf-8')}")
