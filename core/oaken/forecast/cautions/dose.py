"""Advice on load, repetitions, rest and drop sets (common practice, no source, unless a table is named)."""

from __future__ import annotations

from collections.abc import Iterator

from oaken.domain.catalogue import Catalogue
from oaken.domain.prescription import Manner, Segment, SetRun
from oaken.forecast.cautions.in_order import Work, caution_at, share_in, works_of
from oaken.forecast.report import Caution, Fix
from oaken.physiology.metabolic import doubling_grade, out_of_range
from oaken.physiology.strength import most_reps, share_for
from oaken.plan import ClassPlan, Slot, Station, TogetherBlock
from oaken.plan.changes import DropsOnLastOnly, SetLoad, SetRest, has_drops
from oaken.schedule.timeline.bouts import set_equation

WARM_UP_SHARE = 0.40
HEAVY_SHARE, HEAVY_REST_S = 0.80, 60
MANY_REPS = 12
PAUSE_ALLOWANCE = 0.5
"""How much more a pause within the set allows, as a share of the repetitions (common practice, no source)."""

MACHINES_ALLOWANCE = 3
"""Machines and single joints allow more repetitions at the same share than the table says."""


def dose_cautions(plan: ClassPlan, catalogue: Catalogue) -> list[Caution]:
    """Everything that asks too much of one slot, or of all together."""
    found = list(_drops_everywhere(plan, catalogue))
    for work in works_of(plan, catalogue):
        found += [*_too_many_reps(work), *_tiring_warm_up(plan, work), *_short_rest(plan, work)]
        found += _settings(work, claims=plan.school("calorie-claims", catalogue) == "computed")
    return [*found, *_against_the_school(plan, catalogue)]


def _against_the_school(plan: ClassPlan, catalogue: Catalogue) -> Iterator[Caution]:
    """Loads and repetitions of another kind than this class has chosen."""
    school = plan.school("reps-and-load", catalogue)
    heavy: list[str] = []
    many: list[str] = []
    for work in works_of(plan, catalogue):
        if plan.blocks[work.block].purpose in ("warm_up", "activation") or not work.exercise.takes_load:
            continue
        most = max((segment.reps or 0 for _, segment in _segments(work)), default=0)
        if max(work.shares(), default=0.0) >= HEAVY_SHARE:
            heavy.append(work.id)
        if most > MANY_REPS:
            many.append(work.id)
    if school == "light-many" and heavy:
        message, safer, slots = "heavy sets in a class that chose light and many", "40–65 % of best, 15–20", heavy
    elif school == "heavy-few" and many:
        message, safer, slots = "long sets in a class that chose heavy and few", "70–85 % of best, 4–10", many
    else:
        return
    yield Caution(severity="note", block=-1, slots=slots, people=[], message=message, safer=safer)


def _drops_everywhere(plan: ClassPlan, catalogue: Catalogue) -> Iterator[Caution]:
    loaded = [part for part in plan.parts() if isinstance(part, Slot) and catalogue.exercises[part.exercise].takes_load]
    dropping = [slot for slot in loaded if has_drops(slot)]
    if len(dropping) >= 2 and len(dropping) * 10 > len(loaded) * 7:
        yield Caution(
            severity="caution",
            block=-1,
            slots=[slot.id for slot in dropping],
            people=[],
            message=f"drop sets on {len(dropping)} of {len(loaded)} loaded exercises",
            safer="on the last set of the last one; never on every exercise in a hot room",
            fix=Fix(label="Drop sets on the last one only", change=DropsOnLastOnly()),
        )


def _segments(work: Work) -> list[tuple[SetRun | None, Segment]]:
    if isinstance(work.part, Slot):
        return [(run, segment) for run in work.part.sets for segment in run.segments]
    return []


