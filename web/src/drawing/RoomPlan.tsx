import { memo, type KeyboardEvent, type PointerEvent, type ReactNode, type Ref } from "react";

import type { Room, Unit } from "../api/client";
import { footprintOf, sizeOf } from "./floorModel";
import { wrapped } from "./wrapped";
import { entryAt } from "../basis/entries";

/** How hard a unit is used over the class: the share of time (0 to 1) and seconds that people stand before it. */
export type Use = { share: number; waited: number };

type Props = {
  room: Room;
  kinds: Map<string, { name: string; width_m: number; depth_m: number }>;
  /** units this class cannot have */
  taken?: string[];
  selected?: string | null;
  onSelect?: (unit: string) => void;
  /** what else a press, a drag or a key on a unit means (the room's own screen) */
  onUnitPointer?: (unit: Unit, event: PointerEvent<SVGGElement>) => void;
  onUnitKey?: (unit: Unit, event: KeyboardEvent<SVGGElement>) => void;
  uses?: Map<string, Use>;
  children?: ReactNode;
  svgRef?: Ref<SVGSVGElement>;
  label: string;
};

const INTENSITY = ["var(--intensity-0)", "var(--intensity-1)", "var(--intensity-2)", "var(--intensity-3)"];

/** The room to scale, seen from above: walls, zones and units; one metre is one unit of the drawing. */
export const RoomPlan = memo(function RoomPlan({ svgRef, ...props }: Props) {
  const { room, kinds, uses, children } = props;
  const { width, depth } = sizeOf(room);
  // free floor lies under what stands on it
  const inOrder = room.units.toSorted((one, other) => Number(other.kind === "none") - Number(one.kind === "none"));
  return (
    <svg
      ref={svgRef}
      viewBox={`-0.15 -0.15 ${width + 0.3} ${depth + 0.3}`}
      className="block h-auto w-full touch-none select-none"
      role="group"
      aria-label={props.label}
      data-testid="room-plan"
    >
      <defs>
        <pattern
          id="out-of-order"
          width="0.22"
          height="0.22"
          patternUnits="userSpaceOnUse"
          patternTransform="rotate(45)"
        >
          <rect width="0.22" height="0.22" fill="var(--color-base-200)" />
          <rect width="0.07" height="0.22" fill="var(--faint)" opacity="0.45" />
        </pattern>
      </defs>
      <rect
        width={width}
        height={depth}
        fill="var(--color-base-100)"
        stroke="var(--color-base-content)"
        strokeWidth={0.12}
      />
      {Array.from({ length: Math.floor(width) }, (_, metre) => (
        <line key={`x${metre}`} x1={metre + 1} x2={metre + 1} y1={depth - 0.12} y2={depth} {...TICK} />
      ))}
      {Array.from({ length: Math.floor(depth) }, (_, metre) => (
        <line key={`y${metre}`} y1={metre + 1} y2={metre + 1} x1={0} x2={0.12} {...TICK} />
      ))}
      {room.zones.map((zone) => (
        <g key={zone.id}>
          <rect
            x={zone.x_m}
            y={zone.y_m}
            width={zone.width_m}
            height={zone.depth_m}
            rx={0.12}
            fill="var(--color-base-200)"
            opacity={0.55}
          />
          <text x={zone.x_m + 0.08} y={zone.y_m - 0.07} fontSize={0.25} fill="var(--faint)">
            {zone.name}
          </text>
        </g>
      ))}
      {inOrder.map((unit) => (
        <UnitShape
          key={unit.id}
          unit={unit}
          name={kinds.get(unit.kind)?.name ?? unit.kind}
          size={footprintOf(unit, kinds)}
          gone={unit.out_of_order || (props.taken ?? []).includes(unit.id)}
          selected={props.selected === unit.id}
          use={uses?.get(unit.id)}
          onSelect={props.onSelect}
          onPointer={props.onUnitPointer}
          onKey={props.onUnitKey}
        />
      ))}
      {children}
    </svg>
  );
});

const TICK = { stroke: "var(--faint)", strokeWidth: 0.03 };

type ShapeProps = {
  unit: Unit;
  name: string;
  size: { width: number; depth: number };
  gone: boolean;
  selected: boolean;
  use: Use | undefined;
  onSelect: Props["onSelect"];
  onPointer: Props["onUnitPointer"];
  onKey: Props["onUnitKey"];
};

function UnitShape({ unit, name, size, gone, selected, use, onSelect, onPointer, onKey }: ShapeProps) {
  const { width, depth } = size;
  const words = unit.kind === "none" ? "free floor" : name;
  const lines = wrapped(words, width);
  // a unit too narrow for its name has it above
  const narrow = width < NARROW_M;
  const level = use ? Math.min(3, Math.floor(use.share * 4)) : 0;
  const fill = gone ? "url(#out-of-order)" : use ? entryAt(INTENSITY, level) : "var(--color-base-100)";
  const heat = use && !gone ? `used ${Math.round(use.share * 100)} %` : "";
  const label = [
    unit.name === words ? words : `${words}, ${unit.name}`,
    unit.count > 1 ? `${unit.count} of them` : "",
    gone ? (unit.out_of_order ? "out of order" : "taken") : "",
    heat,
    use && !gone && use.waited >= 30 ? `waits ${Math.round(use.waited / 60)} min in all` : "",
  ];
  return (
    <g
      transform={`translate(${unit.x_m} ${unit.y_m})`}
      role="button"
      tabIndex={0}
      aria-label={label.filter(Boolean).join(", ")}
      aria-pressed={selected}
      data-unit={unit.id}
      className="cursor-pointer"
      onClick={() => onSelect?.(unit.id)}
      onPointerDown={(event) => onPointer?.(unit, event)}
      onKeyDown={(event) => {
        if (event.key === "Enter" || event.key === " ") {
          event.preventDefault();
          onSelect?.(unit.id);
        } else onKey?.(unit, event);
      }}
    >
      <rect
        x={-width / 2}
        y={-depth / 2}
        width={width}
        height={depth}
        rx={0.1}
        fill={fill}
        stroke={selected ? "var(--color-base-content)" : "var(--token-edge)"}
        strokeWidth={selected ? 0.11 : 0.045}
        strokeDasharray={unit.kind === "none" ? "0.15 0.1" : undefined}
      />
      <text textAnchor="middle" fontSize={0.27} fill="var(--color-base-content)" pointerEvents="none">
        {narrow ? (
          <tspan x={0} y={-depth / 2 - 0.1}>
            {words}
          </tspan>
        ) : (
          lines.map((line, index) => (
            <tspan key={index} x={0} y={-depth / 2 + 0.32 + index * 0.29}>
              {`${line} `}
            </tspan>
          ))
        )}
        {heat && (
          <tspan x={0} y={depth / 2 - 0.14} fontWeight={600}>
            {Math.round(use!.share * 100)} %
          </tspan>
        )}
      </text>
      {gone && (
        <text textAnchor="middle" y={depth / 2 + 0.28} fontSize={0.26} fontWeight={600} fill="var(--color-error)">
          {unit.out_of_order ? "out of order" : "taken"}
        </text>
      )}
      {use && !gone && use.waited >= 30 && (
        <text textAnchor="middle" y={depth / 2 + 0.3} fontSize={0.28} fontWeight={600} fill="var(--color-error)">
          waits {Math.round(use.waited / 60)} min
        </text>
      )}
    </g>
  );
}

const NARROW_M = 0.95;
