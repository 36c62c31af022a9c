import { Minus, Plus } from "lucide-react";

type StepperProps = {
  label: string;
  /** what is read below the value, where its place says the rest of the label */
  shown?: string;
  value: string;
  onStep: (way: 1 | -1) => void;
  /** what was typed in place of stepping there; a value that cannot be typed has none */
  onType?: (value: number) => void;
};

/** A value that is stepped by large buttons, or typed. */
export function Stepper({ label, shown, value, onStep, onType }: StepperProps) {
  return (
    <span className="flex items-center gap-1" role="group" aria-label={label}>
      <button
        type="button"
        className="btn btn-square h-11 w-11"
        aria-label={`less ${label}`}
        onClick={() => onStep(-1)}
      >
        <Minus size={18} aria-hidden />
      </button>
      <span className="min-w-16 text-center leading-tight">
        {onType ? (
          <input
            key={value}
            className="h-8 w-20 rounded border border-base-300 bg-base-100 text-center text-lg font-bold tabular-nums"
            inputMode="decimal"
            aria-label={`${label}, typed`}
            defaultValue={value}
            onFocus={(event) => event.currentTarget.select()}
            onBlur={(event) => {
              const typed = Number.parseFloat(event.currentTarget.value.replace(",", "."));
              if (event.currentTarget.value !== value && Number.isFinite(typed) && typed >= 0) onType(typed);
              else event.currentTarget.value = value;
            }}
            onKeyDown={(event) => {
              if (event.key !== "Enter") return;
              event.preventDefault();
              event.currentTarget.blur();
            }}
          />
        ) : (
          <strong className="block text-lg tabular-nums">{value}</strong>
        )}
        <span className="faint block text-xs">{shown ?? label}</span>
      </span>
      <button type="button" className="btn btn-square h-11 w-11" aria-label={`more ${label}`} onClick={() => onStep(1)}>
        <Plus size={18} aria-hidden />
      </button>
    </span>
  );
}

/** Something that is so or not. */
export function Tick({ name, on, set }: { name: string; on: boolean; set: (on: boolean) => void }) {
  return (
    <button type="button" aria-pressed={on} className={`btn h-11 ${on ? "btn-neutral" : ""}`} onClick={() => set(!on)}>
      {name}
    </button>
  );
}
