import { useMutation, useQuery } from "@tanstack/react-query";
import { useNavigate } from "react-router";

import { atLevel, createClass } from "../api/calls";
import type { Level, Plan } from "../api/client";
import { Dialog } from "../shared/Dialog";

/** A version of the class for another level: the rules it is made by, then a class of its own to edit. */
export function LevelDialog({ plan, level, onClose }: { plan: Plan; level: Level; onClose: () => void }) {
  const navigate = useNavigate();
  const made = useQuery({ queryKey: ["level", plan, level], queryFn: () => atLevel(plan, level), retry: false });
  const keep = useMutation({
    mutationFn: createClass,
    onSuccess: (kept) => {
      onClose();
      void navigate(`/classes/${kept.id}`);
    },
  });
  return (
    <Dialog title={`A ${level} version of this class`} onClose={onClose}>
      {made.isPending && <p role="status">Making it …</p>}
      {made.isError && <p role="alert">It cannot be made: {made.error.message}</p>}
      {keep.isError && <p role="alert">It was not kept: {keep.error.message}</p>}
      {made.data && (
        <>
          <ul className="list-disc pl-5 text-sm">
            {made.data.rules.map((rule) => (
              <li key={rule}>{rule}</li>
            ))}
          </ul>
          {made.data.changed.length > 0 && (
            <p className="mt-2 text-sm">
              <strong>Exchanged:</strong> {made.data.changed.join(", ")}.
            </p>
          )}
          <p className="faint mt-2 text-sm">
            It becomes a class of its own, “{made.data.plan.name}”, and can be changed like any other. This one stays as
            it is.
          </p>
          <button
            type="button"
            className="btn btn-primary mt-3"
            disabled={keep.isPending}
            onClick={() => keep.mutate(made.data.plan)}
          >
            Make the {level} version
          </button>
        </>
      )}
    </Dialog>
  );
}
