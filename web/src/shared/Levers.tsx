import type { Estimate, Plan } from "../api/client";
import { useLevers } from "../api/queries";
import { clock, figure } from "./format";

type Props = { asked: { plan: Plan; figure: string; person?: string }; estimate: Estimate };

/** Which inputs move a figure most: a bar each, from the figure with the input at its low to that with it at its high. */
export function Levers({ asked, estimate }: Props) {
  const levers = useLevers(asked);
  if (levers.isPending)
    return <div className="skeleton mt-3 h-20 w-full" role="status" aria-label="What matters most" />;
  if (levers.isError) return <p role="alert">What matters most cannot be told: {levers.error.message}</p>;
  if (!levers.data.length) return null;
  const ends = levers.data.flatMap((lever) => [lever.at_low, lever.at_high]);
  const least = Math.min(...ends, estimate.value);
  const most = Math.max(...ends, estimate.value);
  const at = (value: number) => (100 * (value - least)) / Math.max(most - least, 1e-9);
  const decimals = Math.abs(estimate.value) < 10 ? 2 : 0;
  const said = (value: number) => (estimate.unit === "s" ? clock(value) : figure(value, decimals));
  return (
    <section aria-label="What matters most" className="mt-3 rounded border border-base-300 p-3">
      <h3 className="font-semibold">What matters most</h3>
      <ul className="mt-1 space-y-2 text-sm" data-testid="levers">
        {levers.data.map((lever) => {
          const [from, to] = [Math.min(lever.at_low, lever.at_high), Math.max(lever.at_low, lever.at_high)];
          return (
            <li key={lever.input}>
              <span className="flex flex-wrap justify-between gap-x-3">
                <span>
                  {lever.input}
                  {": "}
                  <span className="faint">
                    {lever.taken}; {lever.low} or {lever.high}
                  </span>
                </span>
                <span>
                  <strong>{said(lever.at_low)}</strong> or <strong>{said(lever.at_high)}</strong>{" "}
                  <span className="faint">{estimate.unit === "s" ? "min:s" : estimate.unit}</span>
                </span>
              </span>
              <span aria-hidden="true" className="relative mt-1 block h-3 rounded-sm bg-base-200">
                <span
                  className="absolute inset-y-0 rounded-sm bg-secondary/50"
                  style={{ left: `${at(from)}%`, width: `${Math.max(1, at(to) - at(from))}%` }}
                />
                <span
                  className="absolute -inset-y-0.5 w-0.5 bg-base-content"
                  style={{ left: `calc(${at(estimate.value)}% - 1px)` }}
                />
              </span>
            </li>
          );
        })}
      </ul>
      <p className="faint mt-2 text-xs">
        Each computed anew with that input as low and as high as it may be, everything else as it is. The dark line is
        the figure as it stands.
      </p>
    </section>
  );
}
