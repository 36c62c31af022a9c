import type { Estimate } from "../api/client";

/** Minutes and seconds, "31:24". */
export function clock(seconds: number): string {
  const whole = Math.round(seconds);
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, "0")}`;
}

/** A number with no more digits than it deserves: about three, and never more decimals than `decimals`. */
export function figure(value: number, decimals = 0): string {
  const size = Math.abs(value);
  const step = size >= 10000 ? 100 : size >= 1000 ? 10 : size >= 200 ? 5 : 10 ** -decimals;
  return writer(decimals, step < 1).format(Math.round(value / step) * step);
}

const writers = new Map<string, Intl.NumberFormat>();
/** Writes numbers with so many decimals; made once, because making one is slow. */
function writer(decimals: number, always: boolean): Intl.NumberFormat {
  const key = `${decimals}${always}`;
  let found = writers.get(key);
  if (!found) {
    found = new Intl.NumberFormat("en", {
      maximumFractionDigits: decimals,
      minimumFractionDigits: always ? decimals : 0,
    });
    writers.set(key, found);
  }
  return found;
}

/** The likely range of a figure, "290–410"; empty where it has none. */
export function range(estimate: Estimate, decimals = 0): string {
  if (estimate.unit === "s") {
    return estimate.low === estimate.high ? "" : `${clock(estimate.low)}–${clock(estimate.high)}`;
  }
  const low = figure(estimate.low, decimals);
  const high = figure(estimate.high, decimals);
  return low === high ? "" : `${low}–${high}`;
}

/** "1 person", "12 people". */
export function counted(count: number, one: string, many = `${one}s`): string {
  return `${count} ${count === 1 ? one : many}`;
}

/** The date and time of a class ("2026-12-01 18:30"); both empty where its beginning is said in words. */
export function dateAndTime(starts: string): { date: string; time: string } {
  const found = /^(\d{4}-\d{2}-\d{2})[ T](\d{2}:\d{2})$/.exec(starts);
  return { date: found?.[1] ?? "", time: found?.[2] ?? "" };
}

/** When a class begins, in words: "Tue 1 Dec, 18:30", or as it was said. */
export function startWords(starts: string): string {
  const { date, time } = dateAndTime(starts);
  if (!date) return starts;
  const day = new Date(`${date}T12:00`).toLocaleDateString("en-GB", {
    weekday: "short",
    day: "numeric",
    month: "short",
  });
  return `${day}, ${time}`;
}

/** A day, in words: "Tue 1 Dec", with its year where it is not this one. */
export function dayWords(on: string): string {
  const day = new Date(`${on}T12:00`);
  const year = day.getFullYear() === new Date().getFullYear() ? undefined : ("numeric" as const);
  return day.toLocaleDateString("en-GB", { weekday: "short", day: "numeric", month: "short", year });
}

/** When something was saved, in words short enough for a line. */
export function when(iso: string): string {
  const date = new Date(iso);
  const today = new Date().toDateString() === date.toDateString();
  const time = date.toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" });
  return today ? `today ${time}` : `${date.toLocaleDateString("en-GB", { day: "numeric", month: "short" })} ${time}`;
}

/** A mass as it is told everywhere: `82.5 kg`. */
export function kilograms(kg: number): string {
  return `${kg} kg`;
}
