import { Trash2 } from "lucide-react";
import { useState } from "react";

import type { Course } from "../api/courses";
import { useClasses } from "../api/queries";
import { WEEKDAYS } from "../shared/days";
import { Dialog } from "../shared/Dialog";
import { Pick } from "../shared/Pick";
import { entryAt } from "../basis/entries";

const MOST = 14;

type Props = { course: Course; edit: (course: Course, field: string) => void; onClose: () => void };

/** Which base classes a course has, and on which days and times they are held. */
export function DaysDialog({ course, edit, onClose }: Props) {
  const classes = useClasses();
  const [adding, setAdding] = useState("");
  const free = (classes.data ?? [])
    .filter(
      (planned) =>
        planned.course === null && !planned.archived && !course.bases.some((base) => base.id === String(planned.id)),
    )
    .map((planned): [string, string] => [String(planned.id), planned.name]);
  return (
    <Dialog title="Days and base classes" onClose={onClose} wide>
      <Meetings course={course} edit={edit} />
      <Bases course={course} edit={edit} />
      <div className="mt-1 flex flex-wrap items-center gap-2">
        <Pick label="Add" value={adding} options={[["", "a class of the studio …"], ...free]} onChange={setAdding} />
        <button
          type="button"
          className="btn btn-sm"
          disabled={!adding || course.bases.length >= MOST}
          onClick={() => {
            const name = free.find(([id]) => id === adding)?.[1] ?? adding;
            edit({ ...course, bases: [...course.bases, { id: adding, name: name.slice(0, 80) }] }, "bases");
            setAdding("");
          }}
        >
          As a base class
        </button>
      </div>
    </Dialog>
  );
}

/** The classes of every week: of which base, on which day, when. */
function Meetings({ course, edit }: Omit<Props, "onClose">) {
  const bases = course.bases.map((base): [string, string] => [base.id, base.name]);
  const setMeeting = (place: number, fields: Partial<Course["meetings"][number]>) =>
    edit(
      {
        ...course,
        meetings: course.meetings.map((meeting, at) => (at === place ? { ...meeting, ...fields } : meeting)),
      },
      `meeting ${place}`,
    );
  const fresh = () => {
    let number = course.meetings.length + 1;
    while (course.meetings.some((meeting) => meeting.id === `m${number}`)) number += 1;
    return `m${number}`;
  };
  return (
    <>
      <h3 className="font-semibold">Held in every week</h3>
      <ul className="text-sm" data-testid="meetings">
        {course.meetings.map((meeting, place) => (
          <li key={meeting.id} className="flex flex-wrap items-center gap-2 border-t border-base-300 py-1">
            <Pick
              bare
              label={`Class ${place + 1}`}
              value={meeting.base}
              options={bases}
              onChange={(base) => setMeeting(place, { base })}
            />
            <Pick
              bare
              label={`Day of class ${place + 1}`}
              value={String(meeting.weekday)}
              options={WEEKDAYS.map((day, number): [string, string] => [String(number), day])}
              onChange={(day) => setMeeting(place, { weekday: Number(day) })}
            />
            <input
              type="time"
              aria-label={`Time of class ${place + 1}`}
              className="h-7 rounded-[var(--radius-field)] border border-base-300 bg-base-100 px-1"
              value={meeting.time}
              onChange={(event) => event.target.value && setMeeting(place, { time: event.target.value })}
            />
            {meeting.weeks.length > 0 && <span className="faint text-xs">in weeks {meeting.weeks.join(", ")}</span>}
            <button
              type="button"
              className="btn btn-ghost btn-xs btn-square ml-auto"
              aria-label={`Remove class ${place + 1}`}
              disabled={course.meetings.length === 1}
              onClick={() =>
                edit(
                  {
                    ...course,
                    meetings: course.meetings.filter((_, at) => at !== place),
                    left_out: course.left_out.filter((left) => left.meeting !== meeting.id),
                  },
                  "meetings",
                )
              }
            >
              <Trash2 size={14} aria-hidden />
            </button>
          </li>
        ))}
      </ul>
      <button
        type="button"
        className="btn btn-sm mt-1"
        disabled={course.meetings.length >= MOST}
        onClick={() =>
          edit(
            {
              ...course,
              meetings: [
                ...course.meetings,
                { id: fresh(), base: entryAt(course.bases, 0).id, weekday: 5, time: "09:30", weeks: [] },
              ],
            },
            "meetings",
          )
        }
      >
        Another class a week
      </button>
    </>
  );
}

/** The base classes by their names; one that is held in no week can be taken out. */
function Bases({ course, edit }: Omit<Props, "onClose">) {
  return (
    <>
      <h3 className="mt-4 font-semibold">Base classes</h3>
      <ul className="text-sm" data-testid="bases">
        {course.bases.map((base) => {
          const used = course.meetings.some((meeting) => meeting.base === base.id);
          return (
            <li key={base.id} className="flex items-center gap-2 border-t border-base-300 py-1">
              <input
                aria-label={`Name of base class ${base.name}`}
                className="h-7 grow rounded-[var(--radius-field)] border border-base-300 bg-base-100 px-2"
                value={base.name}
                maxLength={80}
                onChange={(event) =>
                  event.target.value.trim() &&
                  edit(
                    {
                      ...course,
                      bases: course.bases.map((eachBase) =>
                        eachBase.id === base.id ? { ...eachBase, name: event.target.value } : eachBase,
                      ),
                    },
                    `base ${base.id}`,
                  )
                }
              />
              <button
                type="button"
                className="btn btn-ghost btn-xs btn-square"
                aria-label={`Remove ${base.name}`}
                title={used ? "It is held in the weeks: remove it there first" : undefined}
                disabled={used}
                onClick={() =>
                  edit(
                    {
                      ...course,
                      bases: course.bases.filter((eachBase) => eachBase.id !== base.id),
                      changes: course.changes
                        .map((change) => ({ ...change, bases: change.bases.filter((id) => id !== base.id) }))
                        .filter(
                          (item, place) => item.bases.length > 0 || entryAt(course.changes, place).bases.length === 0,
                        ),
                    },
                    "bases",
                  )
                }
              >
                <Trash2 size={14} aria-hidden />
              </button>
            </li>
          );
        })}
      </ul>
    </>
  );
}
