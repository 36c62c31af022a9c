"""The trade-off between two figures: what more of one costs of the other, as classes that can be taken."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import islice
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from oaken.basis.faults import FaultyInput, faults_in
from oaken.design.adjustments import Attempt
from oaken.design.goal_seeking.goals import FigureGoal, Seen, check_goals
from oaken.design.goal_seeking.kinds import Adjustment, adjustments_of
from oaken.domain.people import Closed, Level
from oaken.forecast.report import GoalFigure, figures
from oaken.plan import ClassPlan
from oaken.schedule.class_file import ClassFile

MOST_POINTS = 12
LOOKED_AT = 90
"""Classes that are looked at for a curve."""

GOES_ON_FROM = 6
"""Points of a curve from which one change more is tried."""


class TradeAxis(Closed):
    """One figure of a curve, of whom, and whether more or less of it is better."""

    figure: GoalFigure
    better: Literal["more", "less"]
    person: Annotated[str, Field(max_length=60)] | None = None
    level: Level | None = None
    muscle: Annotated[str, Field(max_length=60)] | None = None

    @property
    def aimed(self) -> FigureGoal:
        """The same as something to aim at."""
        told = self.model_dump(exclude={"better"})
        return FigureGoal(value=0, want="at_least" if self.better == "more" else "at_most", **told)


class TradePoint(BaseModel):
    """A class on the curve: both figures, what was changed (nothing: the plan as it is), the cost, and the plan."""

    across: float
    up: float
    name: str
    detail: str
    cost: float
    plan: ClassPlan


class TradeCurve(BaseModel):
    """The plan's own place, and the classes of which none is better in both figures, from one end to the other."""

    across_unit: str
    up_unit: str
    here: TradePoint
    points: list[TradePoint]


def trade_off(
    file: ClassFile, across: TradeAxis, up: TradeAxis, limits: Sequence[FigureGoal] = (), work_kept: float = 0.8
) -> TradeCurve:
    """The curve of two figures while the limits hold and so much of the tension of the class is kept (a share).

    The file must have been checked, and small enough to be tried many times over. Raises FaultyInput where a figure
    applies to nobody, or both are the same.
    """
    tension = FigureGoal(figure="time_under_tension", want="at_least", value=0)
    least = work_kept * (Seen(file).value(tension) or 0.0)
    wanted = [across.aimed, up.aimed, *limits, tension.model_copy(update={"value": least})]
    check_goals(file, wanted[2:])
    check_goals(file, wanted[:1])
    check_goals(file, wanted[1:2])
    if across.model_dump(exclude={"better"}) == up.model_dump(exclude={"better"}):
        raise FaultyInput([faults_in("the curve")("up", "both figures are the same", "two different figures")])
    return _Tracing(file, across, up, wanted).curve()


class _Tracing:
    def __init__(self, file: ClassFile, across: TradeAxis, up: TradeAxis, wanted: Sequence[FigureGoal]) -> None:
        self.file, self.across, self.up, self.wanted = file, across, up, list(wanted)
        self.known = file.catalogue()
        self.looked = 0
        self.start = self._values(file.plan)
        self.here = TradePoint(across=self.start[0], up=self.start[1], name="", detail="", cost=0.0, plan=file.plan)
        self.found: list[tuple[TradePoint, tuple[str, ...]]] = [(self.here, ())]

    def curve(self) -> TradeCurve:
        """Every adjustment in three amounts, then one change more from where the curve has come to."""
        adjustments = [
            adjustment
            for adjustment in adjustments_of(self.file)
            if adjustment.id != "another_order" or "waiting" in (self.across.figure, self.up.figure)
        ]
        for adjustment in adjustments:
            self._try(self.here, (), adjustment)
        for point, ids in self._front()[:GOES_ON_FROM]:
            for adjustment in adjustments:
                if adjustment.id == "another_order":
                    # tried once: it takes as long as a dozen others
                    continue
                if ids and adjustment.id not in ids and self.looked < LOOKED_AT:
                    self._try(point, ids, adjustment, only_middle=True)
        front = [self._rounded(point) for point, _ in self._front()]
        return TradeCurve(
            across_unit=figures()[self.across.figure].unit,
            up_unit=figures()[self.up.figure].unit,
            here=self._rounded(self.here),
            points=_spread(front),
        )

    def _try(
        self, point: TradePoint, ids: tuple[str, ...], adjustment: Adjustment, *, only_middle: bool = False
    ) -> None:
        attempts = list(islice(adjustment.tries(point.plan), 24))
        if not attempts:
            return
        last = len(attempts) - 1
        places = {last // 2} if only_middle else {last, last // 2, last // 4}
        for place in sorted(places):
            if self.looked >= LOOKED_AT:
                return
            self._look(point, ids, adjustment, attempts[place])

    def _look(self, point: TradePoint, ids: tuple[str, ...], adjustment: Adjustment, attempt: Attempt) -> None:
        self.looked += 1
        values = self._values(attempt.plan)
        for limit, value, then in zip(self.wanted[2:], values[2:], self.start[2:], strict=True):
            if limit.miss(value) > limit.miss(then):
                return
        cost = point.cost + adjustment.cost(attempt, self.file.plan, self.known)
        name = f"{point.name} + {adjustment.name}" if point.name else adjustment.name
        detail = f"{point.detail}; {attempt.detail}" if point.detail else attempt.detail
        made = TradePoint(
            across=values[0], up=values[1], name=name, detail=detail, cost=min(100.0, cost), plan=attempt.plan
        )
        self.found.append((made, (*ids, adjustment.id)))

    def _front(self) -> list[tuple[TradePoint, tuple[str, ...]]]:
        """Those of which none is better in both, along the axis across."""
        signs = [1 if item.better == "more" else -1 for item in (self.across, self.up)]
        ordered = sorted(
            self.found, key=lambda item: (-signs[0] * item[0].across, -signs[1] * item[0].up, item[0].cost)
        )
        front: list[tuple[TradePoint, tuple[str, ...]]] = []
        best = float("-inf")
        for item in ordered:
            if signs[1] * item[0].up > best + 1e-9:
                best = signs[1] * item[0].up
                front.append(item)
        return front

    def _rounded(self, point: TradePoint) -> TradePoint:
        plan = ClassPlan.model_validate(point.plan.model_dump())
        return point.model_copy(
            update={
                "across": round(point.across, 2),
                "up": round(point.up, 2),
                "cost": round(point.cost, 1),
                "plan": plan,
            }
        )

    def _values(self, plan: ClassPlan) -> tuple[float, ...]:
        seen = Seen(self.file.model_copy(update={"plan": plan}))
        values = [seen.value(item) for item in self.wanted]
        return tuple(0.0 if value is None else value for value in values)


def _spread(points: list[TradePoint]) -> list[TradePoint]:
    """At most so many points, the ends among them, as far apart as can be."""
    if len(points) <= MOST_POINTS:
        return points
    wide = (max(point.across for point in points) - min(point.across for point in points)) or 1.0
    tall = (max(point.up for point in points) - min(point.up for point in points)) or 1.0
    kept = [points[0], points[-1]]
    while len(kept) < MOST_POINTS:

        def apart(one: TradePoint) -> float:
            return min(((one.across - k.across) / wide) ** 2 + ((one.up - k.up) / tall) ** 2 for k in kept)

        kept.append(max(points, key=apart))
    return sorted(kept, key=points.index)
