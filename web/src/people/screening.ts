import type { Person } from "../api/client";

const DAY_MS = 86_400_000;
const HOLDS_DAYS = 365;

/** How a person's screening stands, in a word or two; open where it must be settled before they train. */
export function screeningState(person: Pick<Person, "screening">, now = Date.now()): { words: string; open: boolean } {
  const record = person.screening;
  if (!record) return { words: "none on record", open: true };
  const days = Math.floor((now - new Date(record.on).getTime()) / DAY_MS);
  if (days > HOLDS_DAYS) return { words: "over a year old", open: true };
  if (record.some_yes && !record.advised) return { words: "a yes, not advised", open: true };
  const on = new Date(record.on).toLocaleDateString("en-GB", { day: "numeric", month: "short" });
  return { words: record.some_yes ? `advised, ${on}` : `no yes, ${on}`, open: false };
}
