import { useEffect, useState, type ComponentProps } from "react";
import { Link, useSearchParams } from "react-router";

import { useMay } from "../api/account";
import { useCourses, useOverTime, type OverTime } from "../api/courses";
import { useRuns } from "../api/people";
import { WeekChart } from "../drawing/WeekChart";
import { labelOf } from "../shared/figures";
import { counted, dayWords, figure, when } from "../shared/format";
import { Pick } from "../shared/Pick";

const SHOWN = 30;

/** The book: every class that was held, and what the weeks came to. */
export function BookPage() {
  const mayReadHealth = useMay("read_health");
  const runs = useRuns();
  const [sought, seek] = useState("");
  const [all, showAll] = useState(false);
  useEffect(() => {
    document.title = "The book – Oaken Circuit";
  }, []);
  const found = (runs.data ?? []).filter((run) => run.name.toLowerCase().includes(sought.trim().toLowerCase()));
  const shown = all ? found : found.slice(0, SHOWN);
  return (
    <div className="mx-auto max-w-6xl px-4 py-4 lg:px-6" data-testid="book">
      <div className="flex flex-wrap items-center gap-3">
        <h1 className="grow text-2xl font-semibold">The book</h1>
        <Link to="/calendar" className="btn btn-sm">
          Calendar
        </Link>
      </div>
      {mayReadHealth && <OverTheWeeks />}
      <section className="mt-6" aria-labelledby="every-run">
        <div className="flex flex-wrap items-center gap-3">
          <h2 id="every-run" className="grow text-lg font-semibold">
            Every class that was run
          </h2>
          <input
            aria-label="Search the book"
            placeholder="Name of a class"
            className="input input-sm w-60"
            value={sought}
            onChange={(event) => seek(event.target.value)}
          />
        </div>
        {runs.isPending && <div role="status" aria-label="Opening the book" className="skeleton mt-2 h-20 w-full" />}
        {runs.isError && (
          <p role="alert" className="mt-2 text-sm text-error">
            The book cannot be read: {runs.error.message}{" "}
            <button type="button" className="btn btn-xs" onClick={() => runs.refetch()}>
              Try again
            </button>
          </p>
        )}
        {runs.data?.length === 0 && (
          <p className="mt-2 rounded border border-base-300 bg-base-200 p-6">
            No class was run yet. Run one from its page or from Today; one that was held without devices is logged there
            and typed in here afterwards.
          </p>
        )}
        <ul data-testid="runs">
          {shown.map((item) => (
            <li key={item.id} className="border-b border-base-300">
              <Link
                to={`/runs/${item.id}/book`}
                className="flex min-h-10 flex-wrap items-center gap-x-4 hover:underline"
              >
                <span className="w-32 shrink-0 text-sm">{when(item.began_at ?? item.opened_at)}</span>
                <span className="grow font-medium">{item.name}</span>
                <span className="faint text-sm">
                  {item.state === "over" ? counted(item.people_count, "person", "people") : item.state}
                </span>
              </Link>
            </li>
          ))}
        </ul>
        {found.length > SHOWN && (
          <button type="button" className="btn btn-xs mt-2" onClick={() => showAll(!all)}>
            {all ? "Only the last ones" : `All ${found.length}`}
          </button>
        )}
      </section>
    </div>
  );
}

/** The class over time, of everything or of a course. */
function OverTheWeeks() {
  const [asked, ask] = useSearchParams();
  const courses = useCourses();
  const course = asked.get("course") ?? "";
  const told = useOverTime(course ? { course: Number(course) } : {});
  return (
    <section className="mt-3" aria-labelledby="over-weeks" data-testid="over-weeks">
      <div className="flex flex-wrap items-center gap-3">
        <h2 id="over-weeks" className="grow text-lg font-semibold">
          Week by week
        </h2>
        <Pick
          label="Of"
          value={course}
          options={[
            ["", "everything"],
            ...(courses.data ?? []).map((course): [string, string] => [String(course.id), course.course.name]),
          ]}
          onChange={(value) => ask(value ? { course: value } : {}, { replace: true })}
        />
      </div>
      {told.isPending && <div role="status" aria-label="Adding up the weeks" className="skeleton h-40 w-full" />}
      {told.isError && (
        <p role="alert" className="text-sm text-error">
          The weeks cannot be told: {told.error.message}
        </p>
      )}
      {told.data && told.data.weeks.length === 0 && <p className="faint text-sm">No class is over yet.</p>}
      {told.data && told.data.weeks.length > 0 && <Charts told={told.data} />}
    </section>
  );
}

