import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import type { Book } from "../api/book";
import { addRecording, lookAtRecording } from "../api/people";
import { DropArea } from "../shared/DropArea";
import { filesIn } from "../shared/files";
import { counted, when } from "../shared/format";
import { Pick } from "../shared/Pick";
import { ActivitiesOut } from "./ActivitiesOut";
import { errorWords } from "../basis/entries";

type Looked = Awaited<ReturnType<typeof lookAtRecording>>;
type Row = {
  file: File;
  state: "waiting" | "looking" | "right" | "faulty" | "keeping" | "kept";
  looked?: Looked;
  person: string;
  error?: string;
};

const NOBODY = "";
const MOST = 100;

/** Recordings of a class, many at once: whose each seems to be, before anything is kept. */
export function HeartsIn({ id, book }: { id: number; book: Book }) {
  const queries = useQueryClient();
  const [rows, setRows] = useState<Row[]>([]);
  const [told, tell] = useState("");
  const [busy, setBusy] = useState(false);
  const came = book.run.people;
  const name = (key: string) => book.people[key] ?? key;

  const change = (file: File, next: Partial<Row>) =>
    setRows((before) => before.map((row) => (row.file === file ? { ...row, ...next } : row)));

  const look = async (chosen: File[]) => {
    setBusy(true);
    tell("");
    const files: File[] = [];
    for (const item of chosen) {
      try {
        files.push(...(await filesIn(item)));
      } catch (error) {
        tell(errorWords(error));
      }
    }
    if (files.length > MOST) tell(`Of ${files.length} files the first ${MOST} are looked at.`);
    const taken = files.slice(0, MOST);
    setRows(taken.map((file) => ({ file, state: "waiting", person: NOBODY })));
    // one after the other: a person computes one thing at a time
    for (const file of taken) {
      change(file, { state: "looking" });
      try {
        const looked = await lookAtRecording(id, file);
        change(file, { state: "right", looked, person: looked.person ?? NOBODY });
      } catch (error) {
        change(file, { state: "faulty", error: errorWords(error) });
      }
    }
    setBusy(false);
  };

  const ready = rows.filter((row) => row.state === "right" && row.person !== NOBODY && !twice(rows, row));
  const keep = async () => {
    setBusy(true);
    for (const row of ready) {
      change(row.file, { state: "keeping" });
      try {
        await addRecording(id, row.person, row.file, null);
        change(row.file, { state: "kept" });
      } catch (error) {
        change(row.file, { state: "faulty", error: errorWords(error) });
      }
    }
    setBusy(false);
    for (const key of ["book", "runs", "recordings"]) void queries.invalidateQueries({ queryKey: [key] });
  };

  if (book.run.state !== "over") return <p className="mt-2">Recordings are laid over a class when it is over.</p>;
  const kept = rows.filter((row) => row.state === "kept").length;
  return (
    <section aria-label="Recordings" data-testid="hearts-in">
      <DropArea
        words="Drop recordings of this class here: FIT, TCX, GPX or CSV, one a person, or all in one zip."
        label="Recordings"
        accept=".fit,.tcx,.gpx,.csv,.zip"
        disabled={busy}
        onFiles={(files) => void look(files)}
      />
      {told && (
        <p role="alert" className="mt-2 rounded border border-error p-2 text-sm">
          {told}
        </p>
      )}
      {rows.length > 0 && (
        <>
          <div className="mt-3 flex flex-wrap items-center gap-3">
            <p role="status" className="grow" data-testid="looked">
              {busy
                ? `${rows.filter((row) => !["waiting", "looking", "keeping"].includes(row.state)).length} of ${rows.length} …`
                : kept
                  ? `${counted(kept, "recording")} kept.`
                  : `${counted(rows.length, "file")}, ${ready.length} ready to be kept. Nothing is kept yet.`}
            </p>
            {!busy && ready.length > 0 && (
              <button type="button" className="btn btn-primary btn-sm" onClick={() => void keep()}>
                Keep {counted(ready.length, "recording")}
              </button>
            )}
          </div>
          <FilesLookedAt rows={rows} people={came} name={name} onChange={change} />
        </>
      )}
      <ActivitiesOut id={id} people={came.map((key): [string, string] => [key, name(key)])} />
    </section>
  );
}

/** Whether another file is meant for the same person. */
function twice(rows: Row[], row: Row): boolean {
  const open = (item: Row) => item.state === "right" || item.state === "keeping";
  return (
    row.person !== NOBODY &&
    open(row) &&
    rows.some((eachRow) => eachRow !== row && open(eachRow) && eachRow.person === row.person)
  );
}

function Said({ row }: { row: Row }) {
  if (row.state === "waiting" || row.state === "looking") return <span className="faint">reading …</span>;
  if (row.state === "keeping") return <span className="faint">keeping …</span>;
  if (row.state === "faulty") return <span className="text-accent">▲ {row.error}</span>;
  const looked = row.looked!;
  return (
    <span>
      {looked.source}, {looked.minutes.toFixed(0)} min{looked.start && `, from ${when(looked.start)}`}
      {row.state === "right" && looked.recorded && row.person === looked.person && " · replaces the one there is"}
    </span>
  );
}

type FilesProps = {
  rows: Row[];
  people: string[];
  name: (key: string) => string;
  onChange: (file: File, next: Partial<Row>) => void;
};

/** Every file with what was found in it, and whose it is. */
function FilesLookedAt({ rows, people, name, onChange }: FilesProps) {
  return (
    <ul className="mt-2 divide-y divide-base-300 border-y border-base-300 text-sm">
      {rows.map((row) => (
        <li key={row.file.name} className="flex flex-wrap items-center gap-x-4 gap-y-1 py-1.5">
          <span className="min-w-0 basis-60 truncate font-medium" title={row.file.name}>
            {row.file.name.split("/").pop()}
          </span>
          <span className="grow">
            <Said row={row} />
            {twice(rows, row) && <strong className="text-accent"> ▲ {name(row.person)} has another file here</strong>}
          </span>
          {row.state === "right" && (
            <Pick
              label="Of"
              value={row.person}
              options={[[NOBODY, "nobody: leave it out"], ...people.map((key): [string, string] => [key, name(key)])]}
              onChange={(person) => onChange(row.file, { person })}
            />
          )}
          {row.state === "kept" && <span>kept: {name(row.person)}</span>}
        </li>
      ))}
    </ul>
  );
}
