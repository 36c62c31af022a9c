import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Plus } from "lucide-react";
import { useEffect, useId, useState } from "react";
import { Link, useNavigate } from "react-router";

import { importCourse, makeFromTemplate, useCourses, useCourseTemplates, type FromTemplate } from "../api/courses";
import { FaultyPlan } from "../api/client";
import { useRooms, usePeople } from "../api/queries";
import { Dialog } from "../shared/Dialog";
import { mondayOf, plusDays, today } from "../shared/days";
import { counted, dayWords, when } from "../shared/format";
import { FileButton } from "../shared/FileButton";
import { NumberField } from "../shared/NumberField";
import { PeoplePicker } from "../who/PeoplePicker";
import { objectOf } from "../basis/entries";

/** The courses, each with where it stands. */
export function CourseListPage() {
  const courses = useCourses();
  const [making, make] = useState(false);
  const navigate = useNavigate();
  const queries = useQueryClient();
  const bringIn = useMutation({
    mutationFn: async (file: File) => importCourse(objectOf(JSON.parse(await file.text()))),
    onSuccess: (made) => {
      void queries.invalidateQueries({ queryKey: ["courses"] });
      void navigate(`/courses/${made.id}`);
    },
  });
  useEffect(() => {
    document.title = "Courses – Oaken Circuit";
  }, []);
  return (
    <div className="mx-auto max-w-5xl px-4 py-6">
      <div className="mb-4 flex flex-wrap items-center gap-3">
        <h1 className="grow text-2xl font-semibold">Courses</h1>
        <button type="button" className="btn btn-primary btn-sm" onClick={() => make(true)}>
          <Plus size={16} aria-hidden /> New course
        </button>
        <FileButton
          name="Open a course file"
          label="Course file"
          accept=".json,application/json"
          disabled={bringIn.isPending}
          onFile={(file) => bringIn.mutate(file)}
        />
      </div>
      {bringIn.isError && (
        <p role="alert" className="mb-3 rounded border border-error px-3 py-1.5 text-sm">
          The file was not taken in, nothing was changed: {faultWords(bringIn.error)}
        </p>
      )}
      {courses.isPending ? (
        <div role="status" aria-label="Opening the courses" className="skeleton h-20 w-full" />
      ) : courses.isError ? (
        <div role="alert" className="rounded border border-error p-4">
          <p>The courses cannot be read: {courses.error.message}</p>
          <button type="button" className="btn btn-sm mt-2" onClick={() => courses.refetch()}>
            Try again
          </button>
        </div>
      ) : courses.data.length === 0 ? (
        <p className="rounded border border-base-300 bg-base-200 p-6">
          No course yet. A course is made of base classes and says, week by week, what is different: schemes, lighter
          weeks, exercises in turn. “New course” makes one from a template, your room and your people.
        </p>
      ) : (
        <ul className="space-y-2" data-testid="courses">
          {courses.data
            .filter((course) => !course.archived)
            .map((course) => (
              <li key={course.id}>
                <Link
                  to={`/courses/${course.id}`}
                  className="block rounded-(--radius-box) border border-base-300 bg-base-200 p-3 hover:border-base-content"
                >
                  <span className="flex flex-wrap items-baseline gap-x-4">
                    <span className="text-lg font-semibold">{course.course.name}</span>
                    <span className="faint text-sm">
                      {counted(course.course.weeks, "week")} from {dayWords(course.course.starts)},{" "}
                      {counted(course.course.meetings.length, "class", "classes")} a week
                    </span>
                    <span className="faint ml-auto text-xs">
                      revision {course.revision}, saved {when(course.saved_at)}
                    </span>
                  </span>
                </Link>
              </li>
            ))}
        </ul>
      )}
      {making && <NewCourseDialog onClose={() => make(false)} />}
    </div>
  );
}

function faultWords(error: Error): string {
  return error instanceof FaultyPlan
    ? error.faults.map((fault) => `${fault.place}, ${fault.field}: ${fault.message}`).join("; ")
    : error.message;
}

