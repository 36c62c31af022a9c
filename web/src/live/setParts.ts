/** A set in its parts, as `core/oaken/session/set_parts.py` has them. */
import type { SetDone } from "../api/runs";

export type SetPart = Exclude<NonNullable<SetDone["parts"]>[number], number>;
export type SetUp = NonNullable<SetDone["set_up"]>;

/** What a part says where nothing was said of it. */
export const PLAIN_PART = { to_failure: false, helped: false } as const satisfies SetPart;

type Written = { parts?: readonly (number | SetPart)[] | null };

/** The parts of a set; a bare count, as older devices sent it, is a part of which nothing else is said. */
export function partsOf(done: Written): SetPart[] {
  return (done.parts ?? []).map((part) =>
    typeof part === "number" ? { ...PLAIN_PART, reps: part } : { ...PLAIN_PART, ...part },
  );
}

/** The parts of a set that is done as its sheet has it; none where it is done in one go. */
export function partsAsPlanned(reps: readonly number[], kg: readonly number[]): SetPart[] {
  if (reps.length < 2) return [];
  const known = kg.length === reps.length;
  return reps.map((count, at) => {
    const changed = at > 0 && known && kg[at] !== kg[at - 1];
    return { ...PLAIN_PART, reps: count, ...(changed && { load_kg: kg[at]! }) };
  });
}

/** What of a part stands behind its load and its count. */
export function partWords(part: Omit<SetPart, "reps" | "load_kg">): string[] {
  const helped = part.helped_reps != null ? `${part.helped_reps} helped` : part.helped ? "helped" : "";
  const reserve = part.reps_left == null ? "" : part.reps_left ? `${part.reps_left} in reserve` : "none in reserve";
  return [
    part.seconds != null ? `${Math.round(part.seconds)} s` : "",
    part.to_failure ? "to failure" : "",
    helped,
    reserve,
    part.range_of_motion != null ? `${part.range_of_motion} range` : "",
    part.form === "poor" ? "form poor" : "",
    part.rest_s != null ? `after ${Math.round(part.rest_s)} s` : "",
  ].filter(Boolean);
}

/** How somebody was set up, in words. */
export function setUpWords(set_up: SetUp | null | undefined): string {
  if (!set_up) return "";
  const heels = set_up.heels_cm != null ? [`heels ${set_up.heels_cm} cm`] : [];
  return [...(set_up.stance ?? []), ...heels, ...(set_up.aids ?? [])].join(", ");
}
