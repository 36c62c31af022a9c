"""What this machine is called by: its own names and addresses on the networks it is in."""

from __future__ import annotations

import socket
from urllib.parse import urlsplit

EVERYWHERE = ("0.0.0.0", "::")
LOOPBACK = ("127.0.0.1", "localhost", "::1")


def addresses() -> list[str]:
    """The addresses of this machine that other devices may reach, as far as it knows them without asking anybody."""
    found: list[str] = []
    try:
        found += [str(item[4][0]) for item in socket.getaddrinfo(socket.gethostname(), None, type=socket.SOCK_STREAM)]
    except OSError:
        found += []  # a machine whose own name is unknown is called by its address
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as asks:
        try:
            # nothing is sent: it only tells by which address this machine would go out
            asks.connect(("192.0.2.1", 9))
            found.append(asks.getsockname()[0])
        except OSError:
            pass  # no way out: there is no such address
    return list(dict.fromkeys(item for item in found if not item.startswith("127.") and item not in LOOPBACK))


def names_to_answer_to(host: str, origin: str = "") -> list[str]:
    """The hosts that requests may name: the address that is listened on, of every one its own and this machine's name,
    and the one a proxy in front is called by."""
    found = [urlsplit(origin).hostname or ""] if origin else []
    if host in EVERYWHERE:
        found += [socket.gethostname(), f"{socket.gethostname()}.local", *addresses()]
    elif host not in LOOPBACK:
        found.append(host)
    return [f"[{fromkey}]" if ":" in fromkey else fromkey for fromkey in dict.fromkeys(found) if fromkey]
