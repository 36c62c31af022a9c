"""Metabolic equations of the American College of Sports Medicine: gross oxygen uptake in mL/kg/min.

Coefficients from memory. Every function returns the uptake; `out_of_range` says when an input leaves the range in
which the equations were made.
"""

from __future__ import annotations

from oaken.domain.catalogue import EquationSetting

FASTEST_WALK_M_PER_MIN = 134.0
"""Above this speed the running equation applies (ACSM, from memory)."""


def walking_uptake(speed_m_per_min: float, grade: float = 0.0) -> float:
    """0.1·S + 1.8·S·G + 3.5, for 50–100 m/min; grade as a fraction. 67.06 m/min flat → 10.2."""
    return 0.1 * speed_m_per_min + 1.8 * speed_m_per_min * grade + 3.5


def doubling_grade(speed_m_per_min: float) -> float:
    """Grade (a fraction) at which walking costs twice the flat, gross: (0.1·S + 3.5) ÷ (1.8·S).
    67.06 m/min → 0.0846."""
    return walking_uptake(speed_m_per_min) / (1.8 * speed_m_per_min)


def running_uptake(speed_m_per_min: float, grade: float = 0.0) -> float:
    """0.2·S + 0.9·S·G + 3.5, above 134 m/min or a true jog from 80. 142 m/min flat → 31.9."""
    return 0.2 * speed_m_per_min + 0.9 * speed_m_per_min * grade + 3.5


def leg_cycling_uptake(power_w: float, body_mass_kg: float) -> float:
    """10.8·W ÷ kg + 7, for 50–200 W. 100 W at 70 kg → 22.4."""
    return 10.8 * power_w / body_mass_kg + 7


def arm_cycling_uptake(power_w: float, body_mass_kg: float) -> float:
    """18·W ÷ kg + 3.5. 50 W at 70 kg → 16.4."""
    return 18 * power_w / body_mass_kg + 3.5


def rowing_uptake(power_w: float, body_mass_kg: float) -> float:
    """14.4·W ÷ kg + 3.5: mechanical work at a gross efficiency of 20 %, a litre of oxygen being 20.9 kJ (mechanics; the
    efficiency is common practice, no source). 100 W at 70 kg → 24.1, 6.9 MET, where the activity table has 7.0."""
    return 14.4 * power_w / body_mass_kg + 3.5


def stepping_uptake(step_rate_per_min: float, height_m: float) -> float:
    """0.2·f + 1.33·1.8·h·f + 3.5, for 12–30 steps a minute of 0.04–0.40 m. 24/min × 0.20 m → 19.8 (rounded up from
    19.79)."""
    return 0.2 * step_rate_per_min + 1.33 * 1.8 * height_m * step_rate_per_min + 3.5


def uptake(setting: EquationSetting, body_mass_kg: float) -> float:
    """Uptake at a catalogue entry's setting, mL/kg/min."""
    match setting.kind:
        case "walk":
            return walking_uptake(setting.speed_m_per_min, setting.grade)
        case "run":
            # on a steep grade the walking equation is above the running one where it ends: nobody runs it for less
            fastest_walk = walking_uptake(min(setting.speed_m_per_min, FASTEST_WALK_M_PER_MIN), setting.grade)
            return max(running_uptake(setting.speed_m_per_min, setting.grade), fastest_walk)
        case "leg_cycle":
            return leg_cycling_uptake(setting.power_w, body_mass_kg)
        case "arm_cycle":
            return arm_cycling_uptake(setting.power_w, body_mass_kg)
        case "row":
            return rowing_uptake(setting.power_w, body_mass_kg)
        case "step":
            return stepping_uptake(setting.step_rate_per_min, setting.height_m)


def out_of_range(setting: EquationSetting) -> str:
    """What leaves the equation's range, in words; empty when nothing does."""
    checks: dict[str, list[tuple[str, float, float, float, str]]] = {
        "walk": [("speed", setting.speed_m_per_min, 50, 100, "m/min")],
        "run": [("speed", setting.speed_m_per_min, 80, 400, "m/min")],
        "leg_cycle": [("power", setting.power_w, 50, 200, "W")],
        "arm_cycle": [("power", setting.power_w, 15, 150, "W")],
        "row": [("power", setting.power_w, 30, 400, "W")],
        "step": [
            ("step rate", setting.step_rate_per_min, 12, 30, "a minute"),
            ("step height", setting.height_m, 0.04, 0.40, "m"),
        ],
    }
    return "; ".join(
        f"{name} {value:g} {unit} is outside {low:g}–{high:g} {unit}"
        for name, value, low, high, unit in checks[setting.kind]
        if not low <= value <= high
    )
