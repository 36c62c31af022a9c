import type { Forecast, PersonForecast, Room } from "../api/client";
import { clock } from "../shared/format";
import { stretchesOf, waitingOf, type Stretch } from "./floorModel";

type Props = {
  person: PersonForecast;
  forecast: Forecast;
  room: Room;
  letters: Map<string, string>;
  onScrub: (second: number) => void;
};

type Stop = { start: number; end: number; letter: string; what: string; where: string; waits: number; sets: number };

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

function stopsOf(stretches: Stretch[], forecast: Forecast, room: Room, letters: Map<string, string>): Stop[] {
  const stops: (Stop & { key: string })[] = [];
  let waited = 0;
  for (const one of stretches) {
    if (one.kind === "wait") waited += one.end - one.start;
    if (one.kind === "breather") {
      stops.push({
        key: "breather",
        start: one.start,
        end: one.end,
        letter: "",
        what: "breather",
        where: "",
        waits: 0,
        sets: 0,
      });
    }
    if (one.kind !== "visit" || one.slot < 0) continue;
    const slot = forecast.slots[one.slot]!;
    const key = slot.group >= 0 ? `${slot.block}-${slot.group}` : `${slot.block}-${slot.id}`;
    const last = stops.at(-1);
    if (last?.key === key) {
      last.end = one.end;
      last.waits += waited;
      if (!last.what.includes(slot.name)) last.what += ` + ${slot.name}`;
    } else {
      const where = one.unit >= 0 ? (room.units[one.unit]?.name ?? "") : "";
      stops.push({
        key,
        start: one.start,
        end: one.end,
        letter: letters.get(key) ?? "",
        what: slot.name,
        where: where === slot.name ? "" : where,
        waits: waited,
        sets: 0,
      });
    }
    waited = 0;
  }
  return stops;
}
