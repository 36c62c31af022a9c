import { clock } from "../shared/format";
import { ticks, x, type Axis, type Drag } from "./axis";

type Props = {
  axis: Axis;
  /** seconds of the whole class */
  length: number;
  second: number;
  onScrub: (second: number) => void;
  drag: Drag;
  /** pixels under which other words stand, so that no minutes are written there */
  hidden?: [number, number];
};

/** The minutes of the class, and the handle of the scrub line for pointer and keyboard. */
export function TimeRule({ axis, length, second, onScrub, drag, hidden = [0, 0] }: Props) {
  return (
    <div
      {...drag}
      role="slider"
      tabIndex={0}
      aria-label="Moment of the class"
      aria-valuemin={0}
      aria-valuemax={Math.round(length)}
      aria-valuenow={second}
      aria-valuetext={clock(second)}
      data-testid="scrub"
      className="relative z-10 h-6 cursor-ew-resize touch-none border-b border-base-300 text-xs select-none"
      onKeyDown={(event) => {
        const by = { ArrowRight: 1, ArrowLeft: -1, ArrowUp: 1, ArrowDown: -1, PageUp: 60, PageDown: -60 }[event.key];
        const to =
          event.key === "Home" ? 0 : event.key === "End" ? length : by ? second + by * (event.shiftKey ? 10 : 1) : null;
        if (to === null) return;
        event.preventDefault();
        onScrub(Math.max(0, Math.min(Math.round(length), to)));
      }}
    >
      {ticks(axis)
        .filter(
          (tick) => hidden[1] <= hidden[0] || x(axis, tick.at) < hidden[0] - 8 || x(axis, tick.at) > hidden[1] + 8,
        )
        .map((tick) => (
          <span key={tick.at} className="faint absolute bottom-0.5 -translate-x-1/2" style={{ left: x(axis, tick.at) }}>
            {tick.label}
          </span>
        ))}
    </div>
  );
}
