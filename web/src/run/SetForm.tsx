import { Plus, X } from "lucide-react";
import { useEffect, useRef, useState } from "react";

import type { RunEvent, SetDone } from "../api/runs";
import { step, type LogRow } from "../live/log";
import type { PersonNow } from "../live/places";
import type { RunState } from "../live/runState";
import { partsAsPlanned, partsOf, PLAIN_PART, setUpWords, type SetPart } from "../live/setParts";
import type { OpenRun } from "../live/useRun";
import { entryAt, present } from "../basis/entries";
import { decidedLoad } from "./decided";
import { inParts, likelyCounts, likelySeconds, likelySets, dropped, type Done } from "./likely";
import { SetUpTicks } from "./SetUpTicks";
import { Stepper, Tick } from "./Stepper";

/** The set of a row as it was planned, and decided since. */
export function asPlanned(row: LogRow, events: readonly RunEvent[]): Done {
  const set = present(row.set, "The planned set");
  const load_kg = decidedLoad(events, row);
  return {
    person: row.person.id,
    part: present(row.part, "The exercise").id,
    number: row.number,
    ...doneWith(row),
    ...(load_kg !== undefined && { load_kg }),
    ...(set.reps.length === 1 && { reps: set.reps[0] }),
    parts: partsAsPlanned(set.reps, set.kg),
    ...(!set.reps.length && { seconds: set.seconds }),
    ...PLAIN_PART,
    note: "",
  };
}

/** The set that somebody is at now, done as planned where they are; null where no set of theirs is planned there. */
export function doneNow(
  runState: RunState,
  log: Map<string, LogRow[]>,
  one: PersonNow,
  events: readonly RunEvent[],
): Done | null {
  const { here } = one;
  if (!here) return null;
  const part = entryAt(runState.sheet.parts, here.part).id;
  const row = (log.get(one.person.id) ?? []).find(
    (each) => each.set && each.part?.id === part && each.number === one.set,
  );
  if (!row) return null;
  return { ...asPlanned(row, events), ...(here.unit >= 0 && { unit: entryAt(runState.sheet.units, here.unit).id }) };
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
  oneSided?: boolean;
};

const LONGEST_S = 7200;
const REST_STEP_S = 15;
const USUAL_COUNT = 12;

