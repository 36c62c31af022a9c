import type { ComponentProps } from "react";

import { entryAt } from "../basis/entries";

type Props<Value extends string> = Omit<ComponentProps<"select">, "value" | "onChange" | "children"> & {
  value: Value;
  /** what can be chosen, each with its name */
  options: readonly (readonly [NoInfer<Value>, string])[];
  onChange: (value: Value) => void;
};

/** A native list to choose one value from; what is chosen keeps its type. */
export function Select<Value extends string>({ value, options, onChange, ...rest }: Props<Value>) {
  return (
    <select {...rest} value={value} onChange={(event) => onChange(entryAt(options, event.target.selectedIndex)[0])}>
      {options.map(([id, name]) => (
        <option key={id} value={id}>
          {name}
        </option>
      ))}
    </select>
  );
}
