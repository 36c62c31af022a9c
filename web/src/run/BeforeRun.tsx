import { Volume2 } from "lucide-react";

import type { LiveRun } from "../api/runs";
import { isAway, type RunState } from "../live/runState";
import { peopleNow } from "../live/places";
import type { useBells } from "../live/useBells";
import type { OpenRun } from "../live/useRun";
import { clockWords, placeWords } from "../live/words";
import { counted } from "../shared/format";

type Props = { run: OpenRun; live: LiveRun; runState: RunState; bells: ReturnType<typeof useBells> };

/** Ready to start: who is there, where each begins, and whether the bell is heard. */
export function BeforeRun({ run, live, runState, bells }: Props) {
  const people = peopleNow(runState);
  const away = people.filter((person) => person.away).length;
  return (
    <div className="min-h-0 flex-1 overflow-auto p-3" tabIndex={0} role="region" aria-label="Ready to start">
      <div className="flex flex-wrap items-center gap-2">
        <h2 className="text-lg font-semibold">Who is here</h2>
        <span className="faint">
          {counted(people.length - away, "person", "people")}
          {away > 0 && `, ${away} not here yet`}
        </span>
        <button type="button" className="btn ml-auto" onClick={() => void bells.check()} disabled={!bells.possible}>
          <Volume2 size={18} aria-hidden /> Sound check
        </button>
      </div>
      <p className="faint text-sm">
        {live.starts && `${live.starts}. `}Tick off whoever is not here: they join when they come.{" "}
        <a className="link" href={`/classes/${live.class_id}`}>
          The class and what has to be read before the class
        </a>
      </p>
      <ul className="mt-2 grid gap-1 sm:grid-cols-2" aria-label="Who is here">
        {people.map(({ person, away: gone, next, here }) => {
          const spot = placeWords(runState.sheet, here ?? next);
          return (
            <li key={person.id}>
              <button
                type="button"
                aria-pressed={!gone}
                className={`btn h-12 w-full justify-start gap-2 text-left font-normal ${gone ? "opacity-60" : ""}`}
                onClick={() => void run.add(isAway(runState, person.id) ? "came" : "left", { person: person.id })}
              >
                <span className="grid h-8 w-8 shrink-0 place-items-center rounded-full border-2 border-base-content font-bold">
                  {person.number}
                </span>
                <span className="min-w-0 leading-tight">
                  <span className="block truncate font-semibold">{person.name}</span>
                  <span className="block truncate text-sm">
                    {gone ? "not here" : `${spot.what}${spot.where ? `, ${spot.where}` : ""}`}
                  </span>
                </span>
              </button>
            </li>
          );
        })}
      </ul>
      <p className="faint mt-3 text-sm" data-testid="clock">
        {clockWords(run.offset)}
      </p>
    </div>
  );
}
