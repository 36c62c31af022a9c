import type { Room } from "../api/client";
import { footprintOf, sizeOf, type Standing } from "../drawing/floorModel";

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
  for (const one of standings) {
    if (one.state === "walks") {
      const [from, to] = [at(one.from), at(one.unit)];
      const start = from ?? to;
      const end = to ?? from;
      if (!start || !end) floor.push(one);
      else {
        found.push({
          ...one,
          x: start.x_m + (end.x_m - start.x_m) * one.way,
          y: start.y_m + 0.6 + (end.y_m - start.y_m) * one.way,
        });
      }
    } else if (!at(one.unit)) floor.push(one);
    else {
      const group = one.state === "waits" ? before : onUnit;
      group.set(one.unit, [...(group.get(one.unit) ?? []), one]);
    }
  }
  const inRows = (people: Standing[], x: number, y: number, wide: number) => {
    const row = Math.max(1, Math.floor(wide / 0.64));
    people.forEach((one, index) => {
      const inRow = Math.min(row, people.length - Math.floor(index / row) * row);
      const column = index % row;
      found.push({
        ...one,
        x: clamp(x + (column - (inRow - 1) / 2) * 0.64, 0.35, width - 0.35),
        y: clamp(y + Math.floor(index / row) * 0.62, 0.35, depth - 0.35),
      });
    });
  };
  for (const [unit, people] of onUnit) {
    const size = footprintOf(at(unit)!, kinds);
    const works = people.filter((one) => one.state === "works" || one.state === "sets up");
    const rests = people.filter((one) => !works.includes(one));
    inRows(works, at(unit)!.x_m, at(unit)!.y_m + Math.max(0.15, size.depth / 2 - 0.36), Math.max(size.width, 0.7));
    inRows(rests, at(unit)!.x_m, at(unit)!.y_m + size.depth / 2 + 0.3, Math.max(size.width + 0.5, 1.4));
  }
  for (const [unit, people] of before) {
    const size = footprintOf(at(unit)!, kinds);
    const resting = (onUnit.get(unit) ?? []).some((one) => one.state === "rests" || one.state === "is done");
    inRows(
      people,
      at(unit)!.x_m,
      at(unit)!.y_m + size.depth / 2 + (resting ? 0.92 : 0.36),
      Math.max(size.width + 0.5, 1.4),
    );
  }
  const free = room.units.find((unit) => unit.kind === "none");
  inRows(floor, free?.x_m ?? width / 2, free?.y_m ?? depth / 2, free?.width_m ?? Math.min(width - 1, 6));
  return found;
}

function clamp(value: number, low: number, high: number): number {
  return Math.min(Math.max(value, low), high);
}
