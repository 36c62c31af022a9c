import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Copy, Download, Link2, Trash2 } from "lucide-react";
import { useState } from "react";

import { useMay } from "../api/account";
import { addFeed, revokeFeed, useFeeds } from "../api/calendar";
import { useCourses } from "../api/courses";
import { useClasses } from "../api/queries";
import { Pick } from "../shared/Pick";
import { Refused } from "../shared/Refused";
import { DatesIn } from "./DatesIn";

const STUDIO = "studio";

/** The calendar in other programs: as a file, under an address that can be revoked, and dates from elsewhere. */
export function Elsewhere() {
  const mayPlan = useMay("plan_classes");
  const classes = useClasses();
  const courses = useCourses(mayPlan);
  const feeds = useFeeds(mayPlan);
  const queries = useQueryClient();
  const [of, choose] = useState(STUDIO);
  const [copied, setCopied] = useState(0);
  const again = () => void queries.invalidateQueries({ queryKey: ["feeds"] });
  const [kind, id] = of.split("-");
  const asked = kind === "class" ? { class_id: Number(id) } : kind === "course" ? { course_id: Number(id) } : {};
  const add = useMutation({ mutationFn: () => addFeed(asked), onSuccess: again });
  const revoke = useMutation({ mutationFn: revokeFeed, onSuccess: again });
  const dated = (classes.data ?? []).filter(
    (planned) => planned.next_on !== null && planned.course === null && !planned.archived,
  );
  const options: [string, string][] = [
    [STUDIO, "the whole studio"],
    ...(courses.data ?? []).map((course): [string, string] => [`course-${course.id}`, `course: ${course.course.name}`]),
    ...dated.map((item): [string, string] => [`class-${item.id}`, item.name]),
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
        {mayPlan && (
          <button type="button" className="btn btn-sm" disabled={add.isPending} onClick={() => add.mutate()}>
            <Link2 size={16} aria-hidden /> Make an address to subscribe to
          </button>
        )}
        {mayPlan && <DatesIn classes={classes.data ?? []} />}
      </div>
      <Refused error={add.error ?? revoke.error ?? feeds.error} />
      {!!feeds.data?.length && (
        <>
          <p className="faint mt-2 max-w-prose text-sm">
            Whoever knows an address reads names of classes, times, rooms and how many come; no names of people. What
            changes here is there at the next reading.
          </p>
          <ul className="mt-1 max-w-4xl divide-y divide-base-300 border-y border-base-300 text-sm" data-testid="feeds">
            {feeds.data.map((feed) => {
              const address = `${window.location.origin}${feed.path}`;
              return (
                <li key={feed.id} className="flex flex-wrap items-center gap-x-3 gap-y-1 py-1">
                  <span className="w-44 truncate font-medium" title={feed.of}>
                    {feed.of}
                  </span>
                  <code className="min-w-0 grow truncate text-xs" title={address}>
                    {address}
                  </code>
                  {!!navigator.clipboard && (
                    <button
                      type="button"
                      className="btn btn-xs"
                      aria-label={`Copy the address of ${feed.of}`}
                      onClick={() => void navigator.clipboard.writeText(address).then(() => setCopied(feed.id))}
                    >
                      <Copy size={14} aria-hidden /> {copied === feed.id ? "Copied" : "Copy"}
                    </button>
                  )}
                  <button
                    type="button"
                    className="btn btn-ghost btn-xs btn-square"
                    aria-label={`Revoke the address of ${feed.of}`}
                    onClick={() => revoke.mutate(feed.id)}
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
