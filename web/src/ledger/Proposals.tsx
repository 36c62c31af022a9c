import type { Caught, Reached } from "../api/aim";
import type { Plan } from "../api/client";
import { figure } from "../shared/format";
import { Effects } from "./Effects";

type Props = {
  proposals: Reached[];
  caught: Caught[];
  /** the figure that is aimed at, with its unit */
  said: (value: number) => string;
  onApply: (plan: Plan) => void;
};

/** Changes that are proposed: what stands in the way first, then each with what it does and the press that takes it. */
export function Proposals({ proposals, caught, said, onApply }: Props) {
  return (
    <>
      {caught.map((item) => (
        <p key={item.limit} className="mt-1 text-sm text-accent">
          ▲ In the way: {item.limit}. Without it “{item.name}” would bring it to {said(item.value)}.
        </p>
      ))}
      <ol className="mt-2 divide-y divide-base-300" data-testid="proposals">
        {proposals.map((proposal) => (
          <Proposed key={proposal.name + proposal.detail} one={proposal} said={said} onApply={onApply} />
        ))}
      </ol>
      <p className="faint mt-3 text-xs">
        Cost ranks what is lost for the class’s aim, 0 to 100: the kind of change, how much of it, and the work that is
        done less (common practice, no source). Every figure is the forecast of the changed class.
      </p>
    </>
  );
}

type ProposedProps = { one: Reached; said: (value: number) => string; onApply: (plan: Plan) => void };

function Proposed({ one, said, onApply }: ProposedProps) {
  return (
    <li className="grid gap-x-4 gap-y-1 py-2 sm:grid-cols-[1fr_auto]">
      <div>
        <strong>{one.name}</strong>{" "}
        <span className={`text-sm ${one.reached ? "" : "text-accent"}`}>
          {one.reached ? "✓" : "▲"} {said(one.value)}
        </span>
        {one.lost.length > 0 && (
          <p className="text-sm font-semibold" data-testid="lost">
            Loses {one.lost.join("; ")}
          </p>
        )}
        <div className="text-sm">
          {one.detail} <span className="faint">({one.why})</span>
        </div>
        {one.broken.map((limit) => (
          <p key={limit} className="text-sm text-accent">
            ▲ does not hold: {limit}
          </p>
        ))}
        {one.new_cautions.map((caution) => (
          <p key={caution} className="text-sm text-accent">
            ▲ new: {caution}
          </p>
        ))}
        <Effects effect={one.effect} />
      </div>
      <div className="flex items-center gap-3 sm:flex-col sm:items-end sm:justify-center">
        <button type="button" className="btn btn-primary btn-sm" onClick={() => onApply(one.plan)}>
          Apply
        </button>
        <span className="faint text-xs">cost {figure(one.cost)}</span>
      </div>
    </li>
  );
}
