import { Play } from "lucide-react";

import { useRuns } from "../api/people";
import { when } from "../shared/format";

const SHOWN = 6;

/** Classes that run, or are ready to: the first thing to see on the day. */
export function OpenRuns() {
  const runs = useRuns();
  const open = (runs.data ?? []).filter((run) => run.state !== "over").slice(0, SHOWN);
  if (!open.length) return null;
  return (
    <section aria-label="Classes that run" className="mb-4 flex flex-col gap-2">
      {open.map((item) => (
        <a
          key={item.id}
          href={`/runs/${item.id}`}
          className="flex items-center gap-3 rounded-(--radius-box) border-2 border-primary px-4 py-2 hover:bg-base-200"
        >
          <Play size={20} aria-hidden />
          <strong>{item.name}</strong>
          <span>
            {item.state === "running" ? `runs since ${when(item.began_at ?? item.opened_at)}` : "is ready to start"}
          </span>
          <span className="ml-auto underline">{item.state === "running" ? "Resume" : "Open"}</span>
        </a>
      ))}
    </section>
  );
}
