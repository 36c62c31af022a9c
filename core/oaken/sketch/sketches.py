"""Sketches a class: chooses its exercises, arranges and doses them, forecasts the whole and says why each is there.

One sketch is made at a time, the next with what the former ones have: three in a row differ in kind. Effort is counted,
not timed: the same is sought twice, the same is found. Common practice, no source, where no other is named.
"""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass, field
from math import ceil
from typing import NamedTuple

from pydantic import BaseModel

from oaken.aim import FIGURES, Aimed, contradictions
from oaken.aim.aimed import Seen, value_in
from oaken.basis.faults import FaultyInput, faults_in
from oaken.basis.words import counted, plural
from oaken.catalogue import Exercise
from oaken.class_file import ClassFile
from oaken.forecast import forecast
from oaken.plan import ClassPlan, settled
from oaken.plan.changes import SetChange
from oaken.report import Forecast
from oaken.sketch.arranged import in_a_circle, in_groups
from oaken.sketch.choose import LOOSENED, USUAL, Chosen, Needs, choose
from oaken.sketch.choose import best_for as best_of
from oaken.sketch.composed import Dose, Frame, change_needed, groups, set_seconds, stations
from oaken.sketch.fitted import Fitted, Fitter, Part
from oaken.sketch.pool import Choice, Pool
from oaken.sketch.reasons import Reason, reasons_of
from oaken.sketch.sought import Character, SketchManner, Sought, choosing, target_of
from oaken.sketch.weighed import Weighed, weighed
from oaken.timeline.in_slots import own_seconds

LOOKED_AT = 10
"""Doses whose figures are computed where figures are wanted."""

MOST_BREATH = 0.5
"""As much for the breath where more is to be asked of the body, if the aim asks for it at all."""

MISSED = 4.0
"""A figure that is missed by what counts as near weighs so much against a class."""

FOLLOW_THE_DEMAND = frozenset(("heart_mean", "vigorous_or_more", "impulse", "zone_sum", "session_effort", "energy"))
"""Figures that rise where more is asked of the body."""

MENDS = 3

USUAL_STRAIN = 4.0
"""A dose as far as this from the usual is still a good one: no other shape is looked at."""

WALK_S = 7.0
"""Seconds from one exercise of a group to the next (common practice, no source)."""


class Hit(BaseModel):
    """A figure that was wanted, what the sketch comes to, and whether that is where it was wanted."""

    wanted: str
    value: float
    unit: str
    there: bool


class Sketch(BaseModel):
    """A class to be taken or left: its kind in words and why, the plan, figures, why each exercise is there, what was
    given up for it, and how much it shares with the others."""

    name: str
    manner: SketchManner
    character: Character
    why: str
    plan: ClassPlan
    figures: Weighed
    hits: list[Hit]
    reasons: list[Reason]
    given_up: list[str]
    exercises: list[str]


class Sketching(BaseModel):
    """What came of it: a sketch, or None where none can be had, and what stands in the way in words."""

    sketch: Sketch | None
    in_the_way: list[str]


def sketch(sought: Sought, file: ClassFile, number: int = 0, unlike: Sequence[Collection[str]] = ()) -> Sketching:
    """The sketch with this number (each has another kind); `unlike` are the exercises of those it is to differ from.

    `file` is a class of the same room and people; its own blocks do not matter. Raises FaultyInput where something is
    named that there is not, or where what is wanted contradicts itself.
    """
    known = file.catalogue()
    check_sought(sought, file)
    pool = Pool(sought, file.room_today, file.participants, known)
    return _Sketcher(sought, file, pool, number, list(unlike)).run()


def check_sought(sought: Sought, file: ClassFile) -> None:
    """Raise FaultyInput where something is named that there is not, or contradicts itself."""
    known, fault = file.catalogue(), faults_in("what is sought")
    found = [
        fault(f"{field}.{at}", f"there is no {what} {name!r}", "an id from the catalogue")
        for field, what, names, there in (
            ("pinned", "exercise", sought.pinned, known.exercises),
            ("accents", "muscle", sought.accents, known.muscles),
            ("leave_out.exercises", "exercise", sought.leave_out.exercises, known.exercises),
            ("leave_out.patterns", "movement", sought.leave_out.patterns, known.patterns),
            ("leave_out.equipment", "equipment", sought.leave_out.equipment, known.equipment),
        )
        for at, name in enumerate(names)
        if name not in there
    ]
    found += [
        fault(f"pinned.{at}", f"{name!r} is to be there and to be left out", "one of the two")
        for at, name in enumerate(sought.pinned)
        if name in sought.leave_out.exercises
    ]
    people = {one.id for one in file.participants}
    for at, one in enumerate(sought.wanted):
        if one.person is not None and one.person not in people:
            found.append(fault(f"wanted.{at}.person", f"{one.person!r} is not in this class", "somebody of the class"))
        if one.muscle is not None and one.muscle not in known.muscles:
            found.append(fault(f"wanted.{at}.muscle", f"{one.muscle!r} is no muscle", ", ".join(sorted(known.muscles))))
    found += contradictions(sought.wanted)
    if found:
        raise FaultyInput(found)


