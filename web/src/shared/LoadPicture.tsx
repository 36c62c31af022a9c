import type { LoadAsSet } from "../api/client";
import { LB_KG } from "./units";

/** One side of a bar with its plates, or the stack with its pin, or what is in hand. */
export function LoadPicture({ load }: { load: LoadAsSet }) {
  const label = load.words;
  if (load.bar_kg != null) {
    return (
      <svg viewBox="0 0 190 34" className="h-8.5 w-full max-w-48" role="img" aria-label={label}>
        <rect x={0} y={15} width={190} height={4} className="fill-(--faint)" />
        <rect x={18} y={10} width={5} height={14} className="fill-base-content" />
        {load.a_side_kg.map((kg, at) => {
          const tall = 12 + Math.min(1, kg / 25) * 20;
          return (
            <g key={at}>
              <rect
                x={26 + at * 20}
                y={17 - tall / 2}
                width={17}
                height={tall}
                rx={2}
                fill="var(--token)"
                stroke="var(--token-edge)"
              />
              <text x={34.5 + at * 20} y={20.5} textAnchor="middle" className="fill-base-content text-[9px]">
                {Number((load.marked === "kg" ? kg : kg / LB_KG).toFixed(1))}
              </text>
            </g>
          );
        })}
      </svg>
    );
  }
  if (load.pin_kg != null) {
    return (
      <svg viewBox="0 0 190 34" className="h-8.5 w-full max-w-48" role="img" aria-label={label}>
        {[0, 1, 2, 3, 4].map((at) => (
          <rect
            key={at}
            x={20}
            y={2 + at * 6.2}
            width={60}
            height={5}
            rx={1}
            fill="var(--token)"
            stroke="var(--token-edge)"
          />
        ))}
        <rect x={66} y={15.5} width={34} height={3} className="fill-accent" />
        <text x={104} y={21} className="fill-base-content text-[11px]">
          {label.replace("pin at ", "")}
        </text>
      </svg>
    );
  }
  return <span className="text-sm">{label}</span>;
}
