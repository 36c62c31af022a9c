"""A first room from a short list of what stands there: machines along the walls, the middle free, small things in a row
at the end. To be dragged to where they really stand. Common practice, no source."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from functools import cache
from typing import Annotated, Literal, NamedTuple

from pydantic import BaseModel, ConfigDict, Field

from oaken.basis.data_files import shipped_text
from oaken.basis.faults import FaultyInput, faults_in
from oaken.basis.names import ThingName
from oaken.domain.catalogue import Catalogue, EquipmentKind
from oaken.domain.room import Hardware, Implements, Plates, Room, Stack, Unit
from oaken.domain.room.hardware import Implement, PlatePair

Turn = Literal[0, 90]


class Thing(BaseModel):
    """What may stand in a room: its kind, where it is listed, how many at most; `kept` things are put away together."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    kind: str
    group: str
    most: int
    kept: bool = False


class _Things(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")

    source: str
    things: list[Thing]
    masses_kg: dict[str, list[float]]
    bar_kg: dict[str, float]
    plates_kg: list[float]
    stack_steps: int
    between_m: float
    aisle_m: float
    wall_m: float


@cache
def _rules() -> _Things:
    return _Things.model_validate_json(shipped_text("oaken.design.first_class", "things.json"))


def things() -> list[Thing]:
    """The short list."""
    return _rules().things


class FirstRoom(BaseModel):
    """A room as it is told first: how large, and how many of what stands there."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    name: ThingName
    width_m: Annotated[float, Field(ge=3, le=60, allow_inf_nan=False)]
    depth_m: Annotated[float, Field(ge=3, le=60, allow_inf_nan=False)]
    counts: Annotated[
        dict[Annotated[str, Field(max_length=60)], Annotated[int, Field(ge=0, le=40)]], Field(max_length=60)
    ]


class FreeSpot(NamedTuple):
    """Where something stands: its middle, and whether it is turned along the side wall."""

    x_m: float
    y_m: float
    turned: Turn


def first_room(told: FirstRoom, key: str, known: Catalogue) -> Room:
    """The room with everything in its place. Raises FaultyInput where a kind is not on the list, there is more of it
    than the list allows, or the floor cannot hold it all."""
    listed = {thing.kind: thing for thing in things()}
    fault = faults_in("the room")
    found = [
        fault(f"counts.{kind}", f"{kind!r} is not on the list", "a kind from the list; others are added in the room")
        for kind in told.counts
        if kind not in listed or kind not in known.equipment
    ]
    found += [
        fault(f"counts.{kind}", f"{count} of them", f"at most {listed[kind].most}")
        for kind, count in told.counts.items()
        if kind in listed and count > listed[kind].most
    ]
    if found:
        raise FaultyInput(found)
    chosen = [(thing, told.counts.get(thing.kind, 0)) for thing in things() if told.counts.get(thing.kind, 0)]
    placing = _Placing(told.width_m, told.depth_m)
    units: list[Unit] = []
    numbers: Counter[str] = Counter()
    for thing, count in chosen:
        kind = known.equipment[thing.kind]
        for _ in range(1 if thing.kept else count):
            spot = placing.next(kind)
            if spot is None:
                need = sum(
                    known.equipment[item.kind].width_m * known.equipment[item.kind].depth_m * (1 if item.kept else many)
                    for item, many in chosen
                )
                message = (
                    f"{told.width_m:g} × {told.depth_m:g} m are too small: what stands there takes {need:.0f} m² alone"
                )
                raise FaultyInput([fault("width_m", message, "a larger room, or fewer things")])
            numbers[thing.kind] += 1
            several = not thing.kept and count > 1
            number = numbers[thing.kind]
            units.append(
                Unit(
                    id=f"{thing.kind}-{number}",
                    kind=thing.kind,
                    name=f"{kind.name} {number}" if several else kind.name,
                    count=count if thing.kept else 1,
                    x_m=round(spot.x_m, 2),
                    y_m=round(spot.y_m, 2),
                    turned=spot.turned,
                    hardware=_hardware(kind, count),
                )
            )
    return Room(id=key, name=told.name, width_m=told.width_m, depth_m=told.depth_m, units=units)


def _hardware(kind: EquipmentKind, count: int) -> Hardware | None:
    """What a unit of a kind usually holds."""
    rules = _rules()
    if kind.holds == "stack":
        step = kind.step_kg or 5.0
        return Stack(steps_kg=tuple(step * number for number in range(1, rules.stack_steps + 1)))
    if kind.holds in ("plates", "bar"):
        plates = tuple(PlatePair(kg=kg, pairs=2) for kg in rules.plates_kg)
        return Plates(bar_kg=rules.bar_kg[kind.holds], plates=plates)
    if kind.holds in rules.masses_kg:
        masses = rules.masses_kg[kind.holds]
        each = Counter(masses[at % len(masses)] for at in range(count))
        in_hand = 2 if kind.holds == "dumbbells" else 1
        return Implements(in_hand=in_hand, by_mass=tuple(Implement(kg=kg, count=each[kg]) for kg in sorted(each)))
    return None


class _Placing:
    """Free places: round the walls first, then rows in the middle, never one on another."""

    def __init__(self, width_m: float, depth_m: float) -> None:
        self.width, self.depth = width_m, depth_m
        self.taken: list[tuple[float, float, float, float]] = []

    def next(self, kind: EquipmentKind) -> FreeSpot | None:
        """The next place for one of a kind; None where there is none."""
        for spot in self._spots(kind):
            wide, deep = (kind.depth_m, kind.width_m) if spot.turned else (kind.width_m, kind.depth_m)
            box = (spot.x_m - wide / 2, spot.y_m - deep / 2, spot.x_m + wide / 2, spot.y_m + deep / 2)
            if self._is_free(box):
                self.taken.append(box)
                return spot
        return None

    def _is_free(self, box: tuple[float, float, float, float]) -> bool:
        left, top, right, bottom = box
        if left < -1e-9 or top < -1e-9 or right > self.width + 1e-9 or bottom > self.depth + 1e-9:
            return False
        gap = _rules().between_m - 1e-9
        return all(
            left - gap >= other[2] or right + gap <= other[0] or top - gap >= other[3] or bottom + gap <= other[1]
            for other in self.taken
        )

    def _spots(self, kind: EquipmentKind) -> Iterator[FreeSpot]:
        rules, step = _rules(), 0.1
        wide, deep, wall = kind.width_m, kind.depth_m, rules.wall_m
        across = [wall + wide / 2 + step * at for at in range(int(max(0.0, self.width - wide - 2 * wall) / step) + 1)]
        along = [wall + wide / 2 + step * at for at in range(int(max(0.0, self.depth - wide - 2 * wall) / step) + 1)]
        yield from (FreeSpot(x, wall + deep / 2, 0) for x in across)
        yield from (FreeSpot(self.width - wall - deep / 2, y, 90) for y in along)
        yield from (FreeSpot(x, self.depth - wall - deep / 2, 0) for x in reversed(across))
        yield from (FreeSpot(wall + deep / 2, y, 90) for y in reversed(along))
        y = wall + deep / 2 + rules.aisle_m
        while y + deep / 2 <= self.depth:
            yield from (FreeSpot(x, y, 0) for x in across)
            y += 2 * step
