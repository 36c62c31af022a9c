"""Recordings as files of open formats: CSV, TCX, GPX and FIT, told apart by what is in them."""

from __future__ import annotations

import csv
import io
import struct
from datetime import UTC, datetime
from math import nan

import fitdecode

from oaken.basis.faults import Fault, FaultyInput
from oaken.basis.limits import in_words, most
from oaken.basis.text_files import Unreadable, decoded, table_reader
from oaken.heart_data.recordings.cells import number_in, rate_in
from oaken.heart_data.recordings.series import CHANNELS, MOST_READINGS, HeartSeries, faulty
from oaken.heart_data.recordings.xml_files import read_xml

LARGEST_BYTES = most("recording.bytes")
"""Largest file: 2.5 h at one reading a second are 0.2 MB of CSV or FIT and some 3 MB of TCX."""

SHOWN_FAULTS = 10
_BROKEN = (
    fitdecode.FitError,
    struct.error,
    ValueError,
    ArithmeticError,
    LookupError,
    TypeError,
    AttributeError,
    AssertionError,
)
"""What the FIT reader raises where bytes make no sense."""

SECONDS_NAMES = ("seconds", "second", "secs", "sec", "s", "elapsed", "elapsed_s", "time_s")
TIME_NAMES = ("time", "timestamp", "date", "datetime")
CHANNEL_NAMES = {
    "power_w": ("power_w", "power", "watts"),
    "speed_m_per_s": ("speed_m_per_s", "speed"),
    "distance_m": ("distance_m", "distance"),
    "altitude_m": ("altitude_m", "altitude", "elevation"),
}
RATE_NAMES = ("bpm", "heart_rate", "heartrate", "heart rate", "hr", "heart_rate_bpm", "rate")


def read_recording(content: bytes, name: str = "the file") -> HeartSeries:
    """Read a recording. Raises FaultyInput for anything that is no such file, is broken, or is too large."""
    if len(content) > LARGEST_BYTES:
        raise faulty(
            f"is {len(content) / 1e6:.1f} MB large", f"at most {LARGEST_BYTES / 1e6:.0f} MB: one class a file", name
        )
    if not content.strip():
        raise faulty("is empty", "a CSV, TCX, GPX or FIT file", name)
    if content[8:12] == b".FIT":
        return _read_fit(content, name)
    try:
        text = decoded(content)
    except Unreadable as error:
        raise faulty(str(error), f"{error.right}, or a FIT file", name) from error
    return read_xml(text, name) if text.lstrip().startswith("<") else _read_csv(text, name)


def _read_csv(text: str, name: str) -> HeartSeries:
    rows = table_reader(text)
    try:
        head = [cell.strip().lower() for cell in next(rows)]
        column = {kind: _column(head, names) for kind, names in _COLUMNS.items()}
        when = column["seconds"] if column["seconds"] is not None else column["time"]
        rate = column["rate"]
        if when is None or rate is None:
            raise faulty(
                f"has the columns {', '.join(head)[:80]}" if head else "has no columns",
                "a column “seconds” or “time” and a column “bpm”",
                name,
            )
        times: list[float] = []
        rates: list[float] = []
        others = {name: at for name, names in CHANNEL_NAMES.items() if (at := _column(head, names)) is not None}
        channels: dict[str, list[float]] = {name: [] for name in others}
        start: datetime | None = None
        faults: list[Fault] = []
        for line, row in enumerate(rows, 2):
            if not any(cell.strip() for cell in row):
                continue
            try:
                moment = _moment(row[when].strip())
                rates.append(rate_in(row[rate].strip()) if len(row) > rate else 0.0)
            except (ValueError, IndexError) as error:
                del rates[len(times) :]
                faults.append(_fault_in_line(line, str(error) if isinstance(error, ValueError) else "is too short"))
                if len(faults) >= SHOWN_FAULTS:
                    break
                continue
            if isinstance(moment, datetime):
                start = start or moment
                if (moment.tzinfo is None) != (start.tzinfo is None):
                    faults.append(_fault_in_line(line, "has a time zone where others have none, or the other way"))
                    break
                moment = (moment - start).total_seconds()
            times.append(moment)
            for channel, at in others.items():
                channels[channel].append(number_in(row[at] if len(row) > at else ""))
            if len(times) > MOST_READINGS:
                break
    except StopIteration:
        raise faulty("is empty", "a line of names, then a line for each reading", name) from None
    except csv.Error as error:
        raise faulty(f"is no CSV: {error}", "a line of names, then a line for each reading", name) from error
    if faults:
        raise FaultyInput(faults)
    if start is not None and times and min(times) < 0:
        raise faulty("goes back in time", "readings in the order of time", name)
    began = start if start is None or start.tzinfo else start.replace(tzinfo=UTC)
    return HeartSeries.of(times, rates, began, "CSV", channels)


