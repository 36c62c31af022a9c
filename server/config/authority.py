"""The studio's own certificate authority as devices know it: its file and its fingerprint.

Making certificates takes a large library, which is imported where they are made; this is read with every start.
"""

from __future__ import annotations

import hashlib
import ssl
from pathlib import Path

END = "-----END CERTIFICATE-----"


def authority_file(folder: Path) -> Path:
    """The certificate that a device has to trust."""
    return folder / "authority.pem"


def fingerprint(certificate: Path) -> str:
    """The SHA-256 fingerprint of the first certificate in a file, as devices show it."""
    first, _, _ = certificate.read_text().partition(END)
    digest = hashlib.sha256(ssl.PEM_cert_to_DER_cert(first + END)).hexdigest().upper()
    return ":".join(digest[at : at + 2] for at in range(0, len(digest), 2))
