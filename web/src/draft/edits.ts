import type {
  Block,
  Circuit,
  Exercise,
  Group,
  Leg,
  Plan,
  Relay,
  Segment,
  SetRun,
  Sets,
  Slot,
  Station,
  Together,
} from "../api/client";
import { listsOf, withList, type AnySlot } from "../shared/blocks";
import { entryAt } from "../basis/entries";
import { reshaped } from "./schemes";

/** Every edit of a plan is a function from a plan to a new plan; the old one stays as it was, so undo is keeping it. */
export type Edit = (plan: Plan) => Plan;

/** Where a slot stands: its block, its group in a block of sets (otherwise -1), its place in the list. */
export type Place = { block: number; group: number; index: number };

export type { AnySlot };

let made = 0;
/** An id no other part of the plan has. */
export function freshId(): string {
  made += 1;
  return `n${Date.now().toString(36)}-${made}`;
}

// ---- what a new part starts as ------------------------------------------------------------------------------------

export function segment(fields: Partial<Segment>): Segment {
  return {
    held_s: 0,
    partial: false,
    alternating: false,
    to_failure: false,
    hold: false,
    stance: [],
    aids: [],
    helped: false,
    if_able: false,
    pause_after_s: 0,
    ...fields,
  };
}

export function setRun(fields: Partial<SetRun> & { segments: Segment[] }): SetRun {
  return { times: 1, rest_s: 0, if_able: false, helper: false, ...fields };
}

export function station(exercise: string, fields: Partial<Station> = {}): Station {
  return { id: "", exercise, note: "", held_s: 0, partial: false, alternating: false, stance: [], aids: [], ...fields };
}

/** A slot with its sets and nothing else. */
export function slotOf(exercise: string, sets: SetRun[], id = freshId()): Slot {
  return { id, exercise, note: "", sets, others: [], decisions: [], after_last: false };
}

/** A slot of timed work, as in a warm-up. */
export function timed(exercise: string, seconds: number, id = freshId()): Slot {
  return slotOf(exercise, [setRun({ segments: [segment({ seconds })] })], id);
}

// ---- finding one's way --------------------------------------------------------------------------------------------

function replaceBlock(plan: Plan, index: number, change: (block: Block) => Block): Plan {
  return { ...plan, blocks: plan.blocks.map((block, at) => (at === index ? change(block) : block)) };
}

/** The list of slots at a block (and group). */
export function slotsAt(plan: Plan, block: number, group: number): AnySlot[] {
  const here = plan.blocks[block];
  return (here && listsOf(here).find((item) => item.group === group)?.parts) ?? [];
}

/** Where the slot of an id stands; null when the plan has not got it. */
export function placeOf(plan: Plan, id: string): Place | null {
  for (const [block, here] of plan.blocks.entries()) {
    for (const { group, parts } of listsOf(here)) {
      const index = parts.findIndex((slot) => slot.id === id);
      if (index >= 0) return { block, group, index };
    }
  }
  return null;
}

export function slotAt(plan: Plan, place: Place): AnySlot | undefined {
  return slotsAt(plan, place.block, place.group)[place.index];
}

export function isSlot(slot: AnySlot): slot is Slot {
  return "sets" in slot;
}

function isLeg(slot: AnySlot): slot is Leg {
  return "turn" in slot;
}

function withSlots(plan: Plan, block: number, group: number, change: (slots: AnySlot[]) => AnySlot[]): Plan {
  return replaceBlock(plan, block, (here) => withList(here, group, change));
}

// ---- fields -------------------------------------------------------------------------------------------------------

export const setPlan =
  (fields: Partial<Plan>): Edit =>
  (plan) => ({ ...plan, ...fields });

/** Another plan altogether: a proposal, a text, a revision. */
export const replacePlan =
  (next: Plan): Edit =>
  () =>
    next;

export const setBlock =
  (block: number, fields: Partial<Circuit> | Partial<Sets> | Partial<Together> | Partial<Relay>): Edit =>
  (plan) =>
    replaceBlock(plan, block, (here) => ({ ...here, ...fields }) as Block);

