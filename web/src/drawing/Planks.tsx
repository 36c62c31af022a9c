import { memo, useEffect, useRef, type KeyboardEvent } from "react";

import type { Forecast } from "../api/client";
import { clock } from "../shared/format";
import { x, type Axis } from "./axis";
import { entryAt } from "../basis/entries";

type Props = {
  axis: Axis;
  forecast: Forecast;
  selected: number;
  onSelect: (blockId: string) => void;
  onMove: (blockId: string, by: 1 | -1) => void;
};

/** The blocks of the class as planks of their true length; what runs over the class length is sawn off in hatching. */
export const Planks = memo(function Planks({ axis, forecast, selected, onSelect, onMove }: Props) {
  const row = useRef<HTMLDivElement>(null);
  const moved = useRef(false);
  // the plank that was chosen or moved by keyboard keeps the focus
  useEffect(() => {
    if (!moved.current) return;
    moved.current = false;
    row.current?.querySelector<HTMLElement>("[aria-selected=true]")?.focus();
  }, [selected, forecast]);
  function onKey(event: KeyboardEvent, index: number) {
    const by = event.key === "ArrowLeft" ? -1 : event.key === "ArrowRight" ? 1 : undefined;
    const other = by && forecast.blocks[index + by];
    if (!other) return;
    event.preventDefault();
    moved.current = true;
    if (event.altKey) onMove(entryAt(forecast.blocks, index).id, by);
    else onSelect(other.id);
  }
  return (
    <div
      ref={row}
      className="relative h-10 overflow-hidden"
      role="tablist"
      aria-label="Blocks of the class: arrow keys choose, with Alt they move"
    >
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
            onKeyDown={(event) => onKey(event, index)}
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
