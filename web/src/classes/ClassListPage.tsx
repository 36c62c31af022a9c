import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Archive, ArchiveRestore, Columns2, PencilRuler, Plus } from "lucide-react";
import { useEffect, useState } from "react";
import { Link, useSearchParams } from "react-router";

import { useMay } from "../api/account";
import { importFile } from "../api/calls";
import { FaultyPlan, type ClassSummary } from "../api/client";
import { archiveClass } from "../api/calendar";
import { useCourses } from "../api/courses";
import { useCatalogue, useClasses, usePeople, useRooms } from "../api/queries";
import { today } from "../shared/days";
import { clock, counted, figure, startWords, when } from "../shared/format";
import { FileButton } from "../shared/FileButton";
import { isPresses, sendPresses } from "../live/presses";
import { Pick } from "../shared/Pick";
import { NewClassDialog } from "./NewClassDialog";
import { OpenRuns } from "./OpenRuns";

const MOST_IN_CLASS = 60;
const LARGEST_FILE = 2_000_000;

/** The planned classes, the one saved last first, each with its planks drawn to one common length. */
export function ClassListPage() {
  const classes = useClasses();
  const rooms = useRooms();
  const people = usePeople();
  const mayPlan = useMay("plan_classes");
  const [making, make] = useState(false);
  const queries = useQueryClient();
  const bringIn = useMutation({
    mutationFn: async (file: File) => {
      if (file.size > LARGEST_FILE) throw new Error(`“${file.name}” is larger than a class file can be (2 MB).`);
      let document: unknown;
      try {
        document = JSON.parse(await file.text());
      } catch {
        throw new Error(`“${file.name}” is not JSON: a class file is.`);
      }
      return isPresses(document) ? { sent: await sendPresses(document), name: document.name } : importFile(document);
    },
    onSuccess: () => void queries.invalidateQueries({ queryKey: ["classes"] }),
  });
  const [sought, seek] = useState("");
  const [asked, ask] = useSearchParams();
  const courses = useCourses(mayPlan);
  const archive = useMutation({
    mutationFn: ({ id, archived }: { id: number; archived: boolean }) => archiveClass(id, archived),
    onSuccess: () => void queries.invalidateQueries({ queryKey: ["classes"] }),
  });
  useEffect(() => {
    document.title = "Classes – Oaken Circuit";
  }, []);

  const room = rooms.data?.find((room) => !room.retired);
  const ready = room && people.data?.length;
  const longest = Math.max(
    1,
    ...(classes.data ?? []).map((planned) => Math.max(planned.length_s, planned.slot_min * 60)),
  );
  const [more, showMore] = useState(PAGE);
  const wanted = (name: string) => asked.get(name) ?? "";
  const shown = inOrder(classes.data ?? []).filter(
    (item) =>
      item.archived === (wanted("archive") === "yes") &&
      (!wanted("course") || String(item.course ?? "none") === wanted("course")) &&
      (!wanted("room") || item.room === wanted("room")) &&
      (!wanted("person") || item.crowd.includes(wanted("person"))) &&
      (!wanted("exercise") || item.exercises.includes(wanted("exercise"))) &&
      `${item.name} ${item.starts} ${startWords(item.starts)}`.toLowerCase().includes(sought.trim().toLowerCase()),
  );
  return (
    <div className="mx-auto max-w-5xl px-4 py-6">
      <OpenRuns />
      <div className="mb-4 flex flex-wrap items-center gap-4">
        <h1 className="text-2xl font-semibold">Classes</h1>
        {mayPlan && (
          <>
            <Link to="/generate" className="btn btn-primary btn-sm ml-auto">
              <PencilRuler size={16} aria-hidden /> Generate a class
            </Link>
            <button type="button" className="btn btn-sm" disabled={!ready} onClick={() => make(true)}>
              <Plus size={16} aria-hidden /> New class
            </button>
            <FileButton
              name="Open a file"
              label="Class file, or presses of a device"
              accept=".json,application/json"
              disabled={bringIn.isPending}
              onFile={(file) => bringIn.mutate(file)}
            />
          </>
        )}
        {(classes.data?.length ?? 0) > 1 && (
          <Link to="/compare" className="btn btn-sm">
            <Columns2 size={16} aria-hidden /> Compare two
          </Link>
        )}
      </div>
      {bringIn.isError && (
        <div role="alert" className="mb-3 rounded border border-error px-3 py-1.5 text-sm">
          The file was not taken in, nothing was changed.
          {bringIn.error instanceof FaultyPlan ? (
            <ul className="list-disc pl-5">
              {bringIn.error.faults.slice(0, 12).map((fault) => (
                <li key={fault.path + fault.message}>
                  {fault.place}, {fault.field}: {fault.message}{" "}
                  {fault.right && <span className="faint">({fault.right})</span>}
                </li>
              ))}
            </ul>
          ) : (
            ` ${bringIn.error.message}`
          )}
        </div>
      )}
      {bringIn.data && "sent" in bringIn.data && (
        <p role="status" data-testid="presses-sent" className="mb-3 rounded border border-info px-3 py-1.5 text-sm">
          {counted(bringIn.data.sent.kept, "press", "presses")} of {bringIn.data.name || "the class"} are kept.
          {bringIn.data.sent.refused.map((item) => (
            <span key={item.id} className="block text-error">
              Not kept: {item.message}
            </span>
          ))}
        </p>
      )}
      {bringIn.data && "made" in bringIn.data && (
        <p role="status" data-testid="imported" className="mb-3 rounded border border-info px-3 py-1.5 text-sm">
          <Link className="underline" to={`/classes/${bringIn.data.made.id}`}>
            {bringIn.data.made.plan.name}
          </Link>{" "}
          was taken in{bringIn.data.notes.length ? `: ${bringIn.data.notes.join("; ")}` : ""}.
        </p>
      )}
      {making && ready && (
        <NewClassDialog
          room={room.id}
          people={(people.data ?? []).slice(0, MOST_IN_CLASS).map((person) => person.id)}
          onClose={() => make(false)}
        />
      )}
      {mayPlan && rooms.isSuccess && people.isSuccess && !ready && (
        <p className="mb-3 rounded border border-base-300 bg-base-200 px-3 py-1.5 text-sm">
          A class needs a room and people:{" "}
          <Link className="underline underline-offset-2" to={room ? "/people" : "/rooms"}>
            {room ? "write down who comes" : "draw the room"}
          </Link>
          .
        </p>
      )}
      {classes.isPending ? (
        <div role="status" aria-label="Opening the classes" className="space-y-3">
          {[0, 1, 2].map((row) => (
            <div key={row} className="skeleton h-20 w-full" />
          ))}
        </div>
      ) : classes.isError ? (
        <div role="alert" className="rounded border border-error p-4">
          <p>The classes cannot be read: {classes.error.message}</p>
          <button type="button" className="btn btn-sm mt-2" onClick={() => classes.refetch()}>
            Try again
          </button>
        </div>
      ) : classes.data.length === 0 ? (
        <p className="rounded border border-base-300 bg-base-200 p-6">
          No class is planned yet. “New class” asks who, where, how long and in which format, and makes a whole one for
          you to change.
        </p>
      ) : (
        <>
          {classes.data.length > 6 && (
            <div className="mb-3 flex flex-wrap items-center gap-3">
              <input
                aria-label="Search classes"
                className="input input-sm w-full max-w-xs"
                placeholder="Name or time of a class"
                value={sought}
                onChange={(event) => seek(event.target.value)}
              />
              <Filters
                asked={asked}
                set={(name, value) =>
                  ask(
                    (now) => {
                      const next = new URLSearchParams(now);
                      if (value) next.set(name, value);
                      else next.delete(name);
                      return next;
                    },
                    { replace: true },
                  )
                }
                courses={(courses.data ?? []).map((course): [string, string] => [
                  String(course.id),
                  course.course.name,
                ])}
                rooms={(rooms.data ?? []).map((room): [string, string] => [room.id, room.name])}
                people={(people.data ?? []).map((person): [string, string] => [person.id, person.name])}
              />
            </div>
          )}
          <ul className="space-y-2" data-testid="classes">
            {shown.slice(0, more).map((item) => (
              <ClassRow
                key={item.id}
                one={item}
                longest={longest}
                onArchive={mayPlan ? () => archive.mutate({ id: item.id, archived: !item.archived }) : undefined}
              />
            ))}
          </ul>
          {shown.length === 0 && (
            <p className="rounded border border-base-300 bg-base-200 p-4">
              No class is like that.{" "}
              <button
                type="button"
                className="underline underline-offset-2"
                onClick={() => {
                  seek("");
                  ask({}, { replace: true });
                }}
              >
                Show all
              </button>
            </p>
          )}
          {shown.length > more && (
            <button type="button" className="btn btn-sm mt-3" onClick={() => showMore(more + PAGE)}>
              {PAGE} more of {shown.length}
            </button>
          )}
        </>
      )}
    </div>
  );
}

