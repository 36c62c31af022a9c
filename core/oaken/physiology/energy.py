"""Energy by several schools, in kcal."""

from __future__ import annotations

from typing import TypeVar

import numpy as np
import numpy.typing as npt

from oaken.domain.people import Sex

Value = TypeVar("Value", float, npt.NDArray[np.float64])

KJ_PER_KCAL = 4.184
GRAVITY_M_PER_S2 = 9.81
KEYTEL_FROM_BPM, KEYTEL_TO_BPM = 90, 150
LIFTING_EFFICIENCY = (0.20, 0.225, 0.25)
AFTER_CLASS_SHARE = (0.06, 0.105, 0.15)
TABLE_SPREAD, EQUATION_SPREAD = 0.20, 0.10
"""How far one person may be from the activity table, and from a metabolic equation at a known setting, as shares: the
equations' standard error is about 7 % (ACSM, from memory), the rest is machines that show wrong; the table's is common
practice, no source."""


def kcal_per_min(met: float, body_mass_kg: Value) -> Value:
    """MET × 3.5 × kg ÷ 200, gross. 70 kg at 5.0 MET → 6.125."""
    return met * 3.5 * body_mass_kg / 200


def keytel_line(body_mass_kg: float, age: float, sex: Sex | None, vo2max: float | None = None) -> tuple[float, float]:
    """Slope (kJ/min per bpm) and level (kJ/min) of the energy by heart rate of one person (Keytel 2005), for about
    90–150 bpm; the mean of both sexes when not given. `vo2max` is a measured uptake in mL/kg/min: then the equation
    that was made with it (both from memory).

    Man 35 y, 75 kg, 140 bpm: 55.2; with a measured uptake of 45: 50.2. Woman 35 y, 62 kg: 37.0; with 38: 34.0. Reads
    high for strength work, whose heart rate runs above its oxygen cost.
    """
    if vo2max is None:
        male = (0.6309, -55.0969 + 0.1988 * body_mass_kg + 0.2017 * age)
        female = (0.4472, -20.4022 - 0.1263 * body_mass_kg + 0.074 * age)
    else:
        male = (0.634, -95.7735 + 0.404 * vo2max + 0.394 * body_mass_kg + 0.271 * age)
        female = (0.450, -59.3954 + 0.380 * vo2max + 0.103 * body_mass_kg + 0.274 * age)
    if sex is None:
        return (male[0] + female[0]) / 2, (male[1] + female[1]) / 2
    return male if sex == "male" else female


def lifting_kcal(work_j: float, efficiency: float = LIFTING_EFFICIENCY[1]) -> float:
    """Metabolic energy of mechanical lifting work Σ m·g·displacement at an efficiency of 0.20–0.25."""
    return work_j / efficiency / 1000 / KJ_PER_KCAL
