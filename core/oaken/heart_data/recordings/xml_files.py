"""Recordings as XML: TCX, and GPX with the heart rate in the extensions of its track points."""

from __future__ import annotations

import io
from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import UTC, datetime
from math import asin, cos, nan, radians, sin, sqrt
from xml.etree.ElementTree import Element, ParseError

import defusedxml.ElementTree
from defusedxml.common import DefusedXmlException

from oaken.basis.faults import FaultyInput
from oaken.heart_data.recordings.cells import number_in, rate_in
from oaken.heart_data.recordings.series import CHANNELS, MOST_READINGS, HeartSeries, faulty

EARTH_RADIUS_M = 6_371_008.8
"""Mean radius (IUGG, from memory)."""

TCX_TAGS = {
    "power_w": "Watts",
    "speed_m_per_s": "Speed",
    "distance_m": "DistanceMeters",
    "altitude_m": "AltitudeMeters",
}
GPX_TAGS = {"power_w": ("power", "PowerInWatts"), "speed_m_per_s": ("speed",), "altitude_m": ("ele",)}
GPX_RATES = ("hr", "heartrate", "HeartRate")


@dataclass(slots=True)
class _Track:
    """What the points of a file say so far."""

    times: list[datetime] = field(default_factory=list)
    rates: list[float] = field(default_factory=list)
    channels: dict[str, list[float]] = field(default_factory=lambda: {name: [] for name in CHANNELS})
    sport: str = ""
    way_m: float = 0.0
    place: tuple[float, float] | None = None


def read_xml(text: str, name: str) -> HeartSeries:
    """Read a recording in XML. Raises FaultyInput for what is broken, or is no TCX or GPX file."""
    track = _Track()
    kind = ""
    try:
        for event, element in _elements(text):
            tag = _local(element.tag)
            if event == "start":
                kind = kind or _kind_of(tag, name)
                if tag == "Activity":
                    track.sport = track.sport or element.get("Sport", "")
                continue
            if kind == "GPX" and tag == "type" and not track.sport:
                said = (element.text or "").strip()
                track.sport = GPX_CODES.get(said, "") if said.isdigit() else said
            if tag != ("Trackpoint" if kind == "TCX" else "trkpt"):
                continue
            (_tcx_point if kind == "TCX" else _gpx_point)(track, element)
            element.clear()
            if len(track.times) > MOST_READINGS:
                break
    except FaultyInput:
        raise
    except ParseError as error:
        line, column = error.position
        raise faulty(f"is broken XML in line {line}, column {column}", "a whole TCX or GPX file", name) from error
    except DefusedXmlException as error:
        right = "a TCX or GPX file"
        raise faulty("declares entities or a document type, which no recording does", right, name) from error
    except ValueError as error:
        right = f"times and heart rates as {kind} has them"
        raise faulty(f"has a track point that cannot be read ({error})", right, name) from error
    if not track.times:
        where = "track points" if kind == "TCX" else "track points with a time"
        raise faulty(f"has no {where}", f"a {kind} file with a heart rate in its track points", name)
    if len({time.tzinfo is None for time in track.times}) > 1:
        raise faulty("has times with and without a time zone", "times of one kind", name)
    if kind == "GPX" and not any(track.rates):
        right = "a recording with a belt or watch: GPX keeps heart rates as an extension (hr) of each track point"
        raise faulty("has a way but no heart rate", right, name)
    start = min(track.times)
    seconds = [(time - start).total_seconds() for time in track.times]
    began = start if start.tzinfo else start.replace(tzinfo=UTC)
    return HeartSeries.of(seconds, track.rates, began, kind, track.channels, track.sport)


GPX_CODES = {"1": "cycling", "4": "hiking", "9": "running", "10": "walking"}
"""What exporters that number the kind of a track mean by it (common practice, from memory); of other numbers nothing is
known."""


def _elements(text: str) -> Iterator[tuple[str, Element]]:
    yield from defusedxml.ElementTree.iterparse(io.StringIO(text), events=("start", "end"), forbid_dtd=True)


def _kind_of(root: str, name: str) -> str:
    """Which format a file is in, by its root element."""
    if root == "TrainingCenterDatabase":
        return "TCX"
    if root == "gpx":
        return "GPX"
    raise faulty(f"is XML, but neither TCX nor GPX: it begins with <{root[:40]}>", "a CSV, TCX, GPX or FIT file", name)


def _tcx_point(track: _Track, point: Element) -> None:
    parts = {_local(child.tag): child for child in point}
    if "Time" not in parts:
        return
    rate = parts.get("HeartRateBpm")
    value = None if rate is None else next((item.text for item in rate if _local(item.tag) == "Value"), None)
    track.times.append(_time(parts["Time"].text))
    track.rates.append(rate_in((value or "").strip()))
    inside = {_local(item.tag): item.text for item in point.iter()}
    for channel, tag in TCX_TAGS.items():
        track.channels[channel].append(number_in(inside.get(tag)))


def _gpx_point(track: _Track, point: Element) -> None:
    inside = {_local(item.tag): item.text for item in point.iter()}
    here = _place_of(point)
    if here is not None and track.place is not None:
        track.way_m += metres_between(track.place, here)
    track.place = here or track.place
    if not inside.get("time"):
        return
    track.times.append(_time(inside["time"]))
    track.rates.append(rate_in(next((inside[tag] or "" for tag in GPX_RATES if tag in inside), "").strip()))
    for channel, tags in GPX_TAGS.items():
        track.channels[channel].append(number_in(next((inside[tag] for tag in tags if tag in inside), None)))
    track.channels["distance_m"].append(nan if track.place is None else track.way_m)


def _place_of(point: Element) -> tuple[float, float] | None:
    """Latitude and longitude in degrees."""
    latitude, longitude = point.get("lat"), point.get("lon")
    if latitude is None or longitude is None:
        return None
    here = float(latitude), float(longitude)
    if not (-90 <= here[0] <= 90 and -180 <= here[1] <= 180):
        raise ValueError(f"{latitude}, {longitude} is no place on earth")
    return here


def metres_between(here: tuple[float, float], there: tuple[float, float]) -> float:
    """Metres from one latitude and longitude (degrees) to another, along a great circle (haversine)."""
    (one, east), (other, west) = ((radians(value) for value in place) for place in (here, there))
    chord = sin((other - one) / 2) ** 2 + cos(one) * cos(other) * sin((west - east) / 2) ** 2
    return 2 * EARTH_RADIUS_M * asin(sqrt(min(1.0, chord)))


def _time(text: str | None) -> datetime:
    return datetime.fromisoformat((text or "").strip().replace("Z", "+00:00"))


def _local(tag: str) -> str:
    return tag.rsplit("}", 1)[-1]
