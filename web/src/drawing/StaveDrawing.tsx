import { memo, useLayoutEffect, useRef } from "react";

import { counted } from "../shared/format";
import { useThemeName } from "../shared/theme";
import { x, type Axis, type Drag } from "./axis";
import { inksOf, type Inks } from "./inks";
import type { Stave, Token } from "./steps";

const ROW_H = 24;
const QUEUE_H = 6;
const TOP = 3;

/** How tall a lane is drawn: less where many stand beside one another. */
function laneOf(stave: Stave): number {
  return stave.lanes > 2 ? 13 : 16;
}

/** How tall a stave is drawn: one lane a person at once, and a strip for those who wait. */
export function heightOf(stave: Stave | undefined): number {
  if (!stave) return ROW_H;
  return Math.max(ROW_H, stave.lanes * laneOf(stave) + 6 + (stave.queues.length ? QUEUE_H : 0));
}

type Props = { stave: Stave; axis: Axis; own: number | null; drag: Drag };

/**
 * The people passing over one stave: numbered while they work, shaded while they set up, hatched while they wait.
 * Drawn on a canvas: hundreds of numbered boxes are redrawn at every edit, and as elements they would take too long.
 */
export const StaveDrawing = memo(function StaveDrawing({ stave, axis, own, drag }: Props) {
  const height = heightOf(stave);
  const canvas = useRef<HTMLCanvasElement>(null);
  const theme = useThemeName();
  useLayoutEffect(() => {
    const element = canvas.current;
    const context = element?.getContext("2d");
    if (!element || !context) return;
    const scale = window.devicePixelRatio || 1;
    const [wide, tall] = [Math.round(axis.width * scale), Math.round(height * scale)];
    if (element.width !== wide || element.height !== tall) {
      element.width = wide;
      element.height = tall;
    }
    context.setTransform(scale, 0, 0, scale, 0, 0);
    context.clearRect(0, 0, axis.width, height);
    draw(context, stave, axis, own, height, inksOf(theme));
  }, [stave, axis, own, height, theme]);
  return (
    <canvas
      {...drag}
      ref={canvas}
      style={{ width: axis.width, height }}
      className="block cursor-crosshair touch-none select-none"
      role="img"
      aria-label={`${stave.label}: ${describe(stave)}`}
    />
  );
});

type Canvas = CanvasRenderingContext2D;

function draw(on: Canvas, stave: Stave, axis: Axis, own: number | null, height: number, inks: Inks): void {
  on.textAlign = "center";
  on.textBaseline = "alphabetic";
  choruses(on, stave, axis, inks);
  const step = laneOf(stave);
  const tall = stave.lanes === 1 ? 17 : step - 2;
  const boxOf = (token: Token): Box => {
    const left = x(axis, token.start);
    return {
      person: token.person,
      left,
      top: TOP + token.lane * step,
      wide: Math.max(x(axis, token.end) - left - 0.8, 1),
      tall,
      setUp: left - x(axis, token.setUpFrom),
    };
  };
  const boxes = stave.tokens.map(boxOf);
  const mine = own === null ? [] : boxes.filter((box) => box.person === own);
  const others = own === null ? boxes : boxes.filter((box) => box.person !== own);
  on.globalAlpha = own === null ? 1 : 0.55;
  tokens(on, others, stave.breather, inks.token, inks.ink, inks);
  on.globalAlpha = 1;
  tokens(on, mine, stave.breather, inks.ink, stave.breather ? inks.ink : inks.paper, inks);
  if (stave.queues.length) {
    on.fillStyle = inks.hatch(on);
    for (const queue of stave.queues) {
      const left = x(axis, queue.start);
      on.fillRect(left, height - QUEUE_H - 1, x(axis, queue.end) - left, QUEUE_H);
    }
  }
}

/** A token in pixels. */
type Box = { person: number; left: number; top: number; wide: number; tall: number; setUp: number };

function tokens(on: Canvas, boxes: Box[], breather: boolean, fill: string, ink: string, inks: Inks): void {
  if (!boxes.length) return;
  const alpha = on.globalAlpha;
  on.fillStyle = inks.token;
  on.globalAlpha = alpha * 0.55;
  for (const box of boxes) {
    if (box.setUp > 0.8) on.fillRect(box.left - box.setUp, box.top + 1, box.setUp, box.tall - 2);
  }
  on.globalAlpha = alpha;
  on.lineWidth = 1;
  on.beginPath();
  const inset = breather ? 2 : 0;
  for (const box of boxes) on.rect(box.left, box.top + inset, box.wide, box.tall - 2 * inset);
  if (breather) {
    on.setLineDash([3, 2]);
    on.strokeStyle = inks.faint;
  } else {
    on.fillStyle = fill;
    on.fill();
    on.strokeStyle = inks.edge;
  }
  on.stroke();
  on.setLineDash([]);
  on.fillStyle = ink;
  for (const large of [true, false]) {
    on.font = `600 ${large ? 11 : 9.5}px ${inks.font}`;
    for (const box of boxes) {
      const size = sizeOf(box);
      if (size === 0 || (size === 11) !== large) continue;
      on.fillText(String(box.person), box.left + box.wide / 2, box.top + box.tall / 2 + size * 0.36);
    }
  }
}

/** The size of a token's number, 0 where there is no room for one. */
function sizeOf({ person, wide, tall }: Box): number {
  const digits = String(person).length;
  if (wide >= digits * 5.3 + 1.5 && tall > 12) return 11;
  return wide >= digits * 4.5 - 0.5 ? 9.5 : 0;
}

function choruses(on: Canvas, stave: Stave, axis: Axis, inks: Inks): void {
  on.font = `600 11px ${inks.font}`;
  for (const choruse of stave.choruses) {
    const left = x(axis, choruse.start);
    const wide = Math.max(x(axis, choruse.end) - left - 1, 1);
    on.beginPath();
    on.roundRect(left, TOP, wide, 18, 2);
    on.fillStyle = inks.token;
    on.fill();
    on.strokeStyle = inks.edge;
    on.stroke();
    const words = wide > choruse.label.length * 5.6 ? choruse.label : wide > 24 ? "all" : "";
    on.fillStyle = inks.ink;
    if (words) on.fillText(words, left + wide / 2, TOP + 13);
  }
}

function describe(stave: Stave): string {
  const people = new Set(stave.tokens.map((token) => token.person)).size;
  const waiting = new Set(stave.queues.flatMap((queue) => queue.people)).size;
  const parts = [
    ...stave.choruses.map((choruse) => choruse.label),
    people ? `${counted(people, "person", "people")} in ${counted(stave.tokens.length, "turn")}` : "",
    waiting ? `${waiting} wait here` : "",
  ].filter(Boolean);
  return [...new Set(parts)].join("; ") || "unused";
}
