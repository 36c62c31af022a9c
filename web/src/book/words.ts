import type { LogRow } from "../api/book";
import { doneWords } from "../live/log";
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
  return row.done.map((item) => doneWords(item, (kg) => mass(kg, units)) || "done").join("; ");
}