function Charts({ told }: { told: OverTime }) {
  const weeks = told.weeks;
  const of = (name: string) => weeks.map((week) => ({ on: week.monday, value: week.figures[name] ?? null }));
  const mean = (values: number[]) =>
    values.length ? values.reduce((sum, value) => sum + value, 0) / values.length : null;
  const steep = weeks.filter((week) => week.steep);
  const bars = (title: string, unit: string, name: string) => ({
    title,
    unit,
    fromZero: true,
    series: [{ label: "one person", kind: "bars" as const, points: of(name) }],
  });
  const people = (count: (one: (typeof weeks)[number]["classes"][number]) => number) =>
    weeks.map((week) => ({ on: week.monday, value: mean(week.classes.map(count)) }));
  const off = (name: string) =>
    weeks.map((week) => {
      const found = mean(week.classes.flatMap((planned) => (name in planned.off ? [planned.off[name]!] : [])));
      return { on: week.monday, value: found === null ? null : 100 * found };
    });
  const charts: Omit<ComponentProps<typeof WeekChart>, "height">[] = [
    bars(labelOf("session_effort"), "AU a week", "session_effort"),
    {
      title: `${labelOf("impulse")} and ${labelOf("zone_sum").toLowerCase()}`,
      unit: "AU a week",
      fromZero: true,
      series: [
        { label: labelOf("impulse"), kind: "line", points: of("impulse") },
        { label: "zone load", kind: "line", dashed: true, points: of("zone_sum") },
      ],
    },
    { ...bars(labelOf("vigorous_or_more"), "min a week", "vigorous_or_more"), decimals: 1 },
    {
      title: "Density: time in work",
      unit: "%",
      decimals: 1,
      series: [{ label: "one person", kind: "line", points: of("work_share") }],
    },
    bars(labelOf("energy"), "kcal a week", "energy"),
    {
      title: labelOf("waiting"),
      unit: "s a class",
      fromZero: true,
      series: [{ label: "one person", kind: "line", points: of("waiting") }],
    },
    {
      title: "Attendance",
      unit: "people",
      fromZero: true,
      series: [
        { label: "came", kind: "bars", points: people((item) => item.came) },
        { label: "planned", kind: "line", dashed: true, points: people((item) => item.planned_people) },
      ],
    },
    {
      title: "Forecast and actual",
      unit: "% too high (+) or too low",
      decimals: 1,
      series: [
        { label: "length", kind: "line", points: off("length") },
        { label: "energy", kind: "line", dashed: true, points: off("energy") },
      ],
    },
  ];
  return (
    <>
      {steep.length > 0 && (
        <p className="text-sm" data-testid="steep">
          <strong className="text-accent">▲ Steep rise</strong>{" "}
          {steep
            .map((week) => `in the week of ${dayWords(week.monday)} (+${Math.round(100 * week.rise!)} %)`)
            .join(", ")}
          : more than 30 % above the four weeks before. Common practice, no source.
        </p>
      )}
      <div className="mt-1 grid gap-x-8 gap-y-5 *:min-w-0 md:grid-cols-2 lg:grid-cols-3">
        {charts.map((chart) => (
          <WeekChart key={chart.title} height={140} {...chart} />
        ))}
        <Overruns blocks={told.blocks} />
      </div>
    </>
  );
}

/** The blocks that took longer than planned, by how much. */
function Overruns({ blocks }: { blocks: OverTime["blocks"] }) {
  return (
    <div data-testid="overruns">
      <h3 className="text-sm font-semibold">
        Blocks that overrun <span className="faint font-normal">mean of the classes that had them</span>
      </h3>
      <table className="mt-1 w-full text-sm">
        <tbody>
          {blocks.slice(0, 6).map((block) => (
            <tr key={block.name} className="border-t border-base-300">
              <th scope="row" className="py-0.5 text-left font-normal">
                {block.name}
              </th>
              <td className="text-right whitespace-nowrap">
                {block.mean_s > 0 ? "+" : ""}
                {figure(block.mean_s)} s
              </td>
              <td className="faint text-right text-xs">
                longer in {block.longer} of {block.classes}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
