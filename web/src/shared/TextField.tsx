import type { InputHTMLAttributes } from "react";

type Props = Omit<InputHTMLAttributes<HTMLInputElement>, "onChange"> & {
  label: string;
  onChange: (value: string) => void;
  /** how wide it is, as a class */
  width?: string;
};

/** A line of text under its label. */
export function TextField({ label, onChange, width = "w-full", ...input }: Props) {
  return (
    <label className={`flex flex-col gap-0.5 text-sm ${width === "w-full" ? "grow" : ""}`}>
      {label}
      <input className={`input input-sm ${width}`} onChange={(event) => onChange(event.target.value)} {...input} />
    </label>
  );
}
