import { useRef } from "react";

import { clock } from "../shared/format";
import { placeIn, type RunState } from "../live/runState";
import { entryAt } from "../basis/entries";

type Props = {
  runState: RunState;
  /** the second that is looked at instead of now */
  look: number | null;
  onLook: (second: number | null) => void;
};

const STEP_S = 15;

/** The whole class as planks on one line, with where it stands. Dragging looks ahead and leaves the clock alone. */
export function Strip({ runState, look, onLook }: Props) {
  const bar = useRef<HTMLDivElement>(null);
  const { sheet } = runState;
  const share = (second: number) => `${(100 * second) / sheet.length_s}%`;
  const shown = look ?? runState.second;
  function lookAt(x: number) {
    const box = bar.current!.getBoundingClientRect();
    onLook(Math.min(1, Math.max(0, (x - box.left) / box.width)) * sheet.length_s);
  }
  const block = entryAt(sheet.blocks, placeIn(sheet, shown).block);
  return (
    <div
      ref={bar}
      role="slider"
      tabIndex={0}
      aria-label="Look ahead in the class; the clock goes on"
      aria-valuemin={0}
      aria-valuemax={Math.round(sheet.length_s)}
      aria-valuenow={Math.round(shown)}
      aria-valuetext={`${clock(shown)}, ${block.name}${look === null ? "" : ", looking"}`}
      className="relative h-11 cursor-col-resize touch-none select-none"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        lookAt(event.clientX);
      }}
      onPointerMove={(event) => {
        if (event.buttons) lookAt(event.clientX);
      }}
      onKeyDown={(event) => {
        const by = { ArrowRight: STEP_S, ArrowLeft: -STEP_S, PageDown: 120, PageUp: -120 }[event.key];
        if (event.key === "Escape") onLook(null);
        else if (by) onLook(Math.min(sheet.length_s, Math.max(0, shown + by)));
        else return;
        event.preventDefault();
        event.stopPropagation();
      }}
    >
      {sheet.blocks.map((block) => (
        <span
          key={block.id}
          title={`${block.name}, from ${clock(block.start_s)} to ${clock(block.end_s)}`}
          className="absolute top-1 bottom-1 overflow-hidden rounded-[3px] px-1.5 pt-0.5 text-sm font-semibold whitespace-nowrap"
          style={{
            left: share(block.start_s),
            width: `calc(${share(block.end_s - block.start_s)} - 2px)`,
            ...(block.end_s <= runState.second
              ? {
                  background: `color-mix(in srgb, var(--plank-${block.kind}) 30%, var(--color-base-100))`,
                  color: "var(--color-base-content)",
                }
              : { background: `var(--plank-${block.kind})`, color: "var(--plank-ink)" }),
          }}
        >
          <span className="block truncate">{block.name}</span>
        </span>
      ))}
      <span
        className="absolute -top-0.5 -bottom-0.5 w-1 rounded bg-base-content ring-2 ring-base-100"
        style={{ left: `calc(${share(runState.second)} - 2px)` }}
        aria-hidden
      />
      {look !== null && (
        <span
          className="absolute -top-1 -bottom-1 w-1.5 rounded bg-accent ring-2 ring-base-100"
          style={{ left: `calc(${share(look)} - 3px)` }}
          aria-hidden
        />
      )}
    </div>
  );
}
