import { useState } from "react";
import { Link } from "react-router";

import { readRevision } from "../api/calls";
import { useHistory } from "../api/queries";
import { Dialog } from "../shared/Dialog";
import { clock, figure, when } from "../shared/format";
import { replacePlan } from "../draft/edits";
import type { Draft } from "../draft/useDraft";

/** Every saved revision with what changed; any of them can be brought back onto the score. */
export function HistoryDialog({ classId, draft, onClose }: { classId: number; draft: Draft; onClose: () => void }) {
  const history = useHistory(classId);
  const [failed, setFailed] = useState("");
  return (
    <Dialog title="History of this class" onClose={onClose} wide>
      {history.isPending && <div role="status" aria-label="Opening the history" className="skeleton h-40 w-full" />}
      {history.isError && <p role="alert">The history cannot be read: {history.error.message}</p>}
      {failed && <p role="alert">Not brought back: {failed}</p>}
      <ol className="max-h-[60vh] divide-y divide-base-300 overflow-y-auto" data-testid="history">
        {history.data?.map((step) => (
          <li key={step.revision} className="grid gap-2 py-2 sm:grid-cols-[1fr_auto]">
            <div>
              <strong>Revision {step.revision}</strong>{" "}
              <span className="faint text-sm">
                {when(step.saved_at)} · {clock(step.length_s)} min:s
                {step.kcal_each !== null && ` · ${figure(step.kcal_each)} kcal each`}
              </span>
              <ul className="text-sm">
                {step.changes.slice(0, 8).map((change) => (
                  <li key={change}>{change}</li>
                ))}
                {step.changes.length > 8 && <li className="faint">and {step.changes.length - 8} more</li>}
              </ul>
            </div>
            <div className="flex items-start gap-2">
              {step.revision !== draft.revision && (
                <Link
                  className="btn btn-xs"
                  to={`/compare?one=${classId}&at=${step.revision}&other=${classId}`}
                  onClick={onClose}
                >
                  Compare
                </Link>
              )}
              <button
                type="button"
                className="btn btn-xs"
                onClick={() =>
                  void readRevision(classId, step.revision).then(
                    (found) => {
                      draft.edit(replacePlan(found.plan));
                      onClose();
                    },
                    (error: Error) => setFailed(error.message),
                  )
                }
              >
                Apply
              </button>
            </div>
          </li>
        ))}
      </ol>
    </Dialog>
  );
}
