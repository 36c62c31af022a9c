import { useEffect, useRef, useState } from "react";

import type { Forecast, RotationJob } from "../api/client";
import { beginRotation, cancelRotation, isOver, planOfRotation, useRotationJob } from "../api/floor";
import { replacePlan } from "../draft/edits";
import type { Draft } from "../draft/useDraft";
import { Dialog } from "../shared/Dialog";
import { clock } from "../shared/format";
import { proof } from "./words";
import { errorWords } from "../basis/entries";

type Props = { draft: Draft; block: string; crowd: number; forecast: Forecast; onClose: () => void };

const PHASES: Record<RotationJob["phase"], string> = {
  quick: "a first good order",
  climbing: "many orders, and many small changes to the best of them",
  solving: "solving for the shortest block",
  settling: "the same length with less waiting",
  done: "done",
};

/** Looks for the best rotation of a block while one watches; the best so far can be taken at any moment. */
export function RotationDialog({ draft, block, crowd, forecast, onClose }: Props) {
  const { job, lost, error, setError, longer } = useSearch(draft, block);

  async function take() {
    if (!job) return;
    try {
      const next = await planOfRotation(job.id);
      draft.edit(replacePlan(next));
      onClose();
    } catch (reason) {
      setError(errorWords(reason));
    }
  }

  const over = isOver(job);
  const better =
    job &&
    (job.best.length_s < job.before.length_s - 0.5 ||
      job.best.waiting_s < job.before.waiting_s - 1 ||
      job.best.longest_wait_s < job.before.longest_wait_s - 1);
  const late = job?.within_s != null && job.best.length_s > job.within_s + 0.5;
  return (
    <Dialog title="Find the best rotation" onClose={onClose} wide>
      {(error ?? lost) && (
        <p role="alert" className="rounded border border-error p-2">
          {error ?? lost?.message}
        </p>
      )}
      {!job && !error && <div className="skeleton h-40 w-full" role="status" aria-label="Looking" />}
      {job && (
        <>
          <SearchState job={job} />
          <BeforeAndBest
            job={job}
            crowd={crowd}
            name={forecast.blocks.find((eachBlock) => eachBlock.id === block)?.name ?? ""}
          />
          {late && job.why_not.length === 0 && (
            <p className="mt-2 text-sm font-semibold text-error">
              Still longer than the {clock(job.within_s ?? 0)} it may take. {over && "Feasibility was not determined."}
            </p>
          )}
          {job.why_not.length > 0 && <WhyNot job={job} />}
          <div className="mt-4 flex flex-wrap items-center gap-2">
            <button type="button" className="btn btn-primary btn-sm" disabled={!better} onClick={() => void take()}>
              Use this rotation
            </button>
            {!over && (
              <button type="button" className="btn btn-sm" onClick={() => void cancelRotation(job.id)}>
                Stop looking
              </button>
            )}
            {over && !job.proven && (
              <button type="button" className="btn btn-sm" onClick={longer}>
                Look longer
              </button>
            )}
            <button type="button" className="btn btn-ghost btn-sm" onClick={onClose}>
              Keep it as it is
            </button>
            {over && !better && <span className="faint text-sm">No better order was found.</span>}
          </div>
          <p className="faint mt-3 text-xs">
            The shortest block comes first, then the least waiting (everybody&rsquo;s mean and the longest wait of one
            person count alike), then the fewest load changes and the shortest walks. No order can be shorter than the
            bound: the longest own time of anybody, or what the scarcest machine has to do with the set-ups and load
            changes that no order saves.
          </p>
        </>
      )}
    </Dialog>
  );
}

function Line({ name, before, after, strong }: { name: string; before: string; after: string; strong?: boolean }) {
  return (
    <tr className="border-t border-base-300">
      <th className="py-1 text-left font-normal">{name}</th>
      <td className="text-right">{before}</td>
      <td className={`text-right ${strong ? "text-base font-semibold" : ""}`}>{after}</td>
    </tr>
  );
}

/** How far the search is, and what is proven. */
function SearchState({ job }: { job: RotationJob }) {
  return (
    <p className="text-sm" role="status" data-testid="rotation-state">
      {isOver(job) ? (
        <>
          <strong>
            {job.state === "failed"
              ? "The search failed; what it had found is below."
              : job.state === "cancelled"
                ? "Stopped. "
                : "Done. "}
          </strong>
          {proof(job)}
        </>
      ) : (
        <>
          <progress className="progress mr-2 w-24 align-middle" aria-label="Looking" /> Looking for{" "}
          {Math.round(job.seconds)} s: {PHASES[job.phase]}. {proof(job)}
        </>
      )}
    </p>
  );
}

/** The block as it is beside the best order that was found. */
function BeforeAndBest({ job, crowd, name }: { job: RotationJob; crowd: number; name: string }) {
  return (
    <table className="mt-3 w-full text-sm" data-testid="rotation-table">
      <thead>
        <tr className="faint text-left">
          <th className="py-1 font-normal">{name}</th>
          <th className="w-28 text-right font-normal">as it is</th>
          <th className="w-28 text-right font-normal">best so far</th>
        </tr>
      </thead>
      <tbody>
        <Line name="Length" before={clock(job.before.length_s)} after={clock(job.best.length_s)} strong />
        <Line
          name="Waiting, each on average"
          before={clock(job.before.waiting_s / crowd)}
          after={clock(job.best.waiting_s / crowd)}
          strong
        />
        <Line
          name="Longest wait of one person"
          before={clock(job.before.longest_wait_s)}
          after={clock(job.best.longest_wait_s)}
          strong
        />
        <Line name="Loads changed" before={`${job.before.load_changes} ×`} after={`${job.best.load_changes} ×`} />
        <Line
          name="Walking, each on average"
          before={clock(job.before.walking_s / crowd)}
          after={clock(job.best.walking_s / crowd)}
        />
      </tbody>
    </table>
  );
}

/** Why no order keeps the time that the block may take, and what would help. */
function WhyNot({ job }: { job: RotationJob }) {
  return (
    <div className="mt-2 rounded border border-error p-2 text-sm" data-testid="why-not">
      <strong>It cannot be done in {clock(job.within_s ?? 0)}:</strong>
      <ul className="list-disc pl-5">
        {job.why_not.map((item) => (
          <li key={item.message}>
            {item.message}. <span className="faint">Helps: {item.safer}.</span>
          </li>
        ))}
      </ul>
    </div>
  );
}

/** A search for a rotation from when the dialog opens until it closes; `longer` begins it again with more effort. */
function useSearch(draft: Draft, block: string) {
  const [begun, setBegun] = useState<RotationJob | null>(null);
  const [error, setError] = useState<string | null>(null);
  const { data: job, error: lost } = useRotationJob(begun);
  const plan = useRef(draft.plan);
  const running = useRef<string | null>(null);

  const [effort, setEffort] = useState(1);
  useEffect(() => {
    let gone = false;
    beginRotation(plan.current, block, effort)
      .then((item) => {
        running.current = item.id;
        if (gone) void cancelRotation(item.id);
        else setBegun(item);
      })
      .catch((reason: Error) => setError(reason.message));
    return () => {
      gone = true;
      if (running.current) void cancelRotation(running.current).catch(() => {});
      running.current = null;
    };
  }, [block, effort]);

  const longer = () => {
    setBegun(null);
    setEffort((now) => Math.min(10, now * 4));
  };
  return { job, lost, error, setError, longer };
}
