import { scaleLinear } from "d3-scale";
import type { HTMLAttributes } from "react";

/** What makes a drawing move the scrub line. */
export type Drag = Pick<HTMLAttributes<Element>, "onPointerDown" | "onPointerMove">;

/** The shared time axis: which seconds are in view and how wide they are drawn. */
export type Axis = { from: number; to: number; width: number };

/** The scale of an axis, from seconds to pixels. */
function scaleOf({ from, to, width }: Axis) {
  return scaleLinear([from, to], [0, width]);
}

const scales = new WeakMap<Axis, ReturnType<typeof scaleOf>>();
function scale(axis: Axis) {
  const known = scales.get(axis) ?? scaleOf(axis);
  scales.set(axis, known);
  return known;
}

export function x(axis: Axis, seconds: number): number {
  return scale(axis)(seconds);
}

export function secondAt(axis: Axis, pixels: number): number {
  return scale(axis).invert(pixels);
}

const ROOMY = 46;
const STEPS = [15, 30, 60, 120, 300, 600, 900, 1800];

/** Where the axis is labelled: the smallest step of minutes that keeps the labels apart. */
export function ticks(axis: Axis): { at: number; label: string }[] {
  const span = axis.to - axis.from;
  const step = STEPS.find((step) => (step / span) * axis.width >= ROOMY) ?? 3600;
  // in units of the step, so that the labels stand on whole steps
  const inSteps = scaleLinear([axis.from / step, axis.to / step], [0, axis.width]);
  return inSteps
    .ticks(Math.max(1, span / step))
    .filter(Number.isInteger)
    .map((number) => {
      const at = number * step;
      const seconds = at % 60;
      return { at, label: seconds ? `${Math.floor(at / 60)}:${String(seconds).padStart(2, "0")}` : String(at / 60) };
    });
}