/** A set that went differently: what it likely was in one press each, and everything about it below. */
export function SetForm({ run, row, loads, write, onDone, oneSided }: FormProps) {
  const last = row.done.at(-1);
  const [done, setDone] = useState<Done>(() =>
    last ? { ...doneWith(row), ...plain(last), note: last.note } : row.set ? asPlanned(row, run.events) : blank(row),
  );
  const [exactly, showExactly] = useState(false);
  const change = (what: Partial<Done>) => setDone((before) => ({ ...before, ...what }));
  const form = useRef<HTMLFormElement>(null);
  useEffect(() => bringIntoView(form.current), []);
  async function save(what: Done) {
    // the last that is said of a set is how it was; the first says when it was over
    await run.add("set_done", what);
    onDone();
  }
  return (
    <form
      ref={form}
      className="mb-2 grid gap-2 rounded border border-base-300 bg-base-100 p-2"
      aria-label={`Set ${row.number}`}
      onSubmit={(event) => {
        event.preventDefault();
        void save(done);
      }}
    >
      <OnePress done={done} row={row} loads={loads} write={write} onPress={(what) => void save(what)} />
      <Parts done={done} loads={loads} write={write} setDone={setDone} />
      <div className="flex flex-wrap gap-2">
        {(row.part?.one_sided ?? oneSided) &&
          (["left", "right"] as const).map((side) => (
            <Tick key={side} name={side} on={done.side === side} set={(on) => change({ side: on ? side : null })} />
          ))}
        <Tick name="to failure" on={done.to_failure} set={(to_failure) => change({ to_failure })} />
        <Tick name="form poor" on={done.form === "poor"} set={(on) => change({ form: on ? "poor" : null })} />
        <Tick
          name="not all the way"
          on={done.range_of_motion === "partial"}
          set={(on) => change({ range_of_motion: on ? "partial" : null })}
        />
        <Stepper
          label="reps in reserve"
          value={done.reps_left == null ? "–" : String(done.reps_left)}
          onStep={(way) =>
            change({ reps_left: Math.max(0, Math.min(20, (done.reps_left ?? (way > 0 ? -1 : 1)) + way)) })
          }
        />
      </div>
      <div>
        <button
          type="button"
          className="btn btn-ghost h-11 px-2"
          aria-expanded={exactly}
          aria-label="Rest before it, belt, feet"
          onClick={() => showExactly(!exactly)}
        >
          <span aria-hidden>{exactly ? "▾" : "▸"}</span> Rest before it, belt, feet
        </button>
        <span className="faint text-sm">{setUpWords(done.set_up)}</span>
        {exactly && (
          <div className="grid gap-2">
            <RestStepper label="s rest before it" rest_s={done.rest_s} onRest={(rest_s) => change({ rest_s })} />
            <SetUpTicks set_up={done.set_up ?? { stance: [], aids: [] }} onChange={(set_up) => change({ set_up })} />
          </div>
        )}
      </div>
      <div className="flex gap-2">
        <input
          className="input h-11 min-w-0 flex-1"
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

const ROW_PX = 56;

/** Moves the panel alone, so that a form that opened low in it is seen, with the row it belongs to above it. */
function bringIntoView(form: HTMLFormElement | null) {
  const panel = form?.closest<HTMLElement>("[role=region]");
  if (!form || !panel) return;
  const box = panel.getBoundingClientRect();
  const whose = panel.querySelector("[aria-label='Whose sets']")?.getBoundingClientRect().height ?? 0;
  const own = form.getBoundingClientRect();
  if (own.bottom > box.bottom) panel.scrollTop += own.top - box.top - whose - ROW_PX;
}

type OnePressProps = {
  done: Done;
  row: LogRow;
  loads: readonly number[];
  write: (kg: number) => string;
  onPress: (done: Done) => void;
};

/** What the set likely was: a press writes it. */
function OnePress({ done, row, loads, write, onPress }: OnePressProps) {
  const parts = partsOf(done);
  const planned = row.set?.reps ?? [];
  const chip = "btn h-11 min-w-11 px-2";
  const lastPart = (reps: number): Done => ({
    ...done,
    parts: parts.map((part, at) => (at === parts.length - 1 ? { ...part, reps } : part)),
  });
  const bySeconds = done.seconds != null && done.reps == null && !parts.length;
  const counts = bySeconds
    ? likelySeconds(row.set?.seconds ?? done.seconds ?? 0)
    : likelyCounts(planned.at(-1) ?? USUAL_COUNT);
  const label = bySeconds ? "seconds" : parts.length ? "repetitions of the last part" : "repetitions";
  return (
    <div className="grid gap-1" role="group" aria-label="In one press">
      <span className="faint text-sm">One press keeps it: {label} done</span>
      <div className="flex flex-wrap gap-1">
        {counts.map((count) => (
          <button
            key={count}
            type="button"
            className={`${chip} tabular-nums`}
            aria-label={`${count} ${label}`}
            onClick={() =>
              onPress(
                bySeconds ? { ...done, seconds: count } : parts.length ? lastPart(count) : { ...done, reps: count },
              )
            }
          >
            {count}
          </button>
        ))}
      </div>
      <div className="flex flex-wrap gap-1">
        {likelySets(done, loads, write).map(({ words, done }) => (
          <button key={words} type="button" className={chip} onClick={() => onPress(done)}>
            {words}
          </button>
        ))}
      </div>
    </div>
  );
}

type PartsProps = {
  done: Done;
  loads: readonly number[];
  write: (kg: number) => string;
  setDone: (change: (before: Done) => Done) => void;
};

/** Load, count and help of a set, or of each of its parts; a part can be added to any set. */
function Parts({ done, loads, write, setDone }: PartsProps) {
  const parts = partsOf(done);
  const change = (what: Partial<Done>) => setDone((before) => ({ ...before, ...what }));
  const typedLoad = (kg: number) => Math.min(1000, Math.round(kg * 100) / 100);
  const inKg = write(1).endsWith("kg");
  const changePart = (at: number, what: Partial<SetPart>) =>
    setDone((before) => ({
      ...before,
      parts: partsOf(before).map((part, place) => (place === at ? { ...part, ...what } : part)),
    }));
  const loadOf = (at: number): number | null =>
    parts.slice(0, at + 1).findLast((part) => part.load_kg != null)?.load_kg ?? done.load_kg ?? null;
  const loadStepper = (label: string, kg: number | null | undefined, onLoad: (kg: number) => void) => (
    <Stepper
      label={label}
      shown="load"
      value={kg == null ? "no load" : write(kg)}
      onStep={(way) => onLoad(step(loads, kg ?? 0, way))}
      {...(inKg && { onType: (typed: number) => onLoad(typedLoad(typed)) })}
    />
  );
  function addPart() {
    const lighter = dropped(loadOf(parts.length - 1), loads);
    const reps = parts.at(-1)?.reps ?? done.reps;
    const next: SetPart = {
      ...PLAIN_PART,
      ...(reps != null && { reps }),
      ...(lighter !== null && { load_kg: lighter }),
    };
    const first: SetPart = { ...PLAIN_PART, ...(done.reps != null && { reps: done.reps }) };
    setDone((before) => inParts(before, [...(parts.length ? parts : [first]), next]));
  }
  return (
    <div className="grid gap-2">
      {parts.length === 0 ? (
        <div className="flex flex-wrap items-center gap-3">
          {loadStepper("load", done.load_kg, (load_kg) => change({ load_kg }))}
          {done.seconds != null && done.reps == null ? (
            <Stepper
              label="seconds"
              value={`${Math.round(done.seconds)} s`}
              onStep={(way) => change({ seconds: Math.max(0, Math.round((done.seconds ?? 0) / 5) * 5 + way * 5) })}
              onType={(seconds) => change({ seconds: Math.min(LONGEST_S, Math.round(seconds)) })}
            />
          ) : (
            <CountStepper label="repetitions" reps={done.reps} onCount={(reps) => change({ reps })} />
          )}
          <HelpStepper said={done} onHelp={change} />
        </div>
      ) : (
        parts.map((part, at) => (
          <div
            key={at}
            role="group"
            aria-label={`Part ${at + 1}`}
            className="flex flex-wrap items-center gap-3 border-t border-base-300 pt-2"
          >
            <span className="w-12 text-sm">part {at + 1}</span>
            {loadStepper(`load of part ${at + 1}`, loadOf(at), (load_kg) =>
              at === 0 ? change({ load_kg }) : changePart(at, { load_kg }),
            )}
            <CountStepper label={`part ${at + 1}`} reps={part.reps} onCount={(reps) => changePart(at, { reps })} />
            {at > 0 && (
              <RestStepper
                label={`s before part ${at + 1}`}
                rest_s={part.rest_s}
                onRest={(rest_s) => changePart(at, { rest_s })}
              />
            )}
            <HelpStepper said={part} onHelp={(what) => changePart(at, what)} at={at + 1} />
            {at < parts.length - 1 && (
              <Tick name="to failure" on={part.to_failure} set={(to_failure) => changePart(at, { to_failure })} />
            )}
            <button
              type="button"
              className="btn btn-ghost btn-square h-11 w-11"
              aria-label={`remove part ${at + 1}`}
              onClick={() => setDone((before) => without(before, at))}
            >
              <X size={18} aria-hidden />
            </button>
          </div>
        ))
      )}
      {parts.length < 20 && (
        <button type="button" className="btn btn-ghost h-11 w-fit px-2" onClick={addPart}>
          <Plus size={16} aria-hidden /> a part: a drop, or on after a pause
        </button>
      )}
    </div>
  );
}

/** A set with one part less; of one part alone it is in one go again. */
function without(done: Done, gone: number): Done {
  const parts = partsOf(done);
  const left = parts.filter((_, at) => at !== gone);
  const carried = gone === 0 ? (left[0]?.load_kg ?? done.load_kg) : done.load_kg;
  const load = carried == null ? {} : { load_kg: carried };
  if (left.length > 1) return { ...done, ...load, parts: left };
  // what was said of the set at its beginning and at its end is said of the one part that is left
  const only = left[0] ?? PLAIN_PART;
  const atItsEnds = { load_kg: carried ?? null, rest_s: done.rest_s ?? null, to_failure: done.to_failure };
  return { ...done, ...only, ...atItsEnds, reps_left: done.reps_left ?? null, parts: [] };
}

function CountStepper({
  label,
  reps,
  onCount,
}: {
  label: string;
  reps: number | null | undefined;
  onCount: (reps: number) => void;
}) {
  return (
    <Stepper
      label={label}
      shown="repetitions"
      value={reps == null ? "–" : String(reps)}
      onStep={(way) => onCount(Math.max(0, (reps ?? 0) + way))}
      onType={(typed) => onCount(Math.min(1000, Math.round(typed)))}
    />
  );
}

type Help = { helped: boolean; helped_reps?: number | null | undefined; reps?: number | null | undefined };

/** How many of the last repetitions were helped with. */
function HelpStepper({ said, onHelp, at }: { said: Help; onHelp: (what: Partial<SetPart>) => void; at?: number }) {
  const counted = said.helped_reps ?? 0;
  const to = (count: number) => {
    const kept = Math.max(0, Math.min(said.reps ?? 1000, count));
    onHelp({ helped: kept > 0, helped_reps: kept || null });
  };
  return (
    <Stepper
      label={at ? `helped in part ${at}` : "helped"}
      shown="of them helped"
      value={counted ? String(counted) : said.helped ? "yes" : "–"}
      onStep={(way) => to(counted + way)}
    />
  );
}

type RestProps = { label: string; rest_s: number | null | undefined; onRest: (rest_s: number | null) => void };

function RestStepper({ label, rest_s, onRest }: RestProps) {
  const to = (seconds: number) => onRest(Math.max(0, Math.min(LONGEST_S, Math.round(seconds))));
  return (
    <Stepper
      label={label}
      shown="s rest before"
      value={rest_s == null ? "–" : String(Math.round(rest_s))}
      onStep={(way) => to((rest_s ?? 0) + way * REST_STEP_S)}
      onType={to}
    />
  );
}

function plain(one: SetDone): Done {
  const { person, part, number, exercise, unit, side, load_kg, reps, seconds, set_up } = one;
  const { to_failure, helped, helped_reps, reps_left, range_of_motion, form, rest_s, note } = one;
  const what = { person, part, number, exercise, unit, side, load_kg, reps, seconds, set_up, parts: partsOf(one) };
  return { ...what, to_failure, helped, helped_reps, reps_left, range_of_motion, form, rest_s, note };
}

function blank(row: LogRow): Done {
  return {
    person: row.person.id,
    part: row.part?.id ?? `unplanned.${row.exercise}`,
    number: row.number,
    ...doneWith(row),
    parts: [],
    ...PLAIN_PART,
    note: "",
  };
}
