"""Commands of the server, forked from a process that has read the libraries already.

A command that begins from nothing spends most of its time on reading Django, numpy and the core; the tests start a
hundred of them. What follows from the environment (settings, connections) is worked out after the fork. Servers that
listen elsewhere or with TLS begin anew by themselves (`test_serving.py`), so that starting from nothing is tried too.
"""

from __future__ import annotations

import multiprocessing
import os
import subprocess
import sys
import tempfile
import time
from collections.abc import Mapping
from multiprocessing.context import ForkServerProcess
from pathlib import Path

from places import ROOT

MANAGE = [sys.executable, str(ROOT / "server" / "manage.py")]
# the process that is forked starts with this path alone, and says nothing where it cannot read what it is to read
os.environ["PYTHONPATH"] = os.pathsep.join(str(ROOT / part) for part in ("tests", "core", "server"))
FORKS = multiprocessing.get_context("forkserver")
FORKS.set_forkserver_preload(["warm_libraries"])


class Running:
    """A command that runs, with what a `Popen` of it would offer."""

    def __init__(
        self,
        arguments: tuple[str, ...],
        environment: Mapping[str, str],
        out: Path,
        errors: Path | None = None,
        said: str = "",
    ) -> None:
        streams = (str(out), str(errors or out))
        self._process: ForkServerProcess = FORKS.Process(
            target=_run, args=(arguments, dict(environment), streams, said), daemon=False
        )
        self._process.start()

    @property
    def pid(self) -> int:
        """The id of its process."""
        assert self._process.pid is not None
        return self._process.pid

    def poll(self) -> int | None:
        """How it ended; None while it runs."""
        return self._process.exitcode

    def kill(self) -> None:
        """End it without a word."""
        self._process.kill()

    def terminate(self) -> None:
        """End it as Ctrl+C or a service manager would."""
        self._process.terminate()

    def wait(self, timeout: float | None = None) -> int:
        """Wait until it has ended; gives its exit code. Raises TimeoutExpired."""
        self._process.join(timeout)
        if self._process.exitcode is None:
            raise subprocess.TimeoutExpired(MANAGE, timeout or 0)
        return self._process.exitcode


def manage(
    data: Path,
    *arguments: str,
    said: str = "",
    check: bool = False,
    environment: Mapping[str, str] | None = None,
) -> subprocess.CompletedProcess[str]:
    """Run a command of the server on the data of a folder to its end. `said` is what is typed into it; with `check` a
    failure raises CalledProcessError."""
    with tempfile.TemporaryDirectory() as folder:
        out, errors = Path(folder) / "out", Path(folder) / "errors"
        running = Running(arguments, {**(environment or os.environ), "OAKEN_DATA": str(data)}, out, errors, said)
        code = running.wait()
        streams = out.read_text(encoding="utf-8"), errors.read_text(encoding="utf-8")
    done = subprocess.CompletedProcess([*MANAGE, *arguments], code, *streams)
    if check:
        done.check_returncode()
    return done


def _run(arguments: tuple[str, ...], environment: dict[str, str], streams: tuple[str, str], said: str) -> None:
    """In the forked process: the environment, the standard streams and the arguments of a fresh one, then the command."""
    os.environ.clear()
    os.environ.update(environment)
    time.tzset()
    os.setsid()
    out, errors = (os.open(path, os.O_WRONLY | os.O_CREAT | os.O_APPEND, 0o600) for path in streams)
    reading, typing = os.pipe()
    os.write(typing, said.encode())
    os.close(typing)
    for place, stream in enumerate((reading, out, errors)):
        os.dup2(stream, place)
    sys.stdin, sys.stdout, sys.stderr = (
        open(place, mode, encoding="utf-8", closefd=False, buffering=1)  # noqa: SIM115
        for place, mode in enumerate(("r", "w", "w"))
    )
    sys.argv = [MANAGE[1], *arguments]
    if "warm_libraries" not in sys.modules:
        raise RuntimeError("the libraries were not read before the fork: see warm_libraries.py")
    from warm_libraries import settle

    settle()
    from django.core.management import execute_from_command_line

    try:
        execute_from_command_line(sys.argv)
    finally:
        sys.stdout.flush()
        sys.stderr.flush()