function NewCourseDialog({ onClose }: { onClose: () => void }) {
  const rooms = useRooms();
  const people = usePeople();
  const navigate = useNavigate();
  const queries = useQueryClient();
  const room = rooms.data?.find((room) => !room.retired)?.id ?? "";
  const [wanted, want] = useState<Omit<FromTemplate, "room" | "people"> & { people: string[] | null }>(() => ({
    template: "waves",
    name: "Twelve weeks",
    starts: plusDays(mondayOf(today()), 7),
    time: "18:30",
    weeks: 12,
    generated: true,
    people: null,
  }));
  const crowd = wanted.people ?? (people.data ?? []).slice(0, 12).map((person) => person.id);
  const make = useMutation({
    mutationFn: () => makeFromTemplate({ ...wanted, room, people: crowd }),
    onSuccess: (made) => {
      void queries.invalidateQueries({ queryKey: ["courses"] });
      void queries.invalidateQueries({ queryKey: ["classes"] });
      void navigate(`/courses/${made.id}`);
    },
  });
  return (
    <Dialog title="A new course" onClose={onClose} wide>
      <form
        className="space-y-3"
        onSubmit={(event) => {
          event.preventDefault();
          make.mutate();
        }}
      >
        <NameAndBegin wanted={wanted} onChange={(fields) => want({ ...wanted, ...fields })} />
        <NumberField
          label="Weeks"
          value={wanted.weeks}
          min={1}
          max={26}
          onChange={(weeks) => want({ ...wanted, weeks })}
        />
        <Templates chosen={wanted.template} onChoose={(template) => want({ ...wanted, template })} />
        <label className="flex items-center gap-2 text-sm">
          <input
            type="checkbox"
            className="checkbox checkbox-sm"
            checked={wanted.generated}
            onChange={(event) => want({ ...wanted, generated: event.target.checked })}
          />
          Generate the base classes: chosen for the muscles of each day, no two alike (otherwise the usual first
          classes)
        </label>
        <PeoplePicker people={crowd} onChange={(next) => want({ ...wanted, people: next })} />
        {make.isError && (
          <p role="alert" className="rounded border border-error px-3 py-1.5 text-sm">
            The course was not made: {faultWords(make.error)}
          </p>
        )}
        <div className="flex flex-wrap items-center gap-3">
          <button type="submit" className="btn btn-primary" disabled={!crowd.length || !room || make.isPending}>
            {make.isPending ? "Making the course …" : "Make the course"}
          </button>
          <span className="faint text-xs">
            Base classes from what the room has, fitted to their class length in every week; loads are people’s working
            loads.
          </span>
        </div>
      </form>
    </Dialog>
  );
}

type TemplatesProps = { chosen: string; onChoose: (template: FromTemplate["template"]) => void };

/** The templates of courses, one of which is chosen. */
function Templates({ chosen, onChoose }: TemplatesProps) {
  const schools = useCourseTemplates();
  return (
    <fieldset>
      <legend className="text-sm">Template</legend>
      <div className="grid gap-1 sm:grid-cols-3">
        {(schools.data ?? []).map((school) => (
          <label
            key={school.id}
            className={`cursor-pointer rounded border px-2 py-1 text-sm ${
              chosen === school.id ? "border-base-content bg-base-200" : "border-base-300"
            }`}
          >
            <input
              type="radio"
              name="school"
              className="mr-1"
              checked={chosen === school.id}
              onChange={() => onChoose(school.id)}
            />
            <strong>{school.name}</strong>
            <span className="faint block text-xs">{school.what}</span>
          </label>
        ))}
      </div>
    </fieldset>
  );
}

type NameAndBeginProps = {
  wanted: Pick<FromTemplate, "name" | "starts" | "time">;
  onChange: (fields: Partial<Pick<FromTemplate, "name" | "starts" | "time">>) => void;
};

/** What the course is called, and when its first week and its classes begin. */
function NameAndBegin({ wanted, onChange }: NameAndBeginProps) {
  const id = useId();
  const field = "h-8 w-full rounded-[var(--radius-field)] border border-base-300 bg-base-100 px-2 text-sm";
  return (
    <div className="grid grid-cols-2 gap-3 sm:grid-cols-4">
      <label className="col-span-2 text-sm" htmlFor={`${id}-name`}>
        Name
        <input
          id={`${id}-name`}
          data-first
          required
          className={field}
          value={wanted.name}
          maxLength={80}
          onChange={(event) => onChange({ name: event.target.value })}
        />
      </label>
      <label className="text-sm" htmlFor={`${id}-starts`}>
        Begins in the week of
        <input
          id={`${id}-starts`}
          type="date"
          required
          className={field}
          value={wanted.starts}
          onChange={(event) => onChange({ starts: event.target.value })}
        />
      </label>
      <label className="text-sm" htmlFor={`${id}-time`}>
        Time
        <input
          id={`${id}-time`}
          type="time"
          required
          className={field}
          value={wanted.time}
          onChange={(event) => onChange({ time: event.target.value })}
        />
      </label>
    </div>
  );
}
