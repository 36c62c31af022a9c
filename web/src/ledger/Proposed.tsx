import type { ReactNode } from "react";

import type { Plan, Proposal } from "../api/client";
import { figure } from "../shared/format";
import { Effects } from "./Effects";

type Props = {
  kind?: string;
  plan: Plan;
  harm: number;
  effect: Proposal["effect"];
  onApply: (plan: Plan) => void;
  /** its name and what it does, in words */
  children: ReactNode;
};

/** A change that is proposed: what it is, what it does to every figure, how much it harms, and the press that takes it. */
export function Proposed({ kind, plan, harm, effect, onApply, children }: Props) {
  return (
    <li className="grid gap-x-4 gap-y-1 py-2 sm:grid-cols-[1fr_auto]" data-kind={kind}>
      <div>
        {children}
        <Effects effect={effect} />
      </div>
      <div className="flex items-center gap-3 sm:flex-col sm:items-end sm:justify-center">
        <button type="button" className="btn btn-primary btn-sm" onClick={() => onApply(plan)}>
          Apply
        </button>
        <span className="faint text-xs">harm {figure(harm)}</span>
      </div>
    </li>
  );
}
