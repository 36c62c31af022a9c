import { memo, useMemo } from "react";

import { x, type Axis, type Drag } from "./axis";
import type { Stave, Token } from "./staveModel";

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

/** The people passing over one stave: numbered while they work, shaded while they set up, hatched while they wait. */
export const StaveDrawing = memo(function StaveDrawing({ stave, axis, own, drag }: Props) {
  const height = heightOf(stave);
  const drawn = useMemo(() => draw(stave, axis), [stave, axis]);
  const mine = drawn.filter((one) => one.person === own);
  const others = own === null ? drawn : drawn.filter((one) => one.person !== own);
  return (
    <svg
      {...(drag as Record<string, unknown>)}
      width={axis.width}
      height={height}
      className="block cursor-crosshair touch-none text-[11px] font-semibold select-none"
      role="img"
      aria-label={`${stave.label}: ${describe(stave)}`}
    >
      <Choruses stave={stave} axis={axis} />
      <g opacity={own === null ? 1 : 0.55}>
        <Tokens tokens={others} breather={stave.breather} fill="var(--token)" ink="var(--color-base-content)" />
      </g>
      {mine.length > 0 && (
        <Tokens
          tokens={mine}
          breather={stave.breather}
          fill="var(--color-base-content)"
          ink={stave.breather ? "var(--color-base-content)" : "var(--color-base-100)"}
        />
      )}
      {stave.queues.map((one, place) => {
        const left = x(axis, one.start);
        const wide = x(axis, one.end) - left;
        return (
          <rect key={place} x={left} y={height - QUEUE_H - 1} width={wide} height={QUEUE_H} fill="url(#hatch)">
            <title>{`${one.people.length === 1 ? "no." : "nos."} ${one.people.join(", ")} waiting`}</title>
          </rect>
        );
      })}
    </svg>
  );
});

/** The hatching of waits, once a page. */
export function Hatching() {
  return (
    <svg width={0} height={0} className="absolute" aria-hidden>
      <defs>
        <pattern id="hatch" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="5" height="5" fill="var(--color-base-100)" />
          <rect width="2.4" height="5" fill="var(--color-accent)" />
        </pattern>
      </defs>
    </svg>
  );
}

function Choruses({ stave, axis }: { stave: Stave; axis: Axis }) {
  return stave.choruses.map((one) => {
    const left = x(axis, one.start);
    const wide = Math.max(x(axis, one.end) - left - 1, 1);
    const words = wide > one.label.length * 5.6 ? one.label : wide > 24 ? "all" : "";
    return (
      <g key={one.start}>
        <rect x={left} y={TOP} width={wide} height={18} rx={2} fill="var(--token)" stroke="var(--token-edge)" />
        {words && (
          <text x={left + wide / 2} y={TOP + 13} textAnchor="middle" className="fill-base-content">
            {words}
          </text>
        )}
      </g>
    );
  });
}

/** A token in pixels. `size` is the size of its number, 0 where there is no room for one. */
type Drawn = { person: number; left: number; y: number; wide: number; tall: number; setUp: number; size: number };

function draw(stave: Stave, axis: Axis): Drawn[] {
  const step = laneOf(stave);
  const tall = stave.lanes === 1 ? 17 : step - 2;
  return stave.tokens.map((token: Token) => {
    const left = x(axis, token.start);
    const wide = Math.max(x(axis, token.end) - left - 0.8, 1);
    const digits = String(token.person).length;
    const roomy = wide >= digits * 5.3 + 1.5 && tall > 12;
    const size = roomy ? 11 : wide >= digits * 4.5 - 0.5 ? 9.5 : 0;
    return {
      person: token.person,
      left,
      y: TOP + token.lane * step,
      wide,
      tall,
      setUp: left - x(axis, token.setUpFrom),
      size,
    };
  });
}

function box(left: number, y: number, wide: number, tall: number): string {
  return `M${left.toFixed(1)} ${y}h${wide.toFixed(1)}v${tall}h${(-wide).toFixed(1)}z`;
}

type TokensProps = { tokens: Drawn[]; breather: boolean; fill: string; ink: string };

/** Many tokens in few elements: one path for all boxes, one for all set-ups, and the numbers. */
function Tokens({ tokens, breather, fill, ink }: TokensProps) {
  const setUps = tokens.filter((one) => one.setUp > 0.8);
  return (
    <>
      {setUps.length > 0 && (
        <path
          d={setUps.map((one) => box(one.left - one.setUp, one.y + 1, one.setUp, one.tall - 2)).join("")}
          fill="var(--token)"
          opacity={0.55}
        />
      )}
      {breather ? (
        <path
          d={tokens.map((one) => box(one.left, one.y + 2, one.wide, one.tall - 4)).join("")}
          fill="none"
          stroke="var(--faint)"
          strokeDasharray="3 2"
        />
      ) : (
        <path
          d={tokens.map((one) => box(one.left, one.y, one.wide, one.tall)).join("")}
          fill={fill}
          stroke="var(--token-edge)"
          strokeLinejoin="round"
        />
      )}
      {tokens.map(
        // by place in the row: after an edit the same elements move, instead of being made anew
        (one, place) =>
          one.size > 0 && (
            <text
              key={place}
              x={one.left + one.wide / 2}
              y={one.y + one.tall / 2 + one.size * 0.36}
              fontSize={one.size}
              textAnchor="middle"
              fill={ink}
            >
              {one.person}
            </text>
          ),
      )}
    </>
  );
}

function describe(stave: Stave): string {
  const people = new Set(stave.tokens.map((token) => token.person)).size;
  const waiting = new Set(stave.queues.flatMap((queue) => queue.people)).size;
  const parts = [
    ...stave.choruses.map((one) => one.label),
    people ? `${people} people in ${stave.tokens.length} turns` : "",
    waiting ? `${waiting} wait here` : "",
  ].filter(Boolean);
  return parts.join("; ") || "unused";
}
