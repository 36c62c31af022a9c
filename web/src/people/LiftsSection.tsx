import { useMutation } from "@tanstack/react-query";
import { Plus, Trash2 } from "lucide-react";
import { useState } from "react";

import type { PersonRecord } from "../api/client";
import { bestFromSet, type BestFormula } from "../api/people";
import { useCatalogue } from "../api/queries";
import { Select } from "../shared/Select";
import { Dialog } from "../shared/Dialog";
import { DecimalField } from "../shared/DecimalField";
import { figure, range } from "../shared/format";
import { LB_KG, mass, useUnits } from "../shared/units";
import type { EditRecord } from "./record";
import { taking } from "./taking";
import { WorkOutDialog } from "./WorkOutDialog";
import { present } from "../basis/entries";
import { Refused } from "../shared/Refused";

type Props = { record: PersonRecord; edit: EditRecord };

/** Bests and working loads, exercise by exercise; a best can be estimated from a set. */
export function LiftsSection({ record, edit }: Props) {
  const catalogue = useCatalogue().data;
  const [estimating, estimate] = useState<string | null>(null);
  const [workingOut, workOut] = useState<string | null>(null);
  const [adding, setAdding] = useState("");
  const bests = record.person.bests_kg ?? {};
  const working = record.person.working_kg ?? {};
  const from = record.best_from ?? {};
  const known = new Map(catalogue?.exercises.map((exercise) => [exercise.id, exercise]));
  const lifts = [...new Set([...Object.keys(bests), ...Object.keys(working)])].sort((one, other) =>
    (known.get(one)?.name ?? one).localeCompare(known.get(other)?.name ?? other),
  );
  const others = (catalogue?.exercises ?? []).filter((exercise) => exercise.takes_load && !lifts.includes(exercise.id));
  const setBest = (lift: string, kg: number | null, said: string) =>
    edit((item) => ({
      ...item,
      person: { ...item.person, bests_kg: with_(item.person.bests_kg ?? {}, lift, kg) },
      best_from: with_(item.best_from ?? {}, lift, kg === null ? null : said),
    }));
  // another working load is one for all sets
  const setWorking = (lift: string, kg: number | null) =>
    edit((item) => ({
      ...item,
      person: {
        ...item.person,
        working_kg: with_(item.person.working_kg ?? {}, lift, kg),
        working_sets_kg: with_(item.person.working_sets_kg ?? {}, lift, null),
      },
    }));
  return (
    <section>
      <h2 className="text-lg font-semibold">Loads</h2>
      <div className="overflow-x-auto">
        <table className="mt-1 w-full text-sm" data-testid="lifts">
          <LiftsHead />
          <tbody>
            {lifts.map((lift) => (
              <LiftRow
                key={lift}
                name={known.get(lift)?.name ?? lift}
                best={bests[lift]}
                from={from[lift]}
                working={working[lift]}
                sets={record.person.working_sets_kg?.[lift]}
                onBest={(kg, said) => setBest(lift, kg, said)}
                onWorking={(kg) => setWorking(lift, kg)}
                onEstimate={() => estimate(lift)}
                onWorkOut={known.has(lift) ? () => workOut(lift) : undefined}
              />
            ))}
          </tbody>
        </table>
      </div>
      {lifts.length === 0 && <p className="text-sm">No load yet: a set near failure is enough for a first best.</p>}
      <div className="mt-2 flex gap-2">
        <select
          className="select select-sm w-56"
          aria-label="Exercise to add"
          value={adding}
          onChange={(event) => setAdding(event.target.value)}
        >
          <option value="">Another exercise …</option>
          {others.map((other) => (
            <option key={other.id} value={other.id}>
              {other.name}
            </option>
          ))}
        </select>
        <button type="button" className="btn btn-sm" disabled={!adding} onClick={() => estimate(adding)}>
          <Plus size={15} aria-hidden /> Best from a set
        </button>
      </div>
      {workingOut && known.get(workingOut) && (
        <WorkOutDialog
          exercise={present(known.get(workingOut), workingOut)}
          best={bests[workingOut]}
          working={working[workingOut]}
          onClose={() => workOut(null)}
          onUse={(kg) => {
            setWorking(workingOut, kg);
            workOut(null);
          }}
        />
      )}
      {estimating && (
        <FromASet
          name={known.get(estimating)?.name ?? estimating}
          onClose={() => estimate(null)}
          onUse={(kg, said) => {
            setBest(estimating, kg, said);
            setAdding("");
            estimate(null);
          }}
        />
      )}
    </section>
  );
}

const FORMULAS: [BestFormula, string][] = [
  ["epley", "Epley (default)"],
  ["brzycki", "Brzycki"],
  ["lombardi", "Lombardi"],
  ["wathen", "Wathen"],
  ["oconner", "O’Conner"],
  ["mayhew", "Mayhew"],
  ["lander", "Lander"],
];

