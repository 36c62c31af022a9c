import { clock } from "./format";

type Row = { name: string; unit: string; planned: number; actual: number };

/** Every figure as it was planned and as it was actual, and how far apart they are. */
export function PlannedAndActual({ rows, testId }: { rows: Row[]; testId: string }) {
  return (
    <table className="mt-2 w-full max-w-3xl text-sm" data-testid={testId}>
      <thead>
        <tr className="faint text-left">
          <th scope="col" className="py-1 font-normal">
            figure
          </th>
          {["planned", "actual", "apart"].map((name) => (
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
            <td className="text-right font-semibold tabular-nums">{written(row.actual, row.unit)}</td>
            <td className="text-right tabular-nums">{apart(row.planned, row.actual, row.unit)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const DECIMALS: Record<string, number> = { "/min": 2, "sets/min": 2, min: 1 };

function written(value: number, unit: string): string {
  if (unit === "s") return clock(value);
  return `${value.toFixed(DECIMALS[unit] ?? 0)} ${unit}`;
}

/** How far apart the two are as they are written, so that a row adds up. */
function apart(planned: number, actual: number, unit: string): string {
  const places = 10 ** (DECIMALS[unit] ?? 0);
  const more = (Math.round(actual * places) - Math.round(planned * places)) / places;
  if (more === 0) return "as planned";
  return `${more > 0 ? "+" : "−"}${written(Math.abs(more), unit === "%" ? "points" : unit)}`;
}