const PAGE = 20;

/** What comes next first, then what has no date, the one saved last first, then what is past. */
function inOrder(classes: ClassSummary[]): ClassSummary[] {
  const now = today();
  const rank = (item: ClassSummary) => (item.next_on === null ? 1 : item.next_on >= now ? 0 : 2);
  return [...classes].sort((one, other) => {
    if (rank(one) !== rank(other)) return rank(one) - rank(other);
    const days = (one.next_on ?? "").localeCompare(other.next_on ?? "");
    return rank(one) === 2 ? -days : days;
  });
}

type FiltersProps = {
  asked: URLSearchParams;
  set: (name: string, value: string) => void;
  courses: [string, string][];
  rooms: [string, string][];
  people: [string, string][];
};

/** What is shown of a long list: by course, room, person, exercise, and what was put aside. */
function Filters({ asked, set, courses, rooms, people }: FiltersProps) {
  const catalogue = useCatalogue();
  const exercises = (catalogue.data?.exercises ?? []).map((exercise): [string, string] => [exercise.id, exercise.name]);
  const pick = (name: string, label: string, all: string, options: [string, string][]) => (
    <Pick
      key={name}
      bare
      label={label}
      value={asked.get(name) ?? ""}
      options={[["", all], ...options]}
      onChange={(value) => set(name, value)}
    />
  );
  return (
    <>
      {courses.length > 0 && pick("course", "Course", "any course", [["none", "in no course"], ...courses])}
      {rooms.length > 1 && pick("room", "Room", "any room", rooms)}
      {people.length > 0 && pick("person", "Person", "anybody", people)}
      {pick("exercise", "Exercise", "any exercise", exercises)}
      {pick("archive", "Archive", "in use", [["yes", "archived"]])}
    </>
  );
}

