import type { Estimate, Plan } from "../api/client";
import { useMethods } from "../api/queries";
import { Dialog } from "./Dialog";
import { clock, figure, range } from "./format";
import { Levers } from "./Levers";

/** A figure whose method is being read; `asked` where it is one of a class that can be computed again. */
export type Opened = {
  name: string;
  estimate: Estimate;
  asked?: { plan: Plan; figure: string; person?: string };
  /** what begins to aim at it, where it is a figure that a class can be steered by */
  onAim?: () => void;
};

/** The same figure as one that can be computed again, if it is among the class's or the person's own. */
export function askedOf(opened: Opened, figures: object, plan: Plan, person?: string): Opened {
  const known = Object.entries(figures).find(([, estimate]) => estimate === opened.estimate);
  return known ? { ...opened, asked: { plan, figure: known[0], person } } : opened;
}

/** How a figure was reached: its method, formula, inputs, source and range. */
export function HowReached({ opened, onClose }: { opened: Opened; onClose: () => void }) {
  const methods = useMethods();
  const { name, estimate } = opened;
  const method = methods.data?.get(estimate.method);
  const decimals = Math.abs(estimate.value) < 10 ? 2 : 0;
  const value =
    estimate.unit === "s" ? `${clock(estimate.value)} min:s` : `${figure(estimate.value, decimals)} ${estimate.unit}`;
  const likely = range(estimate, decimals);
  return (
    <Dialog title={`${name}: how this was reached`} onClose={onClose}>
      <p className="text-2xl font-semibold">
        {value} {likely && <span className="faint text-base font-normal">range {likely}</span>}
      </p>
      {opened.onAim && (
        <button type="button" className="btn btn-sm mt-2" onClick={opened.onAim}>
          Aim at another value …
        </button>
      )}
      {estimate.note && <p className="mt-1">{estimate.note}.</p>}
      {methods.isError && <p role="alert">The methods cannot be read: {methods.error.message}</p>}
      {opened.asked && <Levers asked={opened.asked} estimate={estimate} />}
      {method && (
        <dl className="mt-3 space-y-2 text-sm">
          <Entry term="Method">{method.name}</Entry>
          <Entry term="Formula">{method.formula}</Entry>
          {estimate.inputs?.length ? <Entry term="From">{estimate.inputs.join(", ")}</Entry> : null}
          <Entry term="Source">{method.source}</Entry>
          <Entry term="Range">{method.range}</Entry>
          {method.when && <Entry term="Good to know">{method.when}</Entry>}
        </dl>
      )}
    </Dialog>
  );
}

function Entry({ term, children }: { term: string; children: React.ReactNode }) {
  return (
    <div className="grid grid-cols-[6rem_1fr] gap-3">
      <dt className="faint">{term}</dt>
      <dd>{children}</dd>
    </div>
  );
}
