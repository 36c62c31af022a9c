import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Play, Printer } from "lucide-react";
import { useEffect } from "react";
import { Link } from "react-router";

import { useMay } from "../api/account";
import { useOwner } from "../keeping/useDocument";
import { useToday, type Day, type Entry } from "../api/calendar";
import { openRun } from "../api/runs";
import { useClasses } from "../api/queries";
import { NextStep } from "../shared/NextStep";
import { LeftOver } from "../live/LeftOver";
import { ShippedToo } from "../shared/ShippedToo";
import { counted, dayWords } from "../shared/format";
import { present } from "../basis/entries";

/** The first screen: what is next and what it still needs, what is not written down yet, where the courses stand. */
export function TodayPage() {
  const today = useToday();
  useEffect(() => {
    document.title = "Today – Oaken Circuit";
  }, []);
  return (
    <div className="mx-auto max-w-5xl px-4 py-4" data-testid="today">
      {today.isPending ? (
        <div role="status" aria-label="Looking what is next" className="skeleton h-40 w-full" />
      ) : today.isError ? (
        <div role="alert" className="rounded border border-error p-4">
          <p>Today cannot be told: {today.error.message}</p>
          <button type="button" className="btn btn-sm mt-2" onClick={() => today.refetch()}>
            Try again
          </button>
        </div>
      ) : (
        <AsItStands day={today.data} />
      )}
    </div>
  );
}

function AsItStands({ day }: { day: Day }) {
  const mayPlan = useMay("plan_classes");
  const owner = useOwner();
  const [first, ...later] = day.next;
  const classes = useClasses();
  // with no class at all the steps to the first one stand here
  const mayReadHealth = useMay("read_health");
  const begun = mayPlan && classes.data?.length === 0;
  return (
    <>
      <h1 className="faint text-base">
        {new Date(`${day.today}T12:00`).toLocaleDateString("en-GB", { weekday: "long", day: "numeric", month: "long" })}
      </h1>
      {day.running.map((item) => (
        <a
          key={item.run}
          href={`/runs/${item.run}`}
          className="mt-2 flex min-h-14 items-center gap-3 rounded-(--radius-box) border-2 border-primary px-4 py-2 hover:bg-base-200"
        >
          <Play size={20} aria-hidden />
          <strong>{item.name}</strong>
          <span>{item.state === "running" ? `runs since ${item.time}` : "is ready to start"}</span>
          <span className="ml-auto underline">{item.state === "running" ? "Resume" : "Open"}</span>
        </a>
      ))}
      {mayPlan && <NextStep />}
      <ShippedToo />
      <LeftOver owner={owner} mayReadHealth={mayReadHealth} />
      {first ? (
        <NextClass next={first} today={day.today} />
      ) : begun ? null : (
        <section className="mt-3 rounded-(--radius-box) border border-base-300 bg-base-200 p-5">
          <h2 className="text-xl font-semibold">Nothing is planned for the next three weeks</h2>
          <p className="mt-1">
            A class with a date stands here.{" "}
            <Link to={mayPlan ? "/generate" : "/classes"} className="underline underline-offset-2">
              {mayPlan ? "Generate one" : "The classes"}
            </Link>
            {mayPlan && (
              <>
                {" "}
                or{" "}
                <Link to="/courses" className="underline underline-offset-2">
                  write out a week of a course
                </Link>
              </>
            )}
            .
          </p>
        </section>
      )}
      <div className="mt-6 grid gap-x-10 gap-y-6 *:min-w-0 md:grid-cols-2">
        <section aria-labelledby="then">
          <h2 id="then" className="text-lg font-semibold">
            Then
          </h2>
          {later.length ? (
            <ul>
              {later.map(({ entry }) => (
                <EntryLine key={`${entry.class_id}${entry.on}`} entry={entry} to={`/classes/${entry.class_id}`} />
              ))}
            </ul>
          ) : (
            <p className="faint text-sm">Nothing more in the next three weeks.</p>
          )}
          <p className="mt-1 text-sm">
            <Link to="/calendar" className="underline underline-offset-2">
              The calendar
            </Link>
          </p>
        </section>
        <section aria-labelledby="to-write" data-testid="to-write">
          <h2 id="to-write" className="text-lg font-semibold">
            Sets still to log
          </h2>
          {day.to_write.length ? (
            <ul>
              {day.to_write.map((item) => (
                <EntryLine
                  key={item.run}
                  entry={item}
                  to={`/runs/${item.run}/book`}
                  what={`${counted(item.unwritten ?? 0, "set")} not logged`}
                />
              ))}
            </ul>
          ) : (
            <p className="faint text-sm">✓ Every set of the last three weeks is logged.</p>
          )}
          <p className="mt-1 text-sm">
            <Link to="/book" className="underline underline-offset-2">
              The class log
            </Link>
          </p>
        </section>
        {mayPlan && <Courses day={day} />}
      </div>
    </>
  );
}

