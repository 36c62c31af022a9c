/** Days as they are written, "2026-11-26"; a week begins on its Monday. */

export const WEEKDAYS = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"];

/** The day it is here. */
export function today(): string {
  const now = new Date();
  const two = (number: number) => String(number).padStart(2, "0");
  return `${now.getFullYear()}-${two(now.getMonth() + 1)}-${two(now.getDate())}`;
}

/** A day so many days after (or before) another. */
export function plusDays(on: string, days: number): string {
  const day = new Date(`${on}T12:00Z`);
  day.setUTCDate(day.getUTCDate() + days);
  return day.toISOString().slice(0, 10);
}

/** The Monday of the week in which a day lies. */
export function mondayOf(on: string): string {
  return plusDays(on, -((new Date(`${on}T12:00Z`).getUTCDay() + 6) % 7));
}
