import { kilograms } from "../shared/format";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";

import type { Exercise, LoadAsSet } from "../api/client";
import { loadsOnUnit, nextLoad, shareForDose, type NextTime } from "../api/loads";
import { useRooms } from "../api/queries";
import { LoadPicture } from "../shared/LoadPicture";
import { Dialog } from "../shared/Dialog";
import { DecimalField } from "../shared/DecimalField";
import { Switch } from "../shared/Switch";
import { taking } from "./taking";
import { entryAt, present } from "../basis/entries";

type Way = "working" | "drops" | "next";
type By = "share" | "reserve" | "window";

type Props = {
  exercise: Exercise;
  best: number | undefined;
  working: number | undefined;
  onUse: (kg: number) => void;
  onClose: () => void;
};

/** Loads worked out for one person and exercise, as a unit of a room can really hold them. */
export function WorkOutDialog({ exercise, best, working, onUse, onClose }: Props) {
  const rooms = (useRooms().data ?? []).filter((useRoom) => !useRoom.retired);
  const units = rooms.flatMap((room) =>
    room.units.filter((unit) => unit.kind === exercise.equipment).map((unit) => ({ room: room.id, unit })),
  );
  const [chosen, choose] = useState(0);
  const [way, setWay] = useState<Way>("working");
  const on = units[chosen];
  return (
    <Dialog title={`Loads of ${exercise.name.toLowerCase()}`} onClose={onClose}>
      {on ? (
        <>
          <div className="flex flex-wrap items-center gap-3">
            <Switch
              large
              label="What to work out"
              options={[
                ["working", "Working load"],
                ["drops", "Drops, pyramid"],
                ["next", "Next time"],
              ]}
              value={way}
              onChange={setWay}
            />
            {units.length > 1 && (
              <select
                className="select select-sm min-w-0 grow"
                aria-label="Unit"
                value={chosen}
                onChange={(event) => choose(Number(event.target.value))}
              >
                {units.map((unit, at) => (
                  <option key={`${unit.room}-${unit.unit.id}`} value={at}>
                    {unit.unit.name}
                  </option>
                ))}
              </select>
            )}
          </div>
          {way === "working" && <Working key={chosen} room={on.room} unit={on.unit.id} best={best} onUse={onUse} />}
          {way === "drops" && (
            <Drops key={chosen} room={on.room} unit={on.unit.id} from={working ?? Math.round((best ?? 60) * 0.7)} />
          )}
          {way === "next" && <Next key={chosen} room={on.room} unit={on.unit.id} load={working ?? 40} onUse={onUse} />}
        </>
      ) : (
        <p>No room has a unit for this exercise, so nothing can be rounded to what it holds.</p>
      )}
    </Dialog>
  );
}

type On = { room: string; unit: string };

function Working({ room, unit, best, onUse }: On & { best: number | undefined; onUse: (kg: number) => void }) {
  const [by, setBy] = useState<By>("share");
  const [share, setShare] = useState(70);
  const [reps, setReps] = useState(8);
  const [more, setMore] = useState(2);
  const ask = useMutation({
    mutationFn: async () => {
      const part =
        by === "share"
          ? share / 100
          : await shareForDose(reps, by === "reserve" ? more : 0, by === "window" ? more : null);
      const found = await loadsOnUnit(room, unit, [part * present(best, "The best")], null);
      return { part, load: entryAt(found.loadings, 0).load };
    },
  });
  const change = taking(ask.reset);
  if (best === undefined) return <p className="mt-3">A working load needs a best first: estimate one from a set.</p>;
  return (
    <div className="mt-3 flex flex-col gap-2">
      <Switch
        label="By"
        options={[
          ["share", "share of best"],
          ["reserve", "some in reserve"],
          ["window", "rep window"],
        ]}
        value={by}
        onChange={(next) => {
          setMore(next === "window" ? 10 : 2);
          change(setBy)(next);
        }}
      />
      {by === "share" ? (
        <DecimalField
          label="Share of best"
          unit="%"
          step={5}
          value={share}
          min={5}
          max={110}
          onChange={change(setShare)}
        />
      ) : (
        <>
          <DecimalField
            label={by === "window" ? "From" : "Repetitions"}
            unit="reps"
            step={1}
            value={reps}
            min={1}
            max={30}
            onChange={change(setReps)}
          />
          <DecimalField
            label={by === "window" ? "To" : "In reserve"}
            unit="reps"
            step={1}
            value={more}
            min={0}
            max={40}
            onChange={change(setMore)}
          />
        </>
      )}
      {ask.data && (
        <div data-testid="worked-out">
          <p className="faint text-sm">
            {(ask.data.part * 100).toFixed(0)} % of the best, {kilograms(ask.data.load.wanted_kg)} wanted
          </p>
          <OneLoad load={ask.data.load} />
        </div>
      )}
      <Failed error={ask.error} />
      {ask.data ? (
        <button type="button" className="btn btn-primary self-start" onClick={() => onUse(ask.data.load.set_kg)}>
          Work with {kilograms(ask.data.load.set_kg)}
        </button>
      ) : (
        <button
          type="button"
          className="btn btn-primary self-start"
          disabled={ask.isPending}
          onClick={() => ask.mutate()}
        >
          Work it out
        </button>
      )}
    </div>
  );
}

