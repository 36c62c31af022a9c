"""Serving where other devices reach it: over 127.0.0.2 with TLS and without, what follows for hosts and cookies."""

from __future__ import annotations

import json
import os
import ssl
import urllib.request
from collections.abc import Callable, Iterator
from datetime import UTC, datetime, timedelta
from pathlib import Path
from urllib.error import HTTPError, URLError

import pytest
from config.authority import authority_file, fingerprint
from config.certificates import own_certificate
from config.names import names_to_answer_to
from cryptography import x509
from django.core.management import CommandError, call_command
from serving import Server, with_demo
from studio.address import qr_svg
from warm import MANAGE

Serving = Callable[..., Server]


@pytest.fixture
def serving(tmp_path: Path) -> Iterator[Serving]:
    """Starts servers with arguments of `manage.py serve`, and ends them."""
    with_demo(tmp_path, dict(os.environ))
    started: list[Server] = []

    def start(*arguments: str, scheme: str, **environment: str) -> Server:
        server = Server(tmp_path, {**os.environ, **environment}, host="127.0.0.2", scheme=scheme, arguments=arguments)
        started.append(server)
        return server

    yield start
    for server in started:
        server.stop()


def sign_in(server: Server, context: ssl.SSLContext | None = None, host: str = "") -> tuple[int, str, str]:
    """Sign in; the status, the body and the cookies."""
    request = urllib.request.Request(
        f"{server.address}/api/sign-in",
        json.dumps({"user": "helper", "password": "mill-by-the-weir"}).encode(),
        {"Content-Type": "application/json", **({"Host": host} if host else {})},
    )
    try:
        with urllib.request.urlopen(request, timeout=90, context=context) as answer:
            return answer.status, answer.read().decode(), ";".join(answer.headers.get_all("Set-Cookie"))
    except HTTPError as error:
        return error.code, error.read().decode(), ""


def test_with_tls_the_houses_own_certificate_is_trusted_by_whoever_knows_it(serving: Serving, tmp_path: Path) -> None:
    server = serving(scheme="https")
    told = server.log.read_text(encoding="utf-8")
    authority = authority_file(tmp_path / "tls")
    assert f"https://127.0.0.2:{server.port}/" in told
    assert fingerprint(authority) in told
    with pytest.raises(URLError, match="CERTIFICATE_VERIFY_FAILED"):
        sign_in(server, ssl.create_default_context())
    knows = ssl.create_default_context(cafile=str(authority))
    status, _, cookies = sign_in(server, knows)
    assert status == 200
    assert cookies.count("Secure") == cookies.count("sessionid=") + cookies.count("csrftoken=")
    assert sign_in(server, knows, host="elsewhere.example")[0] == 400
    with urllib.request.urlopen(f"{server.address}/house-certificate", timeout=90, context=knows) as answer:
        assert answer.read() == authority.read_bytes()
    assert (authority.parent / "server.key").stat().st_mode & 0o077 == 0


def test_without_tls_it_says_plainly_what_does_not_work_and_goes_on(serving: Serving) -> None:
    server = serving("--plain", scheme="http")
    told = server.log.read_text(encoding="utf-8")
    assert "do not go on when this server is away" in told
    status, _, cookies = sign_in(server)
    assert status == 200
    assert "Secure" not in cookies


def test_a_certificate_is_made_once_and_anew_before_it_runs_out_or_for_other_names(tmp_path: Path) -> None:
    now = datetime(2026, 11, 26, tzinfo=UTC)
    certificate, _ = own_certificate(tmp_path, ["127.0.0.2", "gym.test"], now)
    first = certificate.read_bytes()
    held = x509.load_pem_x509_certificate(first)
    assert (held.not_valid_after_utc - now).days <= 397
    own_certificate(tmp_path, ["gym.test"], now + timedelta(days=300))
    assert certificate.read_bytes() == first
    own_certificate(tmp_path, ["gym.test"], now + timedelta(days=380))
    second = certificate.read_bytes()
    assert second != first
    own_certificate(tmp_path, ["other.test"], now + timedelta(days=381))
    assert certificate.read_bytes() != second


def test_half_a_certificate_and_a_foreign_address_are_refused_with_a_reason(tmp_path: Path) -> None:
    with pytest.raises(CommandError, match="go together"):
        call_command("serve", host="127.0.0.2", certificate="a.pem", check=True)
    with pytest.raises(CommandError, match=r"no file .*a\.pem"):
        call_command("serve", host="127.0.0.2", certificate=str(tmp_path / "a.pem"), key="b", check=True)
    with pytest.raises(CommandError, match="no address of this machine"):
        call_command("serve", host="198.51.100.7", plain=True, check=True)


def test_hosts_follow_from_where_it_listens() -> None:
    assert names_to_answer_to("127.0.0.1") == []
    assert names_to_answer_to("192.0.2.10") == ["192.0.2.10"]
    assert names_to_answer_to("127.0.0.1", "https://legs.gym.example") == ["legs.gym.example"]
    assert all(not item.startswith("127.") for item in names_to_answer_to("0.0.0.0"))


def test_the_address_is_a_picture_for_a_phones_camera() -> None:
    assert qr_svg("https://192.0.2.10:8000/").startswith("<svg")
    assert MANAGE[-1].endswith("manage.py")
