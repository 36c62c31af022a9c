import type { Plan } from "../api/client";

/** A draft with what came before it and what was undone. `touched` names the field of the last edit, and when. */
export type History = {
  past: Plan[];
  present: Plan;
  future: Plan[];
  touched: { field: string; at: number } | null;
};

export const LONGEST_PAST = 200;
const SAME_EDIT_MS = 900;

export function begin(plan: Plan): History {
  return { past: [], present: plan, future: [], touched: null };
}

/**
 * The history after an edit. Quick edits of one `field` (typing digits, holding a stepper) count as one step back.
 */
export function after(history: History, plan: Plan, field: string, at: number): History {
  if (plan === history.present || JSON.stringify(plan) === JSON.stringify(history.present)) return history;
  const same = field !== "" && history.touched?.field === field && at - history.touched.at < SAME_EDIT_MS;
  const past = same ? history.past : [...history.past, history.present].slice(-LONGEST_PAST);
  return { past, present: plan, future: [], touched: { field, at } };
}

export function undo(history: History): History {
  const previous = history.past.at(-1);
  if (!previous) return history;
  return {
    past: history.past.slice(0, -1),
    present: previous,
    future: [history.present, ...history.future],
    touched: null,
  };
}

export function redo(history: History): History {
  const [next, ...future] = history.future;
  if (!next) return history;
  return { past: [...history.past, history.present], present: next, future, touched: null };
}
