import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import { Link, useParams } from "react-router";

import {
  courseKept,
  missWeek,
  saveCourse,
  useCourse,
  useCourseHistory,
  useOutlook,
  useOverTime,
  useWritten,
  type Course,
  type CourseOut,
  type Outlook,
} from "../api/courses";
import { useKeys } from "../keeping/keys";
import { LeaveGuard } from "../keeping/LeaveGuard";
import { Refusals } from "../keeping/Refusals";
import { SaveState } from "../keeping/SaveState";
import { useDocument } from "../keeping/useDocument";
import { CannotOpen } from "../shared/CannotOpen";
import { today as dayNow } from "../shared/days";
import { Dialog } from "../shared/Dialog";
import { when } from "../shared/format";
import { NumberField } from "../shared/NumberField";
import { Opening } from "../shared/Opening";
import { UndoRedo } from "../shared/UndoRedo";
import { CoursePicture } from "./CoursePicture";
import { DaysDialog } from "./DaysDialog";
import { WeekPanel } from "./WeekPanel";
import { WeeksCompared } from "./WeeksCompared";
import { entryAt } from "../basis/entries";

/** One course: its weeks as one picture, what should be looked at, and each week with its changes. */
export function CoursePage() {
  const id = Number(useParams().id);
  const course = useCourse(id);
  if (course.isPending) return <Opening what="the course" />;
  if (course.isError) {
    return (
      <CannotOpen
        what="This course"
        error={course.error}
        again={() => void course.refetch()}
        home="/courses"
        homeName="All courses"
      />
    );
  }
  return <Sheet key={id} id={id} loaded={course.data} />;
}

function Sheet({ id, loaded }: { id: number; loaded: CourseOut }) {
  const queries = useQueryClient();
  const kept = useDocument<Course>({
    kind: "course",
    id: String(id),
    loaded: courseKept(loaded),
    save: (course, basedOn) => saveCourse(id, basedOn, course),
    onSaved: () => {
      void queries.invalidateQueries({ queryKey: ["courses"] });
      void queries.invalidateQueries({ queryKey: ["course", id, "written"] });
    },
  });
  const { document: course, edit: change, dirty } = kept;
  const edit = (next: Course, field: string) => change(() => next, field);
  useKeys(kept);
  const outlook = useOutlook(course);
  const written = useWritten(id);
  const actual = useOverTime({ course: id });
  const [chosen, choose] = useState<number | null>(null);
  const [history, showHistory] = useState(false);
  const [days, setDays] = useState(false);
  useEffect(() => {
    document.title = `${course.name} – Oaken Circuit`;
  }, [course.name]);
  const today = useMemo(() => dayNow(), []);
  const weeks = outlook.data?.told.weeks ?? [];
  const now = weeks.findLast((week) => week.monday <= today)?.week ?? 1;
  const week = Math.min(chosen ?? now, course.weeks);
  const miss = useMutation({
    mutationFn: (how: "move" | "drop") => missWeek(course, week, how),
    onSuccess: (next) => edit(next, `missed ${week}`),
  });
  return (
    <div className="mx-auto max-w-7xl px-4 pb-10 lg:px-6" data-testid="course">
      <div className="held-at-top flex flex-wrap items-center gap-3 py-2">
        <CourseFacts id={id} course={course} now={now <= course.weeks && weeks.length > 0 ? now : null} edit={edit} />
        <button type="button" className="btn btn-sm" onClick={() => setDays(true)}>
          Days
        </button>
        <button type="button" className="btn btn-sm" onClick={() => showHistory(true)}>
          History
        </button>
        <a className="btn btn-sm" href={`/api/courses/${id}/file`} download={`course-${id}.json`}>
          File
        </a>
        <UndoRedo canUndo={kept.canUndo} canRedo={kept.canRedo} onUndo={kept.undo} onRedo={kept.redo} />
        <SaveState document={kept} />
      </div>
      <Refusals document={kept} what="course" />
      <LeaveGuard what="this course" dirty={dirty} save={kept.saveNow} staysHere={false} />
      {outlook.isError && (
        <p role="alert" className="my-2 rounded border border-error px-3 py-1.5 text-sm">
          The weeks cannot be told: {outlook.error.message}
        </p>
      )}
      {outlook.isPending && <div role="status" aria-label="Forecasting the weeks" className="skeleton h-64 w-full" />}
      {outlook.data && (
        <>
          <CoursePicture
            course={course}
            weeks={weeks}
            written={written.data ?? []}
            actual={actual.data}
            chosen={week}
            today={today}
            choose={choose}
          />
          <Notices notices={outlook.data.told.notices} choose={choose} />
          <WeekPanel
            id={id}
            course={course}
            week={week}
            words={wordsOf(outlook.data)}
            told={weeks.find((eachWeek) => eachWeek.week === week)}
            written={(written.data ?? []).filter((item) => item.week === week)}
            dirty={dirty}
            edit={edit}
            onMissed={(how) => miss.mutate(how)}
            missError={miss.error}
          />
          <WeeksCompared weeks={weeks} actual={actual.data} now={Math.min(now, course.weeks)} />
        </>
      )}
      {days && <DaysDialog course={course} edit={edit} onClose={() => setDays(false)} />}
      {history && <HistoryDialog id={id} onClose={() => showHistory(false)} />}
    </div>
  );
}

