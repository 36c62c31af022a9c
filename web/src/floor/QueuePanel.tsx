import type { Forecast, Plan, Room } from "../api/client";
import { useQueues } from "../api/floor";
import { clock, counted, kilograms } from "../shared/format";
import { firstName } from "../shared/names";

type Props = { plan: Plan; unit: string; room: Room; forecast: Forecast; onScrub: (second: number) => void };

/** One machine's queue: who comes when, with which load, and when it has to be changed for them. */
export function QueuePanel({ plan, unit, room, forecast, onScrub }: Props) {
  const queues = useQueues(plan, true);
  const name = room.units.find((eachUnit) => eachUnit.id === unit)?.name ?? unit;
  const queue = queues.data?.find((queue) => queue.unit === unit);
  return (
    <div className="mt-3" data-testid="queue">
      <h3 className="text-sm font-semibold">
        {name}
        {queue && (
          <span className="font-normal">
            : {counted(queue.turns.length, "set")}, load changed {counted(queue.load_changes, "time")}
          </span>
        )}
      </h3>
      {queues.isPending && <div className="skeleton mt-1 h-24" />}
      {queues.isError && (
        <p role="alert" className="text-sm text-error">
          The queue cannot be shown: {queues.error.message}
        </p>
      )}
      {queues.data && !queue && <p className="faint text-sm">Nobody uses it in this class.</p>}
      {queue && (
        <ol className="mt-1 grid max-h-64 gap-x-4 overflow-y-auto text-sm sm:grid-cols-2">
          {queue.turns.map((turn, index) => (
            <li key={index}>
              <button
                type="button"
                className="flex w-full items-baseline gap-2 rounded px-1 text-left hover:bg-base-200"
                onClick={() => onScrub(Math.round(turn.work_from_s))}
              >
                <span className="w-11 shrink-0 text-right">{clock(turn.from_s)}</span>
                <span className="min-w-0 grow truncate">
                  <strong>{turn.number}</strong> {firstName(forecast.people[turn.number - 1]?.name)}
                </span>
                <span className="w-14 shrink-0 text-right">{turn.load_kg == null ? "" : kilograms(turn.load_kg)}</span>
                <span className="w-14 shrink-0 text-right text-xs">{turn.changes_load ? "⇅ change" : ""}</span>
              </button>
            </li>
          ))}
        </ol>
      )}
    </div>
  );
}
