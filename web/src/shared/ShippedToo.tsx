import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { useMay } from "../api/account";
import { decideOwn, useCatalogue, type Collision, type OwnDecision } from "../api/queries";
import { Refused } from "./Refused";

/** Entries of one's own that the shipped catalogue has now too: each is said once, and decided with one press. */
export function ShippedToo() {
  const catalogue = useCatalogue();
  const mayPlan = useMay("plan_classes");
  const open = catalogue.data?.collisions ?? [];
  if (!mayPlan || !open.length) return null;
  return (
    <section
      aria-label="Entries of yours that are shipped now too"
      className="mt-3 rounded-(--radius-box) border border-base-300 bg-base-200 px-4 py-3"
      data-testid="shipped-too"
    >
      <h2 className="font-semibold">The catalogue has grown and now has what you had added</h2>
      <p className="text-sm">
        Your classes mean yours, as before. Say for each what is to be used from now on; nothing that was held changes.
      </p>
      <ul className="mt-1 max-h-80 divide-y divide-base-300 overflow-y-auto">
        {open.map((item) => (
          <Decide key={item.id} of={item} />
        ))}
      </ul>
    </section>
  );
}

function Decide({ of }: { of: Collision }) {
  const queries = useQueryClient();
  const [name, setName] = useState<string | null>(null);
  const decide = useMutation({
    mutationFn: (decision: OwnDecision) => decideOwn(of.id, decision, name ?? ""),
    onSuccess: () =>
      Promise.all(["catalogue", "rooms", "exercise"].map((key) => queries.invalidateQueries({ queryKey: [key] }))),
  });
  const what = of.kind === "exercise" ? "exercise" : "equipment kind";
  return (
    <li className="flex flex-wrap items-center gap-2 py-2">
      <span className="grow">
        <strong>{of.name}</strong> is an {what} of yours. The shipped one is called “{of.shipped_name}” beside it.
      </span>
      {name === null ? (
        <>
          <button
            type="button"
            className="btn btn-sm bg-base-100"
            disabled={decide.isPending}
            onClick={() => decide.mutate("keep")}
          >
            Keep mine
          </button>
          <button
            type="button"
            className="btn btn-sm bg-base-100"
            disabled={decide.isPending}
            onClick={() => decide.mutate("shipped")}
            title={
              of.kind === "exercise"
                ? "Yours is retired: classes that name it stay as they are"
                : "Your units become units of the shipped kind"
            }
          >
            Use the shipped one
          </button>
          <button type="button" className="btn btn-sm bg-base-100" onClick={() => setName(of.name)}>
            Rename mine
          </button>
        </>
      ) : (
        <form
          className="flex flex-wrap items-center gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            decide.mutate("rename");
          }}
        >
          <input
            aria-label={`New name of ${of.name}`}
            className="input input-sm"
            required
            minLength={2}
            maxLength={60}
            autoFocus
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
          <button type="submit" className="btn btn-primary btn-sm" disabled={decide.isPending}>
            Rename
          </button>
          <button type="button" className="btn btn-ghost btn-sm" onClick={() => setName(null)}>
            Cancel
          </button>
        </form>
      )}
      <Refused error={decide.error} />
    </li>
  );
}
