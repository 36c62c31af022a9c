import { useMutation } from "@tanstack/react-query";
import { useState } from "react";

import type { Plan } from "../api/client";
import { useCatalogue } from "../api/queries";
import { mendIt, useSecondLook, type Remark } from "../api/review";
import { replacePlan } from "../draft/edits";
import type { Draft } from "../draft/useDraft";
import { Dialog } from "../shared/Dialog";
import { Refused } from "../shared/Refused";
import { partsOf } from "../shared/blocks";
import { counted } from "../shared/format";
import { present } from "../basis/entries";

const ABOUT: Record<Remark["about"], string> = {
  slot: "Time",
  "warm-up": "Warm-up",
  order: "Order",
  queue: "Queue",
  floor: "Floor",
  apart: "Somebody",
  "hard days": "Days",
  figure: "Figure",
  muscle: "Muscle",
  note: "Note",
};

/** Why the generator chose the exercises that are still there. */
function Reasons({ plan }: { plan: Plan }) {
  const exercises = useCatalogue().data?.exercises ?? [];
  const here = new Set(plan.blocks.flatMap(partsOf).map((item) => item.exercise));
  const told = exercises.filter((exercise) => here.has(exercise.id) && plan.reasons?.[exercise.id]);
  if (!told.length) return null;
  return (
    <details className="mt-3" data-testid="reasons">
      <summary className="cursor-pointer text-sm font-semibold">Why these exercises are there</summary>
      <dl className="mt-1 text-sm">
        {told.map((item) => (
          <div key={item.id} className="mt-1">
            <dt className="inline font-semibold">{item.name}</dt> <dd className="inline">{plan.reasons?.[item.id]}</dd>
          </div>
        ))}
      </dl>
    </details>
  );
}

/** What a careful colleague would say before the doors open, a line each, with the press that mends it. */
export function ReviewDialog({ draft, onClose }: { draft: Draft; onClose: () => void }) {
  const look = useSecondLook(draft.plan);
  const [did, tell] = useState<string[]>([]);
  const mend = useMutation({
    mutationFn: (remark: Remark) => mendIt(draft.plan, present(remark.mend, "What mends it")),
    onSuccess: (made) => {
      draft.edit(replacePlan(made.plan));
      tell([...did, made.did]);
    },
  });
  return (
    <Dialog title="Review" onClose={onClose} wide>
      {look.isPending && <div className="skeleton h-40 w-full" role="status" aria-label="Looking at the class" />}
      <Refused error={look.error} />
      {did.length > 0 && (
        <p role="status" className="mb-2 rounded border border-info px-3 py-1.5 text-sm" data-testid="mended">
          Mended: {did.join("; ")}. “Undo” takes it back.
        </p>
      )}
      {look.data && (
        <div data-testid="review">
          <p aria-live="polite">
            {look.data.remarks.length
              ? `${counted(look.data.remarks.length, "thing")} worth a word before the doors open.`
              : "✓ Nothing that a careful colleague would stop you for."}
          </p>
          <ul className="mt-1 divide-y divide-base-300">
            {look.data.remarks.map((remark) => (
              <li key={remark.line} className="grid gap-x-4 gap-y-1 py-2 sm:grid-cols-[5.5rem_1fr_auto]">
                <span className="faint text-sm">{ABOUT[remark.about]}</span>
                <div>
                  <strong className="block first-letter:uppercase">{remark.line}</strong>
                  <span className="block text-sm first-letter:uppercase">
                    {remark.why} <span className="faint">({remark.source})</span>
                  </span>
                  {mend.isError && mend.variables === remark && <Refused error={mend.error} />}
                </div>
                {remark.mend && (
                  <button
                    type="button"
                    className="btn btn-sm justify-self-start sm:self-center"
                    disabled={mend.isPending}
                    onClick={() => mend.mutate(remark)}
                  >
                    {mend.isPending && mend.variables === remark ? "Trying changes …" : remark.mend.label}
                  </button>
                )}
              </li>
            ))}
          </ul>
          <p className="faint mt-2 text-xs">
            {look.data.classes
              ? `Held against ${counted(look.data.classes, "class", "classes")} of these people first, against usual ranges where they have none for this aim.`
              : "These people have no classes in the class log yet: held against usual ranges."}{" "}
            What must be read before the class stands in the pre-class check.
          </p>
        </div>
      )}
      <Reasons plan={draft.plan} />
    </Dialog>
  );
}
