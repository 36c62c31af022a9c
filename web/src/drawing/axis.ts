import type { HTMLAttributes } from "react";

/** What makes a drawing move the scrub line. */
export type Drag = Pick<HTMLAttributes<HTMLElement>, "onPointerDown" | "onPointerMove">;

/** The shared time axis: which seconds are in view and how wide they are drawn. */
export type Axis = { from: number; to: number; width: number };

export function x(axis: Axis, seconds: number): number {
  return ((seconds - axis.from) / (axis.to - axis.from)) * axis.width;
}

export function secondAt(axis: Axis, pixels: number): number {
  return axis.from + (pixels / axis.width) * (axis.to - axis.from);
}

/** Where the axis is labelled: the smallest step of minutes that keeps the labels apart. */
export function ticks(axis: Axis): { at: number; label: string }[] {
  const roomy = 46;
  const steps = [15, 30, 60, 120, 300, 600, 900, 1800];
  const span = axis.to - axis.from;
  const step = steps.find((one) => (one / span) * axis.width >= roomy) ?? 3600;
  const found = [];
  for (let at = Math.ceil(axis.from / step) * step; at <= axis.to; at += step) {
    const seconds = at % 60;
    found.push({ at, label: seconds ? `${Math.floor(at / 60)}:${String(seconds).padStart(2, "0")}` : String(at / 60) });
  }
  return found;
}
