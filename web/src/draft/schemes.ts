import type { Segment, SetRun } from "../api/client";
import { entryAt, lastOf } from "../basis/entries";

/** The sets of an exercise: lighter ones that lead up, working sets, a last one that differs; as the core sees them. */
type SetShape = { ramp: SetRun[]; work: SetRun[]; last: SetRun | null };

const LIGHT_SHARE = 0.9;
const MORE_LEFT = 2;

const written = (value: unknown): string => JSON.stringify(value);
const first = (run: SetRun): Segment => entryAt(run.segments, 0);

/** In which of its fields a load is said, and how much. */
function wayOf(load: Segment["load"]): [string, unknown] | null {
  return Object.entries(load ?? {}).find(([, value]) => value !== null && value !== undefined) ?? null;
}

function same(runs: SetRun[]): boolean {
  const known = runs.map((run) => written([run.segments, run.if_able]));
  return known.every((each) => each === known[0]);
}

/** Whether two sets begin with the same work, one perhaps to failure or going on after it. */
function beginAlike(run: SetRun, other: SetRun): boolean {
  const { to_failure, pause_after_s } = first(other);
  return written({ ...first(run), to_failure, pause_after_s }) === written(first(other));
}

function leadsUp(run: SetRun, behind: SetRun[]): boolean {
  const heavy = first(entryAt(behind, 0)).load;
  const [light, full] = [wayOf(first(run).load), wayOf(heavy)];
  if (!light || !full || run.segments.length > 1 || light[0] !== full[0]) return false;
  const alike = behind.length > 2 ? behind.slice(0, -1) : behind;
  if (alike.some((item) => written(first(item).load) !== written(heavy))) return false;
  const [own, their] = [light[1], full[1]];
  if (typeof own !== "number" || typeof their !== "number") return false;
  return ["reps_left", "rep_max"].includes(light[0]) ? own >= their + MORE_LEFT : own <= LIGHT_SHARE * their;
}

function shapeOf(runs: SetRun[]): SetShape {
  const every = runs.flatMap((run) => Array.from({ length: run.times }, () => ({ ...run, times: 1 })));
  let up = 0;
  while (up < every.length - 1 && leadsUp(entryAt(every, up), every.slice(up + 1))) up++;
  const work = every.slice(up);
  const before = work.slice(0, -1);
  if (same(work)) return { ramp: every.slice(0, up), work, last: null };
  const enough = work.length > 2 || (work.length === 2 && beginAlike(lastOf(work), entryAt(work, 0)));
  if (enough && same(before)) return { ramp: every.slice(0, up), work: before, last: lastOf(work) };
  return { ramp: [], work: every, last: null };
}

/** So many sets in all: what leads up and a last one that differs stay while a working set is left beside them. */
export function reshaped(runs: SetRun[], sets: number): SetRun[] {
  const { ramp, work, last } = shapeOf(runs);
  const around = ramp.length + (last ? 1 : 0);
  if (sets > around) return withWork(ramp, work, last, sets - around);
  const kept = sets <= ramp.length + 1 ? null : last;
  const leading = sets > 1 ? ramp.slice(ramp.length - Math.max(0, sets - 1 - (kept ? 1 : 0))) : [];
  return withWork(leading, work, kept, 1);
}

function withWork(ramp: SetRun[], work: SetRun[], last: SetRun | null, sets: number): SetRun[] {
  const worked = Array.from({ length: sets }, (_, at) => work[at] ?? lastOf(work));
  return [...ramp, ...worked, ...(last ? [last] : [])];
}