function Drops({ room, unit, from }: On & { from: number }) {
  const [first, setFirst] = useState(from);
  const [percent, setPercent] = useState(-20);
  const [count, setCount] = useState(2);
  const [within, setWithin] = useState<number | null>(15);
  const ask = useMutation({
    mutationFn: () => {
      const wanted = Array.from({ length: count + 1 }, (_, at) => first * (1 + percent / 100) ** at);
      return loadsOnUnit(room, unit, wanted, within);
    },
  });
  const number = taking(ask.reset);
  return (
    <div className="mt-3 flex flex-col gap-2">
      <DecimalField
        label="First load"
        unit="kg"
        step={2.5}
        value={first}
        min={1}
        max={600}
        onChange={number(setFirst)}
      />
      <DecimalField
        label="Each step (minus drops, plus climbs)"
        unit="%"
        step={5}
        value={percent}
        min={-60}
        max={60}
        onChange={number(setPercent)}
      />
      <DecimalField label="Steps" step={1} value={count} min={1} max={8} onChange={number(setCount)} />
      <DecimalField
        label="Seconds for each change (empty: as long as it takes)"
        unit="s"
        step={5}
        value={within}
        otherwise={60}
        min={0}
        max={600}
        onChange={(value) => {
          setWithin(value);
          ask.reset();
        }}
      />
      {ask.data && (
        <ul data-testid="worked-out">
          {ask.data.loadings.map((loading, at) => (
            <li key={at} className="py-0.5">
              {at > 0 && <span className="faint text-xs">change of {loading.change_s.toFixed(0)} s</span>}
              <OneLoad load={loading.load} />
            </li>
          ))}
        </ul>
      )}
      <Failed error={ask.error} />
      <button
        type="button"
        className="btn btn-primary self-start"
        disabled={ask.isPending}
        onClick={() => ask.mutate()}
      >
        Work it out
      </button>
    </div>
  );
}

function Next({ room, unit, load, onUse }: On & { load: number; onUse: (kg: number) => void }) {
  const [kg, setKg] = useState(load);
  const [done, setDone] = useState("8, 8, 7");
  const [low, setLow] = useState(6);
  const [high, setHigh] = useState(8);
  const [poor, setPoor] = useState(false);
  const reps = done
    .split(/[,\s]+/)
    .filter(Boolean)
    .map(Number);
  const right = reps.length > 0 && reps.every((rep) => Number.isInteger(rep) && rep >= 0 && rep <= 99);
  const ask = useMutation({
    mutationFn: () => nextLoad({ room, unit, load_kg: kg, reps, low, high, poor_form: poor }),
  });
  const number = taking(ask.reset);
  return (
    <div className="mt-3 flex flex-col gap-2 text-sm">
      <DecimalField
        label="Load of the sets"
        unit="kg"
        step={2.5}
        value={kg}
        min={1}
        max={600}
        onChange={number(setKg)}
      />
      <label className="flex items-center gap-2">
        <span className="grow">Repetitions, set by set</span>
        <input
          className="input input-sm w-28 text-right"
          value={done}
          aria-invalid={!right}
          onChange={(event) => {
            setDone(event.target.value);
            ask.reset();
          }}
        />
        <span className="w-7" />
      </label>
      <DecimalField label="Window from" unit="reps" step={1} value={low} min={1} max={60} onChange={number(setLow)} />
      <DecimalField label="to" unit="reps" step={1} value={high} min={1} max={60} onChange={number(setHigh)} />
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="checkbox checkbox-sm"
          checked={poor}
          onChange={(event) => {
            setPoor(event.target.checked);
            ask.reset();
          }}
        />
        form was poor
      </label>
      {!right && <p className="text-error">Whole numbers, such as 8, 8, 7.</p>}
      {ask.data && <Answer told={ask.data} onUse={onUse} />}
      <Failed error={ask.error} />
      {!ask.data && (
        <button
          type="button"
          className="btn btn-primary self-start"
          disabled={!right || ask.isPending}
          onClick={() => ask.mutate()}
        >
          What next?
        </button>
      )}
    </div>
  );
}

const WORDS = {
  add: "Add a step",
  repeat: "Repeat the load",
  reduce: "Take a step less",
  begin: "Begin with",
  nothing: "Nothing to go by",
};

function Answer({ told, onUse }: { told: NextTime; onUse: (kg: number) => void }) {
  return (
    <div data-testid="worked-out">
      <p className="text-lg">
        <strong>
          {WORDS[told.do]}
          {told.load_kg !== null && `: ${kilograms(told.load_kg)}`}
        </strong>
      </p>
      <p className="faint">{told.reason}.</p>
      {told.load_kg !== null && (
        <button type="button" className="btn btn-primary mt-2" onClick={() => onUse(present(told.load_kg, "The load"))}>
          Work with {kilograms(told.load_kg)}
        </button>
      )}
    </div>
  );
}

function OneLoad({ load }: { load: LoadAsSet }) {
  return (
    <div className="flex items-center gap-3">
      <strong className="w-20 text-lg">{kilograms(load.set_kg)}</strong>
      <span className="w-44">
        <LoadPicture load={load} />
      </span>
      <span className="faint text-xs">{load.words}</span>
    </div>
  );
}

function Failed({ error }: { error: Error | null }) {
  return (
    error && (
      <p className="text-sm text-error" role="alert">
        {error.message}
      </p>
    )
  );
}
