import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Copy, Download, Link2, Trash2 } from "lucide-react";
import { useState } from "react";

import { useIsInstructor } from "../api/account";
import { addFeed, revokeFeed, useFeeds } from "../api/calendar";
import { useCourses } from "../api/courses";
import { useClasses } from "../api/queries";
import { Pick } from "../shared/Pick";
import { Refused } from "../shared/Refused";
import { DatesIn } from "./DatesIn";

const STUDIO = "studio";

/** The calendar in other programs: as a file, under an address that can be revoked, and dates from elsewhere. */
export function Elsewhere() {
  const instructor = useIsInstructor();
  const classes = useClasses();
  const courses = useCourses(instructor);
  const feeds = useFeeds(instructor);
  const queries = useQueryClient();
  const [of, choose] = useState(STUDIO);
  const [copied, setCopied] = useState(0);
  const again = () => void queries.invalidateQueries({ queryKey: ["feeds"] });
  const [kind, id] = of.split("-");
  const asked = kind === "class" ? { class_id: Number(id) } : kind === "course" ? { course_id: Number(id) } : {};
  const add = useMutation({ mutationFn: () => addFeed(asked), onSuccess: again });
  const revoke = useMutation({ mutationFn: revokeFeed, onSuccess: again });
  const dated = (classes.data ?? []).filter((one) => one.next_on !== null && one.course === null && !one.archived);
  const options: [string, string][] = [
    [STUDIO, "the whole studio"],
    ...(courses.data ?? []).map((one): [string, string] => [`course-${one.id}`, `course: ${one.course.name}`]),
    ...dated.map((one): [string, string] => [`class-${one.id}`, one.name]),
  ];
  const file = kind === "class" ? `/api/classes/${id}/calendar.ics` : `/api/courses/${id}/calendar.ics`;
  return (
    <section className="mt-8" aria-labelledby="elsewhere" data-testid="elsewhere">
      <h2 id="elsewhere" className="text-lg font-semibold">
        In other calendars
      </h2>
      <div className="mt-1 flex flex-wrap items-center gap-2">
        <Pick label="Dates of" value={of} options={options} onChange={choose} />
        <a className="btn btn-sm" href={of === STUDIO ? "/api/calendar.ics" : file} download>
          <Download size={16} aria-hidden /> As a file (.ics)
        </a>
        {instructor && (
          <button type="button" className="btn btn-sm" disabled={add.isPending} onClick={() => add.mutate()}>
            <Link2 size={16} aria-hidden /> Make an address to subscribe to
          </button>
        )}
        {instructor && <DatesIn classes={classes.data ?? []} />}
      </div>
      <Refused error={add.error ?? revoke.error ?? feeds.error} />
      {!!feeds.data?.length && (
        <>
          <p className="faint mt-2 max-w-prose text-sm">
            Whoever knows an address reads names of classes, times, rooms and how many come; no names of people. What
            changes here is there at the next reading.
          </p>
          <ul className="mt-1 max-w-4xl divide-y divide-base-300 border-y border-base-300 text-sm" data-testid="feeds">
            {feeds.data.map((one) => {
              const address = `${window.location.origin}${one.path}`;
              return (
                <li key={one.id} className="flex flex-wrap items-center gap-x-3 gap-y-1 py-1">
                  <span className="w-44 truncate font-medium" title={one.of}>
                    {one.of}
                  </span>
                  <code className="min-w-0 grow truncate text-xs" title={address}>
                    {address}
                  </code>
                  {!!navigator.clipboard && (
                    <button
                      type="button"
                      className="btn btn-xs"
                      aria-label={`Copy the address of ${one.of}`}
                      onClick={() => void navigator.clipboard.writeText(address).then(() => setCopied(one.id))}
                    >
                      <Copy size={14} aria-hidden /> {copied === one.id ? "Copied" : "Copy"}
                    </button>
                  )}
                  <button
                    type="button"
                    className="btn btn-ghost btn-xs btn-square"
                    aria-label={`Revoke the address of ${one.of}`}
                    onClick={() => revoke.mutate(one.id)}
                  >
                    <Trash2 size={14} aria-hidden />
                  </button>
                </li>
              );
            })}
          </ul>
        </>
      )}
    </section>
  );
}