/** The words of each change, by what it is: those of a draft that is still being forecast are not known yet. */
function wordsOf(told: { course: Course; told: Outlook }): Map<string, string> {
  return new Map(
    told.course.changes.map((change, place) => [JSON.stringify(change.change), told.told.changes[place] ?? ""]),
  );
}

/** The course with so many weeks; what speaks of weeks that go is taken out. */
function ofWeeks(course: Course, weeks: number): Course {
  const here = (week: number) => week <= weeks;
  return {
    ...course,
    weeks,
    changes: course.changes
      .map((change) => ({ ...change, weeks: change.weeks.filter(here) }))
      .filter((item) => item.weeks.length > 0),
    meetings: course.meetings
      .map((meeting) => ({ ...meeting, weeks: meeting.weeks.filter(here) }))
      .filter((item, place) => item.weeks.length > 0 || entryAt(course.meetings, place).weeks.length === 0),
    names: Object.fromEntries(Object.entries(course.names).filter(([week]) => here(Number(week)))),
    dropped: course.dropped.filter(here),
    pauses: course.pauses.filter((pause) => here(pause.before)),
    left_out: course.left_out.filter((item) => here(item.week)),
  };
}

type Notice = { weeks: number[]; severity: "fault" | "caution" | "note"; message: string };
const MARKS = { fault: "■", caution: "▲", note: "•" } as const;
const SHOWN = 4;

/** What should be looked at before the course begins. */
function Notices({ notices, choose }: { notices: Notice[]; choose: (week: number) => void }) {
  const [all, showAll] = useState(false);
  if (!notices.length) return <p className="mt-2 text-sm">✓ Nothing to look at: the weeks stand.</p>;
  return (
    <ul className="mt-2 text-sm" data-testid="course-notices">
      {(all ? notices : notices.slice(0, SHOWN)).map((notice) => (
        <li key={notice.message} className="flex gap-2">
          <span className={notice.severity === "note" ? "faint" : "text-accent"} aria-label={notice.severity}>
            {MARKS[notice.severity]}
          </span>
          <button
            type="button"
            className="min-h-6 text-left underline-offset-2 hover:underline"
            onClick={() => choose(entryAt(notice.weeks, 0))}
          >
            <strong>{notice.weeks.length > 1 ? `weeks ${spans(notice.weeks)}` : `week ${notice.weeks[0]}`}</strong>:{" "}
            {notice.message}
          </button>
        </li>
      ))}
      {notices.length > SHOWN && (
        <li>
          <button type="button" className="btn btn-ghost btn-xs" onClick={() => showAll(!all)}>
            {all ? "only the gravest" : `all ${notices.length}`}
          </button>
        </li>
      )}
    </ul>
  );
}

/** Weeks as spans, "1–3, 5". */
export function spans(weeks: number[]): string {
  const found: [number, number][] = [];
  for (const week of weeks) {
    const last = found.at(-1);
    if (last && last[1] === week - 1) last[1] = week;
    else found.push([week, week]);
  }
  return found.map(([from, to]) => (from === to ? from : `${from}–${to}`)).join(", ");
}

function HistoryDialog({ id, onClose }: { id: number; onClose: () => void }) {
  const history = useCourseHistory(id);
  return (
    <Dialog title="History of the course" onClose={onClose}>
      {history.isPending && <p className="faint">Reading the history …</p>}
      {history.isError && <p role="alert">{history.error.message}</p>}
      <ol className="space-y-2 text-sm">
        {history.data?.map((step) => (
          <li key={step.revision}>
            <strong>revision {step.revision}</strong> <span className="faint">{when(step.saved_at)}</span>
            <ul className="list-disc pl-5">
              {step.changes.map((change) => (
                <li key={change}>{change}</li>
              ))}
            </ul>
          </li>
        ))}
      </ol>
    </Dialog>
  );
}

type CourseFactsProps = {
  id: number;
  course: Course;
  /** the week that runs now; null outside the course */
  now: number | null;
  edit: (course: Course, field: string) => void;
};

/** What a course is called, when it begins and how many weeks it has. */
function CourseFacts({ id, course, now, edit }: CourseFactsProps) {
  return (
    <>
      <div className="grow">
        <input
          aria-label="Name of the course"
          className="w-full max-w-md bg-transparent text-2xl leading-7 font-semibold"
          value={course.name}
          maxLength={80}
          onChange={(event) => edit({ ...course, name: event.target.value || course.name }, "name")}
        />
        <p className="faint text-sm">
          <Link to="/courses" className="underline underline-offset-2">
            Courses
          </Link>
          {" · "}
          <Link to={`/courses/${id}/programme`} className="underline underline-offset-2">
            on paper
          </Link>
          {now !== null && ` · this is week ${now} of ${course.weeks}`}
        </p>
      </div>
      <label className="flex items-center gap-1 text-sm">
        First week of
        <input
          type="date"
          className="h-7 rounded-[var(--radius-field)] border border-base-300 bg-base-100 px-1"
          value={course.starts}
          onChange={(event) => event.target.value && edit({ ...course, starts: event.target.value }, "starts")}
        />
      </label>
      <NumberField
        label="Weeks"
        value={course.weeks}
        min={1}
        max={26}
        onChange={(count) => edit(ofWeeks(course, count), "weeks")}
      />
    </>
  );
}
