import { upgradePlan } from "../api/calls";
import type { Plan } from "../api/client";

/** The form of the plans this version keeps; drafts without it come from the first version. */
export const FORM = 3;

export type Kept = { form: number; revision: number; plan: Plan; at: string };

export const keyOf = (id: number) => `oaken-draft-${id}`;

/** An unsaved draft of this class that an earlier visit left on this device. */
export function keptDraft(id: number): Kept | null {
  const text = localStorage.getItem(keyOf(id));
  if (!text) return null;
  try {
    return JSON.parse(text) as Kept;
  } catch (error) {
    console.warn("The draft kept on this device cannot be read and is dropped.", error);
    localStorage.removeItem(keyOf(id));
    return null;
  }
}

/** Turns a draft that an older version left here into today's form, before it is shown. */
export async function modernise(id: number): Promise<void> {
  const kept = keptDraft(id);
  if (!kept || kept.form === FORM) return;
  const plan = await upgradePlan(kept.plan);
  localStorage.setItem(keyOf(id), JSON.stringify({ ...kept, plan, form: FORM }));
}
