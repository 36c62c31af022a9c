import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Trash2 } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";

import { writeWeek, type Change, type Course, type WeekOutlook, type WeekState } from "../api/courses";
import { FaultyPlan } from "../api/client";
import { useCatalogue, useClassNow } from "../api/queries";
import { clock, counted, dayWords, figure } from "../shared/format";
import { NumberField } from "../shared/NumberField";
import { Pick } from "../shared/Pick";
import { entryAt } from "../basis/entries";

type Props = {
  id: number;
  course: Course;
  week: number;
  told: WeekOutlook | undefined;
  /** what each change of the course does, in words */
  words: Map<string, string>;
  written: WeekState[];
  dirty: boolean;
  edit: (course: Course, field: string) => void;
  onMissed: (how: "move" | "drop") => void;
  missError: Error | null;
};

/** One week: its classes, the changes to the base classes in it, writing it out, and what to do when it is missed. */
export function WeekPanel({ id, course, week, told, words, written, dirty, edit, onMissed, missError }: Props) {
  const queries = useQueryClient();
  const write = useMutation({
    mutationFn: () => writeWeek(id, week),
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: ["course", id, "written"] });
      void queries.invalidateQueries({ queryKey: ["classes"] });
      void queries.invalidateQueries({ queryKey: ["calendar"] });
    },
  });
  const dropped = course.dropped.includes(week);
  const behind = written.some((item) => item.behind);
  return (
    <section className="mt-4 border-t border-base-300 pt-3" aria-label={`Week ${week}`} data-testid="week-panel">
      <div className="flex flex-wrap items-center gap-3">
        <h2 className="text-lg font-semibold">Week {week}</h2>
        <input
          aria-label="What the week is for"
          placeholder="what it is for"
          className="h-7 w-48 rounded-[var(--radius-field)] border border-base-300 bg-base-100 px-2 text-sm"
          value={course.names[week] ?? ""}
          maxLength={40}
          onChange={(event) => {
            const rest = Object.fromEntries(Object.entries(course.names).filter(([one]) => Number(one) !== week));
            edit(
              { ...course, names: event.target.value ? { ...rest, [week]: event.target.value } : rest },
              `name ${week}`,
            );
          }}
        />
        <span className="ml-auto flex flex-wrap gap-2">
          {dropped ? (
            <button
              type="button"
              className="btn btn-sm"
              onClick={() => edit({ ...course, dropped: course.dropped.filter((item) => item !== week) }, "dropped")}
            >
              Hold it after all
            </button>
          ) : (
            <>
              <button type="button" className="btn btn-sm" onClick={() => onMissed("move")}>
                Missed: move it a week
              </button>
              <button type="button" className="btn btn-sm" onClick={() => onMissed("drop")}>
                Missed: drop it
              </button>
            </>
          )}
          <button
            type="button"
            className="btn btn-primary btn-sm"
            disabled={dirty || write.isPending || dropped}
            title={dirty ? "Save the course first" : undefined}
            onClick={() => write.mutate()}
          >
            {written.length ? (behind ? "Write out again" : "Write out once more") : `Write out week ${week}`}
          </button>
        </span>
      </div>
      {missError && (
        <p role="alert" className="text-sm text-error">
          {missError.message}
        </p>
      )}
      {write.isError && (
        <p role="alert" className="mt-1 text-sm text-error">
          Nothing was written out:{" "}
          {write.error instanceof FaultyPlan
            ? write.error.faults.map((fault) => `${fault.place}, ${fault.field}: ${fault.message}`).join("; ")
            : write.error.message}
        </p>
      )}
      {write.data && (
        <p role="status" className="mt-1 text-sm" data-testid="written-out">
          {write.data.map((item) => `${item.name}: ${item.outcome}`).join("; ")}.
        </p>
      )}
      <div className="mt-2 grid gap-x-8 gap-y-3 *:min-w-0 md:grid-cols-2">
        <WeekClasses course={course} told={told} written={written} dropped={dropped} />
        <div>
          <WeekChanges course={course} week={week} words={words} edit={edit} />
          <AddChange course={course} week={week} edit={edit} />
        </div>
      </div>
    </section>
  );
}