function ClassRow({ one, longest, onArchive }: { one: ClassSummary; longest: number; onArchive?: () => void }) {
  const over = one.length_s - one.slot_min * 60;
  const share = (seconds: number) => `${(seconds / longest) * 100}%`;
  return (
    <li className="flex items-stretch gap-1">
      <Link
        to={`/classes/${one.id}`}
        className="block min-w-0 grow rounded-[var(--radius-box)] border border-base-300 bg-base-200 p-3 hover:border-base-content"
      >
        <span className="flex flex-wrap items-baseline gap-x-4">
          <span className="text-lg font-semibold">{one.name}</span>
          <span className="faint text-sm">
            {[startWords(one.starts), counted(one.people, "person", "people")].filter(Boolean).join(" · ")}
          </span>
          <span className="ml-auto text-lg">
            <strong className={over > 0 ? "text-accent" : ""}>{clock(one.length_s)}</strong>
            <span className="faint text-sm"> of {one.slot_min} min</span>
          </span>
        </span>
        <span className="relative mt-2 block h-4" aria-hidden>
          {one.outline.map((block) => (
            <span
              key={block.start_s}
              className="absolute top-0 h-4 overflow-hidden rounded-[2px] px-1 text-[11px] leading-4 font-semibold whitespace-nowrap"
              style={{
                left: share(block.start_s),
                width: share(block.end_s - block.start_s),
                background: `var(--plank-${block.kind})`,
                color: "var(--plank-ink)",
              }}
            >
              {(block.end_s - block.start_s) / longest > 0.12 ? block.name : ""}
            </span>
          ))}
          <span
            className="absolute -top-0.5 h-5 border-l-2 border-dashed border-accent"
            style={{ left: share(one.slot_min * 60) }}
          />
        </span>
        <span className="faint mt-1.5 flex flex-wrap gap-x-4 text-xs">
          <span className={over > 0 ? "font-semibold text-accent" : ""}>
            {over > 0 ? `▲ ${clock(over)} over the class length` : `${clock(-over)} to spare`}
          </span>
          {one.kcal_each !== null && <span>about {figure(one.kcal_each)} kcal each</span>}
          {one.course_week !== null && <span>week {one.course_week} of a course</span>}
          <span className="ml-auto">
            revision {one.revision}, saved {when(one.saved_at)}
          </span>
        </span>
      </Link>
      {onArchive && (
        <button
          type="button"
          className="btn btn-ghost btn-sm h-auto px-2"
          aria-label={`${one.archived ? "Bring back" : "Archive"} ${one.name}`}
          title={one.archived ? "Bring back" : "Archive"}
          onClick={onArchive}
        >
          {one.archived ? <ArchiveRestore size={16} aria-hidden /> : <Archive size={16} aria-hidden />}
        </button>
      )}
    </li>
  );
}
