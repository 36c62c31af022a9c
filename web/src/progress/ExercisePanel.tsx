import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { forgetGoal, keepGoal, useSessions, type ExerciseProgress, type Session } from "../api/progress";
import { WeekChart } from "../drawing/WeekChart";
import { doneWords } from "../live/log";
import { plusDays, today } from "../shared/days";
import { DecimalField } from "../shared/DecimalField";
import { Dialog } from "../shared/Dialog";
import { counted, dayWords, figure } from "../shared/format";
import { HowReached } from "../shared/HowReached";
import { LB_KG, mass, useUnits } from "../shared/units";
import { percent, VerdictMark } from "./verdict";
import { lastOf, present } from "../basis/entries";

type Props = { person: string; one: ExerciseProgress };

/** One exercise over the dates: the best with its range, volume and tension, left and right, and every set. */
export function ExercisePanel({ person, one }: Props) {
  const [units] = useUnits();
  const [opened, open] = useState(false);
  const [aiming, aim] = useState(false);
  const per = units === "metric" ? 1 : LB_KG;
  const unit = units === "metric" ? "kg" : "lb";
  const last = lastOf(one.points);
  return (
    <section aria-labelledby="exercise-name" data-testid="exercise-panel">
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h2 id="exercise-name" className="text-lg font-semibold">
          {one.name}
        </h2>
        {one.best && (
          <button type="button" className="underline underline-offset-2" onClick={() => open(true)}>
            <strong className="text-xl">
              {last.at_least ? "at least " : ""}
              {figure(one.best.value / per)} {unit}
            </strong>{" "}
            <span className="faint text-sm">
              ({figure(one.best.low / per)}–{figure(one.best.high / per)})
            </span>
          </button>
        )}
        <button type="button" className="btn btn-xs ml-auto" onClick={() => aim(true)}>
          {one.goal ? "Change the goal" : "Set a goal"}
        </button>
      </div>
      {one.gain && (
        <p data-testid="gain">
          <VerdictMark verdict={one.gain.verdict} /> <strong>{GAIN_WORDS[one.gain.verdict]}</strong> since{" "}
          {dayWords(one.gain.since)}: {percent(one.gain.share)}{" "}
          <span className="faint">
            ({percent(one.gain.low)} to {percent(one.gain.high)} in eight of ten
            {one.gain.from_at_least ? "; the earlier sets were stopped as planned and only say “at least”" : ""})
          </span>
        </p>
      )}
      {one.goal && <GoalWords goal={one.goal} />}
      {one.sides && (
        <p className="text-sm">
          Right against left: {percent(one.sides.right_over_left)}{" "}
          <span className="faint">
            ({percent(one.sides.low)} to {percent(one.sides.high)}, {counted(one.sides.sessions, "day")})
          </span>
          {one.sides.differs ? " – they differ." : " – not told apart."}
        </p>
      )}
      <ExerciseCharts one={one} />
      <Sets person={person} exercise={one.exercise} />
      {opened && one.best && (
        <HowReached
          opened={{ name: `Best of ${one.name.toLowerCase()}`, estimate: one.best }}
          onClose={() => open(false)}
        />
      )}
      {aiming && <GoalDialog person={person} one={one} onClose={() => aim(false)} />}
    </section>
  );
}

const GAIN_WORDS = { better: "Better", worse: "Worse", "not told apart": "Not told apart" } as const;

function GoalWords({ goal }: { goal: NonNullable<ExerciseProgress["goal"]> }) {
  const [units] = useUnits();
  return (
    <p data-testid="goal">
      Goal {mass(goal.best_kg, units)} by {dayWords(goal.by)}:{" "}
      {goal.expected_kg === null ? (
        <span>nothing can be said of it yet.</span>
      ) : (
        <>
          <strong>{goal.verdict}</strong>{" "}
          <span className="faint">
            (the line is at {mass(goal.expected_kg, units)} then, {mass(present(goal.low_kg, "The low end"), units)} to{" "}
            {mass(present(goal.high_kg, "The high end"), units)}; chance {Math.round(goal.chance! * 100)} %)
          </span>
        </>
      )}
    </p>
  );
}

