type Props = { name: string; count: number; most: number; onChange: (count: number) => void };

/** How many of one thing: typed, or one more and one fewer. */
export function HowMany({ name, count, most, onChange }: Props) {
  const to = (next: number) => onChange(Math.max(0, Math.min(most, next)));
  return (
    <div className="flex min-h-8 items-center gap-1 text-sm">
      <span className="min-w-0 grow">{name}</span>
      <button
        type="button"
        className="btn btn-ghost btn-sm btn-square"
        aria-label={`One ${name} fewer`}
        disabled={count === 0}
        onClick={() => to(count - 1)}
      >
        −
      </button>
      <input
        type="number"
        aria-label={name}
        min={0}
        max={most}
        className="h-7 w-11 rounded-[var(--radius-field)] border border-base-300 bg-base-100 text-center"
        value={count}
        onFocus={(event) => event.target.select()}
        onChange={(event) => to(Math.round(Number(event.target.value)) || 0)}
      />
      <button
        type="button"
        className="btn btn-ghost btn-sm btn-square"
        aria-label={`One ${name} more`}
        disabled={count === most}
        onClick={() => to(count + 1)}
      >
        +
      </button>
    </div>
  );
}
