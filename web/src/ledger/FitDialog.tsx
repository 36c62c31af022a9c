import { useState } from "react";

import type { Plan } from "../api/client";
import { useFitting } from "../api/queries";
import { Dialog } from "../shared/Dialog";
import { clock } from "../shared/format";
import { replacePlan } from "../draft/edits";
import type { Draft } from "../draft/useDraft";
import { Proposals } from "./Proposals";

type Props = { plan: Plan; edit: Draft["edit"]; onClose: () => void; onAim: () => void };

/** Concrete changes that bring the class into its slot, or fill it; one press applies, undo returns. */
export function FitDialog({ plan, edit, onClose, onAim }: Props) {
  const [surely, setSurely] = useState(false);
  const fitting = useFitting(plan, surely);
  const data = fitting.data;
  return (
    <Dialog title="Fit to length" onClose={onClose} wide>
      <p aria-live="polite">
        {!data
          ? "Looking for changes …"
          : data.state === "fits"
            ? `The class ends ${clock(-data.difference_s)} before its class length is over${surely ? ", even if everything goes slowly" : ""}. Nothing has to change.`
            : data.state === "over"
              ? `The class is ${clock(data.difference_s)} over its class length${surely ? " if everything goes slowly" : ""}. Least cost to the aim (${plan.aim}) comes first.`
              : `The class leaves ${clock(-data.difference_s)} of its class length${surely ? " even if everything goes slowly" : ""}. What fits the aim (${plan.aim}) best comes first.`}
      </p>
      <label className="mt-2 flex items-center gap-2 text-sm">
        <input
          type="checkbox"
          className="checkbox checkbox-sm"
          checked={surely}
          onChange={(event) => setSurely(event.target.checked)}
        />
        also if everything goes slowly (the longest outlook has to fit)
      </label>
      {fitting.isError && (
        <p role="alert" className="mt-3 rounded border border-error p-2">
          No proposals: {fitting.error.message}{" "}
          <button type="button" className="btn btn-xs" onClick={() => fitting.refetch()}>
            Try again
          </button>
        </p>
      )}
      {fitting.isPending && !fitting.isError && <div className="skeleton mt-3 h-48 w-full" />}
      {data && data.state !== "fits" && (
        <div className={fitting.isPlaceholderData ? "opacity-50" : ""}>
          {!data.proposals.some((proposal) => proposal.reached) && (
            <p className="mt-2 text-accent">
              {data.proposals.length
                ? "▲ Nothing that was tried fits without a clash; these come nearest."
                : "▲ Nothing that was tried brings it nearer."}
            </p>
          )}
          <Proposals
            proposals={data.proposals}
            caught={data.caught}
            said={(value) => `${clock(value)} min:s`}
            onApply={(next) => {
              edit(replacePlan(next));
              onClose();
            }}
          />
        </div>
      )}
      <button type="button" className="btn btn-sm mt-3" onClick={onAim}>
        Another length, other limits …
      </button>
    </Dialog>
  );
}
