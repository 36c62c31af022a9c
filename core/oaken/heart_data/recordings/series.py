"""A series of heart-rate readings, and what is left of it once gaps, dropouts and spikes are seen."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime

import numpy as np
import numpy.typing as npt

from oaken.basis.faults import Fault, FaultyInput
from oaken.basis.limits import most

Floats = npt.NDArray[np.float64]

LEAST_BPM, MOST_BPM = 30.0, 230.0
"""Readings outside are no heart rates (common practice, no source)."""

SPIKE_BPM, SPIKE_WINDOW_S = 20.0, 31.0
"""A reading further than this from the median around it is no heartbeat (common practice, no source)."""

GAP_S = 15.0

CHANNELS = ("power_w", "speed_m_per_s", "distance_m", "altitude_m")
"""What a recording may carry beside the heart rate: power, speed, distance since the start, altitude."""

LONGEST_S = most("recording.s")
MOST_READINGS = most("recording.readings")
THIN_S = 1.0
"""Of readings within so many seconds of the first one's clock only the first is kept: rates change no faster."""


@dataclass(frozen=True, slots=True)
class HeartSeries:
    """Heart-rate readings in rising order of time.

    `seconds` count from the first reading, `bpm` is 0 where the belt lost contact. `start` is when the first reading
    was made, None where the file does not say. `source` says what it was read from. `channels` are what else was
    recorded at the same seconds, by name (CHANNELS), NaN where nothing was; `sport` is the file's own word, in small
    letters.
    """

    seconds: Floats
    bpm: Floats
    start: datetime | None
    source: str
    channels: Mapping[str, Floats] = field(default_factory=dict)
    sport: str = ""

    @classmethod
    def of(
        cls,
        seconds: Sequence[float],
        bpm: Sequence[float],
        start: datetime | None,
        source: str,
        channels: Mapping[str, Sequence[float]] | None = None,
        sport: str = "",
    ) -> HeartSeries:
        """Readings in any order; of several in one moment the last stands, of several within
        a second the first moment. Raises FaultyInput when nothing usable is
        left, or when the series is longer than any class."""
        if len(seconds) > MOST_READINGS:
            raise faulty(f"has more than {MOST_READINGS:,} readings", f"at most {MOST_READINGS:,}, one a second")
        if not seconds:
            raise faulty("has no heart-rate readings", "a time and a heart rate for each reading")
        times, rates = np.asarray(seconds, dtype=np.float64), np.asarray(bpm, dtype=np.float64)
        order = np.argsort(times, kind="stable")
        times, rates = times[order], rates[order]
        if not (np.isfinite(times).all() and np.isfinite(rates).all()):
            raise faulty("has a time or a heart rate that is no number", "a time and a heart rate for each reading")
        if start is not None and not 2000 <= start.year < 2100:
            raise faulty(f"says it began in the year {start.year}", "a date between 2000 and 2100")
        if times[-1] - times[0] > LONGEST_S:
            raise faulty(
                f"runs over {(times[-1] - times[0]) / 3600:.1f} h", f"at most {LONGEST_S // 3600} h: one class a file"
            )
        if not np.any((rates >= LEAST_BPM) & (rates <= MOST_BPM)):
            raise faulty("has no reading that is a heart rate", f"{LEAST_BPM:.0f} to {MOST_BPM:.0f} bpm")
        last_of_moment = np.append(np.diff(times) > 0, True)
        times, rates = times[last_of_moment], rates[last_of_moment]
        first_of_second = np.append(True, np.diff(np.floor(np.round((times - times[0]) / THIN_S, 3))) > 0)
        times, rates = times[first_of_second], rates[first_of_second]
        others = {
            name: np.asarray(values, dtype=np.float64)[order][last_of_moment][first_of_second]
            for name, values in (channels or {}).items()
            if np.isfinite(values).any()
        }
        return cls(times - times[0], rates, start, source, others, sport.strip().lower())

    @property
    def length_s(self) -> float:
        """From the first reading to the last."""
        return float(self.seconds[-1])


@dataclass(frozen=True, slots=True)
class Cleaned:
    """The readings that can be trusted, and what was taken out.

    `lost_s` are the seconds in gaps longer than GAP_S, `dropped` counts readings that are no heart rates, `spikes`
    those far from their neighbours.
    """

    seconds: Floats
    bpm: Floats
    lost_s: float
    dropped: int
    spikes: int

    @property
    def words(self) -> list[str]:
        """What was taken out, for a reader."""
        found = []
        if self.dropped:
            found.append(f"{self.dropped} readings without contact or outside {LEAST_BPM:.0f}–{MOST_BPM:.0f} bpm")
        if self.spikes:
            found.append(f"{self.spikes} readings that jump more than {SPIKE_BPM:.0f} bpm from those around them")
        if self.lost_s >= 1:
            found.append(f"{self.lost_s:.0f} s without readings")
        return found


def cleaned(series: HeartSeries) -> Cleaned:
    """The series without readings that are no heart rates and without spikes."""
    valid = (series.bpm >= LEAST_BPM) & (series.bpm <= MOST_BPM)
    seconds, bpm = series.seconds[valid], series.bpm[valid]
    near = np.abs(bpm - _running_median(seconds, bpm)) <= SPIKE_BPM
    kept = seconds[near]
    gaps = np.diff(kept)
    return Cleaned(
        seconds=kept,
        bpm=bpm[near],
        lost_s=float(gaps[gaps > GAP_S].sum()),
        dropped=int(np.count_nonzero(~valid)),
        spikes=int(np.count_nonzero(~near)),
    )


def _running_median(seconds: Floats, bpm: Floats) -> Floats:
    """Median of the readings within half a window on either side of each."""
    begin = np.searchsorted(seconds, seconds - SPIKE_WINDOW_S / 2, "left")
    end = np.searchsorted(seconds, seconds + SPIKE_WINDOW_S / 2, "right")
    width = int((end - begin).max())
    columns = begin[:, None] + np.arange(width)[None, :]
    window = np.where(columns < end[:, None], bpm[np.minimum(columns, bpm.size - 1)], np.nan)
    return np.asarray(np.nanmedian(window, axis=1))


def faulty(message: str, right: str, place: str = "the recording", field: str = "recording") -> FaultyInput:
    """A recording that cannot be used."""
    return FaultyInput([Fault(path="recording", place=place, field=field, message=message, right=right)])