function GoalDialog({ person, one, onClose }: Props & { onClose: () => void }) {
  const [units] = useUnits();
  const queries = useQueryClient();
  const per = units === "metric" ? 1 : LB_KG;
  const [kg, setKg] = useState(one.goal?.best_kg ?? Math.round((one.best?.value ?? 50) * 1.05));
  const [by, setBy] = useState(() => one.goal?.by ?? plusDays(today(), 84));
  const kept = () => {
    void queries.invalidateQueries({ queryKey: ["progress", person] });
    onClose();
  };
  const keep = useMutation({ mutationFn: () => keepGoal(person, one.exercise, kg, by), onSuccess: kept });
  const forget = useMutation({ mutationFn: () => forgetGoal(person, one.exercise), onSuccess: kept });
  return (
    <Dialog title={`Goal for ${one.name.toLowerCase()}`} onClose={onClose}>
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          keep.mutate();
        }}
      >
        <DecimalField
          label="Lifted once"
          unit={units === "metric" ? "kg" : "lb"}
          step={2.5}
          value={kg / per}
          min={1}
          max={Math.round(900 / per)}
          onChange={(value) => setKg((value ?? 1) * per)}
        />
        <label className="flex items-center justify-between text-sm">
          By
          <input
            type="date"
            required
            className="input input-sm w-44"
            value={by}
            onChange={(event) => setBy(event.target.value)}
          />
        </label>
        {(keep.isError || forget.isError) && (
          <p role="alert" className="text-sm text-error">
            {(keep.error ?? forget.error)?.message}
          </p>
        )}
        <div className="flex gap-2">
          <button type="submit" className="btn btn-primary" disabled={keep.isPending}>
            Keep the goal
          </button>
          {one.goal && (
            <button type="button" className="btn" onClick={() => forget.mutate()}>
              Forget it
            </button>
          )}
        </div>
      </form>
    </Dialog>
  );
}

const SHOWN_DAYS = 6;

/** Every set, the last day first. */
function Sets({ person, exercise }: { person: string; exercise: string }) {
  const sessions = useSessions(person, exercise);
  const [all, showAll] = useState(false);
  if (sessions.isPending) return <p className="faint mt-4">Reading the sets …</p>;
  if (sessions.isError) {
    return (
      <p role="alert" className="mt-4 text-sm text-error">
        The sets cannot be read: {sessions.error.message}
      </p>
    );
  }
  const shown = all ? sessions.data : sessions.data.slice(0, SHOWN_DAYS);
  return (
    <div className="mt-4 overflow-x-auto">
      <h3 className="font-semibold">Set by set</h3>
      <table className="w-full text-sm" data-testid="sets">
        <thead className="faint text-left text-xs">
          <tr>
            <th scope="col" className="font-normal">
              Day
            </th>
            <th scope="col" className="font-normal">
              Scheme
            </th>
            <th scope="col" className="font-normal">
              Sets as they were done
            </th>
            <th scope="col" className="text-right font-normal">
              Volume
            </th>
          </tr>
        </thead>
        <tbody>
          {shown.map((session) => (
            <SessionRow key={session.run} session={session} />
          ))}
        </tbody>
      </table>
      {sessions.data.length > SHOWN_DAYS && (
        <button type="button" className="btn btn-xs mt-1" onClick={() => showAll(!all)}>
          {all ? "Only the last days" : `All ${counted(sessions.data.length, "day")}`}
        </button>
      )}
    </div>
  );
}