class _Made(NamedTuple):
    """A class that was made: fitted, from these parts with these choices."""

    fitted: Fitted
    parts: list[Part]
    chosen: list[Chosen]


@dataclass
class _Sketcher:
    sought: Sought
    file: ClassFile
    pool: Pool
    number: int
    unlike: list[Collection[str]]
    push: float = 0.0
    _known: dict[str, list[float | None]] = field(default_factory=dict)

    @property
    def seed(self) -> int:
        return self.sought.seed * 101 + self.number

    @property
    def kind(self) -> tuple[SketchManner, Character]:
        kinds = choosing().kinds
        manner, character = kinds[self.number % len(kinds)]
        return self.sought.manner or manner, character

    def run(self) -> Sketching:
        blocked = self._in_the_way()
        found = self._best()
        if found is None:
            return Sketching(sketch=None, in_the_way=[*blocked, self._too_few()])
        if found.fitted.spare_s < 0:
            takes = ceil((self.sought.slot_min * 60 - found.fitted.spare_s) / 60)
            blocked.append(
                f"{self.sought.slot_min} min are too short for warm-up, work and cool-down: what is shown is the "
                f"nearest, and takes {takes} min"
            )
        return Sketching(sketch=self._described(found), in_the_way=blocked)

    def _in_the_way(self) -> list[str]:
        sought, pool = self.sought, self.pool
        found = []
        for name in sought.pinned:
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

    def _best(self) -> _Made | None:
        """The class of this kind whose figures are nearest to what is wanted: the usual one and, where figures that
        follow the body's demand are missed, ones that ask more or less of it."""
        found = self._of_all_shapes()
        if found is None or not self.sought.wanted:
            return found
        missed = self._missed(found)
        direction = self._direction(found)
        for push in choosing().pushes if direction else ():
            self.push = direction * push
            other = self._of_all_shapes()
            if other is None or other.fitted.spare_s < 0:
                continue
            if (harm := self._missed(other)) < missed:
                found, missed = other, harm
            if self._direction(other) != direction:
                break
        return found

    def _of_all_shapes(self) -> _Made | None:
        """The best class of all shapes of this kind: one that fits ends the search."""
        best: tuple[tuple[float, float, float], _Made] | None = None
        for parts, chosen in self._shapes():
            fitter = Fitter(self.file, Frame.usual(self.pool), parts, Dose.usual(self.pool))
            made = fitter.rotated(self._picked(fitter))
            rank = (max(0.0, -made.spare_s), max(0.0, -made.left_s), made.strain)
            if best is None or rank < best[0]:
                best = rank, _Made(made, parts, chosen)
            if made.left_s >= 0 and made.strain < USUAL_STRAIN:
                break
        return None if best is None else best[1]

    def _picked(self, fitter: Fitter) -> Fitted:
        """Of the doses that fit, the one whose figures are nearest to what is wanted."""
        candidates = fitter.candidates(every=bool(self.sought.wanted))
        if not self.sought.wanted:
            return candidates[0]
        fitting = [one for one in candidates if one.left_s >= 0][:LOOKED_AT] or candidates[:1]
        return min(fitting, key=lambda one: one.strain + self._misses(one))

    def _missed(self, made: _Made) -> float:
        return made.fitted.strain + self._misses(made.fitted)

    def _misses(self, one: Fitted) -> float:
        """How far the figures that are wanted are missed."""
        values = self._values(one)
        return MISSED * sum(
            min(20.0, aimed.miss(value) / max(aimed.near, 1e-9))
            for aimed, value in zip(self.sought.wanted, values, strict=True)
            if value is not None
        )

    def _values(self, one: Fitted) -> list[float | None]:
        says = one.plan.model_dump_json()
        if says not in self._known:
            plan = settled(one.plan, self.file.catalogue())
            seen = Seen(self.file.model_copy(update={"plan": plan}))
            self._known[says] = [seen.value(aimed) for aimed in self.sought.wanted]
        return self._known[says]

    def _direction(self, made: _Made) -> int:
        """Whether more (1) or less (-1) is to be asked of the body; 0 where nothing that follows it is missed."""
        for aimed, value in zip(self.sought.wanted, self._values(made.fitted), strict=True):
            if aimed.figure in FOLLOW_THE_DEMAND and value is not None and aimed.miss(value) > 0:
                return 1 if value < aimed.value else -1
        return 0

    # -- shapes ---------------------------------------------------------------------------------------------------

    def _main_s(self) -> float:
        """Seconds that the usual warm-up, cool-down and ways between leave of the slot."""
        frame = Frame.usual(self.pool)
        beside = [frame.warm_up(), frame.cool_down()]
        known = self.file.catalogue()
        seconds = sum(own_seconds(block, known) for block in beside) + sum(block.move_on_s for block in beside) + 60
        return max(120.0, self.sought.slot_min * 60 - seconds)

    def _shapes(self) -> Iterator[tuple[list[Part], list[Chosen]]]:
        manner, _ = self.kind
        main_s = self._main_s()
        if manner == "mixed":
            share = choosing().mixed_share
            for part, chosen in self._groups("pairs", main_s * share, ()):
                taken = [one.exercise.id for one in chosen.choices]
                for other, also in self._stations(main_s * (1 - share), taken, partners=False):
                    yield [part, other], [chosen, also]
                    break
        elif manner in ("stations", "partners"):
            for part, chosen in self._stations(main_s, (), partners=manner == "partners"):
                yield [part], [chosen]
        else:
            for part, chosen in self._groups(manner, main_s, ()):
                yield [part], [chosen]

    def _needs(self, count: int, taken: Collection[str], **more: object) -> Needs:
        low, high = choosing().breath.share[self.sought.aim]
        pinned = [name for name in self.sought.pinned if name in self.pool.choices and name not in taken][:count]
        return Needs(
            count=count,
            character=self.kind[1],
            target=target_of(self.sought, self.file.catalogue()),
            breath=(int(low * count), ceil(max(high, MOST_BREATH if self.push > 0 and high else 0) * count)),
            unlike=self.unlike,
            taken=taken,
            pinned=pinned,
            seed=self.seed,
            push=self.push + (0.0 if self.sought.hard_before is None else choosing().push_after_hard),
            **more,  # type: ignore[arg-type]
        )

    def _stations(self, main_s: float, taken: Collection[str], *, partners: bool) -> Iterator[tuple[Part, Chosen]]:
        rules, usual = choosing(), Dose.usual(self.pool)
        each = 2 if partners else 1
        works = tuple(rules.partners.work_s) if partners else ()
        turn_s = (works[0] if works else usual.work_s) + (rules.partners.change_s if partners else usual.change_s)
        free = len([name for name in self.pool.choices if name not in taken])
        counts = [
            min(rules.stations.most, free, max(rules.stations.least, round(main_s / (rounds * turn_s))))
            for rounds in rules.stations.rounds
        ]
        pairs = self.pool.crowd / each
        kept = sum(name in self.pool.choices and name not in taken for name in self.sought.pinned)
        counts = [max(count, kept) for count in counts if count > 1]
        for count in [*dict.fromkeys(counts), *range(min(rules.stations.least, free), 1, -1)]:
            for abreast in range(ceil(pairs / count), 0, -1):
                found = choose(self.pool, self._needs(count, taken, abreast=abreast))
                if found is not None:
                    order = in_a_circle(found.choices, self.pool.room, self.seed)
                    needed = change_needed(order, self.pool)
                    change = max(rules.partners.change_s if partners else usual.change_s, needed)
                    yield (
                        Part(
                            lambda dose, order=order: stations(order, dose, self.pool),  # type: ignore[misc]
                            order, True, change, rules.partners.turn_s if partners else None, works,
                        ),
                        found,
                    )  # fmt: skip
                    break

    def _groups(self, manner: SketchManner, main_s: float, taken: Collection[str]) -> Iterator[tuple[Part, Chosen]]:
        rules, usual = choosing(), Dose.usual(self.pool)
        size, most = rules.groups[manner]
        turns = {name: self._turn_s(choice, usual) for name, choice in self.pool.choices.items()}
        middle = sorted(turns.values())[len(turns) // 2] if turns else 60.0
        group_s = usual.sets * (usual.rest_s + size * WALK_S) + size * middle
        free = len([name for name in self.pool.choices if name not in taken])
        count = min(most, max(1, round(main_s / group_s)), free // size)
        kept = sum(name in self.pool.choices for name in self.sought.pinned)
        least = 1 if manner == "pairs" and taken else -(-kept // size)
        numbers = [one for one in (count, count - 1, count + 1, 1) if max(1, least) <= one <= max(1, most, least)]
        for number in numbers or [max(1, least)]:
            for used in rules.used:
                needs = self._needs(
                    number * size, taken, turn_s=turns, time_s=main_s, used=used, tension=self._tension(usual),
                    arriving=self.pool.crowd / number * (1 if size == 1 else 0.75),
                )  # fmt: skip
                found = choose(self.pool, needs)
                if found is not None:
                    shared = in_groups(found.choices, size, self.pool.room)
                    yield (
                        Part(
                            lambda dose, shared=shared: groups(shared, dose, self.pool),  # type: ignore[misc]
                            [one for group in shared for one in group], False, usual.change_s,
                        ),
                        found,
                    )  # fmt: skip
                    break

    def _turn_s(self, choice: Choice, usual: Dose) -> float:
        """Seconds that one person's sets of an exercise take its place."""
        exercise = choice.exercise
        kind = self.file.catalogue().equipment[exercise.equipment]
        load_change_s = kind.load_change_s if exercise.takes_load else 0.0
        return usual.sets * (self._work_s(exercise, usual) + kind.set_up_s + load_change_s)

    def _work_s(self, exercise: Exercise, usual: Dose) -> float:
        """Seconds of a set: the sides one after the other."""
        own_time = set_seconds(exercise)
        work = usual.reps * exercise.tempo.rep_s if own_time is None else float(own_time)
        return work * (2 if exercise.one_sided and not exercise.alternates else 1)

    def _tension(self, usual: Dose) -> dict[str, int]:
        """Tension of a set of each exercise, in tenths of a usual one."""
        works = {name: self._work_s(one.exercise, usual) for name, one in self.pool.choices.items()}
        return {name: max(1, round(USUAL * work / (3.0 * usual.reps))) for name, work in works.items()}

    # -- what is told ---------------------------------------------------------------------------------------------

    def _described(self, made: _Made) -> Sketch:
        plan, told, made = self._mended(made)
        parts, chosen = made.parts, made.chosen
        file = self.file.model_copy(update={"plan": plan})
        manner, character = self.kind
        rule = choosing().characters[character]
        target = target_of(self.sought, self.file.catalogue())
        figures = weighed(file, told, target)
        exercises = [one.exercise.id for part in parts for one in part.chosen]
        return Sketch(
            name=f"{manner[0].upper()}{manner[1:]}, {rule.name}",
            manner=manner,
            character=character,
            why=rule.why,
            plan=plan,
            figures=figures,
            hits=[self._hit(one, told, file) for one in self.sought.wanted],
            reasons=reasons_of(plan, parts, self.pool, target, figures),
            given_up=self._given_up(chosen, figures, exercises),
            exercises=exercises,
        )

    def _mended(self, made: _Made) -> tuple[ClassPlan, Forecast, _Made]:
        """The plan and its forecast, fitted anew where changes are too short to walk and set up."""
        for _ in range(MENDS):
            plan = settled(made.fitted.plan, self.file.catalogue())
            told = forecast(self.file.model_copy(update={"plan": plan}))
            fixes = [one.fix.change for one in told.cautions if one.fix is not None]
            needed = max((fix.change_s for fix in fixes if isinstance(fix, SetChange)), default=0)
            short = [one for one in made.parts if one.on_clock and one.change_s < needed]
            if not short:
                break
            parts = [one._replace(change_s=needed) if one in short else one for one in made.parts]
            fitter = Fitter(self.file, Frame.usual(self.pool), parts, Dose.usual(self.pool))
            made = made._replace(fitted=fitter.rotated(self._picked(fitter)), parts=parts)
        return plan, told, made

    def _hit(self, aimed: Aimed, told: Forecast, file: ClassFile) -> Hit:
        value = value_in(told, aimed, file)
        return Hit(
            wanted=aimed.words,
            value=round(value or 0.0, 2),
            unit=FIGURES[aimed.figure].unit,
            there=value is not None and aimed.miss(value) == 0,
        )

    def _given_up(self, chosen: Sequence[Chosen], figures: Weighed, exercises: Sequence[str]) -> list[str]:
        rules = choosing()
        found = []
        if self.sought.hard_before is not None:
            days = counted(round(self.sought.hard_before), "day")
            found.append(f"eased, because a hard class lies only {days} before: hard days are kept apart")
        if any(one.loosened >= 1 for one in chosen) and self.unlike:
            shared = max((len(set(exercises) & set(other)) for other in self.unlike), default=0)
            if shared > rules.most_shared * len(exercises):
                found.append(
                    f"shares {shared} of its {len(exercises)} exercises with another sketch: the room has no more"
                )
        if any(one.loosened >= 2 for one in chosen):
            found.append(f"{LOOSENED[2]} was not held to: the room has too little else")
        if figures.idle_share > rules.most_idle:
            found.append(
                f"people stand idle {100 * figures.idle_share:.0f} % of the main part (at most "
                f"{100 * rules.most_idle:.0f} % are sought): there are fewer places than people"
            )
        return found


def best_for(muscle: str, sought: Sought, file: ClassFile, without: Collection[str]) -> Choice | None:
    """An exercise for a muscle that these people can do in this room; None where there is none."""
    return best_of(Pool(sought, file.room_today, file.participants, file.catalogue()), muscle, without)
