import { scaleLinear } from "d3-scale";

import type { Course, OverTime, WeekOutlook, WeekState } from "../api/courses";
import { mondayOf, WEEKDAYS } from "../shared/days";
import { clock, dayWords, figure } from "../shared/format";
import { useCatalogue } from "../api/queries";
import { entryAt } from "../basis/entries";

type Props = {
  course: Course;
  weeks: WeekOutlook[];
  written: WeekState[];
  actual: OverTime | undefined;
  chosen: number;
  today: string;
  choose: (week: number) => void;
};

const LOAD_H = 64;

/**
 * The course as one picture: weeks in place of minutes, a row for each class of the week, the training load planned and
 * actual, and the sets of each muscle, deepening with their number.
 */
export function CoursePicture({ course, weeks, written, actual, chosen, today, choose }: Props) {
  const catalogue = useCatalogue().data;
  const named = new Map(catalogue?.muscles.map((muscle) => [muscle.id, muscle.name]));
  const muscles = [...new Set(weeks.flatMap((week) => Object.keys(week.sets)))].sort(
    (one, other) => total(weeks, other) - total(weeks, one),
  );
  const held = new Map(actual?.weeks.map((week) => [week.monday, week]));
  const most = Math.max(
    1,
    ...weeks.map((week) => week.session_effort),
    ...weeks.map((week) => held.get(week.monday)?.figures.session_effort ?? 0),
  );
  const height = scaleLinear([0, most], [0, LOAD_H]);
  const columns = { gridTemplateColumns: `7.5rem repeat(${weeks.length}, minmax(4.4rem, 1fr))` };
  return (
    <div className="overflow-x-auto" data-testid="course-picture">
      <div className="grid min-w-fit text-sm" style={columns} role="table" aria-label="The weeks of the course">
        <div role="row" className="contents">
          <span role="columnheader" className="faint self-end pb-1 text-xs">
            Week
          </span>
          {weeks.map((week) => (
            <button
              key={week.week}
              type="button"
              role="columnheader"
              aria-current={week.week === chosen}
              className={`border-b-2 px-1 pt-1 text-left ${
                week.week === chosen ? "border-primary bg-base-200" : "border-transparent hover:bg-base-200"
              } ${week.dropped ? "line-through" : ""}`}
              onClick={() => choose(week.week)}
            >
              <strong>{week.week}</strong>{" "}
              <span className="faint text-xs whitespace-nowrap">{dayWords(week.monday).slice(4)}</span>
              {isNow(week, today) && <span className="ml-1 text-xs font-semibold text-accent">now</span>}
              <span className="block min-h-4 text-xs leading-4">{week.name}</span>
            </button>
          ))}
        </div>
        {course.meetings.map((meeting) => {
          const base = course.bases.find((base) => base.id === meeting.base);
          return (
            <div role="row" className="contents" key={meeting.id}>
              <span role="rowheader" className="border-t border-base-300 py-1 pr-2 leading-4">
                <strong>{entryAt(WEEKDAYS, meeting.weekday).slice(0, 3)}</strong> {meeting.time}
                <span className="faint block text-xs">{base?.name}</span>
              </span>
              {weeks.map((week) => (
                <Cell
                  key={week.week}
                  one={week.classes.find((each) => each.meeting === meeting.id)}
                  state={written.find((each) => each.week === week.week && each.meeting === meeting.id)}
                  chosen={week.week === chosen}
                />
              ))}
            </div>
          );
        })}
        <div role="row" className="contents">
          <span role="rowheader" className="border-t border-base-300 py-1 pr-2 text-xs leading-4">
            <strong className="text-sm">Load</strong>
            <span className="faint block">session-RPE load, one person; filled is actual</span>
          </span>
          {weeks.map((week) => {
            const was = held.get(week.monday)?.figures.session_effort;
            return (
              <span
                key={week.week}
                role="cell"
                className={`relative flex items-end gap-0.5 border-t border-base-300 px-1 pt-4 ${week.week === chosen ? "bg-base-200" : ""}`}
                style={{ height: LOAD_H + 18 }}
                title={`planned ${figure(week.session_effort)} AU${was === undefined ? "" : `, actual ${figure(was)}`}`}
              >
                <span className="absolute top-0 left-1 text-xs">{figure(week.session_effort)}</span>
                <span
                  className="w-1/2 border border-secondary"
                  style={{ height: height(week.session_effort) }}
                  aria-hidden
                />
                <span className="w-1/2 bg-secondary" style={{ height: height(was ?? 0) }} aria-hidden />
              </span>
            );
          })}
        </div>
        {muscles.map((muscle) => (
          <MuscleRow key={muscle} muscle={muscle} name={named.get(muscle) ?? muscle} weeks={weeks} />
        ))}
      </div>
      <p className="faint mt-1 text-xs">
        Sets a muscle and week (prime movers, one person): usual are 6 to 20, common practice without a source.
      </p>
    </div>
  );
}

function total(weeks: WeekOutlook[], muscle: string): number {
  return weeks.reduce((sum, week) => sum + (week.sets[muscle] ?? 0), 0);
}

function isNow(week: WeekOutlook, today: string): boolean {
  return week.monday === mondayOf(today);
}

type CellProps = { one: WeekOutlook["classes"][number] | undefined; state: WeekState | undefined; chosen: boolean };

function Cell({ one, state, chosen }: CellProps) {
  const shade = chosen ? "bg-base-200" : "";
  if (!one) {
    return (
      <span role="cell" className={`faint border-t border-base-300 px-1 py-1 text-xs ${shade}`}>
        –
      </span>
    );
  }
  const over = one.figures && one.figures.length_s > one.figures.slot_s + 1;
  return (
    <span role="cell" className={`border-t border-base-300 px-1 py-1 text-xs leading-4 ${shade}`}>
      {one.figures ? (
        <strong className={over ? "text-accent" : ""}>
          {over ? "▲ " : ""}
          {clock(one.figures.length_s)}
        </strong>
      ) : (
        <strong className="text-accent">■ faulty</strong>
      )}
      {state && (
        <span
          className="ml-1"
          title={state.by_hand ? "changed by hand" : state.behind ? "behind the course" : "written out"}
        >
          {state.by_hand ? "✎" : state.behind ? "↻" : "✓"}
        </span>
      )}
      <span className="block">{one.changes.join(", ")}</span>
    </span>
  );
}

/** The sets of a muscle, week by week. */
function MuscleRow({ muscle, name, weeks }: { muscle: string; name: string; weeks: Props["weeks"] }) {
  return (
    <div role="row" className="contents">
      <span role="rowheader" className="pr-2 text-xs leading-5">
        {name}
      </span>
      {weeks.map((week) => {
        const sets = week.sets[muscle] ?? 0;
        const depth = sets === 0 ? -1 : sets < 6 ? 0 : sets < 11 ? 1 : sets <= 20 ? 2 : 3;
        return (
          <span
            key={week.week}
            role="cell"
            className="m-px px-1 text-right text-xs leading-5"
            style={depth < 0 ? {} : { background: `var(--intensity-${depth})`, color: "var(--ink-on-intensity)" }}
          >
            {sets > 20 && <span aria-label="more than usual">▲ </span>}
            {sets ? figure(sets) : "–"}
          </span>
        );
      })}
    </div>
  );
}
