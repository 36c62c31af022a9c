type Props<Value extends string> = {
  options: readonly (readonly [Value, string])[];
  value: Value;
  onChange: (value: Value) => void;
  /** what is chosen, for those who hear it */
  label?: string;
  large?: boolean;
};

/** One of two or three, side by side; the chosen one is filled. */
export function Switch<Value extends string>({ options, value, onChange, label, large }: Props<Value>) {
  return (
    <span className="join" role="group" aria-label={label}>
      {options.map(([id, name]) => (
        <button
          key={id}
          type="button"
          aria-pressed={id === value}
          className={`btn join-item ${large ? "btn-sm" : "btn-xs"} ${id === value ? "btn-neutral" : ""}`}
          onClick={() => onChange(id)}
        >
          {name}
        </button>
      ))}
    </span>
  );
}
