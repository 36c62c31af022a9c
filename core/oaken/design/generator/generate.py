"""Composes a class: chooses its exercises, arranges and doses them, forecasts the whole and says why each is there.

One class is made at a time, the next with what the former ones have: three in a row differ in kind. What is done for
it is counted, not timed: the same is asked for twice, the same is found. Common practice, no source, where no other is
named.
"""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass, field
from math import ceil, sqrt
from statistics import mean
from typing import NamedTuple

from pydantic import BaseModel

from oaken.basis.faults import FaultyInput, faults_in
from oaken.basis.words import counted, plural
from oaken.design.generator.choose import LOOSENED, Chosen, leaning
from oaken.design.generator.choose import best_for as best_of
from oaken.design.generator.composed import Dose, Frame
from oaken.design.generator.fitted import Fitted, FittedPart, Fitter
from oaken.design.generator.pool import Choice, Pool
from oaken.design.generator.reasons import Reason, reasons_of
from oaken.design.generator.request import Character, ClassFormat, ClassRequest, Variant, choosing, target_of
from oaken.design.generator.shapes import Shapes
from oaken.design.generator.weighed import GUIDED, Weighed, weighed
from oaken.design.goal_seeking import FigureGoal, Thoroughness, contradictions, reach
from oaken.design.goal_seeking.goals import Seen, value_in
from oaken.forecast import forecast
from oaken.forecast.order_done import share_small_first, small_before_large
from oaken.forecast.report import Forecast, figures
from oaken.plan import ClassPlan, settled
from oaken.plan.changes import SetChange
from oaken.schedule.class_file import ClassFile

LOOKED_AT = 5
"""Doses whose figures are computed where figures are wanted."""

MISSED = 4.0
"""A figure that is missed by what counts as near weighs so much against a class."""

TUNING = Thoroughness(
    looked=100, together=4, enough=2, finalists=4, shown=4,
    only=frozenset((
        "fewer_rounds", "more_rounds", "fewer_sets", "more_sets", "fewer_sets_of_some", "more_sets_of_some",
        "shorter_rest", "longer_rest", "shorter_work", "longer_work", "shorter_change", "longer_change", "fewer_reps",
        "more_reps", "lighter", "heavier", "shorter_round_rest", "longer_round_rest", "shorter_ends", "longer_ends",
        "shorter_breaks", "faster_tempo", "another_order",
    )),
)  # fmt: skip
"""For the changes that bring a class to a figure that is wanted: of its dose alone, since its exercises were chosen
for these people and against what is left out."""

EMPTIER_S = 300
"""Seconds by which these may make it shorter."""

FOLLOW_THE_DEMAND = frozenset(("heart_mean", "vigorous_or_more", "impulse", "zone_sum", "session_effort", "energy"))
"""Figures that rise where more is asked of the body."""

WELL_AIMED, ASTRAY_WEIGHS = 0.12, 20.0
"""The share of tension up to which muscles are where they are wanted, and what more weighs beside the workload of a
dose: other shapes are looked at."""

SHORT_ENOUGH_S, MORE_FOR_EACH_S, WAIT_WEIGHS_S = 60.0, 12.0, 15.0
"""Seconds that somebody may wait in all where eight come, more for each further person, and those beyond that weigh as
much as one of workload."""

SAVED_BY_ROTATION, ROTATED = 0.7, 6
"""About the share of waiting that a rotation made at once saves, and how many shapes are given one."""

SAVED_BY_SEARCH, SEARCHED = 0.2, 2
"""About the share of what is left that a search saves, and for how many shapes it is made."""

UNLOADED_WEIGHS = 40.0
"""What a class without load weighs where all of it was to be loaded: a tenth is two minutes of waiting."""

MACHINES_WEIGH = 0.8
"""A machine that is missed weighs so much of a load that is missed."""

DRAFTS = 3
"""So many are asked for in a row: another format is taken from those that the others do not have."""

LOAD_UNSAID, OFF_TARGET_UNSAID = 0.1, 0.25
"""Load given up, as a share of the exercises, and tension off target up to which nothing is said."""

SMALL_FIRST_UNSAID = 0.25
"""The share of small exercises done before a large one of the same muscle up to which nothing is said."""

MOST_SAID = 300
"""Letters of the reason for an exercise that a class keeps."""

