import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Eye } from "lucide-react";

import type { Decision, Forecast, StartItem } from "../api/client";
import { keepRead, useStartList, useRead } from "../api/people";
import { useForecast } from "../api/queries";
import type { Draft } from "../draft/useDraft";
import { Refused } from "../shared/Refused";
import { counted, when } from "../shared/format";
import { entryAt } from "../basis/entries";

export type Choice = Decision["decision"];
const CHOICES: Record<Choice, string> = {
  goes: "goes",
  eased: "goes with the safer choice",
  not_today: "not today",
  read: "read",
};

type Props = {
  classId: number;
  draft: Draft;
  /** what was decided of the items so far, in their order */
  decided: Choice[];
  decide: (decided: Choice[]) => void;
  /** asks for the rest of the review instead */
  onLook: () => void;
};

/** What has to be read before the start, one item after the other: each asks for a decision, none can be skipped. */
export function PreClassCheck({ classId, draft, decided, decide, onLook }: Props) {
  const list = useStartList(draft.plan);
  const forecast = useForecast(draft.plan).data?.forecast;
  const read = useRead(classId);
  const queries = useQueryClient();
  const items = list.data?.items ?? [];
  const at = decided.length;
  const item = items[at];
  const keep = useMutation({
    mutationFn: () =>
      keepRead(
        classId,
        draft.revision,
        items.map((eachItem, index) => ({
          item: eachItem.id,
          person: eachItem.person == null ? "" : (draft.plan.people?.[eachItem.person - 1] ?? ""),
          message: eachItem.message,
          decision: entryAt(decided, index),
        })),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["read", classId] }),
  });
  const last = read.data?.[0];
  const out = [...new Set(items.filter((_, index) => decided[index] === "not_today").map((item) => item.name))];
  return (
    <>
      {list.isPending && <p role="status">Reading the class …</p>}
      <Refused error={list.error} />
      {list.isSuccess && item && (
        <div data-testid="go-item">
          <p className="faint text-sm">
            {at + 1} of {items.length}
            {openLeft(items, at) > 0 && ` · ${counted(openLeft(items, at), "open item")} left`}
          </p>
          <progress className="progress w-full" value={at} max={items.length} aria-label="Items read" />
          <ItemWords item={item} forecast={forecast} />
          <div className="mt-4 flex flex-wrap gap-2">
            {choicesFor(item).map((choice) => (
              <button key={choice} type="button" className="btn" onClick={() => decide([...decided, choice])}>
                {entryAt(CHOICES[choice], 0).toUpperCase() + CHOICES[choice].slice(1)}
              </button>
            ))}
            {at > 0 && (
              <button type="button" className="btn btn-ghost ml-auto" onClick={() => decide(decided.slice(0, -1))}>
                One back
              </button>
            )}
          </div>
        </div>
      )}
      {list.isSuccess && !item && (
        <div data-testid="go-end">
          <p className="text-lg font-semibold">
            {items.length ? `All ${items.length} items read.` : "Nothing stands open for this class and its people."}
          </p>
          {out.length > 0 && <p className="mt-1">Not today: {out.join(", ")}. Take them out under Floor → What if.</p>}
          <h3 className="mt-3 font-semibold">Stop at once at</h3>
          <ul className="mt-1 list-disc pl-5">
            {list.data.stop_signs.map((sign) => (
              <li key={sign}>{sign}</li>
            ))}
          </ul>
          <Refused error={keep.error} />
          <div className="mt-4 flex flex-wrap gap-2">
            {items.length > 0 &&
              (keep.isSuccess ? (
                <p role="status">
                  Kept: read by {keep.data.by}, {when(keep.data.at)}.
                </p>
              ) : (
                <button
                  type="button"
                  className="btn btn-primary"
                  disabled={draft.dirty || keep.isPending}
                  onClick={() => keep.mutate()}
                >
                  {draft.dirty ? "Save the class first" : "Keep what was read"}
                </button>
              ))}
            {items.length > 0 && !keep.isSuccess && (
              <button type="button" className="btn btn-ghost" onClick={() => decide(decided.slice(0, -1))}>
                One back
              </button>
            )}
            <button type="button" className="btn ml-auto" onClick={onLook}>
              <Eye size={15} aria-hidden /> Review the plan
            </button>
          </div>
        </div>
      )}
      {last && at === 0 && (
        <p className="faint mt-3 text-sm">
          Last read by {last.by}, {when(last.at)}, for revision {last.revision}.
        </p>
      )}
      {list.data && <p className="faint mt-4 border-t border-base-300 pt-2 text-xs">{list.data.defer}</p>}
    </>
  );
}

function sentence(words: string): string {
  return entryAt(words, 0).toUpperCase() + words.slice(1) + (words.endsWith(".") ? "" : ".");
}

function openLeft(items: StartItem[], from: number): number {
  return items.slice(from).filter((item) => item.open).length;
}

function choicesFor(item: StartItem): Choice[] {
  return item.person == null ? ["read"] : ["goes", "eased", "not_today"];
}

function slotNames(forecast: Forecast | undefined, slots: string[]): string[] {
  return [...new Set(slots.map((id) => forecast?.slots.find((slot) => slot.id === id)?.name ?? id))];
}

/** What is read of one item: of whom, what, and what is safer. */
function ItemWords({ item, forecast }: { item: StartItem; forecast: Forecast | undefined }) {
  return (
    <>
      <h3 className="mt-2 text-xl font-semibold">
        {item.person != null && `${item.person} `}
        {item.name}
        {item.open && <span className="ml-2 text-base text-accent">▲ open</span>}
      </h3>
      <p className="mt-1 text-lg">{sentence(item.message)}</p>
      <p className="mt-1">
        <strong>Safer:</strong> {item.safer}.
      </p>
      {item.slots.length > 0 && <p className="faint mt-1 text-sm">In: {slotNames(forecast, item.slots).join(", ")}</p>}
    </>
  );
}
