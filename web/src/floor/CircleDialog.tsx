import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { arrangeCircle } from "../api/floor";
import { replacePlan } from "../draft/edits";
import type { Draft } from "../draft/useDraft";
import { Dialog } from "../shared/Dialog";
import { counted } from "../shared/format";
import { Refused } from "../shared/Refused";

type Props = { draft: Draft; block: string; onClose: () => void };

/** Who begins where round a circuit, so that the loads of its stations seldom change. */
export function CircleDialog({ draft, block, onClose }: Props) {
  const [plan] = useState(draft.plan);
  const circle = useQuery({
    queryKey: ["circle", block],
    queryFn: () => arrangeCircle(plan, block),
    gcTime: 0,
    retry: false,
  });
  const found = circle.data;
  return (
    <Dialog title="Order the circle" onClose={onClose}>
      {circle.isPending && <div className="skeleton h-24 w-full" role="status" aria-label="Looking" />}
      <Refused error={circle.error} />
      {found && (
        <>
          <p>
            Everybody comes to every station straight behind the same person, so those with like loads should follow one
            another. {counted(found.turns, "turn")} a round.
          </p>
          <p className="mt-2">
            Loads change <strong>{found.before} times</strong> a round now,{" "}
            <strong data-testid="circle-changes">{found.changes} times</strong> in the best order
            {found.proven ? " (proven: no order has fewer)" : " found so far"}.
          </p>
          <div className="mt-4 flex gap-2">
            <button
              type="button"
              className="btn btn-primary btn-sm"
              disabled={found.changes >= found.before}
              onClick={() => {
                draft.edit(replacePlan(found.plan));
                onClose();
              }}
            >
              Use this order
            </button>
            <button type="button" className="btn btn-ghost btn-sm" onClick={onClose}>
              Keep it as it is
            </button>
          </div>
        </>
      )}
    </Dialog>
  );
}
