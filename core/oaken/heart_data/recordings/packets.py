"""Heart Rate Measurement packets as standard belts send them (Bluetooth SIG, characteristic 0x2A37; from memory).

First byte: flags. Bit 0: the rate is 16-bit. Bits 1–2: contact (bit 2: the sensor can tell; bit 1: skin contact).
Bit 3: energy expended (kJ, 16-bit) follows the rate. Bit 4: RR intervals (1/1024 s, 16-bit each) fill the rest.
All numbers are little-endian.
"""

from __future__ import annotations

import struct
from dataclasses import dataclass

CHARACTERISTIC = 0x2A37
RR_UNIT_S = 1 / 1024
_WIDE_RATE, _CONTACT, _CONTACT_KNOWN, _ENERGY, _RR = 0x01, 0x02, 0x04, 0x08, 0x10
LONGEST_PACKET = 512
"""An attribute value has at most 512 bytes (Bluetooth Core Specification, from memory)."""


class FaultyPacket(ValueError):
    """Bytes that are no Heart Rate Measurement."""


@dataclass(frozen=True, slots=True)
class Measurement:
    """One packet. `contact` is None where the sensor cannot tell; `energy_kj` None where it is not sent;
    `rr_s` are the times between beats in seconds, oldest first."""

    bpm: int
    contact: bool | None = None
    energy_kj: int | None = None
    rr_s: tuple[float, ...] = ()


def decode(packet: bytes) -> Measurement:
    """Read one packet. Raises FaultyPacket for one that is too short, too long or ends within a field.

    >>> decode(bytes([0x16, 0x3C, 0x00, 0x04]))
    Measurement(bpm=60, contact=True, energy_kj=None, rr_s=(1.0,))
    """
    if len(packet) > LONGEST_PACKET:
        raise FaultyPacket(f"{len(packet)} bytes, at most {LONGEST_PACKET} are a packet")
    if not packet:
        raise FaultyPacket("an empty packet")
    flags, at = packet[0], 1

    def take(form: str, what: str) -> int:
        nonlocal at
        size = struct.calcsize(form)
        if at + size > len(packet):
            raise FaultyPacket(f"ends within its {what} (byte {len(packet)})")
        (value,) = struct.unpack_from(form, packet, at)
        at += size
        return int(value)

    bpm = take("<H", "heart rate") if flags & _WIDE_RATE else take("<B", "heart rate")
    energy = take("<H", "energy") if flags & _ENERGY else None
    intervals = []
    while flags & _RR and at < len(packet):
        intervals.append(take("<H", "RR intervals") * RR_UNIT_S)
    if at < len(packet):
        raise FaultyPacket(f"{len(packet) - at} bytes too many behind its last field")
    contact = bool(flags & _CONTACT) if flags & _CONTACT_KNOWN else None
    return Measurement(bpm, contact, energy, tuple(intervals))


def encode(measurement: Measurement) -> bytes:
    """Write one packet. Raises FaultyPacket for numbers that do not fit."""
    flags, body = 0, b""
    try:
        if measurement.bpm > 255:
            flags |= _WIDE_RATE
        body += struct.pack("<H" if flags & _WIDE_RATE else "<B", measurement.bpm)
        if measurement.contact is not None:
            flags |= _CONTACT_KNOWN | (_CONTACT if measurement.contact else 0)
        if measurement.energy_kj is not None:
            flags |= _ENERGY
            body += struct.pack("<H", measurement.energy_kj)
        if measurement.rr_s:
            flags |= _RR
            body += b"".join(struct.pack("<H", round(interval / RR_UNIT_S)) for interval in measurement.rr_s)
    except struct.error as error:
        raise FaultyPacket(f"does not fit a packet: {error}") from error
    return bytes([flags]) + body
