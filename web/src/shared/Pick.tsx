type Props = {
  label: string;
  value: string;
  options: [string, string][];
  onChange: (value: string) => void;
  wide?: boolean;
  /** without the visible label, where the words around say what is chosen */
  bare?: boolean;
};

/** One of a few, in the width of its words. */
export function Pick({ label, value, options, onChange, wide, bare }: Props) {
  const select = (
    <select
      aria-label={label}
      className={`h-7 max-w-full min-w-0 rounded-[var(--radius-field)] border border-base-300 bg-base-100 px-1 text-sm ${wide ? "w-full" : ""}`}
      value={value}
      onChange={(event) => onChange(event.target.value)}
    >
      {options.map(([id, name]) => (
        <option key={id} value={id}>
          {name}
        </option>
      ))}
    </select>
  );
  if (bare) return select;
  return (
    <label className={`flex max-w-full min-w-0 items-center gap-1 text-sm ${wide ? "w-full" : ""}`}>
      <span className="shrink-0">{label}</span>
      {select}
    </label>
  );
}
