import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import type { Forecast } from "../api/client";
import { holdClass, useRuns } from "../api/people";
import type { Draft } from "../draft/useDraft";
import { Dialog } from "../shared/Dialog";
import { counted, when } from "../shared/format";
import { Refused } from "../shared/Refused";

type Props = { classId: number; draft: Draft; forecast: Forecast; onClose: () => void };

/** Log that the class was held as saved: when it began, and who came. */
export function HeldDialog({ classId, draft, forecast, onClose }: Props) {
  const queries = useQueryClient();
  const runs = useRuns();
  const before = (runs.data ?? []).filter((run) => run.class_id === classId && run.state === "over");
  const [began, setBegan] = useState(() => localNow());
  const [away, setAway] = useState<string[]>([]);
  const came = forecast.people.filter((person) => !away.includes(person.id));
  const log = useMutation({
    mutationFn: () =>
      holdClass(
        classId,
        draft.revision,
        new Date(began).toISOString(),
        came.map((item) => item.id),
      ),
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: ["runs"] });
      void queries.invalidateQueries({ queryKey: ["people"] });
    },
  });
  return (
    <Dialog title="Log as held" onClose={onClose}>
      <p className="text-sm">
        As saved in revision {draft.revision}
        {draft.dirty && <strong className="text-accent"> ▲ what is not saved yet is not in it</strong>}. Recordings of
        belts can be laid over it afterwards.
      </p>
      <label className="mt-3 flex items-center gap-3 text-sm">
        Began
        <input
          type="datetime-local"
          className="input input-sm w-56"
          required
          value={began}
          onChange={(event) => setBegan(event.target.value)}
        />
      </label>
      <fieldset className="mt-3">
        <legend className="text-sm">Who came</legend>
        <div className="mt-1 grid grid-cols-2 gap-1 text-sm">
          {forecast.people.map((person) => (
            <label key={person.id} className="flex items-center gap-2">
              <input
                type="checkbox"
                className="checkbox checkbox-sm"
                checked={!away.includes(person.id)}
                onChange={(event) =>
                  setAway(event.target.checked ? away.filter((id) => id !== person.id) : [...away, person.id])
                }
              />
              {person.number} {person.name}
            </label>
          ))}
        </div>
      </fieldset>
      <Refused error={log.error} />
      {log.isSuccess ? (
        <p role="status" className="mt-3">
          Logged: {counted(log.data.people_count, "person", "people")}
          {log.data.kcal_total !== null && `, ${Math.round(log.data.kcal_total / 10) * 10} kcal together`}.
        </p>
      ) : (
        <button
          type="button"
          className="btn btn-primary mt-4"
          disabled={!began || came.length === 0 || log.isPending}
          onClick={() => log.mutate()}
        >
          Log it
        </button>
      )}
      {before.length > 0 && (
        <p className="faint mt-3 text-sm">
          Held before:{" "}
          {before
            .slice(0, 4)
            .map((item) => `${when(item.began_at ?? item.opened_at)} (${item.people_count})`)
            .join(", ")}
        </p>
      )}
    </Dialog>
  );
}

function localNow(): string {
  const now = new Date();
  return new Date(now.getTime() - now.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);
}
