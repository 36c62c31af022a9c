import { useEffect, useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";

import {
  keepSchool,
  useLoadRules,
  useProgress,
  type ExerciseProgress,
  type Progress,
  type School,
} from "../api/progress";
import { WeekChart } from "../drawing/WeekChart";
import { CannotOpen } from "../shared/CannotOpen";
import { labelOf } from "../shared/figures";
import { counted, dayWords, figure } from "../shared/format";
import { plusDays, today } from "../shared/days";
import { Opening } from "../shared/Opening";
import { Pick } from "../shared/Pick";
import { LB_KG, useUnits } from "../shared/units";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { BesidePanel } from "./BesidePanel";
import { ExercisePanel } from "./ExercisePanel";
import { gainWords, VerdictMark } from "./verdict";
import { lastOf } from "../basis/entries";

const SPANS: [string, string][] = [
  ["4", "4 weeks"],
  ["8", "8 weeks"],
  ["12", "12 weeks"],
  ["26", "26 weeks"],
  ["", "the first class"],
];

/** The day so many weeks ago, as a date. */
function weeksAgo(weeks: string): string | null {
  return weeks === "" ? null : plusDays(today(), -7 * Number(weeks));
}

/** What the weeks say of a person: whether it got better, exercise by exercise, and what the heart says of it. */
export function ProgressPage() {
  const key = useParams().key ?? "";
  const [asked, ask] = useSearchParams();
  const span = asked.get("weeks") ?? "";
  const progress = useProgress(key, weeksAgo(span));
  useEffect(() => {
    if (progress.data) document.title = `${progress.data.name}, progress – Oaken Circuit`;
  }, [progress.data]);
  if (progress.isPending) return <Opening what="the weeks" />;
  if (progress.isError) {
    return (
      <CannotOpen
        what="The progress"
        error={progress.error}
        again={() => void progress.refetch()}
        home="/people"
        homeName="All people"
      />
    );
  }
  const set = (name: string, value: string) =>
    ask(
      (now) => {
        const next = new URLSearchParams(now);
        if (value) next.set(name, value);
        else next.delete(name);
        return next;
      },
      { replace: true },
    );
  return <Weeks data={progress.data} span={span} chosen={asked.get("exercise")} set={set} />;
}

type WeeksProps = {
  data: Progress;
  span: string;
  chosen: string | null;
  set: (name: string, value: string) => void;
};

function Weeks({ data, span, chosen, set }: WeeksProps) {
  const exercise = data.exercises.find((exercise) => exercise.exercise === chosen) ?? data.exercises[0];
  return (
    <div className="mx-auto max-w-6xl px-4 pb-10 lg:px-6" data-testid="progress">
      <header className="flex flex-wrap items-end gap-x-4 gap-y-1 py-3">
        <div className="grow">
          <h1 className="text-2xl leading-7 font-semibold">{data.name}, week after week</h1>
          <p className="faint text-sm">
            <Link to={`/people/${data.person}`} className="underline underline-offset-2">
              Record
            </Link>{" "}
            · {counted(data.classes.length, "class", "classes")}
            {data.classes.length > 0 && `, the last one ${dayWords(lastOf(data.classes).on)}`}
          </p>
        </div>
        <Pick label="Compared with" value={span} options={SPANS} onChange={(value) => set("weeks", value)} />
        <SchoolPick data={data} />
      </header>
      {!exercise ? (
        <p className="rounded border border-base-300 bg-base-200 p-6">
          Nothing was logged of {data.name} yet. Sets that are ticked or logged in a class that is run, or typed in from
          paper, stand here the moment the class is over.
        </p>
      ) : (
        <div className="grid gap-x-8 gap-y-6 *:min-w-0 lg:grid-cols-[20rem_1fr]">
          <ExerciseList exercises={data.exercises} chosen={exercise.exercise} choose={(id) => set("exercise", id)} />
          <ExercisePanel key={exercise.exercise} person={data.person} one={exercise} />
        </div>
      )}
      {exercise && <BesidePanel person={data.person} days={data.classes.map((planned) => planned.on)} />}
      <Body data={data} />
    </div>
  );
}

/** How loads are raised for this person. */
function SchoolPick({ data }: { data: Progress }) {
  const rules = useLoadRules();
  const queries = useQueryClient();
  const keep = useMutation({
    mutationFn: (school: School | null) => keepSchool(data.person, school),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["progress", data.person] }),
  });
  const house = rules.data?.schools.find((school) => school.id === rules.data.rules.school);
  return (
    <Pick
      label="Loads"
      value={data.load_school ?? ""}
      options={[
        ["", house ? `studio default: ${house.name}` : "studio default"],
        ...(rules.data?.schools ?? []).map((school): [School, string] => [school.id, school.name]),
      ]}
      onChange={(value) => keep.mutate(value || null)}
    />
  );
}

