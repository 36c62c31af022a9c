import { useMutation } from "@tanstack/react-query";
import { Play } from "lucide-react";
import { useState } from "react";

import { listRuns, openRun } from "../api/runs";
import type { Draft } from "../draft/useDraft";
import { Dialog } from "../shared/Dialog";
import { when } from "../shared/format";
import { Refused } from "../shared/Refused";

/** Gets the saved class ready to be run, or joins the run of it that is open. */
export function RunButton({ classId, draft }: { classId: number; draft: Draft }) {
  const [asks, ask] = useState(false);
  const look = useMutation({
    mutationFn: async () => {
      const open = (await listRuns()).filter((listRun) => listRun.class_id === classId && listRun.state !== "over");
      if (open.length || draft.dirty) return open;
      window.location.assign(`/runs/${(await openRun(classId, draft.revision)).id}`);
      return null;
    },
    onSuccess: (open) => ask(open !== null),
  });
  const begin = useMutation({
    mutationFn: () => openRun(classId, draft.revision),
    onSuccess: (run) => window.location.assign(`/runs/${run.id}`),
  });
  return (
    <>
      <button
        type="button"
        className="btn btn-primary btn-sm"
        disabled={look.isPending}
        onClick={() => look.mutate()}
        title="Run this class with the clock"
      >
        <Play size={15} aria-hidden /> Run
      </button>
      {look.error && <Refused error={look.error} />}
      {asks && (
        <Dialog title="Run this class" onClose={() => ask(false)}>
          {draft.dirty && (
            <p>What is not saved yet is not in it: the class is run as saved in revision {draft.revision}.</p>
          )}
          <ul className="my-2 flex flex-col gap-2">
            {look.data?.map((item) => (
              <li key={item.id}>
                <a className="btn w-full justify-start" href={`/runs/${item.id}`}>
                  {item.state === "running" ? "Join the one that runs" : "Go on to the one that is ready"}, opened{" "}
                  {when(item.opened_at)}
                </a>
              </li>
            ))}
          </ul>
          <button
            type="button"
            className="btn btn-primary"
            data-first
            disabled={begin.isPending}
            onClick={() => begin.mutate()}
          >
            {look.data?.length ? "A new run of it" : `Run revision ${draft.revision}`}
          </button>
          <Refused error={begin.error} />
        </Dialog>
      )}
    </>
  );
}