MENDS = 3
"""How often a class is fitted anew because its changes are too short."""

USUAL_WORKLOAD = 4.0
"""A dose as far as this from the usual is still a good one: no other shape is looked at."""


class Hit(BaseModel):
    """A figure that was wanted, what the generated class comes to, and whether that is where it was wanted."""

    wanted: str
    value: float
    unit: str
    there: bool


class GeneratedClass(BaseModel):
    """A class to be taken or left: its kind in words and why, the plan, figures, why each exercise is there, what was
    given up for it, and how much it shares with the others."""

    name: str
    manner: ClassFormat
    character: Character
    why: str
    plan: ClassPlan
    figures: Weighed
    hits: list[Hit]
    reasons: list[Reason]
    given_up: list[str]
    exercises: list[str]


class Generation(BaseModel):
    """What came of it: a generated class, or None where none can be had, and what stands in the way in words."""

    generated: GeneratedClass | None
    unmet: list[str]


def generate(
    class_request: ClassRequest, file: ClassFile, number: int = 0, unlike: Sequence[Collection[str]] = ()
) -> Generation:
    """The class with this number (each has another kind); `unlike` are the exercises of those it is to differ from.

    `file` is a class of the same room and people; its own blocks do not matter. Raises FaultyInput where something is
    named that there is not, or where what is wanted contradicts itself.
    """
    known = file.catalogue()
    check_request(class_request, file)
    pool = Pool(class_request, file.room_today, file.participants, known)
    found = _Generator(class_request, file, pool, number, list(unlike)).run()
    # a format in which people stand about is not offered where another leaves nobody standing
    for other in range(number + DRAFTS, len(choosing().kinds), DRAFTS) if class_request.manner is None else ():
        if found.generated is None or found.generated.figures.idle_share <= choosing().most_idle:
            break
        instead = _Generator(class_request, file, pool, other, list(unlike)).run()
        if instead.generated and instead.generated.figures.idle_share < found.generated.figures.idle_share:
            found = instead
    return found


def check_request(class_request: ClassRequest, file: ClassFile) -> None:
    """Raise FaultyInput where something is named that there is not, or contradicts itself."""
    known, fault = file.catalogue(), faults_in("the request")
    found = [
        fault(f"{field}.{at}", f"there is no {what} {name!r}", "an id from the catalogue")
        for field, what, names, there in (
            ("pinned", "exercise", class_request.pinned, known.exercises),
            ("accents", "muscle", class_request.accents, known.muscles),
            ("leave_out.exercises", "exercise", class_request.leave_out.exercises, known.exercises),
            ("leave_out.patterns", "movement", class_request.leave_out.patterns, known.patterns),
            ("leave_out.equipment", "equipment", class_request.leave_out.equipment, known.equipment),
        )
        for at, name in enumerate(names)
        if name not in there
    ]
    found += [
        fault(f"pinned.{at}", f"{name!r} is to be there and to be left out", "one of the two")
        for at, name in enumerate(class_request.pinned)
        if name in class_request.leave_out.exercises
    ]
    people = {participant.id for participant in file.participants}
    for at, item in enumerate(class_request.wanted):
        if item.person is not None and item.person not in people:
            found.append(fault(f"wanted.{at}.person", f"{item.person!r} is not in this class", "somebody of the class"))
        if item.muscle is not None and item.muscle not in known.muscles:
            found.append(
                fault(f"wanted.{at}.muscle", f"{item.muscle!r} is no muscle", ", ".join(sorted(known.muscles)))
            )
    found += contradictions(class_request.wanted)
    if found:
        raise FaultyInput(found)


class _Made(NamedTuple):
    """A class that was made: fitted, from these parts with these choices."""

    fitted: Fitted
    parts: list[FittedPart]
    chosen: list[Chosen]


class _Tried(NamedTuple):
    """A class that was tried, what is told of it, and how far what is wanted is missed."""

    made: _Made
    described: GeneratedClass
    missed: float


