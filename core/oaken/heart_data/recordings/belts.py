"""Simulated heart-rate belts: a stand-in for real ones, with a heart of another make than the forecast's.

The heart has two parts, a quick one (the brake comes off) and a slow one (the accelerator), a demand that tires it, and
noise; the belt sends standard packets once a second, loses contact now and then, and may be put on late. None of its
constants is meant to describe anybody: what is forecast must not be what is simulated.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime

import numpy as np
import numpy.typing as npt

from oaken.heart_data.recordings.packets import Measurement, decode, encode
from oaken.heart_data.recordings.series import HeartSeries

Floats = npt.NDArray[np.float64]

BRAKE_SHARE = 0.4
"""Share of the reserve that comes from letting go of the brake."""

WANDER_S = 20.0


@dataclass(frozen=True, slots=True)
class BeltHeart:
    """A simulated heart: resting and maximum rate in bpm, its answer to demand as a factor, seconds of its slow part
    up and down, the hourly rise, and the standard deviation of its wandering in bpm."""

    rest_bpm: float
    max_bpm: float
    answer: float = 1.0
    slow_up_s: float = 55.0
    slow_down_s: float = 110.0
    tiring_per_hour: float = 0.12
    wander_bpm: float = 2.0

    def rates(self, demand: Floats, random: np.random.Generator) -> Floats:
        """Heart rate in bpm at every second of a demand given second by second, as a share of the reserve."""
        quick = slow = workload = 0.0
        found = np.empty(demand.size)
        for second, asked in enumerate(demand.tolist()):
            workload += asked * self.tiring_per_hour / 3600 / 0.5
            aim = min(self.answer * asked * (1 + workload), 1.1)
            # near the top every further step brings less
            aim = aim if aim < 0.7 else 0.7 + (aim - 0.7) * 0.7
            quick_aim = min(aim, BRAKE_SHARE)
            slow_aim = aim - quick_aim
            quick += (quick_aim - quick) / (9.0 if quick_aim > quick else 30.0)
            slow += (slow_aim - slow) / (self.slow_up_s if slow_aim > slow else self.slow_down_s)
            found[second] = quick + slow
        noise = random.normal(0.0, 1.0, demand.size)
        stay = np.exp(-1 / WANDER_S)
        wander = 0.0
        for second, push in enumerate(noise.tolist()):
            wander = stay * wander + np.sqrt(1 - stay**2) * push
            noise[second] = wander
        breathing = 0.8 * np.sin(2 * np.pi * np.arange(demand.size) / 4.2)
        rates = self.rest_bpm + found * (self.max_bpm - self.rest_bpm) + self.wander_bpm * noise + breathing
        return np.asarray(np.clip(rates, 35.0, 228.0))


@dataclass(frozen=True, slots=True)
class Belt:
    """A simulated belt: when it is put on, how often it loses contact (times an hour, of so many seconds), and how
    often it sends a spike (times an hour)."""

    on_from_s: int = 0
    losses_per_hour: float = 3.0
    loss_s: int = 12
    spikes_per_hour: float = 4.0

    def packets(self, rates: Floats, random: np.random.Generator) -> Iterator[tuple[int, bytes]]:
        """A packet for every second from when it is put on, with the second since the class began."""
        seconds = rates.size
        lost = np.zeros(seconds, dtype=bool)
        for begin in random.integers(0, max(1, seconds), random.poisson(self.losses_per_hour * seconds / 3600)):
            lost[begin : begin + self.loss_s] = True
        spikes = set(
            random.integers(0, max(1, seconds), random.poisson(self.spikes_per_hour * seconds / 3600)).tolist()
        )
        spent_kj, since_beat = 0.0, 0.0
        for second in range(self.on_from_s, seconds):
            bpm = float(rates[second])
            spent_kj += max(0.0, (bpm - 60) * 0.5) / 60
            interval = 60 / bpm
            since_beat += 1.0
            beats = int(since_beat / interval)
            since_beat -= beats * interval
            shown = min(bpm + 45, 235) if second in spikes else bpm
            yield (
                second,
                encode(
                    Measurement(
                        bpm=0 if lost[second] else round(shown),
                        contact=not bool(lost[second]),
                        energy_kj=int(spent_kj) if second % 10 == 0 else None,
                        rr_s=() if lost[second] else (interval,) * beats,
                    )
                ),
            )


def series_of(
    packets: Sequence[tuple[int, bytes]] | Iterator[tuple[int, bytes]], start: datetime | None
) -> HeartSeries:
    """What was received, decoded: the first reading counts as the start. Raises FaultyPacket, and FaultyInput where
    nothing usable came."""
    seconds: list[float] = []
    rates: list[float] = []
    for second, packet in packets:
        measured = decode(packet)
        seconds.append(float(second))
        rates.append(0.0 if measured.contact is False else float(measured.bpm))
    return HeartSeries.of(seconds, rates, start, "belt")
