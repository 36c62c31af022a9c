import { Select } from "./Select";

type Props<Value extends string> = {
  label: string;
  value: Value;
  /** what can be chosen, each with its name */
  options: readonly (readonly [NoInfer<Value>, string])[];
  onChange: (value: Value) => void;
  wide?: boolean;
  /** without the visible label, where the words around say what is chosen */
  bare?: boolean;
};

/** One of a few, in the width of its words. */
export function Pick<Value extends string>({ label, value, options, onChange, wide, bare }: Props<Value>) {
  const select = (
    <Select
      aria-label={label}
      className={`h-7 max-w-full min-w-0 rounded-[var(--radius-field)] border border-base-300 bg-base-100 px-1 text-sm ${wide ? "w-full" : ""}`}
      value={value}
      options={options}
      onChange={onChange}
    />
  );
  if (bare) return select;
  return (
    <label className={`flex max-w-full min-w-0 items-center gap-1 text-sm ${wide ? "w-full" : ""}`}>
      <span className="shrink-0">{label}</span>
      {select}
    </label>
  );
}
