import { clock } from "./format";

type Row = { name: string; unit: string; planned: number; lived: number };

/** Every figure as it was planned and as it was lived, and how far apart they are. */
export function PlannedLived({ rows, testId }: { rows: Row[]; testId: string }) {
  return (
    <table className="mt-2 w-full max-w-3xl text-sm" data-testid={testId}>
      <thead>
        <tr className="faint text-left">
          <th scope="col" className="py-1 font-normal">
            figure
          </th>
          {["planned", "lived", "apart"].map((name) => (
            <th key={name} scope="col" className="text-right font-normal">
              {name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr key={row.name} className="border-t border-base-300">
            <th scope="row" className="py-1 pr-2 text-left font-medium">
              {row.name}
            </th>
            <td className="text-right tabular-nums">{written(row.planned, row.unit)}</td>
            <td className="text-right font-semibold tabular-nums">{written(row.lived, row.unit)}</td>
            <td className="text-right tabular-nums">{apart(row.planned, row.lived, row.unit)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function written(value: number, unit: string): string {
  if (unit === "s") return clock(value);
  if (unit === "%") return `${value.toFixed(0)} %`;
  return `${value.toFixed(["bpm", "kcal", "units"].includes(unit) ? 0 : 2)} ${unit}`;
}

function apart(planned: number, lived: number, unit: string): string {
  const more = lived - planned;
  const text = written(Math.abs(more), unit);
  return text === written(0, unit) ? "as planned" : `${more > 0 ? "+" : "−"}${text}`;
}
