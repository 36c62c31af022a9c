import type { Block, Circuit, Exercise, Group, Plan, Sets, Together } from "../api/client";

/** Every edit of a plan is a function from a plan to a new plan; the old one stays as it was, so undo is keeping it. */
export type Edit = (plan: Plan) => Plan;

/** Where a slot stands: its block, its group in a block of sets (otherwise -1), its place in the list. */
export type Place = { block: number; group: number; index: number };

type AnySlot = Circuit["stations"][number] | Group["slots"][number] | Together["slots"][number];

let made = 0;
/** An id no other part of the plan has. */
export function freshId(): string {
  made += 1;
  return `n${Date.now().toString(36)}-${made}`;
}

function replaceBlock(plan: Plan, index: number, change: (block: Block) => Block): Plan {
  return { ...plan, blocks: plan.blocks.map((block, at) => (at === index ? change(block) : block)) };
}

/** The list of slots at a block (and group). */
export function slotsAt(plan: Plan, block: number, group: number): AnySlot[] {
  const here = plan.blocks[block];
  if (!here) return [];
  if (here.kind === "circuit") return here.stations;
  if (here.kind === "together") return here.slots;
  return here.groups[group]?.slots ?? [];
}

function withSlots(plan: Plan, block: number, group: number, change: (slots: AnySlot[]) => AnySlot[]): Plan {
  return replaceBlock(plan, block, (here) => {
    if (here.kind === "circuit") return { ...here, stations: change(here.stations) as Circuit["stations"] };
    if (here.kind === "together") return { ...here, slots: change(here.slots) as Together["slots"] };
    return {
      ...here,
      groups: here.groups.map((one, at) =>
        at === group ? { ...one, slots: change(one.slots) as Group["slots"] } : one,
      ),
    };
  });
}

export const setPlan =
  (fields: Partial<Plan>): Edit =>
  (plan) => ({ ...plan, ...fields });

export const setBlock =
  (block: number, fields: Partial<Circuit> | Partial<Sets> | Partial<Together>): Edit =>
  (plan) =>
    replaceBlock(plan, block, (here) => ({ ...here, ...fields }) as Block);

export const setGroup =
  (block: number, group: number, fields: Partial<Group>): Edit =>
  (plan) =>
    replaceBlock(plan, block, (here) =>
      here.kind === "sets"
        ? { ...here, groups: here.groups.map((one, at) => (at === group ? { ...one, ...fields } : one)) }
        : here,
    );

export const setSlot =
  (place: Place, fields: Record<string, unknown>): Edit =>
  (plan) =>
    withSlots(plan, place.block, place.group, (slots) =>
      slots.map((slot, at) => (at === place.index ? ({ ...slot, ...fields } as AnySlot) : slot)),
    );

export const moveSlot =
  (place: Place, to: number): Edit =>
  (plan) =>
    withSlots(plan, place.block, place.group, (slots) => {
      const moved = slots[place.index];
      if (!moved || to < 0 || to >= slots.length) return slots;
      const rest = slots.filter((_, at) => at !== place.index);
      return [...rest.slice(0, to), moved, ...rest.slice(to)];
    });

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

/** What a new slot for an exercise starts with, by the kind of its block. */
function newSlot(kind: Block["kind"], exercise: Exercise, id: string): AnySlot {
  const load = exercise.takes_load ? { load: { share_of_best: kind === "circuit" ? 0.5 : 0.65 } } : {};
  const slot = { id, exercise: exercise.id };
  if (kind === "circuit") return { ...slot, ...load };
  if (kind === "together") return { ...slot, seconds: 60, pause_after_s: 0 };
  if (exercise.nature === "rhythmic" || exercise.tempo[3] === 1) return { ...slot, ...load, seconds: 40 };
  return { ...slot, ...load, reps: 10, ...(exercise.sides === "one_sided" ? { sides: "each_side" as const } : {}) };
}

function newGroup(exercise: Exercise): Group {
  const slot = newSlot("sets", exercise, freshId()) as Group["slots"][number];
  return { id: freshId(), rounds: 3, rest_s: 60, slots: [slot] };
}

export const addSlot =
  (block: number, group: number, exercise: Exercise, id = freshId()): Edit =>
  (plan) => {
    const here = plan.blocks[block];
    if (!here) return plan;
    return withSlots(plan, block, group, (slots) => [...slots, newSlot(here.kind, exercise, id)]);
  };

export const addGroup =
  (block: number, exercise: Exercise, group = newGroup(exercise)): Edit =>
  (plan) =>
    replaceBlock(plan, block, (here) => (here.kind === "sets" ? { ...here, groups: [...here.groups, group] } : here));

/** Another exercise in the same slot; what makes no sense for it is dropped. */
export const changeExercise =
  (place: Place, exercise: Exercise): Edit =>
  (plan) =>
    withSlots(plan, place.block, place.group, (slots) =>
      slots.map((slot, at) => {
        if (at !== place.index) return slot;
        const fresh = newSlot(plan.blocks[place.block]!.kind, exercise, slot.id);
        const kept: Record<string, unknown> = { ...slot };
        if (!exercise.takes_load) delete kept.load;
        if ("reps" in kept || "seconds" in kept) {
          delete kept.sides;
          delete kept.tempo;
        }
        const counted = kept.reps != null || kept.seconds != null;
        const { reps, seconds, ...rest } = fresh as Record<string, unknown>;
        return {
          ...rest,
          ...(counted ? {} : { reps, seconds }),
          ...kept,
          id: slot.id,
          exercise: exercise.id,
        } as AnySlot;
      }),
    );

export const moveBlock =
  (from: number, to: number): Edit =>
  (plan) => {
    const moved = plan.blocks[from];
    if (!moved || to < 0 || to >= plan.blocks.length) return plan;
    const rest = plan.blocks.filter((_, at) => at !== from);
    return { ...plan, blocks: [...rest.slice(0, to), moved, ...rest.slice(to)] };
  };

export const removeBlock =
  (index: number): Edit =>
  (plan) =>
    plan.blocks.length > 1 ? { ...plan, blocks: plan.blocks.filter((_, at) => at !== index) } : plan;

function newBlock(kind: Block["kind"], exercise: Exercise, id: string): Block {
  const base = { id, move_on_s: 45 };
  if (kind === "sets") return { ...base, kind, name: "Sets", groups: [newGroup(exercise)] };
  const slot = newSlot(kind, exercise, freshId());
  if (kind === "together") return { ...base, kind, name: "Together", slots: [slot as Together["slots"][number]] };
  const clock = { work_s: 40, change_s: 20, rounds: 2, round_rest_s: 60 };
  return { ...base, ...clock, kind, name: "Stations", stations: [slot as Circuit["stations"][number]] };
}

/** A new block of a kind with its first exercise, put in before the last block (which is usually the cool-down). */
export const addBlock = (kind: Block["kind"], exercise: Exercise, id = freshId()): Edit => {
  const block = newBlock(kind, exercise, id);
  return (plan) => {
    const at = Math.max(plan.blocks.length - 1, 0);
    return { ...plan, blocks: [...plan.blocks.slice(0, at), block, ...plan.blocks.slice(at)] };
  };
};