export const setSlot =
  (place: Place, fields: Partial<Station> | Partial<Slot> | Partial<Leg>): Edit =>
  (plan) =>
    withSlots(plan, place.block, place.group, (slots) =>
      slots.map((slot, at) => (at === place.index ? ({ ...slot, ...fields } as AnySlot) : slot)),
    );

/** The slot in another form, read from its line; it keeps its id. */
export const rewriteSlot =
  (place: Place, next: AnySlot): Edit =>
  (plan) =>
    withSlots(plan, place.block, place.group, (slots) =>
      slots.map((slot, at) => (at === place.index ? { ...next, id: slot.id } : slot)),
    );

// ---- doses: sets, counts, loads and rests of a slot ---------------------------------------------------------------

function sameRun(one: SetRun, other: SetRun): boolean {
  return JSON.stringify({ ...one, times: 1 }) === JSON.stringify({ ...other, times: 1 });
}

/** Equal neighbours are written once, as the server writes them. */
export function mergedRuns(runs: SetRun[]): SetRun[] {
  const found: SetRun[] = [];
  for (const run of runs) {
    const last = found.at(-1);
    if (last && sameRun(last, run) && last.times + run.times <= 30) {
      found[found.length - 1] = { ...last, times: last.times + run.times };
    } else found.push(run);
  }
  return found;
}

export function countSets(slot: Slot): number {
  return slot.sets.reduce((sum, run) => sum + run.times, 0);
}

/** How many rounds a group has. */
export function roundsOf(group: Group): number {
  return Math.max(...group.slots.map(countSets));
}

/** Another number of sets; what leads up to them and a last one that differs stay. */
export function withSets(slot: Slot, sets: number): Slot {
  return { ...slot, sets: mergedRuns(reshaped(slot.sets, sets)) };
}

/** The same rest after every set; a range of rests becomes that one. */
export function withRest(slot: Slot, rest_s: number): Slot {
  const sets = slot.sets.map((run) => ({
    ...run,
    rest_s,
    rest_to_s: null,
    rest_until: rest_s ? run.rest_until : null,
    rest_doing: rest_s ? run.rest_doing : null,
  }));
  return { ...slot, sets: mergedRuns(sets) };
}

/** Something changed in every segment. */
export function withSegments(slot: Slot, change: (segment: Segment) => Segment): Slot {
  return { ...slot, sets: mergedRuns(slot.sets.map((run) => ({ ...run, segments: run.segments.map(change) }))) };
}

/** The one value all segments share, or null where they differ: only then a single field can edit it. */
export function shared<Value>(slot: Slot, read: (segment: Segment) => Value): NonNullable<Value> | null {
  const values = slot.sets.flatMap((run) => run.segments.map(read));
  return values.every((value) => JSON.stringify(value) === JSON.stringify(values[0])) ? (values[0] ?? null) : null;
}

/** Another number of rounds for a whole group. */
export const setRounds =
  (block: number, group: number, rounds: number): Edit =>
  (plan) =>
    withSlots(plan, block, group, (slots) => slots.map((slot) => (isSlot(slot) ? withSets(slot, rounds) : slot)));

/** Another rest after each round of a group: that of its last slot. */
export const setRoundRest =
  (block: number, group: number, rest_s: number): Edit =>
  (plan) =>
    withSlots(plan, block, group, (slots) =>
      slots.map((slot, at) => (at === slots.length - 1 && isSlot(slot) ? withRest(slot, rest_s) : slot)),
    );

/** Turns that divide an interval evenly between two partners. */
export function turnsOf(work: number): number[] {
  return [5, 10, 15, 20, 30, 45, 60].filter((turn) => work % turn === 0 && (work / turn) % 2 === 0);
}

// ---- order --------------------------------------------------------------------------------------------------------

function moved<Item>(items: Item[], from: number, to: number): Item[] {
  const one = items[from];
  if (one === undefined || to < 0 || to >= items.length) return items;
  const rest = items.filter((_, at) => at !== from);
  return [...rest.slice(0, to), one, ...rest.slice(to)];
}

