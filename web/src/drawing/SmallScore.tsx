import { memo, useLayoutEffect, useMemo, useRef } from "react";

import type { Forecast } from "../api/client";
import { clock } from "../shared/format";
import { useThemeName } from "../shared/theme";
import { x, type Axis } from "./axis";
import { inksOf } from "./inks";
import { stavesOf, type Stave } from "./steps";
import { useWidth } from "./useWidth";

const PLANK_H = 14;
const ROW_H = 15;
const HEART_H = 34;
const GAP = 3;

type Props = { forecast: Forecast; title: string };

/** The whole class small: its blocks, a row for each exercise with everybody's turns on it, and the middle heart. */
export const SmallScore = memo(function SmallScore({ forecast, title }: Props) {
  const { element, width } = useWidth<HTMLDivElement>();
  const canvas = useRef<HTMLCanvasElement>(null);
  const theme = useThemeName();
  const rows = useMemo(() => rowsOf(forecast), [forecast]);
  const height = PLANK_H + GAP + rows.length * ROW_H + GAP + HEART_H;
  const to = Math.max(forecast.slot_s, forecast.length.value);
  useLayoutEffect(() => {
    const here = canvas.current;
    const on = here?.getContext("2d");
    if (!here || !on || width < 40) return;
    const scale = window.devicePixelRatio || 1;
    here.width = Math.round(width * scale);
    here.height = Math.round(height * scale);
    on.setTransform(scale, 0, 0, scale, 0, 0);
    on.clearRect(0, 0, width, height);
    on.font = LABEL(inksOf(theme).font);
    const named = rows.map((row) => on.measureText(row.label).width);
    const gutter = Math.min(Math.ceil(Math.max(0, ...named)) + 6, Math.round(width * 0.46));
    on.translate(gutter, 0);
    draw(on, forecast, rows, { from: 0, to, width: width - gutter }, gutter, height, theme);
  }, [forecast, rows, width, height, to, theme]);
  return (
    <div ref={element} className="w-full">
      <canvas
        ref={canvas}
        style={{ width: "100%", height }}
        className="block"
        role="img"
        aria-label={`${title}: ${forecast.blocks.map((block) => `${block.name} ${clock(block.end_s - block.start_s)}`).join(", ")}`}
      />
    </div>
  );
});

type SmallRow = { label: string; staves: Stave[] };

/** A row for each exercise of what is not done together, in the order of the plan. */
function rowsOf(forecast: Forecast): SmallRow[] {
  return forecast.blocks.flatMap((block, at) => {
    if (block.kind === "together") return [];
    const staves = stavesOf(forecast, block.id, { from: block.start_s, to: block.end_s });
    return forecast.slots
      .filter((slot) => slot.block === at && slot.stands_for < 0)
      .map((slot) => ({ label: slot.name, staves: [staves.get(slot.id)].filter((item) => item !== undefined) }));
  });
}

function draw(
  on: CanvasRenderingContext2D,
  forecast: Forecast,
  rows: SmallRow[],
  axis: Axis,
  gutter: number,
  height: number,
  theme: string,
): void {
  const inks = inksOf(theme);
  const style = getComputedStyle(document.documentElement);
  for (const block of forecast.blocks) {
    on.fillStyle = style.getPropertyValue(`--plank-${block.kind}`).trim();
    on.fillRect(x(axis, block.start_s), 0, Math.max(1, x(axis, block.end_s) - x(axis, block.start_s) - 1), PLANK_H);
  }
  on.textBaseline = "alphabetic";
  on.textAlign = "left";
  rows.forEach((row, at) => {
    const top = PLANK_H + GAP + at * ROW_H;
    for (const stave of row.staves) {
      const tall = (ROW_H - 2) / Math.max(1, stave.lanes);
      on.fillStyle = inks.edge;
      for (const token of stave.tokens)
        on.fillRect(
          x(axis, token.start),
          top + token.lane * tall,
          Math.max(0.7, x(axis, token.end) - x(axis, token.start) - 0.4),
          tall - 0.3,
        );
      on.fillStyle = inks.hatch(on);
      for (const queue of stave.queues)
        on.fillRect(x(axis, queue.start), top + ROW_H - 4, x(axis, queue.end) - x(axis, queue.start), 3);
    }
    on.font = LABEL(inks.font);
    on.fillStyle = inks.ink;
    on.fillText(shortened(on, row.label, gutter - 4), -gutter, top + ROW_H - 4.5);
  });
  heart(on, forecast, axis, height, inks.ink, inks.faint, inks.font);
}

/** The middle heart of the class as a share of the reserve, with the line at which it is vigorous. */
function heart(
  on: CanvasRenderingContext2D,
  forecast: Forecast,
  axis: Axis,
  height: number,
  ink: string,
  faint: string,
  font: string,
): void {
  const median = forecast.band?.median;
  if (!median) return;
  const y = (share: number) => height - 1 - Math.min(1, share) * (HEART_H - 2);
  on.strokeStyle = faint;
  on.setLineDash([3, 3]);
  on.beginPath();
  on.moveTo(0, y(VIGOROUS));
  on.lineTo(axis.width, y(VIGOROUS));
  on.stroke();
  on.setLineDash([]);
  on.strokeStyle = ink;
  on.lineWidth = 1.5;
  on.beginPath();
  median.forEach((share, at) => on.lineTo(x(axis, at * forecast.sample_s), y(share)));
  on.stroke();
  on.lineWidth = 1;
  on.fillStyle = faint;
  on.font = `11px ${font}`;
  on.textAlign = "right";
  on.fillText("vigorous", axis.width - 2, y(VIGOROUS) - 2);
  on.textAlign = "left";
}

const VIGOROUS = 0.6;
const LABEL = (font: string) => `12px ${font}`;

/** A name that fits, with its end left out where it does not. */
function shortened(on: CanvasRenderingContext2D, name: string, wide: number): string {
  if (on.measureText(name).width <= wide) return name;
  let kept = name;
  while (kept.length > 3 && on.measureText(`${kept}…`).width > wide) kept = kept.slice(0, -1);
  return `${kept.trimEnd()}…`;
}
