import { Undo2 } from "lucide-react";

import type { LogRow } from "../live/log";
import type { OpenRun } from "../live/useRun";
import { asked, decidedSteps } from "./decided";

type Props = { run: OpenRun; person: string; part: NonNullable<LogRow["part"]>; set: number };

/** What the plan asks before and between the sets of a part: answered in one press, for one person. */
export function Decisions({ run, person, part, set }: Props) {
  const decisions = part.decisions ?? [];
  if (!decisions.length) return null;
  return (
    <ul aria-label={`Decisions on ${part.name}`} className="grid gap-1 py-1">
      {decisions.map((decision) => {
        const answer = asked(run.events, person, part.id, decision.when);
        return (
          <li
            key={decision.when}
            className="flex flex-wrap items-center gap-2 rounded border border-base-300 bg-base-100 px-2 py-1 text-sm"
          >
            <span className="min-w-0 flex-1">
              {decision.when}? <span aria-hidden>→</span> <span className="sr-only">then </span>
              <strong>{decision.then}</strong>
            </span>
            {answer ? (
              <>
                <strong>
                  {answer.so ? "yes" : "no"}, before set {answer.number}
                </strong>
                <button
                  type="button"
                  className="btn btn-ghost h-11 px-3"
                  aria-label={`Take back: ${decision.when}`}
                  onClick={() => void run.withdraw(answer.id)}
                >
                  <Undo2 size={16} aria-hidden />
                </button>
              </>
            ) : (
              ([true, false] as const).map((so) => (
                <button
                  key={String(so)}
                  type="button"
                  className="btn h-11 min-w-14"
                  aria-label={`${decision.when}: ${so ? "yes" : "no"}`}
                  onClick={() => void run.add("decided", { person, part: part.id, number: set, ...decision, so })}
                >
                  {so ? "yes" : "no"}
                </button>
              ))
            )}
            {answer?.so && decidedSteps(decision.then) !== 0 && (
              <span className="faint w-full">the sets after it are logged with the load that this makes</span>
            )}
          </li>
        );
      })}
    </ul>
  );
}
