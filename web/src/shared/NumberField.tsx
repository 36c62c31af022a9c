import { Minus, Plus } from "lucide-react";
import { useId, useState } from "react";

type Props = {
  label: string;
  value: number;
  min: number;
  max: number;
  step?: number;
  unit?: string;
  onChange: (value: number) => void;
  /** without the visible label and the buttons, for the narrow rows of the staves */
  bare?: boolean;
  wide?: boolean;
  fault?: string;
};

/**
 * A whole number with its unit. Every valid value takes effect at once; what is half typed or out of range stays in the
 * field with a word about what would be right, and changes nothing.
 */
export function NumberField({ label, value, min, max, step = 1, unit, onChange, bare, wide, fault }: Props) {
  const id = useId();
  // only what is not (yet) a valid value lives here; a valid one is the caller's
  const [halfTyped, setHalfTyped] = useState<string | null>(null);
  const text = halfTyped ?? String(value);
  const isValid = (words: string) =>
    words.trim() !== "" && Number.isInteger(Number(words)) && Number(words) >= min && Number(words) <= max;
  const valid = isValid(text);
  const complaint = valid ? fault : `${min} to ${max}${unit ? ` ${unit}` : ""}`;

  function take(next: string) {
    setHalfTyped(isValid(next) ? null : next);
    if (isValid(next)) onChange(Number(next));
  }
  function nudge(by: number) {
    take(String(Math.min(max, Math.max(min, value + by))));
  }

  const input = (
    <input
      id={id}
      type="number"
      inputMode="numeric"
      aria-label={bare ? label : undefined}
      aria-invalid={complaint ? true : undefined}
      aria-describedby={complaint ? `${id}-complaint` : undefined}
      className={`w-full bg-transparent text-right outline-none ${bare ? "hand" : "text-[0.95rem] font-semibold"}`}
      value={text}
      min={min}
      max={max}
      step={step}
      onChange={(event) => take(event.target.value)}
      onBlur={() => setHalfTyped(null)}
      onKeyDown={(event) => {
        if (event.key !== "ArrowUp" && event.key !== "ArrowDown") return;
        event.preventDefault();
        nudge(event.key === "ArrowUp" ? step : -step);
      }}
    />
  );
  const frame = `relative flex items-center rounded-[var(--radius-field)] border bg-base-100 focus-within:outline-2 focus-within:outline-info ${
    complaint ? "border-error" : "border-base-300"
  }`;
  const complaintBubble = complaint && (
    <span
      id={`${id}-complaint`}
      role="alert"
      className="absolute top-full right-0 z-30 mt-0.5 rounded bg-error px-1.5 py-0.5 text-xs whitespace-nowrap text-error-content"
    >
      {complaint}
    </span>
  );

  if (bare) {
    return (
      <span className={`${frame} h-[22px] ${wide ? "w-[4.4rem]" : "w-[3.1rem]"} px-1`}>
        {input}
        {unit && <span className="faint pl-0.5 text-xs whitespace-nowrap">{unit}</span>}
        {complaintBubble}
      </span>
    );
  }
  return (
    <span className="flex items-center gap-1">
      <label htmlFor={id} className="text-sm">
        {label}
      </label>
      <span className={`${frame} h-7`}>
        <button
          type="button"
          className="flex h-full w-6 items-center justify-center"
          aria-label={`${label}: less`}
          onClick={() => nudge(-step)}
        >
          <Minus size={14} aria-hidden />
        </button>
        <span className="w-7">{input}</span>
        {unit && <span className="faint pl-1 text-sm">{unit}</span>}
        <button
          type="button"
          className="flex h-full w-6 items-center justify-center"
          aria-label={`${label}: more`}
          onClick={() => nudge(step)}
        >
          <Plus size={14} aria-hidden />
        </button>
        {complaintBubble}
      </span>
    </span>
  );
}
