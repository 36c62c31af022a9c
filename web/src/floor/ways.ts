import type { Forecast, Room } from "../api/client";
import type { Stretch } from "../drawing/floorModel";
import { entryAt } from "../basis/entries";

/** The letter of a group, as in a notebook; stations on the clock have numbers. */
export function lettersOf(forecast: Forecast): Map<string, string> {
  const found = new Map<string, string>();
  const counts = new Map<number, number>();
  for (const slot of forecast.slots) {
    if (slot.stands_for >= 0) continue;
    if (slot.group >= 0) found.set(`${slot.block}-${slot.group}`, String.fromCharCode(65 + slot.group));
    else if (entryAt(forecast.blocks, slot.block).kind === "circuit") {
      const number = (counts.get(slot.block) ?? 0) + 1;
      counts.set(slot.block, number);
      found.set(`${slot.block}-${slot.id}`, String(number));
    }
  }
  return found;
}

export type Run = { key: string; start: number; end: number };

/** Where somebody stays with one group of exercises, from its first set to its last. */
export function runsOf(stretches: Stretch[], forecast: Forecast): Run[] {
  const runs: Run[] = [];
  for (const stretch of stretches) {
    if (stretch.kind !== "visit" || stretch.slot < 0) continue;
    const slot = entryAt(forecast.slots, stretch.slot);
    const key = slot.group >= 0 ? `${slot.block}-${slot.group}` : `${slot.block}-${slot.id}`;
    const last = runs.at(-1);
    if (last?.key === key) last.end = stretch.end;
    else runs.push({ key, start: stretch.start, end: stretch.end });
  }
  return runs;
}

/** Where somebody goes, in words. */
export function describeWay(stretches: Stretch[], forecast: Forecast): string {
  const names = stretches
    .filter((stretch) => stretch.kind === "visit" && stretch.slot >= 0)
    .map((stretch) => entryAt(forecast.slots, stretch.slot).name.toLowerCase());
  return names.filter((name, index) => name !== names[index - 1]).join(", ");
}

export type Stop = {
  start: number;
  end: number;
  letter: string;
  what: string;
  where: string;
  waits: number;
  sets: number;
};

/** The stops of somebody's way: one a group or station, with what was waited before and in it. */
export function stopsOf(stretches: Stretch[], forecast: Forecast, room: Room, letters: Map<string, string>): Stop[] {
  const stops: (Stop & { key: string })[] = [];
  let waited = 0;
  for (const stretch of stretches) {
    if (stretch.kind === "wait") waited += stretch.end - stretch.start;
    if (stretch.kind === "breather") {
      stops.push({
        key: "breather",
        start: stretch.start,
        end: stretch.end,
        letter: "",
        what: "breather",
        where: "",
        waits: 0,
        sets: 0,
      });
    }
    if (stretch.kind !== "visit" || stretch.slot < 0) continue;
    const slot = entryAt(forecast.slots, stretch.slot);
    const key = slot.group >= 0 ? `${slot.block}-${slot.group}` : `${slot.block}-${slot.id}`;
    const last = stops.at(-1);
    if (last?.key === key) {
      last.end = stretch.end;
      last.waits += waited;
      if (!last.what.includes(slot.name)) last.what += ` + ${slot.name}`;
    } else {
      const where = stretch.unit >= 0 ? (room.units[stretch.unit]?.name ?? "") : "";
      stops.push({
        key,
        start: stretch.start,
        end: stretch.end,
        letter: letters.get(key) ?? "",
        what: slot.name,
        where: where === slot.name ? "" : where,
        waits: waited,
        sets: 0,
      });
    }
    waited = 0;
  }
  return stops;
}
