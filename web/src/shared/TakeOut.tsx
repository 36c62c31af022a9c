import { useMutation, useQueryClient } from "@tanstack/react-query";

import { useMay } from "../api/account";
import { bringBack, takeOut, type OwnKind } from "../api/queries";
import { Refused } from "./Refused";

type Props = { kind: OwnKind; id: string; name: string; retired: boolean; onGone?: () => void };

/**
 * Takes something of one's own out, or brings it back. What a class of any time still names is retired: hidden from
 * choosing, and whole for whatever names it.
 */
export function TakeOut({ kind, id, name, retired, onGone }: Props) {
  const queries = useQueryClient();
  const mayPlan = useMay("plan_classes");
  const again = () =>
    Promise.all(["catalogue", "rooms", "exercise"].map((key) => queries.invalidateQueries({ queryKey: [key] })));
  const remove = useMutation({
    mutationFn: () => takeOut(kind, id),
    onSuccess: async (found) => {
      if (found.outcome === "deleted") onGone?.();
      await again();
    },
  });
  const back = useMutation({ mutationFn: () => bringBack(kind, id), onSuccess: again });
  if (!mayPlan) return null;
  const spoken = kind === "rooms" ? name : name.toLowerCase();
  return (
    <>
      {retired ? (
        <button type="button" className="btn btn-xs" disabled={back.isPending} onClick={() => back.mutate()}>
          Restore {spoken}
        </button>
      ) : (
        <button type="button" className="btn btn-xs" disabled={remove.isPending} onClick={() => remove.mutate()}>
          Remove {spoken}
        </button>
      )}
      {retired && remove.data?.outcome === "retired" && (
        <span role="status" className="faint text-xs">
          Retired, not deleted: still named by {remove.data.named_by.join(", ")}. Nobody can choose it any more.
        </span>
      )}
      <Refused error={remove.error ?? back.error} />
    </>
  );
}
