import type { Forecast, PersonForecast, Room } from "../api/client";
import { clock } from "../shared/format";
import { stretchesOf, waitingOf } from "../drawing/floorModel";
import { stopsOf } from "./ways";

type Props = {
  person: PersonForecast;
  forecast: Forecast;
  room: Room;
  letters: Map<string, string>;
  onScrub: (second: number) => void;
};

/** One person's own way: where they go in which order, from when to when, and where they wait. */
export function PathPanel({ person, forecast, room, letters, onScrub }: Props) {
  const stops = stopsOf(stretchesOf(person, forecast), forecast, room, letters);
  return (
    <div className="mt-3" data-testid="path">
      <h3 className="text-sm font-semibold">
        {person.number} {person.name}: own way, {clock(waitingOf(person))} of waiting
      </h3>
      <ol className="mt-1 grid max-h-64 gap-x-6 overflow-y-auto text-sm sm:grid-cols-2">
        {stops.map((stop, index) => (
          <li key={index}>
            <button
              type="button"
              className="flex w-full items-baseline gap-2 rounded px-1 text-left hover:bg-base-200"
              onClick={() => onScrub(Math.round(stop.start))}
            >
              <span className="w-11 shrink-0 text-right">{clock(stop.start)}</span>
              <span className="w-4 shrink-0 font-semibold">{stop.letter}</span>
              <span className="min-w-0 grow truncate">
                {stop.what}
                {stop.where && <span className="faint"> · {stop.where}</span>}
              </span>
              {stop.waits >= 1 && <span className="shrink-0 font-semibold text-error">w {clock(stop.waits)}</span>}
            </button>
          </li>
        ))}
      </ol>
    </div>
  );
}
