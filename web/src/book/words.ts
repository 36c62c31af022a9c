import type { LogRow } from "../api/book";
import { mass } from "../shared/units";

/** The planned repetitions, “8–10”; empty where it goes by the clock. */
export function countWords(row: LogRow): string {
  if (row.planned_low === null || row.planned_high === null) return "";
  return row.planned_low === row.planned_high ? String(row.planned_low) : `${row.planned_low}–${row.planned_high}`;
}

/** A set in words: what was done, or what was planned. */
export function rowWords(row: LogRow, units: "metric" | "imperial"): string {
  const planned = [row.planned_kg === null ? "" : mass(row.planned_kg, units), countWords(row)]
    .filter(Boolean)
    .join(" × ");
  if (!row.done.length) return planned || "by the clock";
  return row.done
    .map((one) => {
      const reps = one.parts.length ? one.parts.join("+") : one.reps !== null ? String(one.reps) : "";
      const load = one.load_kg === null ? "" : mass(one.load_kg, units);
      const told = [
        one.side ?? "",
        one.seconds !== null ? `${one.seconds} s` : "",
        one.to_failure ? "to failure" : "",
        one.reps_left !== null ? `${one.reps_left} left` : "",
        one.helped ? "helped" : "",
        one.form === "poor" ? "poor form" : "",
        one.note,
      ].filter(Boolean);
      const did = [load, reps].filter(Boolean).join(" × ") || "done";
      return told.length ? `${did} (${told.join(", ")})` : did;
    })
    .join("; ");
}
