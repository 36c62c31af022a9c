import { area, line } from "d3-shape";

import { x, type Axis } from "./axis";
import { entryAt } from "../basis/entries";

/** Values every so many seconds from 0 to the end of the class, and how high each is drawn. */
type Series = { axis: Axis; every: number; end: number; y: (value: number) => number };

/** Where each value stands; what is out of sight is not drawn. */
function placed({ axis, every, end }: Series) {
  const at = (index: number) => Math.min(index * every, end);
  return {
    across: (_: unknown, index: number) => x(axis, at(index)),
    seen: (_: unknown, index: number) => at(index) >= axis.from - every && at(index) <= axis.to + every,
  };
}

/** A curve through the values. */
export function curveOf(values: number[], series: Series): string {
  const { across, seen } = placed(series);
  return line<number>(across, series.y).defined(seen).digits(1)(values) ?? "";
}

/** The band between the lower and the upper values. */
export function bandOf(low: number[], high: number[], series: Series): string {
  const { across, seen } = placed(series);
  const shape = area<number>(across, (_, index) => series.y(entryAt(low, index)), series.y)
    .defined(seen)
    .digits(1);
  return shape(high) ?? "";
}
