import type { Forecast, PersonForecast, Room, Unit } from "../api/client";
import { DOING, endOf, stepAt } from "./steps";
import { entryAt } from "../basis/entries";

/** A stretch of somebody's way: at one slot (with its rests), on the way, waiting, or without a station. */
export type Stretch = {
  kind: "visit" | "wait" | "walk" | "breather" | "rest";
  start: number;
  end: number;
  /** index of the slot in the forecast, -1 for none */
  slot: number;
  unit: number;
};

/** What somebody does at a second, and where. `from` is the unit they come from while they walk. */
export type Standing = {
  number: number;
  id: string;
  name: string;
  state: "works" | "rests" | "waits" | "walks" | "sets up" | "breather" | "is done";
  slot: number;
  unit: number;
  from: number;
  /** how far the way is done while they walk, 0 to 1 */
  way: number;
  since: number;
  until: number;
};

/** The stretches of one person in the order of time; rests between sets of a slot belong to its visit. */
export function stretchesOf(person: PersonForecast, forecast: Forecast): Stretch[] {
  const { start_s, doing, slot, unit } = person.path;
  const found: Stretch[] = [];
  const add = (kind: Stretch["kind"], start: number, end: number, at: number) => {
    const last = found.at(-1);
    if (last && last.kind === kind && last.slot === slot[at] && (kind !== "visit" || last.unit === unit[at])) {
      if (Math.abs(last.end - start) < 0.2) {
        last.end = end;
        return;
      }
    }
    found.push({ kind, start, end, slot: entryAt(slot, at), unit: entryAt(unit, at) });
  };
  for (let at = 0; at < start_s.length; at += 1) {
    const [start, end] = [entryAt(start_s, at), endOf(person, at, forecast)];
    switch (doing[at]) {
      case DOING.work:
        add("visit", start, end, at);
        break;
      case DOING.wait:
        add("wait", start, end, at);
        break;
      case DOING.breather:
        add("breather", start, end, at);
        break;
      case DOING.change:
        if (isWalk(person, at)) add("walk", start, end, at);
        else add("visit", start, end, at);
        break;
      case DOING.rest:
        add("rest", start, end, at);
        break;
      default:
    }
  }
  return found;
}

/** Whether a change is the way to a unit rather than setting it up: the place before it was another one. */
export function isWalk(person: PersonForecast, at: number): boolean {
  const { doing, unit, slot } = person.path;
  if (doing[at] !== DOING.change) return false;
  if (entryAt(slot, at) < 0) return true;
  const before = at - 1;
  if (before < 0) return false;
  return unit[before] !== unit[at] && doing[before] !== DOING.rest && doing[before] !== DOING.wait;
}

/** Where somebody is and what they do at a second. */
export function standingOf(person: PersonForecast, forecast: Forecast, second: number): Standing {
  const at = stepAt(person, Math.min(second, forecast.length.value - 0.01));
  const { start_s, doing, slot, unit } = person.path;
  const [since, until] = [entryAt(start_s, at), endOf(person, at, forecast)];
  const base = { number: person.number, id: person.id, name: person.name, since, until, from: -1, way: 0 };
  if (isWalk(person, at)) {
    const from = lastUnit(person, at - 1);
    const to = entryAt(unit, at) >= 0 ? at : nextWithUnit(person, at);
    const way = until > since ? (Math.max(second, since) - since) / (until - since) : 1;
    return {
      ...base,
      state: "walks",
      slot: to >= 0 ? entryAt(slot, to) : -1,
      unit: to >= 0 ? entryAt(unit, to) : -1,
      from,
      way: Math.min(1, way),
    };
  }
  const state = (["works", "sets up", "rests", "waits", "is done", "breather"] as const)[entryAt(doing, at)] ?? "rests";
  // who rests stands where they have just worked, unless they have walked on already
  const here = entryAt(unit, at) >= 0 ? entryAt(unit, at) : lastUnit(person, at - 1);
  const together = entryAt(slot, at) >= 0 && entryAt(unit, at) < 0;
  return { ...base, state, slot: entryAt(slot, at), unit: together ? -1 : here };
}

function lastUnit(person: PersonForecast, from: number): number {
  for (let at = from; at >= 0; at -= 1) {
    if (entryAt(person.path.unit, at) >= 0) return entryAt(person.path.unit, at);
    if (person.path.doing[at] === DOING.work) return -1;
  }
  return -1;
}

function nextWithUnit(person: PersonForecast, from: number): number {
  for (let at = from; at < person.path.unit.length; at += 1) {
    if (entryAt(person.path.slot, at) >= 0) return at;
  }
  return -1;
}

/** Seconds that somebody waits in all. */
export function waitingOf(person: PersonForecast): number {
  return person.figures.waiting.value;
}

/** The size of a room in metres: as it says, or as its units need. */
export function sizeOf(room: Room): { width: number; depth: number } {
  const reach = (value: (unit: Unit) => number) => Math.max(4, ...room.units.map(value)) + 1.5;
  return { width: room.width_m ?? reach((unit) => unit.x_m), depth: room.depth_m ?? reach((unit) => unit.y_m) };
}

/** The footprint of a unit as it stands, in metres. */
export function footprintOf(
  unit: Unit,
  kinds: Map<string, { width_m: number; depth_m: number }>,
): { width: number; depth: number } {
  const kind = kinds.get(unit.kind);
  const [width, depth] = [unit.width_m ?? kind?.width_m ?? 1, unit.depth_m ?? kind?.depth_m ?? 1.6];
  return unit.turned % 180 === 0 ? { width, depth } : { width: depth, depth: width };
}
