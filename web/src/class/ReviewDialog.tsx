import { useMutation } from "@tanstack/react-query";
import { Check } from "lucide-react";
import { useState } from "react";

import type { Plan } from "../api/client";
import { useCatalogue } from "../api/queries";
import { mendIt, useReview, type Advice, type AdviceList } from "../api/review";
import { present } from "../basis/entries";
import { replacePlan } from "../draft/edits";
import type { Draft } from "../draft/useDraft";
import { Dialog } from "../shared/Dialog";
import { Faces } from "../shared/Faces";
import { Refused } from "../shared/Refused";
import { partsOf } from "../shared/blocks";
import { counted } from "../shared/format";
import { useAccepted } from "./accepted";
import { PreClassCheck, type Choice } from "./PreClassCheck";

const AT_ONCE = 7;
const SIGNS = { clash: "✕ Clash", caution: "▲ Caution", note: "● Note" };
const TO_DO = { change: "Change", tell: "Tell", watch: "Watch" };

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

type Props = {
  draft: Draft;
  classId: number;
  onClose: () => void;
  /** the part that is shown first */
  first?: Part;
};

type Part = "advice" | "check";
const PARTS = [
  ["advice", "Advice"],
  ["check", "Pre-class check"],
] as const;

/** All that is worth a word about a class: advice in one ranked list, and the part that is read item by item before
 * the start. */
export function ReviewDialog({ draft, classId, onClose, first = "advice" }: Props) {
  const [part, show] = useState<Part>(first);
  // what was decided of another plan is read anew
  const [read, decide] = useState<{ plan: Plan; decided: Choice[] }>({ plan: draft.plan, decided: [] });
  const decided = read.plan === draft.plan ? read.decided : [];
  return (
    <Dialog title="Review" onClose={onClose} wide>
      <div className="mb-3">
        <Faces label="Parts of the review" faces={PARTS} chosen={part} onChoose={show} />
      </div>
      {part === "advice" ? (
        <AdvicePart draft={draft} classId={classId} />
      ) : (
        <PreClassCheck
          classId={classId}
          draft={draft}
          decided={decided}
          decide={(choices) => decide({ plan: draft.plan, decided: choices })}
          onLook={() => show("advice")}
        />
      )}
    </Dialog>
  );
}

/** What to change, whom to tell what, what to watch. */
function AdvicePart({ draft, classId }: { draft: Draft; classId: number }) {
  const look = useReview(draft.plan);
  const [did, tell] = useState<string[]>([]);
  const mend = useMutation({
    mutationFn: (advice: Advice) => mendIt(draft.plan, present(advice.mend, "What mends it")),
    onSuccess: (made) => {
      draft.edit(replacePlan(made.plan));
      tell([...did, made.did]);
    },
  });
  return (
    <>
      {look.isPending && <div className="skeleton h-40 w-full" role="status" aria-label="Looking at the class" />}
      <Refused error={look.error} />
      {did.length > 0 && (
        <p role="status" className="mb-2 rounded border border-info px-3 py-1.5 text-sm" data-testid="mended">
          Mended: {did.join("; ")}. “Undo” takes it back.
        </p>
      )}
      {look.data && (
        <Lines
          list={look.data}
          classId={classId}
          plan={draft.plan}
          mending={mend.isPending ? mend.variables : null}
          failed={mend.isError ? { at: mend.variables, error: mend.error } : null}
          onMend={(advice) => mend.mutate(advice)}
        />
      )}
      <Reasons plan={draft.plan} />
    </>
  );
}

type LinesProps = {
  list: AdviceList;
  classId: number;
  plan: Plan;
  mending: Advice | null;
  failed: { at: Advice; error: Error } | null;
  onMend: (advice: Advice) => void;
};

