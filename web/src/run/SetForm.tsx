import { Minus, Plus } from "lucide-react";
import { useState } from "react";

import type { SetDone } from "../api/runs";
import { step, type LogRow } from "../live/log";
import type { PersonNow } from "../live/places";
import type { RunState } from "../live/runState";
import type { OpenRun } from "../live/useRun";
import { entryAt, present } from "../basis/entries";

type Done = Omit<SetDone, "id" | "kind" | "happened_at" | "received_at" | "by" | "device">;

/** The set of a row as it was planned. */
export function asPlanned(row: LogRow): Done {
  const set = present(row.set, "The planned set");
  return {
    person: row.person.id,
    part: present(row.part, "The exercise").id,
    number: row.number,
    ...doneWith(row),
    ...(set.kg.length && { load_kg: set.kg[0] }),
    ...(set.reps.length === 1 && { reps: set.reps[0] }),
    parts: set.reps.length > 1 ? set.reps : [],
    ...(!set.reps.length && { seconds: set.seconds }),
    to_failure: false,
    helped: false,
    note: "",
  };
}

/** The set that somebody is at now, done as planned where they are; null where no set of theirs is planned there. */
export function doneNow(runState: RunState, log: Map<string, LogRow[]>, one: PersonNow): Done | null {
  const { here } = one;
  if (!here) return null;
  const part = entryAt(runState.sheet.parts, here.part).id;
  const row = (log.get(one.person.id) ?? []).find(
    (each) => each.set && each.part?.id === part && each.number === one.set,
  );
  if (!row) return null;
  return { ...asPlanned(row), ...(here.unit >= 0 && { unit: entryAt(runState.sheet.units, here.unit).id }) };
}

/** The exercise and the unit a row stands for, as they are seen beside it. */
function doneWith(row: LogRow): Pick<Done, "exercise" | "unit"> {
  const unit = row.set && row.set.unit >= 0 ? entryAt(row.sheet.units, row.set.unit).id : null;
  return { exercise: row.exercise, ...(unit && { unit }) };
}

type FormProps = {
  run: OpenRun;
  row: LogRow;
  loads: readonly number[];
  write: (kg: number) => string;
  onDone: () => void;
  /** of an exercise that is no part of the plan, what its part would say */
  takesLoad?: boolean;
  oneSided?: boolean;
};

/** A set that went differently: load in the unit's own steps, repetitions or each part of them, how it ended. */
export function SetForm({ run, row, loads, write, onDone, takesLoad, oneSided }: FormProps) {
  const last = row.done.at(-1);
  const [done, setDone] = useState<Done>(() =>
    last ? { ...doneWith(row), ...plain(last), note: last.note } : row.set ? asPlanned(row) : blank(row),
  );
  const change = (what: Partial<Done>) => setDone((before) => ({ ...before, ...what }));
  const parts = done.parts ?? [];
  async function save() {
    // the last that is said of a set is how it was; the first says when it was over
    await run.add("set_done", done);
    onDone();
  }
  return (
    <form
      className="mb-2 grid gap-2 rounded border border-base-300 bg-base-100 p-2"
      aria-label={`Set ${row.number}`}
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      <div className="flex flex-wrap items-center gap-3">
        {(row.part?.takes_load ?? takesLoad) !== false && (
          <Stepper
            label="load"
            value={done.load_kg == null ? "no load" : write(done.load_kg)}
            onStep={(way) => change({ load_kg: step(loads, done.load_kg ?? 0, way) })}
          />
        )}
        {parts.length > 0 ? (
          parts.map((reps, at) => (
            <Stepper
              key={at}
              label={`part ${at + 1}`}
              value={String(reps)}
              onStep={(way) =>
                change({ parts: parts.map((part, place) => (place === at ? Math.max(0, part + way) : part)) })
              }
            />
          ))
        ) : done.seconds != null ? (
          <Stepper
            label="seconds"
            value={`${Math.round(done.seconds)} s`}
            onStep={(way) => change({ seconds: Math.max(0, Math.round((done.seconds ?? 0) / 5) * 5 + way * 5) })}
          />
        ) : (
          <Stepper
            label="repetitions"
            value={done.reps == null ? "–" : String(done.reps)}
            onStep={(way) => change({ reps: Math.max(0, (done.reps ?? 0) + way) })}
          />
        )}
      </div>
      <div className="flex flex-wrap gap-2">
        {(row.part?.one_sided ?? oneSided) &&
          (["left", "right"] as const).map((side) => (
            <Tick key={side} name={side} on={done.side === side} set={(on) => change({ side: on ? side : null })} />
          ))}
        <Tick name="to failure" on={done.to_failure} set={(to_failure) => change({ to_failure })} />
        <Tick name="helped" on={done.helped} set={(helped) => change({ helped })} />
        <Tick name="form poor" on={done.form === "poor"} set={(on) => change({ form: on ? "poor" : null })} />
        <Stepper
          label="reps in reserve"
          value={done.reps_left == null ? "–" : String(done.reps_left)}
          onStep={(way) =>
            change({ reps_left: Math.max(0, Math.min(20, (done.reps_left ?? (way > 0 ? -1 : 1)) + way)) })
          }
        />
      </div>
      <div className="flex gap-2">
        <input
          className="input h-11 flex-1"
          placeholder="why, if it matters"
          aria-label="Note on this set"
          maxLength={500}
          value={done.note}
          onChange={(event) => change({ note: event.target.value })}
        />
        <button type="submit" className="btn btn-primary h-11 px-6">
          Keep
        </button>
      </div>
    </form>
  );
}

function plain(one: SetDone): Done {
  const { person, part, number, exercise, unit, side, load_kg, reps, parts, seconds } = one;
  const { to_failure, helped, reps_left, form, note } = one;
  const what = { person, part, number, exercise, unit, side, load_kg, reps, parts, seconds };
  return { ...what, to_failure, helped, reps_left, form, note };
}

function blank(row: LogRow): Done {
  return {
    person: row.person.id,
    part: row.part?.id ?? `unplanned.${row.exercise}`,
    number: row.number,
    ...doneWith(row),
    parts: [],
    to_failure: false,
    helped: false,
    note: "",
  };
}

function Stepper({ label, value, onStep }: { label: string; value: string; onStep: (way: 1 | -1) => void }) {
  return (
    <span className="flex items-center gap-1" role="group" aria-label={label}>
      <button
        type="button"
        className="btn btn-square h-11 w-11"
        aria-label={`less ${label}`}
        onClick={() => onStep(-1)}
      >
        <Minus size={18} aria-hidden />
      </button>
      <span className="min-w-16 text-center leading-tight">
        <strong className="block text-lg tabular-nums">{value}</strong>
        <span className="faint block text-xs">{label}</span>
      </span>
      <button type="button" className="btn btn-square h-11 w-11" aria-label={`more ${label}`} onClick={() => onStep(1)}>
        <Plus size={18} aria-hidden />
      </button>
    </span>
  );
}

function Tick({ name, on, set }: { name: string; on: boolean; set: (on: boolean) => void }) {
  return (
    <button type="button" aria-pressed={on} className={`btn h-11 ${on ? "btn-neutral" : ""}`} onClick={() => set(!on)}>
      {name}
    </button>
  );
}
