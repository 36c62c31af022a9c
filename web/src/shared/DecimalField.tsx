import { useId, useState } from "react";

type Props = {
  label: string;
  value: number | null;
  min: number;
  max: number;
  step?: number;
  unit?: string;
  /** what stands in an empty field, which is then allowed: the value of the kind */
  otherwise?: number;
  onChange: (value: number | null) => void;
  /** without the visible label, for the narrow cells of a table */
  bare?: boolean;
};

/** A number with decimals and a unit; what is half typed or out of range says what would be right and changes nothing. */
export function DecimalField({ label, value, min, max, step = 0.1, unit, otherwise, onChange, bare }: Props) {
  const id = useId();
  const [halfTyped, setHalfTyped] = useState<string | null>(null);
  const text = halfTyped ?? (value === null ? "" : String(round(value)));
  const empty = text.trim() === "";
  const number = Number(text.replace(",", "."));
  const valid = empty ? otherwise !== undefined : Number.isFinite(number) && number >= min && number <= max;
  function take(next: string) {
    const typed = Number(next.replace(",", "."));
    if (next.trim() === "" && otherwise !== undefined) {
      setHalfTyped(null);
      onChange(null);
    } else if (next.trim() !== "" && Number.isFinite(typed) && typed >= min && typed <= max) {
      // a point just typed stays in sight until a digit follows
      setHalfTyped(/[.,]0*$/.test(next) ? next : null);
      onChange(typed);
    } else setHalfTyped(next);
  }
  function nudge(by: number) {
    take(String(round(Math.min(max, Math.max(min, (value ?? otherwise ?? min) + by)))));
  }
  return (
    <span className="relative flex items-center gap-2 text-sm">
      <label htmlFor={id} className={bare ? "sr-only" : "grow"}>
        {label}
      </label>
      <input
        id={id}
        inputMode="decimal"
        aria-invalid={valid ? undefined : true}
        aria-describedby={valid ? undefined : `${id}-complaint`}
        className={`h-7 w-16 rounded-[var(--radius-field)] border bg-base-100 px-1 text-right font-semibold ${
          valid ? "border-base-300" : "border-error"
        }`}
        value={text}
        placeholder={otherwise === undefined ? undefined : String(otherwise)}
        onChange={(event) => take(event.target.value)}
        onBlur={() => setHalfTyped(null)}
        onKeyDown={(event) => {
          if (event.key !== "ArrowUp" && event.key !== "ArrowDown") return;
          event.preventDefault();
          nudge(event.key === "ArrowUp" ? step : -step);
        }}
      />
      <span className="faint w-7">{unit}</span>
      {!valid && (
        <span
          id={`${id}-complaint`}
          role="alert"
          className="absolute top-full right-0 z-30 mt-0.5 rounded bg-error px-1.5 py-0.5 text-xs whitespace-nowrap text-error-content"
        >
          {min} to {max} {unit}
        </span>
      )}
    </span>
  );
}

function round(value: number): number {
  return Math.round(value * 100) / 100;
}
