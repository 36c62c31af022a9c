import { ChevronLeft, ChevronRight } from "lucide-react";
import { useEffect, useMemo } from "react";
import { Link, useSearchParams } from "react-router";

import { useCalendar, type Entry } from "../api/calendar";
import { mondayOf, plusDays, today as dayNow, WEEKDAYS } from "../shared/days";
import { counted } from "../shared/format";
import { Elsewhere } from "./Elsewhere";

/** A month of classes, planned and held; a class that stands in another's way says so. */
export function CalendarPage() {
  const [asked, ask] = useSearchParams();
  const today = useMemo(() => dayNow(), []);
  const month = /^\d{4}-\d{2}$/.test(asked.get("month") ?? "") ? asked.get("month")! : today.slice(0, 7);
  const since = mondayOf(`${month}-01`);
  const until = plusDays(mondayOf(plusDays(`${nextMonth(month, 1)}-01`, -1)), 6);
  const calendar = useCalendar(since, until);
  const title = new Date(`${month}-15T12:00`).toLocaleDateString("en-GB", { month: "long", year: "numeric" });
  useEffect(() => {
    document.title = `${title} – Oaken Circuit`;
  }, [title]);
  const weeks: string[] = [];
  for (let monday = since; monday <= until; monday = plusDays(monday, 7)) weeks.push(monday);
  const go = (to: string) => ask({ month: to }, { replace: true });
  const clashes = (calendar.data ?? []).filter((item) => item.clashes.length);
  return (
    <div className="mx-auto max-w-7xl px-4 py-4 lg:px-6" data-testid="calendar">
      <div className="flex flex-wrap items-center gap-2">
        <h1 className="grow text-2xl font-semibold">{title}</h1>
        <button
          type="button"
          className="btn btn-sm btn-square"
          aria-label="The month before"
          onClick={() => go(nextMonth(month, -1))}
        >
          <ChevronLeft size={18} aria-hidden />
        </button>
        <button type="button" className="btn btn-sm" onClick={() => go(today.slice(0, 7))}>
          This month
        </button>
        <button
          type="button"
          className="btn btn-sm btn-square"
          aria-label="The month after"
          onClick={() => go(nextMonth(month, 1))}
        >
          <ChevronRight size={18} aria-hidden />
        </button>
      </div>
      {calendar.isError && (
        <p role="alert" className="mt-2 rounded border border-error px-3 py-1.5 text-sm">
          The calendar cannot be read: {calendar.error.message}{" "}
          <button type="button" className="btn btn-xs" onClick={() => calendar.refetch()}>
            Try again
          </button>
        </p>
      )}
      {clashes.length > 0 && (
        <p role="status" className="mt-2 text-sm text-accent" data-testid="clashes">
          ▲ {counted(clashes.length, "class", "classes")} in a room that is taken at that time.
        </p>
      )}
      <Month weeks={weeks} month={month} today={today} entries={calendar.data ?? []} pending={calendar.isPending} />
      <ul className="mt-3 md:hidden">
        {weeks
          .flatMap((monday) => WEEKDAYS.map((_, place) => plusDays(monday, place)))
          .filter((on) => on.startsWith(month) && calendar.data?.some((item) => item.on === on))
          .map((on) => (
            <li key={on} className="border-b border-base-300 py-1">
              <span className="text-sm font-semibold">
                {new Date(`${on}T12:00`).toLocaleDateString("en-GB", { weekday: "short", day: "numeric" })}
              </span>
              <Entries entries={(calendar.data ?? []).filter((item) => item.on === on)} />
            </li>
          ))}
      </ul>
      {calendar.data?.length === 0 && (
        <p className="mt-3 text-sm">
          Nothing in this month. A class with a date, or a week of a course that is written out, stands here.
        </p>
      )}
      <Elsewhere />
    </div>
  );
}

/** The month so many after (or before) another. */
function nextMonth(month: string, by: number): string {
  const [year, number] = month.split("-").map(Number);
  const day = new Date(Date.UTC(year!, number! - 1 + by, 15));
  return day.toISOString().slice(0, 7);
}

const MARKS: Record<Entry["state"], string> = { planned: "", ready: "▷ ", running: "▶ ", held: "✓ " };

function Entries({ entries }: { entries: Entry[] }) {
  return (
    <ul>
      {entries.map((entry) => (
        <li key={`${entry.class_id}-${entry.time}-${entry.run}`} className="mt-0.5 leading-4">
          <Link
            to={
              entry.state === "held"
                ? `/runs/${entry.run}/book`
                : entry.run
                  ? `/runs/${entry.run}`
                  : `/classes/${entry.class_id}`
            }
            reloadDocument={entry.run !== null && entry.state !== "held"}
            className="block underline-offset-2 hover:underline"
          >
            <span className="faint">{entry.time}</span> {MARKS[entry.state]}
            {entry.name}
          </Link>
          {entry.clashes.length > 0 && (
            <span className="block text-xs text-accent">▲ same room as {entry.clashes.join(", ")}</span>
          )}
          {!!entry.unwritten && (
            <span className="faint block text-xs">{counted(entry.unwritten, "set")} not logged</span>
          )}
        </li>
      ))}
    </ul>
  );
}

type MonthProps = {
  weeks: string[];
  month: string;
  today: string;
  entries: NonNullable<ReturnType<typeof useCalendar>["data"]>;
  pending: boolean;
};

/** A month as a table, where there is room for one. */
function Month({ weeks, month, today, entries, pending }: MonthProps) {
  return (
    <table className="mt-3 w-full table-fixed border-collapse text-sm max-md:hidden" aria-busy={pending}>
      <thead>
        <tr>
          {WEEKDAYS.map((day) => (
            <th
              key={day}
              scope="col"
              className="faint border border-base-300 px-1 py-0.5 text-left text-xs font-normal"
            >
              {day.slice(0, 3)}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {weeks.map((monday) => (
          <tr key={monday}>
            {WEEKDAYS.map((_, place) => {
              const on = plusDays(monday, place);
              return (
                <td
                  key={on}
                  className={`h-24 border border-base-300 p-1 align-top ${on.slice(0, 7) === month ? "" : "border-dashed"} ${
                    on === today ? "bg-base-200" : ""
                  }`}
                >
                  <span className={`text-xs ${on === today ? "font-semibold" : "faint"}`}>
                    {Number(on.slice(8))}
                    {on === today && " today"}
                  </span>
                  <Entries entries={entries.filter((item) => item.on === on)} />
                </td>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
