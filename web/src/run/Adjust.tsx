import { useMutation } from "@tanstack/react-query";
import { ChevronLeft, Flame, HeartPulse, Hourglass, Repeat, UserMinus, UserPlus, Wrench } from "lucide-react";
import { useState, type ReactNode } from "react";

import { askOffers, type Ask, type LiveRun, type Offer, type RunEvent } from "../api/runs";
import { isAway, type RunState } from "../live/runState";
import type { NewEvent } from "../live/RunKeeper";
import type { OpenRun } from "../live/useRun";
import { clock } from "../shared/format";
import { Refused } from "../shared/Refused";
import { present } from "../basis/entries";

type Props = { run: OpenRun; live: LiveRun; runState: RunState; mayReadHealth: boolean };
type Case = "unit" | "comes" | "leaves" | "stop" | "hot" | "late" | "extra";

const CASES: [Case, string, ReactNode][] = [
  ["stop", "Stop somebody", <HeartPulse key="i" size={20} aria-hidden />],
  ["unit", "A machine is out", <Wrench key="i" size={20} aria-hidden />],
  ["comes", "Somebody comes", <UserPlus key="i" size={20} aria-hidden />],
  ["leaves", "Somebody leaves", <UserMinus key="i" size={20} aria-hidden />],
  ["late", "Running late", <Hourglass key="i" size={20} aria-hidden />],
  ["hot", "Too hot", <Flame key="i" size={20} aria-hidden />],
  ["extra", "The extra round", <Repeat key="i" size={20} aria-hidden />],
];

/** What happens on the floor, in two presses: what it is, and which way to go on, each with what it does. */
export function Adjust({ run, live, runState, mayReadHealth }: Props) {
  const [chosen, choose] = useState<Case | null>(null);
  return (
    <div className="py-1">
      {chosen ? (
        <button type="button" className="btn h-11" onClick={() => choose(null)}>
          <ChevronLeft size={18} aria-hidden /> Something else than:{" "}
          {present(
            CASES.find(([id]) => id === chosen),
            chosen,
          )[1].toLowerCase()}
        </button>
      ) : (
        <div className="grid grid-cols-2 gap-2 sm:grid-cols-4" role="group" aria-label="What is it">
          {CASES.map(([id, name, picture]) => (
            <button
              key={id}
              type="button"
              className={`btn h-14 justify-start gap-2 px-3 text-left leading-tight ${id === "stop" ? "btn-error" : ""}`}
              onClick={() => choose(id)}
            >
              {picture} {name}
            </button>
          ))}
        </div>
      )}
      {chosen === "stop" && <Stop run={run} live={live} runState={runState} done={() => choose(null)} />}
      {chosen && chosen !== "stop" && (
        <Ways key={chosen} what={chosen} run={run} live={live} runState={runState} mayReadHealth={mayReadHealth} />
      )}
      <Happened run={run} runState={runState} />
    </div>
  );
}

/** Somebody is stopped: first the signs and what to do, then who and what was seen. */
function Stop({ run, live, runState, done }: { run: OpenRun; live: LiveRun; runState: RunState; done: () => void }) {
  const [words, setWords] = useState("");
  return (
    <section className="mt-3 rounded border-2 border-error p-3" aria-label="Stop somebody">
      <h2 className="text-lg font-semibold">
        Stop them, sit or lay them down, stay with them. In doubt call for help.
      </h2>
      <ul className="mt-1 list-disc pl-5 text-sm">
        {live.stop_signs.map((sign) => (
          <li key={sign}>{sign}</li>
        ))}
      </ul>
      <label className="mt-2 flex flex-col gap-1 text-sm">
        What was seen (only instructors read it)
        <input
          className="input h-11 w-full"
          maxLength={500}
          value={words}
          placeholder="dizzy, sat down, better after water"
          onChange={(event) => setWords(event.target.value)}
        />
      </label>
      <p className="mt-2 text-sm">Who? What they did stays; they can come back later.</p>
      <People
        runState={runState}
        which={(away) => !away}
        onPress={(person) =>
          void run.add("stopped_for", { person, words: words.trim() || "stopped, nothing written" }).then(done)
        }
      />
      <p className="faint mt-2 text-sm">{live.defer}</p>
    </section>
  );
}

type PeopleProps = { runState: RunState; which: (away: boolean) => boolean; onPress: (person: string) => void };

function People({ runState, which, onPress }: PeopleProps) {
  const people = runState.sheet.people.filter((person) => which(isAway(runState, person.id)));
  if (!people.length) return <p className="faint py-2">Nobody.</p>;
  return (
    <div className="mt-1 flex flex-wrap gap-2">
      {people.map((person) => (
        <button key={person.id} type="button" className="btn h-12" onClick={() => onPress(person.id)}>
          <strong>{person.number}</strong> {person.name}
        </button>
      ))}
    </div>
  );
}

type WaysProps = {
  what: Exclude<Case, "stop">;
  run: OpenRun;
  live: LiveRun;
  runState: RunState;
  mayReadHealth: boolean;
};

