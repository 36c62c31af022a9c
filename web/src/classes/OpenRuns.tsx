import { Play } from "lucide-react";

import { useRuns } from "../api/people";
import { counted, when } from "../shared/format";

const SHOWN = 6;

/** Classes that run, or are ready to: the first thing to see on the day. */
export function OpenRuns() {
  const runs = useRuns();
  const open = (runs.data ?? []).filter((one) => one.state !== "over").slice(0, SHOWN);
  if (!open.length) return null;
  return (
    <section aria-label="Classes that run" className="mb-4 flex flex-col gap-2">
      {open.map((one) => (
        <a
          key={one.id}
          href={`/runs/${one.id}`}
          className="flex items-center gap-3 rounded-(--radius-box) border-2 border-primary px-4 py-2 hover:bg-base-200"
        >
          <Play size={20} aria-hidden />
          <strong>{one.name}</strong>
          <span>
            {one.state === "running" ? `runs since ${when(one.began_at ?? one.opened_at)}` : "is ready to start"}
          </span>
          <span className="ml-auto underline">{one.state === "running" ? "Take it up" : "Open"}</span>
        </a>
      ))}
    </section>
  );
}

/** The classes that were run last, each with its page. */
export function LastRuns() {
  const runs = useRuns();
  const over = (runs.data ?? []).filter((one) => one.state === "over").slice(0, SHOWN);
  if (!over.length) return null;
  return (
    <section className="mt-8" aria-labelledby="last-runs">
      <h2 id="last-runs" className="text-lg font-semibold">
        Run last
      </h2>
      <ul className="mt-1">
        {over.map((one) => (
          <li key={one.id} className="border-b border-base-300">
            <a href={`/runs/${one.id}`} className="flex min-h-10 items-center gap-4 hover:underline">
              <span className="font-medium">{one.name}</span>
              <span className="faint text-sm">{counted(one.people_count, "person", "people")}</span>
              <span className="faint ml-auto text-sm">{when(one.began_at ?? one.opened_at)}</span>
            </a>
          </li>
        ))}
      </ul>
    </section>
  );
}