function FromASet({
  name,
  onClose,
  onUse,
}: {
  name: string;
  onClose: () => void;
  onUse: (kg: number, said: string) => void;
}) {
  const [units] = useUnits();
  const per = units === "metric" ? 1 : LB_KG;
  const unit = units === "metric" ? "kg" : "lb";
  const [load, setLoad] = useState(60);
  const [reps, setReps] = useState(8);
  const [reserve, setReserve] = useState(0);
  const [formula, setFormula] = useState<BestFormula>("epley");
  const ask = useMutation({ mutationFn: () => bestFromSet(load * per, reps, reserve, formula) });
  const found = ask.data;
  const change = taking(ask.reset);
  return (
    <Dialog title={`Best of ${name.toLowerCase()} from a set`} onClose={onClose}>
      <div className="flex flex-col gap-2">
        <DecimalField label="Load" unit={unit} step={2.5} value={load} min={1} max={900} onChange={change(setLoad)} />
        <DecimalField label="Repetitions done" step={1} value={reps} min={1} max={30} onChange={change(setReps)} />
        <DecimalField
          label="More would have gone"
          step={1}
          value={reserve}
          min={0}
          max={10}
          onChange={change(setReserve)}
        />
        <label className="flex items-center justify-between text-sm">
          By
          <Select className="select select-sm w-44" value={formula} options={FORMULAS} onChange={change(setFormula)} />
        </label>
      </div>
      {found && (
        <div className="mt-3" data-testid="best">
          <p>
            <strong className="text-2xl">
              {figure(found.value / per, 1)} {unit}
            </strong>{" "}
            <span className="faint">
              {range({ ...found, low: found.low / per, high: found.high / per }, 1)} by all five formulas
            </span>
          </p>
          {found.note && (
            <p className="text-sm">
              <strong className="text-accent">▲</strong> {found.note}.
            </p>
          )}
          <p className="faint text-sm">{found.inputs?.join("; ")}</p>
        </div>
      )}
      <Refused error={ask.error} />
      <div className="mt-4 flex gap-2">
        {found ? (
          <button
            type="button"
            className="btn btn-primary"
            onClick={() =>
              onUse(
                round(found.value),
                `${found.inputs?.[0]} (${present(
                  FORMULAS.find(([id]) => id === formula),
                  formula,
                )[1].replace(" (default)", "")})`,
              )
            }
          >
            Use it
          </button>
        ) : (
          <button type="button" className="btn btn-primary" disabled={ask.isPending} onClick={() => ask.mutate()}>
            Estimate
          </button>
        )}
      </div>
    </Dialog>
  );
}

function round(kg: number): number {
  return Math.round(kg * 100) / 100;
}

/** The same record with an entry set, or taken out. */
function with_<Value>(entries: Record<string, Value>, name: string, value: Value | null): Record<string, Value> {
  const rest = Object.fromEntries(Object.entries(entries).filter(([key]) => key !== name));
  return value === null ? rest : { ...rest, [name]: value };
}

type LiftRowProps = {
  name: string;
  best: number | undefined;
  from: string | undefined;
  working: number | undefined;
  /** the loads of the sets where they differ */
  sets: number[] | undefined;
  onBest: (kg: number | null, said: string) => void;
  onWorking: (kg: number | null) => void;
  onEstimate: () => void;
  onWorkOut?: () => void;
};

/** What somebody lifts in an exercise: the best with where it is from, and what they work with. */
function LiftRow({ name, best, from, working, sets, onBest, onWorking, onEstimate, onWorkOut }: LiftRowProps) {
  const [units] = useUnits();
  const per = units === "metric" ? 1 : LB_KG;
  const unit = units === "metric" ? "kg" : "lb";
  return (
    <tr className="border-t border-base-300 align-top">
      <th scope="row" className="py-1 pr-2 text-left font-normal">
        {name}
      </th>
      <td className="py-1 pr-2">
        <span className="flex items-center gap-1">
          <DecimalField
            bare
            label={`Best of ${name}`}
            unit={unit}
            step={2.5}
            value={best === undefined ? null : best / per}
            otherwise={0}
            min={1}
            max={Math.round(900 / per)}
            onChange={(value) => onBest(value === null ? null : round(value * per), "entered")}
          />
          <button type="button" className="btn btn-xs" onClick={() => onEstimate()}>
            from a set
          </button>
        </span>
        <span className="faint text-xs">{from}</span>
      </td>
      <td className="py-1">
        <DecimalField
          bare
          label={`Working load of ${name}`}
          unit={unit}
          step={2.5}
          value={working === undefined ? null : working / per}
          otherwise={0}
          min={1}
          max={Math.round(900 / per)}
          onChange={(value) => onWorking(value === null ? null : round(value * per))}
        />
        {sets && <span className="faint text-xs">set by set {sets.map((kg) => mass(kg, units)).join(" / ")}</span>}
      </td>
      <td className="py-1 whitespace-nowrap">
        <button type="button" className="btn btn-xs" disabled={!onWorkOut} onClick={onWorkOut}>
          work out
        </button>
        <button
          type="button"
          className="btn btn-ghost btn-xs btn-square"
          aria-label={`Remove ${name}`}
          onClick={() => {
            onBest(null, "");
            onWorking(null);
          }}
        >
          <Trash2 size={14} aria-hidden />
        </button>
      </td>
    </tr>
  );
}

function LiftsHead() {
  return (
    <thead className="faint text-left text-xs">
      <tr>
        <th className="font-normal" scope="col">
          Exercise
        </th>
        <th className="font-normal" scope="col">
          Best, and where from
        </th>
        <th className="font-normal" scope="col">
          Works with
        </th>
        <td />
      </tr>
    </thead>
  );
}
