"""Warm rooms: heat index, simplified wet-bulb globe temperature, and what warm air does to a heart."""

from __future__ import annotations

from math import exp, sqrt
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from oaken.basis.estimate import Estimate
from oaken.physiology.heart_rate import DRIFT_PER_HOUR, Warmth

HEAT_INDEX_BANDS = ((26.7, "caution"), (32.2, "extreme caution"), (39.4, "danger"), (51.7, "extreme danger"))
"""Lower limits in °C (80, 90, 103 and 125 °F) and the names of the US weather service (from memory)."""

COMFORT_C, COMFORT_HPA = 24.0, 20.0 * 1.33322
"""Air temperature, and vapour pressure (20 mmHg), above which the air itself raises the heart rate."""

BPM_PER_DEGREE, BPM_PER_HPA = 1.0, 0.4
"""What each degree and each hPa above comfort add at once, in bpm (1 bpm per °C: Kamon & Belding 1971, from memory;
they found more for humidity in people at work all day: its size here is common practice, no source)."""

WBGT_CAUTION_C, WBGT_RECONSIDER_C = 23.0, 28.0
"""Where to slow down, and where to reconsider a hard class (usual sports guidance, from memory)."""

DRIFT_PER_DEGREE = 0.02
"""What each degree of wet-bulb globe temperature above caution adds to the hourly rise of the heart rate, as a share
of the demand (common practice, no source)."""

MOST_DRIFT_PER_HOUR = 0.30

Advice = Literal["usual", "caution", "reconsider"]


class Air(BaseModel):
    """The air of the room: temperature in °C, relative humidity in %."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    temperature_c: Annotated[float, Field(ge=-5, le=50)]
    humidity_percent: Annotated[float, Field(ge=1, le=100)]


class Heat(BaseModel):
    """What the air of the room means for a class. `band` is the name of the heat index's band, empty below all."""

    heat_index: Estimate
    wbgt: Estimate
    band: str
    advice: Advice
    drift: Estimate
    at_once: Estimate


def heat_index_c(temperature_c: float, humidity_percent: float) -> float:
    """Heat index in °C: the Rothfusz regression with the two adjustments of the US weather service; below 80 °F of
    felt temperature its simple formula (Steadman's), as that service does it.

    Made for 80–112 °F. 32 °C and 60 % → 37.1; 35 °C and 50 % → 40.7.
    """
    fahrenheit, humidity = temperature_c * 9 / 5 + 32, humidity_percent
    simple = 0.5 * (fahrenheit + 61 + (fahrenheit - 68) * 1.2 + humidity * 0.094)
    felt = simple
    if (simple + fahrenheit) / 2 >= 80:
        felt = (
            -42.379
            + 2.04901523 * fahrenheit
            + 10.14333127 * humidity
            - 0.22475541 * fahrenheit * humidity
            - 6.83783e-3 * fahrenheit**2
            - 5.481717e-2 * humidity**2
            + 1.22874e-3 * fahrenheit**2 * humidity
            + 8.5282e-4 * fahrenheit * humidity**2
            - 1.99e-6 * fahrenheit**2 * humidity**2
        )
        if humidity < 13 and 80 <= fahrenheit <= 112:
            felt -= (13 - humidity) / 4 * sqrt((17 - abs(fahrenheit - 95)) / 17)
        elif humidity > 85 and 80 <= fahrenheit <= 87:
            felt += (humidity - 85) / 10 * (87 - fahrenheit) / 5
    return (felt - 32) * 5 / 9


def vapour_pressure_hpa(temperature_c: float, humidity_percent: float) -> float:
    """Water vapour pressure in hPa: RH ÷ 100 × 6.105 × e^(17.27·T ÷ (237.7 + T)). 30 °C and 50 % → 21.1."""
    return humidity_percent / 100 * 6.105 * exp(17.27 * temperature_c / (237.7 + temperature_c))


def wbgt_simplified_c(temperature_c: float, humidity_percent: float) -> float:
    """Simplified wet-bulb globe temperature in °C: 0.567·T + 0.393·e + 3.94, e the vapour pressure in hPa.

    For moderate sun and little wind, so it errs to the warm side in a room; ISO 7243 governs the real measurement.
    30 °C and 50 % → 29.3.
    """
    return 0.567 * temperature_c + 0.393 * vapour_pressure_hpa(temperature_c, humidity_percent) + 3.94


def drift_per_hour(wbgt_c: float) -> float:
    """Slow rise of the heart rate at the same demand, a share of the demand per hour: 10 % in cool air, 2 % more for
    each degree above caution, at most 30 % (common practice, no source)."""
    return min(MOST_DRIFT_PER_HOUR, DRIFT_PER_HOUR + DRIFT_PER_DEGREE * max(0.0, wbgt_c - WBGT_CAUTION_C))


def at_once_bpm(temperature_c: float, humidity_percent: float) -> float:
    """What warm air adds to the heart rate at once, rest and work alike, in bpm. 35 °C and 70 % → 16.1."""
    pressure = vapour_pressure_hpa(temperature_c, humidity_percent)
    return BPM_PER_DEGREE * max(0.0, temperature_c - COMFORT_C) + BPM_PER_HPA * max(0.0, pressure - COMFORT_HPA)


def warmth_of(air: Air) -> Warmth:
    """What this air does to a heart."""
    wbgt = wbgt_simplified_c(air.temperature_c, air.humidity_percent)
    return Warmth(drift_per_hour(wbgt), at_once_bpm(air.temperature_c, air.humidity_percent))


def heat_of(air: Air) -> Heat:
    """What this air means for a class."""
    index = heat_index_c(air.temperature_c, air.humidity_percent)
    wbgt = wbgt_simplified_c(air.temperature_c, air.humidity_percent)
    inputs = [f"{air.temperature_c:g} °C", f"{air.humidity_percent:g} % humidity"]
    drift = 100 * drift_per_hour(wbgt)
    at_once = at_once_bpm(air.temperature_c, air.humidity_percent)
    # a room thermometer is good to a degree, a cheap hygrometer to five percent
    cooler, warmer = (
        (air.temperature_c - 1, max(1.0, air.humidity_percent - 5)),
        (air.temperature_c + 1, min(100.0, air.humidity_percent + 5)),
    )
    return Heat(
        heat_index=Estimate.between(index, heat_index_c(*cooler), heat_index_c(*warmer), "°C", "heat.index", inputs),
        wbgt=Estimate.between(wbgt, wbgt_simplified_c(*cooler), wbgt_simplified_c(*warmer), "°C", "heat.wbgt", inputs),
        band=next((name for limit, name in reversed(HEAT_INDEX_BANDS) if index >= limit), ""),
        advice="reconsider" if wbgt >= WBGT_RECONSIDER_C else "caution" if wbgt >= WBGT_CAUTION_C else "usual",
        drift=Estimate.between(drift, 0.5 * drift, 1.5 * drift, "% an hour", "heat.drift", [f"WBGT {wbgt:.1f} °C"]),
        at_once=Estimate.between(at_once, 0.5 * at_once, 1.5 * at_once, "bpm", "heat.at-once", inputs),
    )
