import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { makeClasses, readDates, type DateRead } from "../api/calendar";
import type { ClassSummary } from "../api/client";
import { Dialog } from "../shared/Dialog";
import { FileButton } from "../shared/FileButton";
import { counted } from "../shared/format";
import { Pick } from "../shared/Pick";
import { Refused } from "../shared/Refused";

const MOST = 60;

/** Classes made of the dates of another calendar: shown first, each to be taken or left. */
export function DatesIn({ classes }: { classes: ClassSummary[] }) {
  const queries = useQueryClient();
  const [open, setOpen] = useState(false);
  const [left, leave] = useState<number[]>([]);
  const [chosen, choose] = useState("");
  const read = useMutation({ mutationFn: readDates });
  const like = chosen || String(classes[0]?.id ?? "");
  const rows = read.data ?? [];
  const right = rows.map((row, at) => ({ row, at })).filter(({ row }) => row.faults.length === 0);
  const taken = right.filter(({ at }) => !left.includes(at)).map(({ row }) => row);
  const make = useMutation({
    mutationFn: () => makeClasses(Number(like), taken),
    onSuccess: () => {
      for (const key of ["calendar", "classes", "today"]) void queries.invalidateQueries({ queryKey: [key] });
    },
  });
  const close = () => {
    setOpen(false);
    read.reset();
    make.reset();
  };
  return (
    <>
      <FileButton
        name="Dates from a file (.ics)"
        label="Calendar file"
        accept=".ics,text/calendar"
        onFile={(file) => {
          leave([]);
          make.reset();
          setOpen(true);
          read.mutate(file);
        }}
      />
      {open && (
        <Dialog title="Dates from another calendar" onClose={close} wide>
          {read.isPending && <p role="status">Reading …</p>}
          <Refused error={read.error ?? make.error} />
          {read.isSuccess && !make.isSuccess && (
            <>
              <p data-testid="dates-read">
                {counted(rows.length, "event")}, {right.length} of them {right.length === 1 ? "a date" : "dates"} of a
                class. Nothing is kept yet.
              </p>
              <ul className="mt-2 max-h-72 divide-y divide-base-300 overflow-y-auto text-sm">
                {rows.map((row, at) => (
                  <DateRow
                    key={at}
                    row={row}
                    taken={!left.includes(at)}
                    onTurn={() => leave(left.includes(at) ? left.filter((item) => item !== at) : [...left, at])}
                  />
                ))}
              </ul>
              {right.length > 0 && (
                <div className="mt-4 flex flex-wrap items-center gap-3">
                  <Pick
                    label="Each is made like"
                    value={like}
                    options={classes.map((planned): [string, string] => [String(planned.id), planned.name])}
                    onChange={choose}
                  />
                  <button
                    type="button"
                    className="btn btn-primary btn-sm"
                    disabled={make.isPending || taken.length === 0 || taken.length > MOST || !like}
                    onClick={() => make.mutate()}
                  >
                    Make {counted(taken.length, "class", "classes")}
                  </button>
                  {taken.length > MOST && <span className="text-sm text-accent">▲ at most {MOST} at once</span>}
                </div>
              )}
            </>
          )}
          {make.isSuccess && (
            <p role="status" data-testid="classes-made">
              {counted(make.data.ids.length, "class", "classes")} made; they stand in the calendar.
            </p>
          )}
        </Dialog>
      )}
    </>
  );
}

function when(row: DateRead): string {
  if (!row.starts) return "";
  const day = new Date(`${row.starts.slice(0, 10)}T12:00`);
  const said = day.toLocaleDateString("en-GB", { weekday: "short", day: "numeric", month: "short", year: "numeric" });
  const repeats = row.repeats
    ? `, ${(row.repeats.every_weeks ?? 1) > 1 ? `every ${row.repeats.every_weeks} weeks` : "every week"} until ${row.repeats.until}${row.repeats.without?.length ? `, but for ${counted(row.repeats.without.length, "day")}` : ""}`
    : "";
  return `${said}, ${row.starts.slice(11)}${row.minutes ? `, ${row.minutes.toFixed(0)} min` : ""}${repeats}`;
}

type DateRowProps = { row: Awaited<ReturnType<typeof readDates>>[number]; taken: boolean; onTurn: () => void };

/** An event of the file: whether it is taken, when it is, and what is wrong with it. */
function DateRow({ row, taken, onTurn }: DateRowProps) {
  return (
    <li className="flex gap-3 py-1">
      <input
        type="checkbox"
        className="checkbox checkbox-sm mt-0.5"
        aria-label={`Take ${row.name}`}
        disabled={row.faults.length > 0}
        checked={row.faults.length === 0 && taken}
        onChange={onTurn}
      />
      <span className="w-48 shrink-0 font-medium">{row.name}</span>
      <span className="grow">
        {when(row)}
        {row.notes.map((note) => (
          <span key={note} className="faint block">
            {note}
          </span>
        ))}
        {row.faults.map((fault) => (
          <span key={fault.field} className="block text-accent">
            ▲ {fault.message} ({fault.right})
          </span>
        ))}
      </span>
    </li>
  );
}
