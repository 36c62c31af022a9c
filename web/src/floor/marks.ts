import type { Room } from "../api/client";
import { footprintOf, sizeOf, type Standing } from "../drawing/floorModel";
import { present } from "../basis/entries";

export type Kinds = Map<string, { width_m: number; depth_m: number }>;
/** Somebody at their place on the plan, in metres. */
export type Mark = Standing & { x: number; y: number };

/** Where everybody is drawn: on their unit, in a row before it while they wait, between two while they walk. */
export function placed(room: Room, kinds: Kinds, standings: Standing[]): Mark[] {
  const { width, depth } = sizeOf(room);
  const at = (unit: number) => room.units[unit];
  const onUnit = new Map<number, Standing[]>();
  const before = new Map<number, Standing[]>();
  const floor: Standing[] = [];
  const found: Mark[] = [];
  for (const standing of standings) {
    if (standing.state === "walks") {
      const [from, to] = [at(standing.from), at(standing.unit)];
      const start = from ?? to;
      const end = to ?? from;
      if (!start || !end) floor.push(standing);
      else {
        found.push({
          ...standing,
          x: start.x_m + (end.x_m - start.x_m) * standing.way,
          y: start.y_m + 0.6 + (end.y_m - start.y_m) * standing.way,
        });
      }
    } else if (!at(standing.unit)) floor.push(standing);
    else {
      const group = standing.state === "waits" ? before : onUnit;
      group.set(standing.unit, [...(group.get(standing.unit) ?? []), standing]);
    }
  }
  const inRows = (people: Standing[], x: number, y: number, wide: number) => {
    const row = Math.max(1, Math.floor(wide / 0.64));
    people.forEach((person, index) => {
      const inRow = Math.min(row, people.length - Math.floor(index / row) * row);
      const column = index % row;
      found.push({
        ...person,
        x: clamp(x + (column - (inRow - 1) / 2) * 0.64, 0.35, width - 0.35),
        y: clamp(y + Math.floor(index / row) * 0.62, 0.35, depth - 0.35),
      });
    });
  };
  for (const [id, people] of onUnit) {
    const unit = present(at(id), "The unit");
    const size = footprintOf(unit, kinds);
    const works = people.filter((person) => person.state === "works" || person.state === "sets up");
    const rests = people.filter((person) => !works.includes(person));
    inRows(works, unit.x_m, unit.y_m + Math.max(0.15, size.depth / 2 - 0.36), Math.max(size.width, 0.7));
    inRows(rests, unit.x_m, unit.y_m + size.depth / 2 + 0.3, Math.max(size.width + 0.5, 1.4));
  }
  for (const [id, people] of before) {
    const unit = present(at(id), "The unit");
    const size = footprintOf(unit, kinds);
    const resting = (onUnit.get(id) ?? []).some((item) => item.state === "rests" || item.state === "is done");
    inRows(people, unit.x_m, unit.y_m + size.depth / 2 + (resting ? 0.92 : 0.36), Math.max(size.width + 0.5, 1.4));
  }
  const free = room.units.find((unit) => unit.kind === "none");
  inRows(floor, free?.x_m ?? width / 2, free?.y_m ?? depth / 2, free?.width_m ?? Math.min(width - 1, 6));
  return found;
}

function clamp(value: number, low: number, high: number): number {
  return Math.min(Math.max(value, low), high);
}