type Kind = "set_scheme" | "lighter_week" | "test_sets" | "scale_rests" | "in_turn" | "set_rounds" | "leave_out";
const KINDS: [Kind, string][] = [
  ["set_scheme", "scheme: sets and repetitions"],
  ["lighter_week", "lighter week"],
  ["test_sets", "test of the main lifts"],
  ["scale_rests", "longer or shorter rests"],
  ["in_turn", "another exercise in turn"],
  ["set_rounds", "rounds of a block"],
  ["leave_out", "a block left out"],
];

function AddChange({
  course,
  week,
  edit,
}: {
  course: Course;
  week: number;
  edit: (course: Course, field: string) => void;
}) {
  const catalogue = useCatalogue().data;
  const [kind, setKind] = useState<Kind>("set_scheme");
  const [base, setBase] = useState("");
  const [upTo, setUpTo] = useState(week);
  const [sets, setSets] = useState(4);
  const [low, setLow] = useState(6);
  const [high, setHigh] = useState(8);
  const [share, setShare] = useState(0);
  const [rest, setRest] = useState(60);
  const [factor, setFactor] = useState(125);
  const [exercise, setExercise] = useState("");
  const [other, setOther] = useState("");
  const [rounds, setRounds] = useState(2);
  const [block, setBlock] = useState("");
  const ofBlock = kind === "set_rounds" || kind === "leave_out";
  // blocks are those of one base class
  const from = base || entryAt(course.bases, 0).id;
  const planned = useClassNow(Number(from), ofBlock);
  const blocks = (planned.data?.plan.blocks ?? []).map((block): [string, string] => [block.id, block.name]);
  const last = Math.min(course.weeks, Math.max(week, upTo));
  const made = changeOf(kind, { sets, low, high, share, rest, factor, exercise, other, rounds, block });
  const options = (catalogue?.exercises ?? [])
    .map((exercise): [string, string] => [exercise.id, exercise.name])
    .sort((a, b) => a[1].localeCompare(b[1]));
  const weeks = Array.from({ length: last - week + 1 }, (_, place) => week + place);
  return (
    <form
      className="mt-2 flex flex-wrap items-center gap-x-3 gap-y-1 rounded border border-base-300 p-2"
      aria-label="Add a change"
      onSubmit={(event) => {
        event.preventDefault();
        if (!made) return;
        const change = { weeks, bases: ofBlock ? [from] : base ? [base] : [], change: made };
        edit({ ...course, changes: [...course.changes, change] }, "changes");
      }}
    >
      <Pick label="Change" bare value={kind} options={KINDS} onChange={setKind} />
      {kind === "set_scheme" && (
        <>
          <NumberField label="Sets" value={sets} min={1} max={12} onChange={setSets} />
          <NumberField label="Reps" value={low} min={1} max={60} onChange={setLow} />
          <NumberField label="to" value={Math.max(low, high)} min={low} max={60} onChange={setHigh} />
          <NumberField label="% of best (0: none)" value={share} min={0} max={120} step={5} onChange={setShare} />
          <NumberField label="Rest" unit="s" value={rest} min={0} max={600} step={5} onChange={setRest} />
        </>
      )}
      {kind === "scale_rests" && (
        <NumberField label="Rests" unit="%" value={factor} min={30} max={300} step={5} onChange={setFactor} />
      )}
      {kind === "in_turn" && (
        <>
          <Pick label="Other" value={other} options={[["", "…"], ...options]} onChange={setOther} />
          <Pick label="in place of" value={exercise} options={[["", "…"], ...options]} onChange={setExercise} />
        </>
      )}
      {ofBlock && <Pick label="Block" value={block} options={[["", "…"], ...blocks]} onChange={setBlock} />}
      {kind === "set_rounds" && <NumberField label="Rounds" value={rounds} min={1} max={20} onChange={setRounds} />}
      <Pick<string>
        label="of"
        value={ofBlock ? from : base}
        options={[
          ...(ofBlock ? [] : [["", "all classes"] satisfies [string, string]]),
          ...course.bases.map((base): [string, string] => [base.id, base.name]),
        ]}
        onChange={setBase}
      />
      <NumberField label="until week" value={last} min={week} max={course.weeks} onChange={setUpTo} />
      <button type="submit" className="btn btn-sm" disabled={!made}>
        Add
      </button>
    </form>
  );
}

type ClassesProps = { course: Course; told: Props["told"]; written: Props["written"]; dropped: boolean };

