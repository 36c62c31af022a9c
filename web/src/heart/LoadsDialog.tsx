import { useState } from "react";

import type { Forecast, LoadAsSet, LoadRow, Plan } from "../api/client";
import { useLoads } from "../api/people";
import { Dialog } from "../shared/Dialog";
import { LoadPicture } from "../shared/LoadPicture";
import { LB_KG } from "../shared/units";
import { firstName } from "../shared/names";
import { Refused } from "../shared/Refused";

/** Everybody's loads as they can really be set, with plates a side; person by person. */
export function LoadsDialog({ plan, forecast, onClose }: { plan: Plan; forecast: Forecast; onClose: () => void }) {
  const loads = useLoads(plan);
  const [number, choose] = useState(1);
  const rows = loads.data?.filter((row) => row.person === number) ?? [];
  return (
    <Dialog title="Loads as they are set" onClose={onClose} wide>
      <div className="flex flex-wrap gap-1" role="group" aria-label="Person">
        {forecast.people.map((person) => (
          <button
            key={person.id}
            type="button"
            aria-pressed={person.number === number}
            className={`btn btn-xs ${person.number === number ? "btn-neutral" : ""}`}
            onClick={() => choose(person.number)}
          >
            {person.number} {firstName(person.name)}
          </button>
        ))}
      </div>
      {loads.isPending && <div className="skeleton mt-3 h-48 w-full" role="status" aria-label="Reading the loads" />}
      <Refused error={loads.error} />
      {loads.isSuccess && rows.length === 0 && (
        <p className="mt-3">No load is prescribed for this person on a machine of this room.</p>
      )}
      <ul className="mt-3 max-h-[26rem] divide-y divide-base-300 overflow-y-auto" data-testid="loads">
        {rows.map((row) => (
          <Row key={row.slot} row={row} />
        ))}
      </ul>
      <p className="faint mt-2 text-xs">
        Rounded to what the unit holds: stack steps and add-ons, equal plates on both sides, pairs that exist. A pin
        only moves with the stack at rest.
      </p>
    </Dialog>
  );
}

/** From so many percent off, the load is another than the wanted one. */
const FAR_OFF = 15;

function Row({ row }: { row: LoadRow }) {
  return (
    <li className="py-1.5">
      <p className="text-sm">
        <strong>{row.name}</strong>
        {row.unknown && <span className="text-accent"> ▲ no best known: choose by feel</span>}
      </p>
      {row.warm_up.map((set, at) => (
        <Load key={`warm-${at}`} words={`warm-up, ${set.reps} times`} load={set.load} />
      ))}
      {row.sets.map((sets, at) => (
        <div key={at}>
          {sets.loadings.map((loading, place) => (
            <Load
              key={place}
              words={place ? "then" : `${sets.times} ${sets.times === 1 ? "set" : "sets"}`}
              load={loading.load}
            />
          ))}
          {sets.takes_s > sets.counted_s + 1 && (
            <p className="text-xs text-accent">
              ▲ these changes take about {sets.takes_s.toFixed(0)} s, the plan counts {sets.counted_s.toFixed(0)} s
            </p>
          )}
        </div>
      ))}
    </li>
  );
}

function Load({ words, load }: { words: string; load: LoadAsSet }) {
  const off = Math.round(load.share_off * 100);
  return (
    <p className="grid grid-cols-[7rem_5rem_minmax(0,1fr)] items-center gap-2 text-sm sm:grid-cols-[7rem_5rem_12rem_minmax(0,1fr)]">
      <span className="faint">{words}</span>
      <strong className="text-right">{marked(load.set_kg, load.marked)}</strong>
      <LoadPicture load={load} />
      <span className="hidden text-xs sm:block">
        <span className="faint">{load.words}</span>
        {off !== 0 && (
          <span className={Math.abs(off) > FAR_OFF ? "font-semibold text-accent" : "faint"}>
            {` · ${Math.abs(off) > FAR_OFF ? "▲ " : ""}${Math.abs(off)} % ${off > 0 ? "more" : "less"} than wanted`}
          </span>
        )}
      </span>
    </p>
  );
}

function marked(kg: number, unit: "kg" | "lb"): string {
  return `${Number((unit === "kg" ? kg : kg / LB_KG).toFixed(1))} ${unit}`;
}
