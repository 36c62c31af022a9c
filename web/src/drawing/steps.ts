import type { Block, Forecast, PersonForecast } from "../api/client";
import { listsOf } from "../shared/blocks";
import { entryAt, present } from "../basis/entries";

/** What a person does during a step, by the number the server uses. */
export const DOING = { work: 0, change: 1, rest: 2, wait: 3, finished: 4, breather: 5 } as const;

/** One stretch of one person on a stave. `lane` keeps people at the same place at the same time apart. */
export type Token = {
  person: number;
  start: number;
  end: number;
  setUpFrom: number;
  lane: number;
};

/** How many people wait for a stave from `start` to `end`. */
export type Queue = { start: number; end: number; people: number[] };

/** A stretch in which everybody does the same. */
type Chorus = { start: number; end: number; label: string };

export type Stave = {
  key: string;
  label: string;
  lanes: number;
  tokens: Token[];
  queues: Queue[];
  choruses: Chorus[];
  breather: boolean;
};

type Where = { stave: string; label: string };
export const BREATHER = "breather";
const ALL = "all-together";
const WHOLE = { from: -Infinity, to: Infinity };

/** The slots of a block in the order they are listed, with the group each belongs to. */
export function listed(block: Block): { id: string; exercise: string; group: number; index: number }[] {
  return listsOf(block).flatMap(({ group, parts }) =>
    parts.map((slot, index) => ({ id: slot.id, exercise: slot.exercise, group, index })),
  );
}

/**
 * The staves of the score: one for each slot of the selected block, in its order, then one for each other kind of
 * equipment in `view` (seconds), and one for what everybody does together. What another block does on a machine of the
 * selected block is drawn on that machine's stave.
 */
export function stavesOf(forecast: Forecast, blockId: string, view = WHOLE): Map<string, Stave> {
  const selected = forecast.blocks.findIndex((block) => block.id === blockId);
  const together = (slot: number) => entryAt(forecast.blocks, entryAt(forecast.slots, slot).block).kind === "together";
  const seen = (start: number, end: number) => end > view.from && start < view.to;
  const where = new Map<number, Where>();
  const byKind = new Map<string, string>();
  forecast.slots.forEach((slot, index) => {
    if (slot.block !== selected) return;
    where.set(index, { stave: slot.id, label: slot.name });
    if (slot.stands_for < 0 && slot.equipment !== "none" && !byKind.has(slot.equipment))
      byKind.set(slot.equipment, slot.id);
  });
  forecast.slots.forEach((slot, index) => {
    if (where.has(index)) return;
    if (together(index)) {
      where.set(index, { stave: ALL, label: "All together" });
      return;
    }
    const stave = byKind.get(slot.equipment) ?? `kind-${slot.equipment}`;
    where.set(index, { stave, label: slot.equipment_name });
  });

  const staves = new Map<string, Stave>();
  const stave = (key: string, label: string): Stave => {
    let found = staves.get(key);
    if (!found) {
      found = { key, label, lanes: 1, tokens: [], queues: [], choruses: [], breather: key === BREATHER };
      staves.set(key, found);
    }
    return found;
  };
  for (const [index, { stave: key, label }] of where)
    if (entryAt(forecast.slots, index).block === selected) stave(key, label);

  forecast.slots.forEach((slot, index) => {
    if (!together(index)) return;
    const first = entryAt(forecast.people, 0);
    const label = `all ${forecast.people.length}: ${slot.name.toLowerCase()}`;
    const place = present(where.get(index), "The place of a part");
    first.path.slot.forEach((item, step) => {
      if (item !== index || first.path.doing[step] !== DOING.work) return;
      const [start, end] = [entryAt(first.path.start_s, step), endOf(first, step, forecast)];
      if (seen(start, end)) stave(place.stave, place.label).choruses.push({ start, end, label });
    });
  });

  const waiting = new Map<string, { at: number; person: number; by: 1 | -1 }[]>();
  for (const person of forecast.people) {
    const { start_s, doing, slot } = person.path;
    for (let step = 0; step < start_s.length; step += 1) {
      const end = endOf(person, step, forecast);
      if (!seen(entryAt(start_s, step), end)) continue;
      if (doing[step] === DOING.breather) {
        stave(BREATHER, "Breather").tokens.push({
          person: person.number,
          start: entryAt(start_s, step),
          end,
          setUpFrom: entryAt(start_s, step),
          lane: -1,
        });
        continue;
      }
      const place = where.get(entryAt(slot, step));
      if (!place) continue;
      if (doing[step] === DOING.wait) {
        stave(place.stave, place.label);
        const changes = waiting.get(place.stave) ?? [];
        changes.push(
          { at: entryAt(start_s, step), person: person.number, by: 1 },
          { at: end, person: person.number, by: -1 },
        );
        waiting.set(place.stave, changes);
      }
      if (doing[step] !== DOING.work || together(entryAt(slot, step))) continue;
      const setsUp = step > 0 && doing[step - 1] === DOING.change && slot[step - 1] === slot[step];
      stave(place.stave, place.label).tokens.push({
        person: person.number,
        start: entryAt(start_s, step),
        end,
        setUpFrom: setsUp ? entryAt(start_s, step - 1) : entryAt(start_s, step),
        lane: -1,
      });
    }
  }
  for (const [key, changes] of waiting) present(staves.get(key), key).queues = queuesOf(changes);
  for (const stave of staves.values()) stave.lanes = giveLanes(stave.tokens);
  return staves;
}

/** When a step of a person ends: where the next begins, the last with the class. */
export function endOf(person: PersonForecast, step: number, forecast: Forecast): number {
  return person.path.start_s[step + 1] ?? forecast.length.value;
}

/** The step a person is in at a second. */
export function stepAt(person: PersonForecast, second: number): number {
  const starts = person.path.start_s;
  let low = 0;
  let high = starts.length - 1;
  while (low < high) {
    const middle = Math.ceil((low + high) / 2);
    if (entryAt(starts, middle) <= second) low = middle;
    else high = middle - 1;
  }
  return low;
}

export function giveLanes(tokens: Token[]): number {
  tokens.sort((one, other) => one.setUpFrom - other.setUpFrom || one.person - other.person);
  const free: number[] = [];
  for (const token of tokens) {
    const lane = free.findIndex((until) => until <= token.setUpFrom + 0.05);
    token.lane = lane < 0 ? free.length : lane;
    free[token.lane] = token.end;
  }
  return Math.max(1, free.length);
}

export function queuesOf(changes: { at: number; person: number; by: 1 | -1 }[]): Queue[] {
  changes.sort((one, other) => one.at - other.at || one.by - other.by);
  const queues: Queue[] = [];
  let people: number[] = [];
  let since = 0;
  for (const { at, person, by } of changes) {
    if (people.length && at > since) queues.push({ start: since, end: at, people });
    people = by > 0 ? [...people, person] : people.filter((eachPerson) => eachPerson !== person);
    since = at;
  }
  return queues;
}
