/** What a set that went differently most often was: each is written in one press. */
import type { SetDone } from "../api/runs";
import { step } from "../live/log";
import { partsOf, PLAIN_PART, type SetPart } from "../live/setParts";

export type Done = Omit<SetDone, "id" | "kind" | "happened_at" | "received_at" | "by" | "device">;
export type Likely = { words: string; done: Done };

const FEWER = 6;
const MORE = 3;
const SHORT_SET = 15;
const BEFORE_IT_GOES_ON_S = 15;
const A_DROP = 0.8;

/** The counts of which one is likely what somebody got where so many were planned: all near it, and every fifth. */
export function likelyCounts(planned: number): number[] {
  const near = (count: number) => count >= planned - FEWER / (planned > SHORT_SET ? 2 : 1) && count <= planned + MORE;
  const fifth = (count: number) => count % 5 === 0 && count < planned;
  return Array.from({ length: planned + MORE + 1 }, (_, count) => count).filter((count) => near(count) || fifth(count));
}

/** The seconds of which somebody likely held on where so many were planned. */
export function likelySeconds(planned: number): number[] {
  const by = planned > 90 ? 15 : 5;
  const rounded = Math.ceil(planned / by) * by;
  return Array.from({ length: rounded / by + 3 }, (_, at) => at * by).filter((seconds) => seconds > 0);
}

/** A load about a fifth lighter that can be set; null where none is known, or none lighter. */
export function dropped(load_kg: number | null | undefined, loads: readonly number[]): number | null {
  if (!load_kg) return null;
  const wanted = load_kg * A_DROP;
  const lighter = loads.filter((kg) => kg < load_kg);
  if (!loads.length) return Math.max(step([], load_kg, -1) && Math.round(wanted / 2.5) * 2.5, 0);
  if (!lighter.length) return null;
  return lighter.reduce((best, kg) => (Math.abs(kg - wanted) < Math.abs(best - wanted) ? kg : best));
}

/** The usual ways in which a set of repetitions turns out otherwise, with what each of them writes. */
export function likelySets(done: Done, loads: readonly number[], write: (kg: number) => string): Likely[] {
  const parts = partsOf(done);
  const failed: Likely = { words: "to failure", done: { ...done, to_failure: true } };
  const reps = done.reps;
  if (parts.length || reps == null || reps < 2) return [failed];
  const lighter = dropped(done.load_kg, loads);
  const drop = Math.max(1, Math.round(reps * A_DROP));
  const half = Math.floor(reps / 2);
  const more = Math.max(1, Math.round(reps / 4));
  const rest = { rest_s: BEFORE_IT_GOES_ON_S };
  return [
    failed,
    ...[1, 2].map((count) => ({
      words: `last ${count === 1 ? "one" : count} helped`,
      done: { ...done, helped: true, helped_reps: count },
    })),
    ...(lighter === null
      ? []
      : [
          {
            words: `drop: ${reps} + ${drop} with ${write(lighter)}`,
            done: inParts(done, [reps, { ...PLAIN_PART, reps: drop, load_kg: lighter }]),
          },
        ]),
    {
      words: `rest-pause: ${reps} + ${more} after ${rest.rest_s} s`,
      done: { ...inParts(done, [reps, { ...PLAIN_PART, reps: more, ...rest }]), to_failure: true },
    },
    ...(reps < 4
      ? []
      : [
          {
            words: `cluster: ${reps - half} + ${half} after ${rest.rest_s} s`,
            done: inParts(done, [reps - half, { ...PLAIN_PART, reps: half, ...rest }]),
          },
        ]),
  ];
}

/** A set in one go made into one of several parts. */
export function inParts(done: Done, parts: (number | SetPart)[]): Done {
  return { ...done, reps: null, parts: partsOf({ parts }) };
}
