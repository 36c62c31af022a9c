import type { PersonForecast } from "../api/client";

type Heart = Pick<PersonForecast, "rest_bpm" | "max_bpm">;

/** A heart rate as a share of the person's reserve. */
export function shareOfReserve(person: Heart, bpm: number): number {
  if (!person.rest_bpm || !person.max_bpm) return 0;
  return (bpm - person.rest_bpm.value) / (person.max_bpm.value - person.rest_bpm.value);
}

/** What somebody goes by: a range of heart rate, or of perceived effort. */
export function targetWords(target: { low: number; high: number; by: "bpm" | "effort" }): string {
  return target.by === "bpm"
    ? `${Math.round(target.low)}–${Math.round(target.high)} bpm`
    : `effort ${Math.round(target.low)}–${Math.round(target.high)} (6–20)`;
}