export const moveSlot =
  (place: Place, to: number): Edit =>
  (plan) =>
    withSlots(plan, place.block, place.group, (slots) => moved(slots, place.index, to));

export const moveGroup =
  (block: number, from: number, to: number): Edit =>
  (plan) =>
    replaceBlock(plan, block, (here) =>
      here.kind === "sets" ? { ...here, groups: moved(here.groups, from, to) } : here,
    );

export const moveBlock =
  (from: number, to: number): Edit =>
  (plan) => ({ ...plan, blocks: moved(plan.blocks, from, to) });

/** Takes a slot out; a group that loses its last slot goes too, and a block keeps at least one. */
export const removeSlot =
  (place: Place): Edit =>
  (plan) => {
    const block = plan.blocks[place.block];
    if (!block || !canRemove(plan, place)) return plan;
    if (block.kind === "sets" && slotsAt(plan, place.block, place.group).length === 1) {
      return setBlock(place.block, { groups: block.groups.filter((_, at) => at !== place.group) })(plan);
    }
    return withSlots(plan, place.block, place.group, (slots) => slots.filter((_, at) => at !== place.index));
  };

/** Whether taking the slot out would leave its block with something to do. */
export function canRemove(plan: Plan, place: Place): boolean {
  const block = plan.blocks[place.block];
  if (block?.kind === "sets" && block.groups.length > 1) return true;
  return slotsAt(plan, place.block, place.group).length > 1;
}

/** Joins a group to the one above it (a superset), or splits its last exercise off. */
export const joinGroup =
  (block: number, group: number): Edit =>
  (plan) =>
    replaceBlock(plan, block, (here) => {
      const above = here.kind === "sets" ? here.groups[group - 1] : undefined;
      if (here.kind !== "sets" || !above || above.slots.length + entryAt(here.groups, group).slots.length > 12)
        return here;
      const joined = { ...above, slots: [...above.slots, ...entryAt(here.groups, group).slots] };
      return { ...here, groups: [...here.groups.slice(0, group - 1), joined, ...here.groups.slice(group + 1)] };
    });

export const splitGroup =
  (block: number, group: number, at: number, id = freshId()): Edit =>
  (plan) =>
    replaceBlock(plan, block, (here) => {
      const one = here.kind === "sets" ? here.groups[group] : undefined;
      if (here.kind !== "sets" || !one || at < 1 || at >= one.slots.length || here.groups.length >= 20) return here;
      const parts = [
        { ...one, slots: one.slots.slice(0, at) },
        { id, slots: one.slots.slice(at) },
      ];
      return { ...here, groups: [...here.groups.slice(0, group), ...parts, ...here.groups.slice(group + 1)] };
    });

// ---- adding, copying ----------------------------------------------------------------------------------------------

/** What follows from the exercise itself: its load, its sides, and whether it is held. */
function startOf(exercise: Exercise, share_of_best: number) {
  return {
    load: exercise.takes_load ? { load: { share_of_best } } : {},
    sides: exercise.sides === "one_sided" ? { sides: "each_side" as const } : {},
    held: exercise.nature === "rhythmic" || (exercise.tempo[0] === 0 && exercise.tempo[2] === 0),
  };
}

/** What a new slot for an exercise starts with, by the kind of its block. */
function newSlot(kind: Block["kind"], exercise: Exercise, id: string): AnySlot {
  const { load, sides } = startOf(exercise, kind === "circuit" ? 0.5 : 0.65);
  if (kind === "circuit") return station(exercise.id, { id, ...load });
  if (kind === "relay") {
    const turn = segment({ reps: 12, ...load, ...sides });
    return { id, exercise: exercise.id, note: "", turn, turns: 8, rest_s: 0 };
  }
  if (kind === "together") {
    const seconds = exercise.nature === "mobility" && exercise.sides === "one_sided" ? 20 : 60;
    return slotOf(exercise.id, [setRun({ segments: [segment({ seconds, ...sides })] })], id);
  }
  return newSet(exercise, id);
}

