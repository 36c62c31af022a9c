import type { Option, Person, RotationJob } from "../api/client";
import { clock, counted } from "../shared/format";
import { firstName } from "../shared/names";

/** What somebody waits as planned, or (~) on average over the replays. */
export function waitWords(planned: number, replayed: number | undefined): string {
  if (replayed !== undefined) return replayed >= 1 ? `w ~${clock(replayed)}` : "";
  return planned >= 1 ? `w ${clock(planned)}` : "";
}

/** What is proven of a rotation, or how far it is from what no order can be below. */
export function proof(job: RotationJob): string {
  if (job.proven) return "No order can be shorter: proven.";
  if (job.missing.length) {
    return `Nothing can be proven: no ${job.missing.join(" and no ")} works in this room, so nobody waits for one.`;
  }
  const gap = `${(100 * job.gap).toFixed(1)} % above ${clock(job.bound_s)}, below which no order can be`;
  return `${gap}; ${counted(job.improved, "improvement")} so far.`;
}

/** How much longer or shorter something gets. */
export function signed(seconds: number): string {
  if (Math.abs(seconds) < 1) return "as long as planned";
  return `${clock(Math.abs(seconds))} ${seconds > 0 ? "longer" : "shorter"}`;
}

/** Who is sent elsewhere than planned. */
export function movedWords(option: Option, known: Person[] | undefined): string {
  if (!option.moved.length) return "Nobody is sent elsewhere than planned";
  const names = option.moved.map((id) => firstName(known?.find((item) => item.id === id)?.name) ?? id);
  return `${counted(option.moved.length, "person", "people")} sent elsewhere: ${names.join(", ")}`;
}

/** Seconds that something saves, or costs. */
export function saved(seconds: number): string {
  if (Math.abs(seconds) < 1) return "nothing";
  return seconds > 0 ? `${clock(seconds)} min` : `−${clock(-seconds)} min`;
}
