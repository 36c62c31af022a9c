import { useMemo, type PointerEvent } from "react";

import type { Forecast } from "../api/client";
import { secondAt, type Axis, type Drag } from "./axis";
import { useWidth } from "./useWidth";

type Wanted = {
  forecast: Forecast;
  /** the block that is shown alone, or none for the whole class */
  closeUp: number | null;
  /** the seconds that are shown alone, whatever block they are in */
  near?: [number, number] | null;
  /** where the axis of the whole class ends */
  whole: number;
  onScrub: (second: number) => void;
};

/** The time axis of a drawing as wide as its element, and what makes a drag on it move the scrub line. */
export function useChart({ forecast, closeUp, near = null, whole, onScrub }: Wanted) {
  const { element: chart, width } = useWidth<HTMLDivElement>();

  const block = closeUp === null ? undefined : forecast.blocks[closeUp];
  const [from, to] = near ?? (block ? [Math.max(0, block.start_s - 10), block.end_s + 10] : [0, whole]);
  const axis = useMemo<Axis>(() => ({ from, to, width }), [from, to, width]);

  // the same functions from draw to draw, so that drawings which did not change are not drawn again
  const length = forecast.length.value;
  const drag = useMemo<Drag>(() => {
    const scrubTo = (event: PointerEvent<Element>) => {
      const box = chart.current!.getBoundingClientRect();
      const at = secondAt(axis, Math.min(Math.max(event.clientX - box.left, 0), axis.width));
      onScrub(Math.max(0, Math.min(length, Math.round(at))));
    };
    return {
      onPointerDown: (event) => {
        if (event.button !== 0) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        scrubTo(event);
      },
      onPointerMove: (event) => {
        if (event.currentTarget.hasPointerCapture(event.pointerId)) scrubTo(event);
      },
    };
  }, [axis, chart, length, onScrub]);
  return { chart, width, axis, drag };
}
