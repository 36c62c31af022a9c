import type { OpenRun } from "../live/useRun";
import { peopleNow } from "../live/places";
import { turnAt, turnsOfTeam } from "../live/relays";
import { aheadOf, placeIn, type RunState } from "../live/runState";
import { countdown } from "../live/words";
import { firstName } from "../shared/names";
import { entryAt } from "../basis/entries";

/** The teams of a relay under way: who runs, who is next, and one large press for a tag. */
export function Relay({ run, runState }: { run: OpenRun; runState: RunState }) {
  const { sheet } = runState;
  const block = entryAt(sheet.blocks, placeIn(sheet, runState.second).block);
  if (!block.teams.length) return null;
  const people = peopleNow(runState);
  return (
    <ul className="grid gap-2 py-1 sm:grid-cols-2" aria-label="Teams">
      {block.teams.map((team, number) => {
        const turns = turnsOfTeam(sheet, block, team);
        const first = entryAt(sheet.people, entryAt(team, 0)).id;
        const second = runState.second + aheadOf(runState, first);
        const at = turnAt(turns, second);
        const now = turns[at];
        const next = turns[at + 1];
        const over = !now || second >= entryAt(turns, turns.length - 1).end_s;
        const named = (place: number) => {
          const { number, name } = entryAt(sheet.people, place);
          return `${number} ${firstName(name)}`;
        };
        const left = now && people[now.person];
        return (
          <li
            key={number}
            className="flex items-center gap-2 rounded border border-base-300 p-2"
            data-testid={`team-${number + 1}`}
          >
            <span className="min-w-0 flex-1 leading-tight">
              <span className="block truncate text-lg font-semibold">{over ? "done" : named(now.person)}</span>
              <span className="faint block truncate text-sm">
                {!over && left && left.doing === "work" && `${countdown(left.left_s)} · `}
                {over ? "every turn is over" : next ? `then ${named(next.person)}` : "the last turn"}
              </span>
            </span>
            {!over && (
              <button
                type="button"
                className="btn btn-primary h-16 w-24 text-lg"
                aria-label={`${next ? "Tag" : "Done"}: team ${number + 1}, ${named(now.person)}`}
                onClick={() => void run.add("tagged", { person: first, block: block.id })}
              >
                {next ? "Tag" : "Done"}
              </button>
            )}
          </li>
        );
      })}
    </ul>
  );
}