def _reps_in_one_go(run: SetRun) -> tuple[int, int]:
    """The repetitions of a set's parts until the load changes, added up, and how many pauses are between them."""
    reps = pauses = 0
    for place, segment in enumerate(run.segments):
        if place and (segment.change is not None or segment.load != run.segments[0].load):
            break
        if segment.reps is None or segment.helped:
            break
        reps += segment.reps
        pauses += bool(place and run.segments[place - 1].pause_after_s)
    return reps, pauses


def _too_many_reps(work: Work) -> Iterator[Caution]:
    if not isinstance(work.part, Slot):
        return
    for run in work.part.sets:
        share = share_in(run.segments[0])
        reps, pauses = _reps_in_one_go(run)
        by_effort = run.segments[0].load is not None and run.segments[0].load.by_effort
        if share is None or not reps or by_effort or not work.exercise.takes_load:
            continue
        allowed = most_reps(share) + (MACHINES_ALLOWANCE if not {"free_bar"} & set(work.exercise.tags) else 0)
        allowed = int(allowed * (1 + PAUSE_ALLOWANCE * pauses))
        if reps > allowed + (1 if run.segments[0].to_failure else 0):
            fitting = int(share_for(reps) * 20) / 20
            yield caution_at(
                "caution",
                work,
                f"{reps} repetitions at {share * 100:.0f} % of best: about {most_reps(share)} are usual",
                f"about {fitting * 100:.0f} %, or fewer repetitions",
                f"{fitting * 100:.0f} % of best",
                SetLoad(slot=work.id, share_of_best=fitting),
            )
            return


def _tiring_warm_up(plan: ClassPlan, work: Work) -> Iterator[Caution]:
    if plan.blocks[work.block].purpose not in ("warm_up", "activation"):
        return
    heaviest = max(work.shares(), default=0.0)
    if heaviest > WARM_UP_SHARE:
        yield caution_at(
            "caution",
            work,
            f"a warm-up set at {heaviest * 100:.0f} % of best tires",
            "20–30 % of best, 10–15 repetitions",
            "30 % of best",
            SetLoad(slot=work.id, share_of_best=0.3),
        )


def _short_rest(plan: ClassPlan, work: Work) -> Iterator[Caution]:
    """Heavy single exercises with hardly any rest; in a superset the partner's work is rest enough."""
    block = plan.blocks[work.block]
    groups = getattr(block, "groups", None)
    if isinstance(block, TogetherBlock) or groups is None or len(groups[work.group].slots) > 1:
        return
    assert isinstance(work.part, Slot)
    if work.part.rounds < 2:
        return
    heavy = [
        run
        for run in work.part.sets
        if max((share_in(segment) or 0 for segment in run.segments), default=0) >= HEAVY_SHARE
    ]
    rests = [run.rest_s for run in heavy]
    if rests and min(rests) < HEAVY_REST_S:
        yield caution_at(
            "caution",
            work,
            f"{min(rests)} s of rest between heavy sets of {work.exercise.name.lower()}",
            "60–120 s, so that load and form hold",
            "90 s of rest",
            SetRest(slot=work.id, rest_s=90),
        )


def _settings(work: Work, *, claims: bool) -> Iterator[Caution]:
    """Machine settings outside their equation's range, and what an incline really does."""
    manners: list[Manner] = [segment for _, segment in _segments(work)]
    if isinstance(work.part, Station):
        manners = [work.part]
    for manner in manners:
        equation = set_equation(manner, work.exercise) if manner.setting is not None else None
        if equation is None:
            continue
        words = out_of_range(equation)
        if words:
            message = f"the energy equation was not made for this: {words}"
            yield caution_at("note", work, message, "read its energy as a rough value")
            return
        if claims and equation.kind == "walk" and equation.grade > 0:
            speed = equation.speed_m_per_min
            doubling = doubling_grade(speed)
            yield caution_at(
                "note",
                work,
                f"an incline doubles the energy of walking at one grade only: at {speed * 0.06:.1f} km/h at "
                f"{doubling * 100:.1f} %; {equation.grade * 100:.0f} % costs "
                f"{1 + equation.grade / doubling:.2f} times the flat",
                "say the computed figure",
            )
            return
