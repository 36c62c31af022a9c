"""A certificate of the studio's own: an authority that devices may trust, and a certificate for this server from it.

Both are kept beside the database. The server's is made anew before it runs out, or when the names change.
"""

from __future__ import annotations

import ipaddress
from datetime import UTC, datetime, timedelta
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

from config.authority import authority_file

AUTHORITY_DAYS, SERVER_DAYS = 3650, 397
"""Browsers refuse a server's certificate that holds for longer than 398 days."""
RENEWED_DAYS_BEFORE = 30


def own_certificate(folder: Path, names: list[str], today: datetime | None = None) -> tuple[Path, Path]:
    """The files of a certificate for these names and addresses, and of its key."""
    now = today or datetime.now(UTC)
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    authority, authority_key = _authority(folder, now)
    certificate, key = folder / "server.pem", folder / "server.key"
    if not (certificate.exists() and key.exists() and _holds(certificate, names, now)):
        made = ec.generate_private_key(ec.SECP256R1())
        _write_key(key, made)
        alternatives = x509.SubjectAlternativeName([_alternative(name) for name in names])
        signed = (
            _builder("Oaken Circuit on this machine", authority.subject, made.public_key(), now, SERVER_DAYS)
            .add_extension(alternatives, critical=False)
            .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
            .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
            .sign(authority_key, hashes.SHA256())
        )
        chain = [signed, authority]
        certificate.write_bytes(b"".join(item.public_bytes(serialization.Encoding.PEM) for item in chain))
    return certificate, key


def _authority(folder: Path, now: datetime) -> tuple[x509.Certificate, ec.EllipticCurvePrivateKey]:
    certificate, key = authority_file(folder), folder / "authority.key"
    if certificate.exists() and key.exists():
        found = serialization.load_pem_private_key(key.read_bytes(), None)
        assert isinstance(found, ec.EllipticCurvePrivateKey)
        return x509.load_pem_x509_certificate(certificate.read_bytes()), found
    made = ec.generate_private_key(ec.SECP256R1())
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "Oaken Circuit, this house")])
    signed = (
        _builder("Oaken Circuit, this house", name, made.public_key(), now, AUTHORITY_DAYS)
        .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
        .sign(made, hashes.SHA256())
    )
    _write_key(key, made)
    certificate.write_bytes(signed.public_bytes(serialization.Encoding.PEM))
    return signed, made


def _builder(
    name: str, issuer: x509.Name, key: ec.EllipticCurvePublicKey, now: datetime, days: int
) -> x509.CertificateBuilder:
    return (
        x509.CertificateBuilder()
        .subject_name(x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, name)]))
        .issuer_name(issuer)
        .public_key(key)
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(hours=1))
        .not_valid_after(now + timedelta(days=days))
    )


def _alternative(name: str) -> x509.GeneralName:
    try:
        return x509.IPAddress(ipaddress.ip_address(name.strip("[]")))
    except ValueError:
        return x509.DNSName(name)


def _holds(certificate: Path, names: list[str], now: datetime) -> bool:
    found = x509.load_pem_x509_certificate(certificate.read_bytes())
    held = found.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    wanted = {_alternative(name) for name in names}
    return wanted <= set(held) and found.not_valid_after_utc > now + timedelta(days=RENEWED_DAYS_BEFORE)


def _write_key(path: Path, key: ec.EllipticCurvePrivateKey) -> None:
    path.touch(mode=0o600)
    path.write_bytes(
        key.private_bytes(serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption())
    )