function Ways({ what, run, live, runState, mayReadHealth }: WaysProps) {
  const ask = useMutation({ mutationFn: (asked: Ask) => askOffers(live.id, asked) });
  const named = what === "unit" || what === "comes" || what === "leaves";
  const [taken, setTaken] = useState(false);
  const away = run.reach !== "connected";
  async function take(offer: Offer) {
    await run.addAll(offer.events as NewEvent[]);
    setTaken(true);
  }
  if (taken) return <p className="mt-3 font-semibold">Done. It can be taken back below.</p>;
  return (
    <section className="mt-3" aria-label="Ways to go on">
      {what === "unit" && (
        <div className="flex flex-wrap gap-2" role="group" aria-label="Which machine">
          {runState.sheet.units.map((unit) => (
            <button
              key={unit.id}
              type="button"
              className="btn h-11 text-sm"
              onClick={() =>
                unit.lost
                  ? void run.add("unit_back", { unit: unit.id }).then(() => setTaken(true))
                  : away
                    ? void run.add("unit_lost", { unit: unit.id, changes: [] }).then(() => setTaken(true))
                    : ask.mutate({ what: "unit", unit: unit.id })
              }
            >
              {unit.name}
              {unit.lost && <strong> is back</strong>}
            </button>
          ))}
        </div>
      )}
      {(what === "comes" || what === "leaves") && (
        <People
          runState={runState}
          which={(gone) => (what === "comes" ? gone : !gone)}
          onPress={(person) =>
            away
              ? void run.add(what === "comes" ? "came" : "left", { person }).then(() => setTaken(true))
              : ask.mutate({ what, person })
          }
        />
      )}
      {!named && !ask.data && (
        <button
          type="button"
          className="btn btn-primary h-12"
          disabled={away || ask.isPending}
          onClick={() => ask.mutate({ what })}
        >
          {ask.isPending ? "Working out …" : "Show what can be done"}
        </button>
      )}
      {!named && away && <p className="mt-1 text-sm">That takes the server, which does not answer now.</p>}
      {ask.isPending && <p role="status">Working out what each way does …</p>}
      <Refused error={ask.error} />
      {ask.data?.length === 0 && <p className="mt-2">Nothing of the plan can be changed so now.</p>}
      <ul className="mt-2 flex flex-col gap-2">
        {ask.data?.map((offer) => (
          <li
            key={offer.name}
            className="flex items-center gap-3 rounded border border-base-300 p-2"
            data-testid="offer"
          >
            <span className="min-w-0 flex-1 leading-tight">
              <strong className="block">{offer.name}</strong>
              <span className="faint block text-sm">{offer.detail}</span>
              <span className="block text-sm">{effectWords(offer, mayReadHealth)}</span>
            </span>
            <button type="button" className="btn btn-primary h-12" onClick={() => void take(offer)}>
              Use it
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** What a way does, in words: the end, the density, waiting, heart and energy. */
function effectWords({ effect }: Offer, mayReadHealth: boolean): string {
  const apart = Math.abs(effect.ends_later_s);
  const signed = (value: number, unit: string, digits = 0) =>
    `${value > 0 ? "+" : "−"}${Math.abs(value).toFixed(digits)} ${unit}`;
  const said = [
    apart < 1 ? "ends as before" : `ends ${clock(apart)} ${effect.ends_later_s > 0 ? "later" : "sooner"}`,
    Math.abs(effect.work_share_change) >= 0.5 ? `work ${signed(effect.work_share_change, "% of the time")}` : "",
    Math.abs(effect.waiting_change_s) >= 1
      ? `${clock(Math.abs(effect.waiting_change_s))} ${effect.waiting_change_s > 0 ? "more" : "less"} waiting in all`
      : "",
    mayReadHealth && effect.heart_change_bpm !== null && Math.abs(effect.heart_change_bpm) >= 0.5
      ? `heart ${signed(effect.heart_change_bpm, "bpm")}`
      : "",
    mayReadHealth && effect.energy_change_kcal !== null && Math.abs(effect.energy_change_kcal) >= 1
      ? `${signed(effect.energy_change_kcal, "kcal each")}`
      : "",
  ];
  return said.filter(Boolean).join("; ");
}

const TOLD: Partial<Record<RunEvent["kind"], string>> = {
  unit_lost: "out",
  unit_back: "back",
  came: "came",
  left: "left",
  stopped_for: "stopped",
  changed: "plan changed",
  time_added: "time added",
  noted: "note",
};

/** What happened on the spot, the last first, each to be taken back. */
function Happened({ run, runState }: { run: OpenRun; runState: RunState }) {
  const seen = run.events
    .filter((event) => TOLD[event.kind])
    .toReversed()
    .slice(0, 12);
  if (!seen.length) return null;
  const name = (id: string) => runState.sheet.people.find((person) => person.id === id)?.name ?? id;
  const unit = (id: string) => runState.sheet.units.find((unit) => unit.id === id)?.name ?? id;
  return (
    <section className="mt-4 border-t border-base-300 pt-2" aria-label="What happened">
      <h2 className="font-semibold">What happened</h2>
      <ul>
        {seen.map((event) => (
          <li key={event.id} className="flex min-h-11 items-center gap-3 text-sm">
            <span className="faint w-14 tabular-nums">
              {runState.beganAt === null
                ? "before"
                : clock(Math.max(0, (Date.parse(event.happened_at) - runState.beganAt) / 1000))}
            </span>
            <span className="min-w-0 flex-1 truncate">
              {"unit" in event && event.unit
                ? `${unit(event.unit)} `
                : "person" in event && event.person
                  ? `${name(event.person)} `
                  : ""}
              {TOLD[event.kind]}
              {"words" in event && `: ${event.words}`}
              {event.kind === "time_added" && ` ${event.seconds} s`}
            </span>
            <button type="button" className="btn h-11" onClick={() => void run.withdraw(event.id)}>
              Take back
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