/** What an exercise of a group starts with. */
function newSet(exercise: Exercise, id: string): Slot {
  const { load, sides, held } = startOf(exercise, 0.65);
  const dose = held ? { seconds: 40 } : { reps: 10 };
  const segments = [segment({ ...dose, ...load, ...sides })];
  return slotOf(exercise.id, [setRun({ times: 3, segments, rest_s: 60 })], id);
}

export const addSlot =
  (block: number, group: number, exercise: Exercise, id = freshId()): Edit =>
  (plan) => {
    const here = plan.blocks[block];
    if (!here) return plan;
    return withSlots(plan, block, group, (slots) => [...slots, newSlot(here.kind, exercise, id)]);
  };

export const addGroup = (block: number, exercise: Exercise, id = freshId(), group = freshId()): Edit =>
  insertGroup(block, { id: group, slots: [newSet(exercise, id)] });

const insertGroup =
  (block: number, group: Group): Edit =>
  (plan) =>
    replaceBlock(plan, block, (here) => (here.kind === "sets" ? { ...here, groups: [...here.groups, group] } : here));

/** A copy of a slot behind it; in a block of sets as a group of its own. */
export const duplicateSlot =
  (place: Place, id = freshId(), groupId = freshId()): Edit =>
  (plan) => {
    const slot = slotAt(plan, place);
    if (!slot) return plan;
    const copy = { ...slot, id };
    const block = entryAt(plan.blocks, place.block);
    if (block.kind === "sets" && isSlot(copy)) {
      const groups = [...block.groups];
      groups.splice(place.group + 1, 0, { id: groupId, slots: [copy] });
      return setBlock(place.block, { groups })(plan);
    }
    return withSlots(plan, place.block, place.group, (slots) => [
      ...slots.slice(0, place.index + 1),
      copy,
      ...slots.slice(place.index + 1),
    ]);
  };

/** Another exercise in the same slot; what it cannot take is dropped, as the core's `refit` does it (golden cases). */
export const changeExercise =
  (place: Place, exercise: Exercise): Edit =>
  (plan) => {
    const slot = slotAt(plan, place);
    if (!slot) return plan;
    const fitted = (item: Segment): Segment => {
      const next: Segment = { ...item, stance: [], heels_cm: null, aids: [], setting: null, tempo: null };
      if (!exercise.takes_load) {
        next.load = null;
        next.change = null;
      }
      if (item.metres != null && !exercise.speed_m_per_s) {
        next.metres = null;
        next.seconds = 40;
      }
      next.sides = exercise.sides === "one_sided" ? (item.sides ?? "each_side") : null;
      return next;
    };
    if (isSlot(slot)) {
      return rewriteSlot(place, { ...withSegments(slot, fitted), exercise: exercise.id })(plan);
    }
    if (isLeg(slot)) return rewriteSlot(place, { ...slot, turn: fitted(slot.turn), exercise: exercise.id })(plan);
    const load = exercise.takes_load ? slot.load : null;
    return rewriteSlot(place, {
      ...slot,
      exercise: exercise.id,
      load,
      stance: [],
      heels_cm: null,
      aids: [],
      setting: null,
      tempo: null,
    })(plan);
  };

export const removeBlock =
  (index: number): Edit =>
  (plan) =>
    plan.blocks.length > 1 ? { ...plan, blocks: plan.blocks.filter((_, at) => at !== index) } : plan;

/** The same block with ids of its own, so that it can stand beside the one it was copied from. */
export function copyOfBlock(block: Block, id = freshId()): Block {
  const renewed = (parts: AnySlot[]) => parts.map((part) => ({ ...part, id: freshId() }));
  const lists = listsOf(block).map((item) => item.group);
  const copy = lists.reduce((made, group) => withList(made, group, renewed), { ...block, id });
  return copy.kind === "sets" ? { ...copy, groups: copy.groups.map((group) => ({ ...group, id: freshId() })) } : copy;
}

/** Puts a block in behind another one; behind -1 is first. */
export const insertBlock =
  (block: Block, behind: number): Edit =>
  (plan) => ({ ...plan, blocks: [...plan.blocks.slice(0, behind + 1), block, ...plan.blocks.slice(behind + 1)] });