function NextClass({ next, today }: { next: Day["next"][number]; today: string }) {
  const mayPlan = useMay("plan_classes");
  const { entry, needs } = next;
  const queries = useQueryClient();
  const classes = useClasses();
  const revision = classes.data?.find((planned) => planned.id === entry.class_id)?.revision;
  const run = useMutation({
    mutationFn: () => openRun(entry.class_id, present(revision, "The revision")),
    onSuccess: (made) => {
      void queries.invalidateQueries({ queryKey: ["runs"] });
      window.location.assign(`/runs/${made.id}`);
    },
  });
  const open = needs.filter((need) => !need.done);
  return (
    <section
      className="mt-3 rounded-(--radius-box) border border-base-content bg-base-200 p-4"
      aria-labelledby="next-class"
      data-testid="next-class"
    >
      <div className="flex flex-wrap items-start gap-x-6 gap-y-3">
        <div className="grow">
          <p className="text-sm">
            <strong>{entry.on === today ? "Today" : dayWords(entry.on)}</strong>, {entry.time},{" "}
            {Math.round(entry.length_s / 60)} min, {counted(entry.people, "person", "people")}
          </p>
          <h2 id="next-class" className="text-2xl leading-8 font-semibold">
            <Link to={`/classes/${entry.class_id}`} className="underline-offset-4 hover:underline">
              {entry.name}
            </Link>
          </h2>
        </div>
        <div className="flex gap-2">
          <button
            type="button"
            className="btn btn-primary btn-lg"
            disabled={revision === undefined || run.isPending}
            onClick={() => run.mutate()}
          >
            <Play size={20} aria-hidden /> Run it
          </button>
          <button
            type="button"
            className="btn btn-lg"
            onClick={() => window.open(`/classes/${entry.class_id}/sheet`, "_blank", "noopener")}
          >
            <Printer size={20} aria-hidden /> Print it
          </button>
        </div>
      </div>
      {run.isError && (
        <p role="alert" className="mt-2 text-sm text-error">
          It cannot be run: {run.error.message}
        </p>
      )}
      <ul className="mt-3 flex flex-wrap gap-x-6 gap-y-1 text-sm" data-testid="needs">
        {needs.map((need) => (
          <li key={need.what} className={need.done ? "faint" : "font-semibold"}>
            <span aria-hidden>{need.done ? "✓ " : "○ "}</span>
            <span className="sr-only">{need.done ? "done: " : "still needed: "}</span>
            {need.done ? (
              need.words
            ) : (
              <Link to={whereTo(need.what, entry.class_id)} className="underline underline-offset-2">
                {need.words}
              </Link>
            )}
          </li>
        ))}
      </ul>
      {mayPlan && !open.length && needs.length > 0 && <p className="mt-1 text-sm">It needs nothing more.</p>}
    </section>
  );
}

/** Where something that a class still needs is done. */
function whereTo(what: Day["next"][number]["needs"][number]["what"], id: number): string {
  switch (what) {
    case "loads":
      return `/classes/${id}/loads`;
    case "start":
      return `/classes/${id}?face=people`;
    case "rotation":
      return `/classes/${id}?face=floor`;
    case "clash":
      return "/calendar";
    case "cards":
      return "/people";
    case "slot":
      return `/classes/${id}`;
  }
}

function EntryLine({ entry, to, what }: { entry: Entry; to: string; what?: string }) {
  return (
    <li className="border-b border-base-300">
      <Link to={to} className="flex min-h-11 flex-wrap items-center gap-x-3 hover:underline">
        <span className="w-24 shrink-0 text-sm">
          {dayWords(entry.on)}
          <span className="faint block text-xs">{entry.time}</span>
        </span>
        <span className="min-w-0 flex-1 leading-5 font-medium">
          {entry.name}
          {what && <span className="faint block text-sm font-normal">{what}</span>}
        </span>
        {entry.clashes.length > 0 && <span className="text-sm text-accent">▲ clash</span>}
      </Link>
    </li>
  );
}

function Courses({ day }: { day: Day }) {
  return (
    <section aria-labelledby="courses-stand" className="md:col-span-2">
      <h2 id="courses-stand" className="text-lg font-semibold">
        Where the courses stand
      </h2>
      {day.courses.length === 0 && (
        <p className="faint text-sm">
          No course runs.{" "}
          <Link to="/courses" className="underline underline-offset-2">
            Make one
          </Link>
          .
        </p>
      )}
      <ul>
        {day.courses.map((course) => (
          <li key={course.id} className="border-b border-base-300 py-2">
            <Link to={`/courses/${course.id}`} className="flex flex-wrap items-center gap-x-4 hover:underline">
              <strong>{course.name}</strong>
              <span>
                {course.week === null
                  ? "over"
                  : course.week === 0
                    ? "not begun"
                    : `week ${course.week} of ${course.weeks}`}
                {course.name_of_week && `: ${course.name_of_week}`}
              </span>
              <span className="faint text-sm">
                {course.held} of {counted(course.planned_so_far, "class", "classes")} so far were held
                {course.next_on && `, next ${dayWords(course.next_on)}`}
              </span>
            </Link>
            <span className="mt-1 flex gap-0.5" aria-hidden>
              {Array.from({ length: course.weeks }, (_, place) => (
                <span
                  key={place}
                  className={`h-1.5 grow ${
                    course.week === null || place + 1 < course.week
                      ? "bg-primary"
                      : place + 1 === course.week
                        ? "bg-accent"
                        : "bg-base-300"
                  }`}
                />
              ))}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