/** The classes of a week, and whether they were written out. */
function WeekClasses({ course, told, written, dropped }: ClassesProps) {
  return (
    <div>
      <h3 className="font-semibold">Classes</h3>
      {told?.classes.length ? (
        <ul className="text-sm">
          {told.classes.map((planned) => {
            const state = written.find((each) => each.meeting === planned.meeting);
            const base = course.bases.find((each) => each.id === planned.base);
            return (
              <li key={planned.meeting} className="border-t border-base-300 py-1">
                <strong>
                  {dayWords(planned.on)}, {planned.time}
                </strong>{" "}
                {state ? (
                  <Link className="underline underline-offset-2" to={`/classes/${state.id}`}>
                    {base?.name}
                  </Link>
                ) : (
                  base?.name
                )}
                <span className="faint block text-xs">
                  {planned.figures &&
                    `${clock(planned.figures.length_s)} min, about ${figure(planned.figures.kcal)} kcal each, ${figure(planned.figures.vigorous_min, 1)} min vigorous · `}
                  {state
                    ? state.by_hand
                      ? "written out, changed by hand since: writing out again keeps it"
                      : state.behind
                        ? "written out, but the course or its base changed since"
                        : "written out"
                    : "not written out yet"}
                  {" · "}
                  <Link className="underline underline-offset-2" to={`/classes/${planned.base}`}>
                    base class
                  </Link>
                </span>
              </li>
            );
          })}
        </ul>
      ) : (
        <p className="faint text-sm">{dropped ? "This week is dropped." : "Nothing is held in this week."}</p>
      )}
    </div>
  );
}

type ChangesProps = { course: Course; week: number; words: Props["words"]; edit: Props["edit"] };

/** What a week changes of the base classes; a change can be taken out of it. */
function WeekChanges({ course, week, words, edit }: ChangesProps) {
  const mine = course.changes.map((one, place) => ({ one, place })).filter(({ one }) => one.weeks.includes(week));
  return (
    <>
      <h3 className="font-semibold">Changes in this week</h3>
      <ul className="text-sm" data-testid="week-changes">
        {mine.map(({ one, place }) => (
          <li key={place} className="flex items-center gap-2 border-t border-base-300 py-0.5">
            <span className="grow">
              {words.get(JSON.stringify(one.change)) ?? "…"}
              <span className="faint text-xs">
                {" "}
                {one.bases.length
                  ? course.bases
                      .filter((base) => one.bases.includes(base.id))
                      .map((base) => base.name)
                      .join(", ")
                  : "all classes"}
                , {one.weeks.length > 1 ? `in ${counted(one.weeks.length, "week")}` : "this week only"}
              </span>
            </span>
            <button
              type="button"
              className="btn btn-ghost btn-xs btn-square"
              aria-label={`Remove change ${place + 1} from week ${week}`}
              onClick={() => {
                const weeks = one.weeks.filter((each) => each !== week);
                const changes = course.changes.flatMap((each, at) =>
                  at !== place ? [each] : weeks.length ? [{ ...each, weeks }] : [],
                );
                edit({ ...course, changes }, "changes");
              }}
            >
              <Trash2 size={14} aria-hidden />
            </button>
          </li>
        ))}
        {!mine.length && <li className="faint">None: the base classes as they are.</li>}
      </ul>
    </>
  );
}

type Typed = {
  sets: number;
  low: number;
  high: number;
  share: number;
  rest: number;
  factor: number;
  exercise: string;
  other: string;
  rounds: number;
  block: string;
};

/** The change of a kind as it was typed; null while something it needs is missing. */
function changeOf(kind: Kind, typed: Typed): Change | null {
  const { sets, low, high, share, rest, factor, exercise, other, rounds, block } = typed;
  switch (kind) {
    case "set_scheme":
      return {
        do: kind,
        slots: [],
        sets,
        reps: low,
        reps_to: high > low ? high : null,
        share_of_best: share ? share / 100 : null,
        rest_s: rest,
      };
    case "lighter_week":
      return { do: kind, sets_fewer: 1, load_factor: 0.9 };
    case "test_sets":
      return { do: kind, sets_before: 1 };
    case "scale_rests":
      return { do: kind, factor: factor / 100 };
    case "in_turn":
      return exercise && other ? { do: kind, exercise, other } : null;
    case "set_rounds":
      return block ? { do: kind, block, rounds } : null;
    case "leave_out":
      return block ? { do: kind, block } : null;
  }
}