function ExerciseList({
  exercises,
  chosen,
  choose,
}: {
  exercises: ExerciseProgress[];
  chosen: string;
  choose: (id: string) => void;
}) {
  const [units] = useUnits();
  const [sought, seek] = useState("");
  const per = units === "metric" ? 1 : LB_KG;
  const shown = exercises.filter((exercise) => exercise.name.toLowerCase().includes(sought.trim().toLowerCase()));
  return (
    <section aria-labelledby="exercises-done">
      <h2 id="exercises-done" className="text-lg font-semibold">
        Exercises
      </h2>
      {exercises.length > 8 && (
        <input
          aria-label="Search exercises"
          placeholder="Name of an exercise"
          className="input input-sm mt-1 w-full"
          value={sought}
          onChange={(event) => seek(event.target.value)}
        />
      )}
      <ul className="mt-1 lg:max-h-[34rem] lg:overflow-y-auto" data-testid="exercises-done">
        {shown.map((item) => (
          <li key={item.exercise} className="border-b border-base-300">
            <button
              type="button"
              aria-current={item.exercise === chosen}
              className={`flex min-h-11 w-full flex-col justify-center px-2 py-1 text-left hover:bg-base-200 ${
                item.exercise === chosen ? "bg-base-200 font-semibold" : ""
              }`}
              onClick={() => choose(item.exercise)}
            >
              <span className="flex w-full items-baseline gap-2">
                <span className="grow">{item.name}</span>
                {item.best && (
                  <span className="whitespace-nowrap">
                    {item.points.at(-1)?.at_least ? "≥ " : ""}
                    {figure(item.best.value / per)} {units === "metric" ? "kg" : "lb"}
                  </span>
                )}
              </span>
              <span className="faint flex w-full gap-2 text-xs font-normal">
                <span className="grow">
                  {counted(item.points.length, "day")}, {lastOf(item.points).scheme}
                </span>
                {item.gain && (
                  <span className="flex items-center gap-1">
                    <VerdictMark verdict={item.gain.verdict} /> {gainWords(item.gain)}
                  </span>
                )}
              </span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Heart, body and density over the weeks. */
function Body({ data }: { data: Progress }) {
  const [units] = useUnits();
  const per = units === "metric" ? 1 : LB_KG;
  const figures = (name: string) =>
    data.classes
      .map((planned) => ({ on: planned.on, value: planned.figures[name] ?? null }))
      .filter((item) => item.value !== null);
  return (
    <section className="mt-8" aria-labelledby="whole-class">
      <h2 id="whole-class" className="text-lg font-semibold">
        Heart, body and whole classes
      </h2>
      <div className="mt-2 grid gap-x-8 gap-y-6 *:min-w-0 md:grid-cols-2">
        <WeekChart
          title="Heart at the same work (5 MET)"
          unit="bpm"
          series={[
            {
              label: "recorded",
              kind: "line",
              points: data.hearts.map((heart) => ({
                on: heart.on,
                value: heart.at_work_bpm,
                low: heart.at_work_low,
                high: heart.at_work_high,
              })),
            },
          ]}
        />
        <WeekChart
          title="Recovery in the minute after"
          unit="bpm"
          fromZero
          series={[
            {
              label: "fall",
              kind: "line",
              points: data.hearts.map((heart) => ({
                on: heart.on,
                value: heart.recovery_bpm,
                note: counted(heart.rests, "rest"),
              })),
            },
          ]}
        />
        <WeekChart
          title="Density: time in work"
          unit="%"
          series={[{ label: "share", kind: "line", points: figures("work_share") }]}
        />
        <WeekChart
          title={labelOf("session_effort")}
          unit="AU"
          fromZero
          series={[{ label: "load", kind: "bars", points: figures("session_effort") }]}
        />
        <WeekChart
          title="Body mass"
          unit={units === "metric" ? "kg" : "lb"}
          decimals={1}
          series={[
            {
              label: "mass",
              kind: "line",
              points: data.body.map((item) => ({
                on: item.on,
                value: item.body_mass_kg === null ? null : item.body_mass_kg / per,
              })),
            },
          ]}
        />
        <WeekChart
          title="Resting rate"
          unit="bpm"
          series={[
            {
              label: "rate",
              kind: "line",
              points: data.body.map((item) => ({ on: item.on, value: item.resting_bpm })),
            },
          ]}
        />
      </div>
      <p className="faint mt-2 text-sm">
        Hearts come from recordings, figures of whole classes from what actually happened, body mass and resting rate
        from the record each time it was changed.
      </p>
    </section>
  );
}
