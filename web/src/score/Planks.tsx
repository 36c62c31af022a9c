import { memo } from "react";

import type { Forecast } from "../api/client";
import { clock } from "../shared/format";
import { x, type Axis } from "./axis";

type Props = { axis: Axis; forecast: Forecast; selected: number; onSelect: (blockId: string) => void };

/** The blocks of the class as planks of their true length; what runs over the slot is sawn off in hatching. */
export const Planks = memo(function Planks({ axis, forecast, selected, onSelect }: Props) {
  return (
    <div className="relative h-10 overflow-hidden" role="tablist" aria-label="Blocks of the class">
      {forecast.blocks.map((block, index) => {
        const left = Math.max(x(axis, block.start_s), 0);
        const right = Math.min(x(axis, block.end_s), axis.width);
        const wide = right - left;
        if (wide <= 0) return null;
        const over = Math.max(0, right - Math.max(x(axis, forecast.slot_s), left));
        const words = `${block.name} ${clock(block.end_s - block.start_s)}, from ${clock(block.start_s)} to ${clock(block.end_s)}`;
        return (
          <button
            key={block.id}
            type="button"
            role="tab"
            aria-selected={index === selected}
            aria-label={words}
            title={words}
            onClick={() => onSelect(block.id)}
            className="absolute top-1 h-8 overflow-hidden rounded-[3px] px-1.5 text-left text-sm leading-4 font-semibold"
            style={{
              left,
              width: Math.max(wide - 1.5, 3),
              background: `var(--plank-${block.kind})`,
              color: "var(--plank-ink)",
              boxShadow: index === selected ? "inset 0 -4px 0 var(--color-base-content)" : undefined,
            }}
          >
            {over > 0 && (
              <span
                className="absolute inset-y-0 right-0"
                style={{
                  width: over,
                  background: "repeating-linear-gradient(135deg, transparent 0 5px, rgb(0 0 0 / 45%) 5px 9px)",
                }}
              />
            )}
            {wide > 44 && (
              <span className="relative flex items-baseline gap-1.5 whitespace-nowrap">
                <span className="truncate">{block.name}</span>{" "}
                {wide > 150 && <span className="text-xs font-normal">{clock(block.end_s - block.start_s)}</span>}
              </span>
            )}
          </button>
        );
      })}
    </div>
  );
});