_COLUMNS = {"seconds": SECONDS_NAMES, "time": TIME_NAMES, "rate": RATE_NAMES}


def _column(head: list[str], names: tuple[str, ...]) -> int | None:
    return next((head.index(name) for name in names if name in head), None)


def _fault_in_line(line: int, message: str) -> Fault:
    return Fault(
        path=f"recording.{line}",
        place=f"line {line}",
        field="recording",
        message=message,
        right="seconds, h:mm:ss or a date with time, and a heart rate in bpm",
    )


def _moment(cell: str) -> float | datetime:
    """Seconds since the start (a number, or [h:]mm:ss), or a date with time."""
    if "-" not in cell[1:] and cell.count(":") in (1, 2):
        seconds = 0.0
        for part in cell.split(":"):
            seconds = seconds * 60 + float(part)
    elif ":" in cell or "T" in cell:
        return datetime.fromisoformat(cell.replace("Z", "+00:00"))
    else:
        seconds = float(cell.replace(",", "."))
    if not 0 <= seconds < 1e6:
        raise ValueError(f"{cell!r} is no time since the start")
    return seconds


def _read_fit(content: bytes, name: str) -> HeartSeries:
    times: list[datetime] = []
    rates: list[float] = []
    channels: dict[str, list[float]] = {name: [] for name in CHANNELS}
    sport = ""
    try:
        with fitdecode.FitReader(
            io.BytesIO(content),
            check_crc=fitdecode.CrcCheck.RAISE,
            error_handling=fitdecode.ErrorHandling.RAISE,
        ) as frames:
            for count, frame in enumerate(frames):
                if count >= most("recording.frames"):
                    raise faulty("has too many frames for a class", in_words("recording.frames"), name)
                if frame.frame_type != fitdecode.FIT_FRAME_DATA:
                    continue
                if frame.name in ("session", "sport"):
                    sport = sport or str(frame.get_value("sport", fallback="") or "")
                if frame.name != "record":
                    continue
                when = frame.get_value("timestamp", fallback=None)
                if not isinstance(when, datetime):
                    continue
                rate = frame.get_value("heart_rate", fallback=None)
                times.append(when)
                rates.append(float(rate) if isinstance(rate, int | float) else 0.0)
                for channel, names in _FIT_FIELDS.items():
                    values = (frame.get_value(name, fallback=None) for name in names)
                    channels[channel].append(next((float(v) for v in values if isinstance(v, int | float)), nan))
                if len(times) > MOST_READINGS:
                    break
    except FaultyInput:
        raise
    except _BROKEN as error:
        raise faulty(f"is a broken or cut off FIT file ({error})", "a whole FIT file", name) from error
    if not times:
        raise faulty("has no records with a time", "a FIT file of a recorded activity", name)
    start = min(times)
    seconds = [(time - start).total_seconds() for time in times]
    return HeartSeries.of(seconds, rates, start, "FIT", channels, sport)


_FIT_FIELDS = {
    "power_w": ("power",),
    "speed_m_per_s": ("enhanced_speed", "speed"),
    "distance_m": ("distance",),
    "altitude_m": ("enhanced_altitude", "altitude"),
}