function SessionRow({ session }: { session: Session }) {
  const [units] = useUnits();
  return (
    <tr className="border-t border-base-300 align-top">
      <th scope="row" className="py-1 pr-3 text-left font-normal whitespace-nowrap">
        <a href={`/runs/${session.run}/book`} className="underline underline-offset-2">
          {dayWords(session.on)}
        </a>
      </th>
      <td className="py-1 pr-3 whitespace-nowrap">{session.scheme}</td>
      <td className="py-1 pr-3">
        <ul className="flex flex-wrap gap-x-4">
          {session.sets.map((set) => (
            <li key={`${set.part}-${set.number}-${set.side}`}>
              {setWords(set, units)}
              {set.no_evidence && <span className="faint text-xs"> no evidence: {set.no_evidence}</span>}
            </li>
          ))}
        </ul>
      </td>
      <td className="py-1 text-right whitespace-nowrap">
        {session.volume_kg === null ? "–" : mass(session.volume_kg, units, 0)}
        {session.without_load > 0 && (
          <span className="faint block text-xs">
            {session.volume_kg === null
              ? "load not known"
              : `without ${counted(session.without_load, "set")}: load not known`}
          </span>
        )}
      </td>
    </tr>
  );
}

/** A set as it was done, in the words of the log. */
export function setWords(one: Session["sets"][number], units: "metric" | "imperial"): string {
  // a set in several parts is told whole
  if (one.in_parts) return one.in_parts;
  const helped = one.helped_reps > 0;
  const told = {
    side: one.side || null,
    load_kg: one.load_kg,
    reps: one.reps === null ? null : one.reps + one.helped_reps,
    parts: [],
    seconds: one.reps === null ? one.seconds : null,
    to_failure: one.ended === "failed" && !helped,
    helped: one.helped,
    helped_reps: helped ? one.helped_reps : null,
    reps_left: one.reps_left,
    form: one.poor ? ("poor" as const) : null,
    rest_s: one.rest_s,
  };
  const words = [doneWords(told, (kg) => mass(kg, units)), one.set_up].filter(Boolean).join(", ");
  return one.as_planned ? `${words}, as planned` : words;
}

/** Best, volume and tension of an exercise over the days on which it was done. */
function ExerciseCharts({ one }: Pick<Props, "one">) {
  const [units] = useUnits();
  const per = units === "metric" ? 1 : LB_KG;
  const unit = units === "metric" ? "kg" : "lb";
  const scaled = (kg: number | null) => (kg === null ? null : kg / per);
  return (
    <div className="mt-2 space-y-4">
      <WeekChart
        title="Estimated 1RM"
        unit={unit}
        decimals={1}
        height={220}
        goal={one.goal ? { value: one.goal.best_kg / per, on: one.goal.by } : null}
        series={[
          {
            label: "line through all days",
            kind: "line",
            points: one.points.map((point) => ({
              on: point.on,
              value: scaled(point.best_kg),
              low: scaled(point.low_kg),
              high: scaled(point.high_kg),
            })),
          },
          {
            label: "the day by itself (open: at least)",
            kind: "dots",
            points: one.points.map((point) => ({
              on: point.on,
              value: scaled(point.day_kg),
              open: point.at_least,
              note: point.weak ? "weak evidence" : undefined,
            })),
          },
        ]}
      />
      <div className="grid gap-x-6 gap-y-4 *:min-w-0 sm:grid-cols-2">
        <WeekChart
          title="Volume load"
          unit={unit}
          height={130}
          fromZero
          series={[
            {
              label: "load × repetitions",
              kind: "bars",
              points: one.points.map((point) => ({
                on: point.on,
                value: point.volume_kg === null ? null : point.volume_kg / per,
                note: point.without_load ? `${counted(point.without_load, "set")} without a known load` : undefined,
              })),
            },
          ]}
        />
        <WeekChart
          title="Time under tension"
          unit="s"
          height={130}
          fromZero
          series={[
            {
              label: "tension",
              kind: "bars",
              points: one.points.map((point) => ({ on: point.on, value: point.tension_s })),
            },
          ]}
        />
      </div>
    </div>
  );
}
