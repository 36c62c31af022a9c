import { kilograms } from "../shared/format";
import { Plus } from "lucide-react";
import { useState } from "react";

import { useCatalogue } from "../api/queries";
import type { Sheet } from "../api/runs";
import type { LogRow } from "../live/log";
import type { OpenRun } from "../live/useRun";
import { SetForm } from "./SetForm";
import { SetRow } from "./SetRow";
import { present } from "../basis/entries";

type Props = { run: OpenRun; sheet: Sheet; person: Sheet["people"][number]; rows: LogRow[] };

/** What somebody did that was not planned: each exercise by its name, set by set. */
export function Unplanned({ run, sheet, person, rows }: Props) {
  const catalogue = useCatalogue();
  const [said, say] = useState<string | null>(null);
  const known = catalogue.data?.exercises.filter((exercise) => !catalogue.data.retired.includes(exercise.id)) ?? [];
  const nameOf = (id: string) => catalogue.data?.exercises.find((exercise) => exercise.id === id)?.name ?? id;
  const meant = known.find((item) =>
    [item.name, ...item.aliases].some((name) => name.toLowerCase() === said?.toLowerCase()),
  );
  const done = meant && rows.filter((row) => row.exercise === meant.id);
  const row: LogRow | null = meant
    ? {
        sheet,
        person,
        set: null,
        part: null,
        exercise: meant.id,
        number: Math.max(0, ...done!.map((item) => item.number)) + 1,
        written: "not written",
        done: [],
      }
    : null;
  const exercises = [...new Set(rows.map((row) => row.exercise))];
  return (
    <section className="border-b border-base-300 py-1" aria-label="Not planned">
      {exercises.map((id) => (
        <div key={id} className="py-0.5">
          <h3 className="font-medium">
            {nameOf(id)} <span className="faint text-sm font-normal">not planned</span>
          </h3>
          <ul>
            {rows
              .filter((row) => row.exercise === id)
              .map((eachRow) => (
                <SetRow key={eachRow.number} run={run} sheet={sheet} row={eachRow} current={false} />
              ))}
          </ul>
        </div>
      ))}
      {said === null ? (
        <button type="button" className="btn btn-ghost min-h-11" onClick={() => say("")}>
          <Plus size={16} aria-hidden /> another exercise
        </button>
      ) : (
        <>
          <div className="flex items-center gap-2">
            <input
              className="input h-11 flex-1"
              aria-label="Exercise that was not planned"
              placeholder={catalogue.isError ? "the catalogue cannot be read now" : "name of the exercise"}
              list="unplanned-exercises"
              autoFocus
              value={said}
              onChange={(event) => say(event.target.value)}
            />
            <datalist id="unplanned-exercises">
              {known.map((item) => (
                <option key={item.id} value={item.name} />
              ))}
            </datalist>
            <button type="button" className="btn h-11" onClick={() => say(null)}>
              Cancel
            </button>
          </div>
          {row && (
            <SetForm
              key={`${row.exercise} ${row.number}`}
              run={run}
              row={row}
              oneSided={present(meant, "The exercise").sides === "one_sided"}
              loads={[]}
              write={(kg) => kilograms(kg)}
              onDone={() => say(null)}
            />
          )}
        </>
      )}
    </section>
  );
}
