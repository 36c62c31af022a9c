import { upgradePlan } from "../api/calls";
import { findDraft, keepDraft, type Whose } from "../keeping/drafts";

/** The form of the plans this version keeps as drafts. */
export const FORM = 3;

/** Where earlier versions kept the draft of a class: one for everybody who used the device. */
const olderKey = (id: string) => `oaken-draft-${id}`;

/** Turns the draft of a class that an older version left on this device into today's form, before it is shown. */
export async function modernise(whose: Whose): Promise<void> {
  const text = localStorage.getItem(olderKey(whose.id));
  if (text !== null) {
    localStorage.removeItem(olderKey(whose.id));
    const older = parsed(text);
    if (older && !findDraft(whose)) {
      keepDraft(whose, { form: older.form ?? 1, revision: older.revision, document: older.plan, at: older.at });
    }
  }
  const kept = findDraft(whose);
  if (!kept || kept.form === FORM) return;
  keepDraft(whose, { ...kept, document: await upgradePlan(kept.document), form: FORM });
}

type Older = { form?: number; revision: number; plan: unknown; at: string };

function parsed(text: string): Older | null {
  try {
    const found: unknown = JSON.parse(text);
    if (typeof found === "object" && found !== null && "plan" in found && "revision" in found && "at" in found) {
      return found as Older;
    }
  } catch (error) {
    console.warn("The draft kept on this device cannot be read and is dropped.", error);
  }
  return null;
}
