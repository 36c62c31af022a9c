import { useSyncExternalStore } from "react";

const KEY = "oaken-units";
export const LB_KG = 0.45359237;
export const IN_CM = 2.54;
export type Units = "metric" | "imperial";

const listeners = new Set<() => void>();

function kept(): Units {
  return localStorage.getItem(KEY) === "imperial" ? "imperial" : "metric";
}

/** Kilograms and centimetres, or pounds and inches, as this device prefers; and the way to change it. */
export function useUnits(): [Units, (units: Units) => void] {
  const units = useSyncExternalStore((listener) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  }, kept);
  return [
    units,
    (next) => {
      localStorage.setItem(KEY, next);
      listeners.forEach((listener) => listener());
    },
  ];
}

/** A mass as it is shown, with its unit. */
export function mass(kg: number, units: Units, decimals = 1): string {
  const value = units === "metric" ? kg : kg / LB_KG;
  return `${Number(value.toFixed(decimals))} ${units === "metric" ? "kg" : "lb"}`;
}
