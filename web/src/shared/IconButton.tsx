import type { ReactNode } from "react";

type Props = { label: string; onClick: () => void; disabled?: boolean; children: ReactNode };

/** A small button that is a picture; its label is read aloud and shown when the pointer rests on it. */
export function IconButton({ label, onClick, disabled, children }: Props) {
  return (
    <button
      type="button"
      className="btn btn-ghost btn-xs btn-square"
      aria-label={label}
      title={label}
      disabled={disabled}
      onClick={onClick}
    >
      {children}
    </button>
  );
}