@dataclass
class _Generator:
    class_request: ClassRequest
    file: ClassFile
    pool: Pool
    number: int
    unlike: list[Collection[str]]
    push: float = 0.0
    _known: dict[str, list[float | None]] = field(default_factory=dict)

    @property
    def seed(self) -> int:
        return self.class_request.seed * 101 + self.number

    @property
    def kind(self) -> tuple[ClassFormat, Character]:
        kinds = choosing().kinds
        manner, character = kinds[self.number % len(kinds)]
        return self.class_request.manner or manner, character

    def run(self) -> Generation:
        """The class of this kind whose figures are nearest to what is wanted: the usual one and, where figures that
        follow the body's demand are missed, ones that ask more or less of it."""
        blocked = self._in_the_way()
        best = self._tried()
        direction = 0 if best is None else self._direction(best.described)
        if best is not None and direction:
            pushed = self._pushed(direction)
            if pushed is not None and pushed.made.fitted.spare_s >= 0 and pushed.missed < best.missed:
                best = pushed
        if best is None:
            return Generation(generated=None, unmet=[*blocked, self._too_few()])
        made = best.made
        if made.fitted.spare_s < 0:
            takes = ceil((self.class_request.slot_min * 60 - made.fitted.spare_s) / 60)
            blocked.append(
                f"{self.class_request.slot_min} min are too short for warm-up, work and cool-down: what is shown is "
                f"the nearest, and takes {takes} min"
            )
        return Generation(generated=best.described, unmet=blocked)

    def _tried(self, *, tuned: bool = True) -> _Tried | None:
        """The best class of all shapes at this push, described; None where there is none."""
        made = self._of_all_shapes()
        if made is None:
            return None
        described = self._described(made, tuned)
        return _Tried(made, described, self._missed_by(described))

    def _pushed(self, direction: int) -> _Tried | None:
        """The best where more or less is asked of the body, step by step until it is enough; tuned at the end."""
        best: _Tried | None = None
        for push in choosing().pushes:
            self.push = direction * push
            tried = self._tried(tuned=False)
            if tried is None:
                break
            if best is None or tried.missed < best.missed:
                best = tried
            if self._direction(tried.described) != direction:
                break
        if best is None:
            return None
        described = self._described(best.made, tuned=True)
        return _Tried(best.made, described, self._missed_by(described))

    def _missed_by(self, described: GeneratedClass) -> float:
        """How far what is wanted is missed, in what counts as near of each."""
        return sum(
            aimed.miss(hit.value) / max(aimed.near, 1e-9)
            for aimed, hit in zip(self.class_request.wanted, described.hits, strict=True)
        )

    def _direction(self, described: GeneratedClass) -> int:
        """Whether more (1) or less (-1) is to be asked of the body; 0 where nothing that follows it is missed."""
        for aimed, hit in zip(self.class_request.wanted, described.hits, strict=True):
            if aimed.figure in FOLLOW_THE_DEMAND and not hit.there:
                return 1 if hit.value < aimed.value else -1
        return 0

    def _in_the_way(self) -> list[str]:
        class_request, pool = self.class_request, self.pool
        found = []
        for name in class_request.pinned:
            if name in pool.not_chosen:
                words = self.file.catalogue().exercises[name].name
                reasons = {
                    "equipment": "its equipment does not stand in this room or does not work",
                    "care": "it asks for care with somebody, and nothing kinder is at hand for them",
                    "left out": "something else that is left out takes it along",
                }
                why = reasons.get(pool.not_chosen[name], "it is no main work of a class")
                found.append(f"{words} was to be kept, but {why}")
        if pool.overfull:
            every, least = pool.places_in_all, choosing().floor_m2
            found.append(
                f"{counted(pool.crowd, 'person', 'people')} and room for {every} at once ({least:g} m² of floor each): "
                f"what is shown keeps the clock, and {pool.crowd - every} of them would have to stand aside in turn; "
                f"{counted(every, 'person', 'people')} fit, or everybody in {ceil(pool.crowd / every)} classes"
            )
        return found

    def _too_few(self) -> str:
        left = len(self.pool.choices)
        words = "; ".join(self.pool.summary())
        told = f"{counted(left, 'exercise')} {plural(left, 'is', 'are')} left to choose from: {words}"
        name, more = self.pool.given_back()
        return f"{told}. If {name} came back, {more} could be chosen from" if more else told

    def _of_all_shapes(self) -> _Made | None:
        """The best class of all shapes of this kind. Only the likeliest get the rotation in which people wait least,
        which takes longer than all else."""
        manner, character = self.kind
        shapes = Shapes(self.pool, manner, character, self.unlike, self.seed, self.push, self.variant)
        likely: list[tuple[tuple[float, float, float], int, Fitter, _Made]] = []
        for parts, chosen in shapes.tried():
            fitter = self._fitter(parts)
            made = _Made(self._picked(fitter), parts, chosen)
            likely.append((self._rank(fitter, made, SAVED_BY_ROTATION), len(likely), fitter, made))
        begun: list[tuple[tuple[float, float, float], int, Fitter, _Made]] = []
        for _, number, fitter, made in sorted(likely, key=lambda item: item[:2])[:ROTATED]:
            made = made._replace(fitted=fitter.rotated(made.fitted, thorough=False))
            begun.append((self._rank(fitter, made, SAVED_BY_SEARCH), number, fitter, made))
        best: tuple[tuple[float, float, float], _Made] | None = None
        for _, _, fitter, made in sorted(begun, key=lambda item: item[:2])[:SEARCHED]:
            made = made._replace(fitted=fitter.rotated(made.fitted))
            rank = self._rank(fitter, made)
            if best is None or rank < best[0]:
                best = rank, made
            calm = fitter.longest_wait_s(made.fitted) <= self._short_enough_s()
            if rank[:2] == (0.0, 0.0) and rank[2] < USUAL_WORKLOAD and calm:
                break
        return None if best is None else best[1]

    def _fitter(self, parts: Sequence[FittedPart]) -> Fitter:
        chosen = [item for part in parts for item in part.chosen]
        return Fitter(self.file, Frame.usual(self.pool, chosen), parts, Dose.usual(self.pool, self.variant))

    @property
    def variant(self) -> Variant | None:
        """How the dose of this one of three differs where all have the format that is asked for."""
        wants = self.class_request
        if wants.manner in (None, "stations", "partners") or wants.sets is not None or wants.wanted:
            return None
        found = choosing().variants[self.number % DRAFTS]
        # beginners learn a movement with more repetitions, not with heavier ones
        heavier = found.share > 0 and wants.level == "beginner"
        return found if found.name and not heavier else None

    def _rank(self, fitter: Fitter, made: _Made, saved: float = 0.0) -> tuple[float, float, float]:
        """How bad a class is: too long, too little certain to end inside, then everything else together. `saved` is
        the share of waiting that a rotation is expected to save yet."""
        off_target_share = max(0.0, mean(item.off_target_share for item in made.chosen) - WELL_AIMED)
        waits = (1 - saved) * fitter.longest_wait_s(made.fitted)
        workload = (
            made.fitted.workload
            + ASTRAY_WEIGHS * off_target_share
            + max(0.0, waits - self._short_enough_s()) / WAIT_WEIGHS_S
            + UNLOADED_WEIGHS * self._unloaded(made.parts)
            + (self._misses(made.fitted) if self.class_request.wanted else 0.0)
        )
        return max(0.0, -made.fitted.spare_s), max(0.0, -made.fitted.left_s), workload

    def _unloaded(self, parts: Sequence[FittedPart]) -> float:
        """How much of the exercises should take load, or stand on a machine, and does not; a machine counts half."""
        every = [choice.exercise for part in parts for choice in part.chosen]
        kinds = self.file.catalogue().equipment
        loaded = sum(exercise.takes_load for exercise in every) / max(1, len(every))
        guided = sum(kinds[exercise.equipment].holds in GUIDED for exercise in every) / max(1, len(every))
        rules, aim = choosing(), self.class_request.aim
        machines = 0.0 if self.kind[1] == "free" else rules.on_machines[aim]
        return max(0.0, rules.loaded[aim] - loaded) + MACHINES_WEIGH * max(0.0, machines - guided)

    def _short_enough_s(self) -> float:
        """Seconds that somebody may wait in all the class: more where more share the machines."""
        return SHORT_ENOUGH_S + MORE_FOR_EACH_S * max(0, self.pool.crowd - 8)

    def _picked(self, fitter: Fitter) -> Fitted:
        """Of the doses that fit, the one whose figures are nearest to what is wanted."""
        candidates = fitter.candidates(every=bool(self.class_request.wanted))
        if not self.class_request.wanted:
            return candidates[0]
        fitting = [candidate for candidate in candidates if candidate.left_s >= 0][:LOOKED_AT] or candidates[:1]
        return min(fitting, key=lambda item: item.workload + self._misses(item))

    def _misses(self, one: Fitted) -> float:
        """How far the figures that are wanted are missed."""
        values = self._values(one)
        return MISSED * sum(
            # a miss that is large anyway still counts: nearer is better
            sqrt(aimed.miss(value) / max(aimed.near, 1e-9))
            for aimed, value in zip(self.class_request.wanted, values, strict=True)
            if value is not None
        )

    def _values(self, one: Fitted) -> list[float | None]:
        says = one.plan.model_dump_json()
        if says not in self._known:
            plan = settled(one.plan, self.file.catalogue())
            seen = Seen(self.file.model_copy(update={"plan": plan}))
            self._known[says] = [seen.value(aimed) for aimed in self.class_request.wanted]
        return self._known[says]

    # -- what is told ---------------------------------------------------------------------------------------------

    def _described(self, made: _Made, tuned: bool) -> GeneratedClass:
        plan, predicted, made = self._mended(made)
        if tuned:
            plan, predicted = self._tuned(plan, predicted)
        parts, chosen = made.parts, made.chosen
        file = self.file.model_copy(update={"plan": plan})
        manner, character = self.kind
        name, why = self._character_of([item for part in parts for item in part.chosen])
        if self.variant is not None:
            name, why = self.variant.name, self.variant.why
        target = target_of(self.class_request, self.file.catalogue())
        figures = weighed(file, predicted, target)
        order = self._order_given_up(plan, predicted)
        exercises = [item.exercise.id for part in parts for item in part.chosen]
        reasons = reasons_of(plan, parts, self.pool, target, figures)
        kept = {reason.exercise: "; ".join(reason.because)[:MOST_SAID] for reason in reasons}
        return GeneratedClass(
            name=f"{manner[0].upper()}{manner[1:]}, {name}",
            manner=manner,
            character=character,
            why=why,
            plan=plan.model_copy(update={"reasons": kept}),
            figures=figures,
            hits=[self._hit(item, predicted, file) for item in self.class_request.wanted],
            reasons=reasons,
            given_up=[*self._given_up(chosen, figures, exercises), *order],
            exercises=exercises,
        )

    def _character_of(self, chosen: Sequence[Choice]) -> tuple[str, str]:
        """What the class is called, and why: its character, or that many can do it at once where it is that."""
        character, other = choosing().characters[self.kind[1]], choosing().of_no_character
        liked = sum(leaning(item, self.pool, self.kind[1]) < 0 for item in chosen)
        if not character.short or liked >= other.below * len(chosen):
            return character.name, character.why
        return other.name, other.why.format(name=character.short)

    def _mended(self, made: _Made) -> tuple[ClassPlan, Forecast, _Made]:
        """The plan and its forecast, fitted anew where changes are too short to walk and set up."""
        for _ in range(MENDS):
            plan = settled(made.fitted.plan, self.file.catalogue())
            predicted = forecast(self.file.model_copy(update={"plan": plan}))
            fixes = [caution.fix.change for caution in predicted.cautions if caution.fix is not None]
            needed = max((fix.change_s for fix in fixes if isinstance(fix, SetChange)), default=0)
            short = [part for part in made.parts if part.on_clock and part.change_s < needed]
            if not short:
                break
            parts = [part._replace(change_s=needed) if part in short else part for part in made.parts]
            fitter = self._fitter(parts)
            made = made._replace(fitted=fitter.rotated(self._picked(fitter)), parts=parts)
        return plan, predicted, made

    def _tuned(self, plan: ClassPlan, predicted: Forecast) -> tuple[ClassPlan, Forecast]:
        """The class with each figure that is still missed brought where it was wanted, by changes of the dose that keep
        the other figures and the slot, and keep it filled."""
        length = predicted.length.value
        slot = FigureGoal(figure="length", want="at_most", value=max(self.class_request.slot_min * 60.0, length))
        full = FigureGoal(figure="length", want="at_least", value=max(0.0, length - EMPTIER_S))
        for aimed in self.class_request.wanted:
            file = self.file.model_copy(update={"plan": plan})
            value = value_in(predicted, aimed, file)
            if value is None or aimed.miss(value) == 0:
                continue
            limits = [slot, full, *(item for item in self.class_request.wanted if item is not aimed)]
            found = reach(file, aimed, limits, TUNING)
            best = next(
                (proposal for proposal in found.proposals if proposal.reached and not proposal.new_cautions), None
            )
            if best is not None:
                plan = best.plan
                predicted = forecast(self.file.model_copy(update={"plan": plan}))
        return plan, predicted

    def _hit(self, aimed: FigureGoal, predicted: Forecast, file: ClassFile) -> Hit:
        value = value_in(predicted, aimed, file)
        return Hit(
            wanted=aimed.words,
            value=round(value or 0.0, 2),
            unit=figures()[aimed.figure].unit,
            there=value is not None and aimed.miss(value) == 0,
        )

    def _given_up(self, chosen: Sequence[Chosen], figures: Weighed, exercises: Sequence[str]) -> list[str]:
        rules = choosing()
        found = []
        if self.class_request.hard_before is not None:
            days = counted(round(self.class_request.hard_before), "day")
            found.append(f"eased, because a hard class lies only {days} before: hard days are kept apart")
        if any(item.loosened >= 1 for item in chosen) and self.unlike:
            shared = max((len(set(exercises) & set(other)) for other in self.unlike), default=0)
            if shared > rules.most_shared * len(exercises):
                found.append(
                    f"shares {shared} of its {len(exercises)} exercises with another one: the room has no more"
                )
        if any(item.loosened >= 2 for item in chosen):
            found.append(f"{LOOSENED[2]} was not held to: the room has too little else")
        found += [*self._load_given_up(figures, exercises), *self._muscles_given_up(figures, exercises)]
        if figures.idle_share > rules.most_idle:
            few = self.pool.places_in_all < self.pool.crowd
            why = (
                "there are fewer places than people"
                if few
                else f"in {self.kind[0]} not everybody finds a place at once; another format leaves fewer standing"
            )
            found.append(
                f"people stand idle {100 * figures.idle_share:.0f} % of the main part (at most "
                f"{100 * rules.most_idle:.0f} % are wanted): {why}"
            )
        return found

    def _order_given_up(self, plan: ClassPlan, predicted: Forecast) -> list[str]:
        """What is said where what is small often comes before what is large for the same muscle, as people do them."""
        pairs = small_before_large(plan, predicted, self.file.catalogue())
        if share_small_first(pairs) <= SMALL_FIRST_UNSAID:
            return []
        worst = pairs[0]
        return [
            f"{worst.small.lower()} comes before {worst.large.lower()} for {len(worst.small_first)} of "
            f"{counted(len(worst.both), 'person', 'people')}: everybody begins at another group; a block of the "
            "large ones before one of the small ones keeps the order for all"
        ]

    def _load_given_up(self, figures: Weighed, exercises: Sequence[str]) -> list[str]:
        """What is said where much less takes load than is usual for the aim, with why."""
        usual = choosing().loaded[self.class_request.aim]
        if figures.loaded_share >= usual - LOAD_UNSAID:
            return []
        unused = [
            name for name, choice in self.pool.choices.items() if choice.exercise.takes_load and name not in exercises
        ]
        why = "with more of it people would wait longer" if unused else "nothing else here takes load"
        return [
            f"{100 * figures.loaded_share:.0f} % of the exercises take load, {100 * usual:.0f} % are usual for "
            f"{self.class_request.aim}: {why}"
        ]

    def _muscles_given_up(self, figures: Weighed, exercises: Sequence[str]) -> list[str]:
        """A line where much of the tension is off target: the muscle that misses most, and what would give it."""
        if figures.off_target_share <= OFF_TARGET_UNSAID:
            return []
        short = max(figures.muscles, key=lambda muscle: muscle.target - muscle.share)
        other = best_of(self.pool, short.muscle, exercises)
        gives = f"{other.exercise.name.lower()} would give it" if other else "nothing in this room gives more of it"
        return [
            f"{short.name.lower()} gets {100 * short.share:.0f} % of the tension, {100 * short.target:.0f} % were "
            f"wanted: {gives}"
        ]


def best_for(muscle: str, class_request: ClassRequest, file: ClassFile, without: Collection[str]) -> Choice | None:
    """An exercise for a muscle that these people can do in this room; None where there is none."""
    return best_of(Pool(class_request, file.room_today, file.participants, file.catalogue()), muscle, without)
