"""Starting on a machine: what is missing is named, a taken port is told, starting over keeps a copy."""

from __future__ import annotations

import importlib
import socket
from pathlib import Path

import pytest
from django.core.management import CommandError, call_command


def test_a_taken_port_is_said_with_how_to_choose_another() -> None:
    with socket.socket() as other:
        other.bind(("127.0.0.1", 0))
        other.listen()
        port = other.getsockname()[1]
        with pytest.raises(CommandError, match=rf"Port {port} is taken .* make demo PORT={port + 1}"):
            call_command("serve", port=port)


@pytest.mark.parametrize(
    ("version", "words"),
    [("v18.20.0", "20.19 or newer is needed; this is v18.20.0"), ("v20.18.3", "20.19"), ("v20.19.0", None), ("v22.1.0", None)],
)  # fmt: skip
def test_an_old_node_is_named(version: str, words: str | None, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    check = importlib.import_module("check_machine")
    for program in ("node", "npm"):
        script = tmp_path / program
        script.write_text(f"#!/bin/sh\necho {version}\n", encoding="utf-8")
        script.chmod(0o755)
    monkeypatch.setenv("PATH", f"{tmp_path}:/bin:/usr/bin")
    fault = check.node_problem()
    assert (fault is None) if words is None else words in fault


def test_a_missing_browser_is_named_with_its_package(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    check = importlib.import_module("check_machine")
    monkeypatch.setenv("PATH", str(tmp_path))
    (fault,) = check.browser_problems()
    assert "chromium and chromium-driver" in fault
    assert "Node.js" in check.node_problem()
