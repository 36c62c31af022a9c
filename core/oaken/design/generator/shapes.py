"""The shapes that a class of one manner may have: how many stations or groups, and the exercises chosen for them."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass, replace
from math import ceil

from oaken.design.generator.arranged import in_a_circle, in_groups
from oaken.design.generator.choose import USUAL, Chosen, Needs, choose
from oaken.design.generator.composed import Dose, Frame, change_needed, groups, reps_of, set_seconds, stations
from oaken.design.generator.fitted import FittedPart
from oaken.design.generator.pool import Choice, Pool
from oaken.design.generator.request import Character, ClassFormat, Variant, choosing, target_of
from oaken.design.generator.sharing import places_with_alike, shared_over_alike
from oaken.domain.catalogue import Exercise
from oaken.schedule.timeline.in_slots import own_seconds

WALK_S = 7.0
"""Seconds from one exercise of a group to the next (common practice, no source)."""

MOST_BREATH = 0.5
"""As much for the breath where more is to be asked of the body, if the aim asks for it at all."""


@dataclass(frozen=True)
class Shapes:
    """What the shapes of one class depend on: what can be done here, its manner and leaning, what it is to differ
    from, and whether more (above 0) or less is to be asked of the body."""

    pool: Pool
    manner: ClassFormat
    character: Character
    unlike: Sequence[Collection[str]]
    seed: int
    push: float
    variant: Variant | None = None

    def _main_s(self) -> float:
        """Seconds that the usual warm-up, cool-down and ways between leave of the slot."""
        frame = Frame.usual(self.pool)
        beside = [frame.warm_up(), frame.cool_down()]
        known = self.pool.known
        seconds = sum(own_seconds(block, known) for block in beside) + sum(block.move_on_s for block in beside) + 60
        return max(120.0, self.pool.class_request.slot_min * 60 - seconds)

    def tried(self) -> Iterator[tuple[list[FittedPart], list[Chosen]]]:
        """Every shape, the likeliest first: its parts, and what was chosen for each."""
        manner = self.manner
        main_s = self._main_s()
        if manner == "mixed":
            share = choosing().mixed_share
            for part, chosen in self._groups("pairs", main_s * share, ()):
                taken = [choice.exercise.id for choice in chosen.choices]
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
        low, high = choosing().breath.share[self.pool.class_request.aim]
        pinned = [name for name in self.pool.class_request.pinned if name in self.pool.choices and name not in taken][
            :count
        ]
        return Needs(
            count=count,
            character=self.character,
            target=target_of(self.pool.class_request, self.pool.known),
            breath=(int(low * count), ceil(max(high, MOST_BREATH if self.push > 0 and high else 0) * count)),
            unlike=self.unlike,
            taken=taken,
            pinned=pinned,
            seed=self.seed,
            push=self.push + (0.0 if self.pool.class_request.hard_before is None else choosing().push_after_hard),
            **more,  # type: ignore[arg-type]
        )

    def _stations(
        self, main_s: float, taken: Collection[str], *, partners: bool
    ) -> Iterator[tuple[FittedPart, Chosen]]:
        rules, usual = choosing(), Dose.usual(self.pool, self.variant)
        each = 2 if partners else 1
        works = tuple(rules.partners.work_s) if partners else ()
        turn_s = (works[0] if works else usual.work_s) + (rules.partners.change_s if partners else usual.change_s)
        free = len([name for name in self.pool.choices if name not in taken])
        counts = [
            min(rules.stations.most, free, max(rules.stations.least, round(main_s / (rounds * turn_s))))
            for rounds in rules.stations.rounds
        ]
        pairs = self.pool.crowd / each
        kept = sum(name in self.pool.choices and name not in taken for name in self.pool.class_request.pinned)
        counts = [max(count, kept) for count in counts if count > 1]
        for count in [*dict.fromkeys(counts), *range(min(rules.stations.least, free), 1, -1)]:
            for abreast in range(ceil(pairs / count), 0, -1):
                found = choose(self.pool, self._needs(count, taken, abreast=abreast))
                if found is not None:
                    order = in_a_circle(found.choices, self.pool.room, self.seed)
                    needed = change_needed(order, self.pool)
                    change = max(rules.partners.change_s if partners else usual.change_s, needed)
                    yield (
                        FittedPart(
                            lambda dose, order=order: stations(order, dose, self.pool),  # type: ignore[misc]
                            order, True, change, rules.partners.turn_s if partners else None, works,
                        ),
                        found,
                    )  # fmt: skip
                    break

    def _groups(
        self, manner: ClassFormat, main_s: float, taken: Collection[str]
    ) -> Iterator[tuple[FittedPart, Chosen]]:
        rules, usual = choosing(), Dose.usual(self.pool, self.variant)
        size, most = rules.groups[manner]
        turns = {name: self._turn_s(choice, usual) for name, choice in self.pool.choices.items()}
        # some of the people of a machine go to an alike one
        parted = {
            name: turn_s * choice.places / places_with_alike(choice, self.pool)
            for (name, turn_s), choice in zip(turns.items(), self.pool.choices.values(), strict=True)
        }
        middle = sorted(turns.values())[len(turns) // 2] if turns else 60.0
        rest_share = rules.rest_in_groups[manner]
        group_s = usual.sets * (usual.rest_s * rest_share + size * WALK_S) + size * middle
        free = len([name for name in self.pool.choices if name not in taken])
        count = min(most, max(1, round(main_s / group_s)), free // size)
        kept = sum(name in self.pool.choices for name in self.pool.class_request.pinned)
        least = 1 if manner == "pairs" and taken else -(-kept // size)
        numbers = [item for item in (count, count - 1, count + 1) if max(1, least) <= item <= max(1, most, least)]
        for number in numbers or [max(1, least)]:
            needs = self._needs(
                number * size, taken, turn_s=parted, time_s=main_s, tension=self._tension(usual),
                heads=number if size > 1 else 0,
            )  # fmt: skip
            for found in self._more_and_less_used(needs):
                alone = in_groups(found.choices, size, self.pool.room)
                shared = shared_over_alike(alone, self.pool, turns, main_s)
                yield (
                    FittedPart(
                        lambda dose, shared=shared: groups(shared, dose, self.pool),  # type: ignore[misc]
                        [item for group in shared for item in group], False, usual.change_s,
                        rest_share=rest_share,
                    ),
                    found,
                )  # fmt: skip

    def _more_and_less_used(self, needs: Needs) -> Iterator[Chosen]:
        """Choices that leave more and less time at their places: how long people wait is known once it is laid out."""
        known: list[set[str]] = []
        for used in choosing().used:
            found = choose(self.pool, replace(needs, used=used))
            if found is None:
                continue
            names = {choice.exercise.id for choice in found.choices}
            if names not in known:
                known.append(names)
                yield found

    def _turn_s(self, choice: Choice, usual: Dose) -> float:
        """Seconds that one person's sets of an exercise take its place."""
        exercise = choice.exercise
        kind = self.pool.known.equipment[exercise.equipment]
        load_change_s = kind.load_change_s if exercise.takes_load else 0.0
        return usual.sets * (self._work_s(exercise, usual) + kind.set_up_s + load_change_s)

    def _work_s(self, exercise: Exercise, usual: Dose) -> float:
        """Seconds of a set: the sides one after the other."""
        own_time = set_seconds(exercise)
        work = reps_of(exercise, usual, self.pool) * exercise.tempo.rep_s if own_time is None else float(own_time)
        return work * (2 if exercise.one_sided and not exercise.alternates else 1)

    def _tension(self, usual: Dose) -> dict[str, int]:
        """Tension of a set of each exercise, in tenths of a usual one."""
        works = {name: self._work_s(choice.exercise, usual) for name, choice in self.pool.choices.items()}
        return {name: max(1, round(USUAL * work / (3.0 * usual.reps))) for name, work in works.items()}
