import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Download } from "lucide-react";
import { useState } from "react";

import { chooseStudio, enterAs } from "../api/account";
import { lookIntoStudio, takeStudioIn } from "../api/moving";
import { FileButton } from "../shared/FileButton";
import { counted, when } from "../shared/format";
import { Refused } from "../shared/Refused";
import { present } from "../basis/entries";

/** The whole studio out as one file, and one in from such a file. */
export function Moving({ own }: { own: string }) {
  const queries = useQueryClient();
  const [file, choose] = useState<File | null>(null);
  const look = useMutation({ mutationFn: lookIntoStudio });
  const keep = useMutation({ mutationFn: takeStudioIn });
  const inside = look.data;
  const others = inside?.works.filter((work) => work !== own) ?? [];
  const enter = async (id: number) => enterAs(queries, await chooseStudio(id));
  return (
    <section className="mt-6" aria-labelledby="moving" data-testid="moving">
      <h2 id="moving" className="text-lg font-semibold">
        The whole studio as one file
      </h2>
      <p className="max-w-prose text-sm">
        A zip of open formats with everything that is kept here: rooms, people, classes with their history, courses,
        what was held and recorded. It holds health data: hand it on with care. Passwords and the addresses of walls and
        calendars stay here.
      </p>
      <div className="mt-2 flex flex-wrap gap-2">
        <a className="btn btn-sm" href="/api/studio/file" download>
          <Download size={16} aria-hidden /> Take the studio out
        </a>
        <FileButton
          name="Take a studio in"
          label="File of a studio"
          accept=".zip,application/zip"
          disabled={look.isPending || keep.isPending}
          onFile={(chosen) => {
            choose(chosen);
            keep.reset();
            look.mutate(chosen);
          }}
        />
      </div>
      {(look.isPending || keep.isPending) && (
        <p role="status" className="mt-2 text-sm">
          {keep.isPending ? "Taking it in: a year takes about a minute …" : "Reading …"}
        </p>
      )}
      <Refused error={keep.error ?? look.error} />
      {inside && !keep.isSuccess && (
        <div className="mt-3 rounded border border-base-300 p-3 text-sm" data-testid="inside">
          <p>
            <strong>{inside.name}</strong>, exported {when(inside.made_at)}:{" "}
            {counted(inside.people, "person", "people")}, {counted(inside.rooms, "room")},{" "}
            {counted(inside.classes, "class", "classes")}, {counted(inside.courses, "course")},{" "}
            {counted(inside.runs, "class", "classes")} held. Every checksum is right.
          </p>
          <p className="mt-1">
            It becomes a studio of its own beside this one, in which you are an instructor.
            {others.length > 0 && ` Who else worked there gets an account anew: ${others.join(", ")}.`}
          </p>
          <div className="mt-2 flex gap-2">
            <button
              type="button"
              className="btn btn-primary btn-sm"
              disabled={keep.isPending}
              onClick={() => keep.mutate(present(file, "The file"))}
            >
              Import “{inside.name}”
            </button>
            <button type="button" className="btn btn-sm" onClick={() => look.reset()}>
              Keep nothing
            </button>
          </div>
        </div>
      )}
      {keep.isSuccess && (
        <p role="status" className="mt-2 text-sm" data-testid="taken-in">
          “{keep.data.name}” is here.{" "}
          <button type="button" className="btn btn-xs" onClick={() => void enter(keep.data.id)}>
            Work in it
          </button>
        </p>
      )}
    </section>
  );
}