function Lines({ list, classId, plan, mending, failed, onMend }: LinesProps) {
  const { accepted, accept, takeBack, pending, error } = useAccepted(classId);
  const [all, showAll] = useState(false);
  // what can hurt somebody is never put away
  const open = list.advice.filter((advice) => advice.stays || !accepted.has(advice.key));
  const away = list.advice.length - open.length;
  const shown = all ? open : open.slice(0, AT_ONCE);
  const grave = open.slice(shown.length).filter((advice) => advice.stays).length;
  if (pending) return <div className="skeleton h-40 w-full" role="status" aria-label="Looking at the class" />;
  return (
    <div data-testid="review">
      <Refused error={error} />
      <p aria-live="polite">
        {open.length
          ? `${counted(open.length, "thing")} worth a word before the doors open: ${byKind(open)}.`
          : "✓ Nothing that a careful colleague would stop you for."}
      </p>
      <ul className="mt-1 divide-y divide-base-300">
        {shown.map((advice) => (
          <Line
            key={advice.key}
            advice={advice}
            plan={plan}
            busy={mending !== null}
            trying={mending === advice}
            onMend={() => onMend(advice)}
            onAccept={advice.stays ? undefined : () => accept(advice.key)}
            failed={failed?.at === advice ? failed.error : null}
          />
        ))}
      </ul>
      <div className="mt-2 flex flex-wrap items-center gap-2">
        {open.length > shown.length && (
          <button type="button" className="btn btn-sm" onClick={() => showAll(true)}>
            {grave > 0 && `▲ ${grave} that can hurt somebody among `}
            {open.length - shown.length} more
          </button>
        )}
        {away > 0 && (
          <button type="button" className="btn btn-ghost btn-sm" onClick={takeBack}>
            Show the {away} that {away === 1 ? "was" : "were"} accepted
          </button>
        )}
      </div>
      <p className="faint mt-2 text-xs">
        {list.classes
          ? `Held against ${counted(list.classes, "class", "classes")} of these people first, against usual ranges where they have none for this aim.`
          : "These people have no classes in the class log yet: held against usual ranges."}{" "}
        What is accepted stays away, for everybody who plans here, until it changes. What must be read person by person
        stands in the pre-class check.
      </p>
    </div>
  );
}

type LineProps = {
  advice: Advice;
  plan: Plan;
  busy: boolean;
  trying: boolean;
  onMend: () => void;
  onAccept?: () => void;
  failed: Error | null;
};

function Line({ advice, plan, busy, trying, onMend, onAccept, failed }: LineProps) {
  const block = plan.blocks[advice.block];
  return (
    <li className="grid gap-x-4 gap-y-1 py-2 sm:grid-cols-[5.5rem_1fr_auto]">
      <span className="text-sm">
        <span className={`block ${advice.severity === "note" ? "faint" : "text-accent"}`}>
          {SIGNS[advice.severity]}
        </span>
        <span className="faint block text-xs">{TO_DO[advice.kind]}</span>
      </span>
      <div>
        <strong className="block first-letter:uppercase">
          {advice.who && `${advice.who}: `}
          {advice.line}
        </strong>
        <span className="block text-sm first-letter:uppercase">
          {block && <span className="faint">{block.name}. </span>}
          {advice.then} {advice.source && <span className="faint">({advice.source})</span>}
        </span>
        <Refused error={failed} />
      </div>
      <span className="flex gap-1 justify-self-start sm:self-center">
        {advice.mend && (
          <button type="button" className="btn btn-sm" disabled={busy} onClick={onMend}>
            {trying ? "Trying changes …" : advice.mend.label}
          </button>
        )}
        {onAccept && (
          <button
            type="button"
            className="btn btn-ghost btn-sm btn-square"
            aria-label={`Accept: ${advice.line}`}
            title="Accept: it stays away until it changes"
            onClick={onAccept}
          >
            <Check size={16} aria-hidden />
          </button>
        )}
      </span>
    </li>
  );
}

/** How many there are to do what with: "2 to change, 1 to tell, 3 to watch". */
function byKind(advice: Advice[]): string {
  return (["change", "tell", "watch"] as const)
    .map((kind) => [advice.filter((item) => item.kind === kind).length, kind] as const)
    .filter(([count]) => count > 0)
    .map(([count, kind]) => `${count} to ${kind}`)
    .join(", ");
}
