"""Oxygen demand of each second, in MET, and the heart's extra answer to straining."""

from __future__ import annotations

from oaken.domain.catalogue import Catalogue, Exercise

EFFORT_REFERENCE_SHARE = 0.55
EFFORT_SLOPE = 0.4
EFFORT_LIMITS = (0.75, 1.2)

PRESSOR_BASE = {"resistance": 0.10, "body_weight": 0.05, "rhythmic": 0.0, "mobility": 0.0, "pause": 0.0}
PRESSOR_PER_SHARE = 0.20
PRESSOR_SHARE_UNKNOWN = 0.5


def work_phase_met(bout_met: float, duty: float, rest_met: float) -> float:
    """Demand of the working phase alone, from a table value that averages work and recovery.

    Uptake kinetics are nearly linear, so the mean over a bout is the time-weighted mean of both demands:
    MET_work = (MET_bout − (1 − d)·MET_rest) ÷ d. The table is Ainsworth 2011; d and MET_rest are data beside it.

    >>> round(work_phase_met(5.0, 0.35, 1.8), 1), round(work_phase_met(8.0, 0.70, 2.0), 1)
    (10.9, 10.6)
    """
    return (bout_met - (1 - duty) * rest_met) / duty


def effort_factor(share_of_best: float | None) -> float:
    """Heavier loads cost more: factor on the work-phase demand above recovery.

    1 at 55 % of best (the middle of what table values stand for), ± 0.04 for every 10 % of best, within 0.75–1.2.
    A modelling choice: common practice, no source.
    """
    if share_of_best is None:
        return 1.0
    low, high = EFFORT_LIMITS
    return min(high, max(low, 1 + EFFORT_SLOPE * (share_of_best - EFFORT_REFERENCE_SHARE)))


REFERENCE_UPTAKE = 38.0
"""Maximal uptake in mL/kg/min of those on whom table values of lifting were made: the middle of a man
of 75 kg and a woman of 62 kg, both 40, by the reference equation (Myers 2017, from memory)."""


def own_lifting_factor(vo2max: float) -> float:
    """The cost above recovery of lifting a share of one's own best, compared with those on whom the table was made.

    A share of one's own best is another load for another body: who is old, untrained or light of muscle lifts less, and
    that costs less. Men and women alike were found at the same share of their own maximal uptake in the same circuit
    (Wilmore 1978, from memory), so the cost goes with the reserve of uptake.

    >>> round(own_lifting_factor(38), 2), round(own_lifting_factor(21), 2)
    (1.0, 0.51)
    """
    return (vo2max - 3.5) / (REFERENCE_UPTAKE - 3.5)


def work_met(exercise: Exercise, share_of_best: float | None, catalogue: Catalogue) -> float:
    """Demand in MET while working of somebody of the reference uptake: table value, derived for the work phase, scaled
    by muscle mass and effort."""
    activity = catalogue.activities[exercise.activity]
    phase = work_phase_met(activity.met, activity.duty, activity.rest_met)
    scale = catalogue.muscle_mass[exercise.muscle_mass].factor * effort_factor(share_of_best)
    return activity.rest_met + (phase - activity.rest_met) * scale


def usual_best_kg(exercise: Exercise, body_mass_kg: float, catalogue: Catalogue) -> float:
    """What somebody of this body mass usually lifts once, where nobody has tested it: only to tell how hard a load
    given in kilograms is, never to choose one (common practice, no source)."""
    return body_mass_kg * catalogue.muscle_mass[exercise.muscle_mass].usual_best


def pressor_share(exercise: Exercise, share_of_best: float | None) -> float:
    """Extra heart-rate demand of straining, as a share of the heart-rate reserve, on top of the oxygen demand.

    Circuit weight training drives the heart to 70–85 % of its maximum at only 40–55 % of maximal uptake (Wilmore
    1978; Gettman & Pollock 1981), so lifting needs this term and rhythmic work does not. Its size is a modelling
    choice: 10 % of the reserve for lifting plus 2 % for every 10 % of best; 5 % for body-weight work.
    """
    base = PRESSOR_BASE[exercise.nature]
    if exercise.nature != "resistance":
        return base
    share = PRESSOR_SHARE_UNKNOWN if share_of_best is None else share_of_best
    return base + PRESSOR_PER_SHARE * share
