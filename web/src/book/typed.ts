/** A set as it is typed in: one load and count, or those of each part with a plus between them. */
import { PLAIN_PART, type SetPart } from "../live/setParts";

export type Typed = { load_kg?: number; reps?: number; parts?: SetPart[] };

const HEAVIEST_KG = 900;
const MOST_REPS = 1000;
const MOST_PARTS = 20;

/** What was typed as the fields of a set, or what is wrong with it; `per` is kilograms of one of the unit. */
export function typedSet(load: string, reps: string, per: number, unit: string): { done: Typed } | { fault: string } {
  const loads = parted(load).map((word) => (word ? Number(word.replace(",", ".")) * per : null));
  const counts = parted(reps).map((word) => (word ? Number(word) : null));
  if (loads.some((kg) => kg !== null && !(kg >= 0 && kg <= HEAVIEST_KG)))
    return { fault: `${load} is no load: 0 to ${Math.round(HEAVIEST_KG / per)} ${unit}` };
  if (counts.some((count) => count !== null && !(Number.isInteger(count) && count >= 0 && count <= MOST_REPS)))
    return { fault: `${reps} are no repetitions: a whole number from 0 to ${MOST_REPS}` };
  const parts = Math.max(loads.length, counts.length);
  if (parts > MOST_PARTS) return { fault: `${parts} parts are too many: at most ${MOST_PARTS}` };
  if (loads.length > 1 && counts.length > 1 && loads.length !== counts.length)
    return { fault: `${loads.length} loads and ${counts.length} counts: as many of each, or one load` };
  const kg = loads.map((value) => (value === null ? null : Math.round(value * 100) / 100));
  const first = kg[0] == null ? {} : { load_kg: kg[0] };
  if (parts < 2) return { done: { ...first, ...(counts[0] == null ? {} : { reps: counts[0] }) } };
  return {
    done: {
      ...first,
      parts: Array.from({ length: parts }, (_, at) => ({
        ...PLAIN_PART,
        ...(counts[at] == null ? {} : { reps: counts[at] }),
        ...(at > 0 && kg[at] != null ? { load_kg: kg[at] } : {}),
      })),
    },
  };
}

const parted = (words: string) => words.split("+").map((word) => word.trim());
