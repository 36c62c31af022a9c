import type { Card } from "../api/runs";

type Target = Card["targets"][number]["sets"][number];
type Before = Target["last"];

/** What somebody is to reach in a set of a part with an exercise; undefined where they never did it at this scheme. */
export function targetOf(card: Card | undefined, part: string, exercise: string, number: number): Target | undefined {
  const own = card?.targets.find((targets) => targets.part === part && targets.exercise === exercise);
  return own?.sets.find((target) => target.number === number);
}

/** Last time, and the best where it was more: "last 60 kg × 12 (3 Nov) · best 65 kg × 12 (6 Oct)". */
export function targetWords(target: Target, write: (kg: number) => string): string {
  const last = `last ${setBefore(target.last, write)}`;
  return target.best ? `${last} · best ${setBefore(target.best, write)}` : last;
}

function setBefore(one: Before, write: (kg: number) => string): string {
  const count = one.reps ?? (one.seconds === null ? null : `${Math.round(one.seconds)} s`);
  const done = [one.load_kg ? write(one.load_kg) : null, count].filter((word) => word !== null).join(" × ");
  const day = new Date(`${one.on}T12:00`).toLocaleDateString("en-GB", { day: "numeric", month: "short" });
  return `${done} (${day})`;
}
