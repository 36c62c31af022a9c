import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";

import { afterRun, useCards, type LiveRun } from "../api/runs";
import type { RunState } from "../live/runState";
import type { LogRow } from "../live/log";
import type { OpenRun } from "../live/useRun";
import { counted } from "../shared/format";
import { PlannedAndActual } from "../shared/PlannedAndActual";
import { NoteForm } from "./NoteForm";
import { WriteDown } from "./WriteDown";

type Props = { run: OpenRun; live: LiveRun; runState: RunState; log: Map<string, LogRow[]>; mayReadHealth: boolean };

/** After the end: what was planned beside what actually happened, what is still to log, and a note for next time. */
export function AfterRun({ run, live, runState, log, mayReadHealth }: Props) {
  const [person, setPerson] = useState<string | null>(null);
  const told = useQuery({
    queryKey: ["after", live.id, run.events.length],
    queryFn: () => afterRun(live.id),
    enabled: run.waiting === 0 && run.reach === "connected",
  });
  const cards = useCards(live.id);
  // what the class did not get to is not missing
  const reached = useMemo(() => reachedIn(log, runState), [log, runState]);
  const rows = [...reached.values()].flat();
  const missing = rows.filter((row) => row.written === "not written").length;
  const ended = run.events.find((event) => event.kind === "ended");
  const notes = run.events.filter((event) => event.kind === "noted" && !event.person);
  return (
    <div className="mx-auto max-w-6xl p-4">
      <header className="flex flex-wrap items-center gap-3">
        <a href="/">
          <img src="/mark.svg" alt="All classes" className="h-6 w-6" />
        </a>
        <h1 className="text-2xl font-semibold">{live.name}</h1>
        <span>is over</span>
        {ended && (
          <button type="button" className="btn h-11" onClick={() => void run.withdraw(ended.id)}>
            It is not: take the end back
          </button>
        )}
        {mayReadHealth && (
          <a className="btn h-11 ml-auto" href={`/api/runs/${live.id}/log`} download={`run-${live.id}.jsonl`}>
            Save the run log
          </a>
        )}
        <a className={`btn h-11 ${mayReadHealth ? "" : "ml-auto"}`} href={`/runs/${live.id}/book`}>
          In the class log
        </a>
        <a className="btn h-11" href={`/classes/${live.class_id}`}>
          The plan
        </a>
      </header>
      <main className="mt-4 grid gap-6 lg:grid-cols-2">
        <section aria-label="Planned and actual">
          <h2 className="text-lg font-semibold">Planned and actual</h2>
          {run.waiting > 0 && <p role="status">{counted(run.waiting, "entry", "entries")} still to be sent.</p>}
          {told.isError && <p role="alert">{told.error.message}</p>}
          {!told.data && !told.isError && <p role="status">Working out how it was …</p>}
          {told.data && <PlannedAndActual rows={told.data.rows} testId="after" />}
          {!mayReadHealth && <p className="faint mt-2 text-sm">Hearts and energy are for instructors.</p>}
          <h2 className="mt-6 text-lg font-semibold">For next time</h2>
          <NoteForm run={run} label="A note for next time" placeholder="One thing to do differently" />
          <ul className="mt-2 list-disc pl-5">
            {notes.map((note) => (
              <li key={note.id}>{"words" in note && note.words}</li>
            ))}
          </ul>
        </section>
        <section aria-label="Sets still to log">
          <h2 className="text-lg font-semibold">
            {missing ? `${counted(missing, "set")} of ${rows.length} still to log` : "Every set is logged"}
          </h2>
          <WriteDown run={run} runState={runState} log={reached} person={person} onPerson={setPerson} cards={cards} />
        </section>
      </main>
    </div>
  );
}

function reachedIn(log: Map<string, LogRow[]>, { sheet, second }: RunState): Map<string, LogRow[]> {
  const got = (row: LogRow) =>
    row.written === "done" || row.sheet !== sheet || (row.set !== null && row.set.start_s < second);
  return new Map([...log].map(([person, rows]) => [person, rows.filter(got)]));
}
