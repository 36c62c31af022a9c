import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { takeSets, type Book, type SetsRead } from "../api/book";
import { FaultyPlan } from "../api/client";
import { FileButton } from "../shared/FileButton";
import { counted } from "../shared/format";
import { present } from "../basis/entries";

const LARGEST = 2_000_000;

/** Sets from a table, looked at before anything is kept. */
export function TableIn({ id, book }: { id: number; book: Book }) {
  const queries = useQueryClient();
  const [file, setFile] = useState<File | null>(null);
  const look = useMutation({
    mutationFn: async (chosen: File) => {
      if (chosen.size > LARGEST) throw new Error(`“${chosen.name}” is larger than a table can be (2 MB).`);
      setFile(chosen);
      return takeSets(id, chosen, false, false);
    },
  });
  const keep = useMutation({
    mutationFn: (onlyRight: boolean) => takeSets(id, present(file, "The file"), true, onlyRight),
    onSuccess: () => {
      look.reset();
      setFile(null);
      void queries.invalidateQueries({ queryKey: ["book", id] });
    },
  });
  const told = look.data;
  return (
    <section aria-label="From a table" data-testid="table-in">
      <p className="max-w-prose text-sm">
        A CSV file with a line for each set. The log of this class as it stands is such a table:{" "}
        <a className="underline underline-offset-2" href={`/api/runs/${book.run.id}/sets.csv`} download>
          take it, fill it in
        </a>{" "}
        and bring it back. Commas, semicolons or tabs, decimal point or comma.
      </p>
      <div className="mt-2">
        <FileButton
          name="Choose a table"
          label="Table of sets"
          accept=".csv,text/csv"
          onFile={(chosen) => look.mutate(chosen)}
        />
      </div>
      {(look.isError || keep.isError) && (
        <p role="alert" className="mt-2 rounded border border-error px-3 py-1.5 text-sm">
          Nothing was kept: {words((look.error ?? keep.error)!)}
        </p>
      )}
      {keep.data && (
        <p role="status" className="mt-2 text-sm" data-testid="kept">
          {counted(keep.data.kept, "row")} kept.
        </p>
      )}
      {told && (
        <Preview told={told} name={file?.name ?? ""} keep={(right) => keep.mutate(right)} busy={keep.isPending} />
      )}
    </section>
  );
}

function words(error: Error): string {
  return error instanceof FaultyPlan
    ? error.faults.map((fault) => `${fault.place}, ${fault.field}: ${fault.message} (${fault.right})`).join("; ")
    : error.message;
}

const SHOWN = 12;

function Preview({
  told,
  name,
  keep,
  busy,
}: {
  told: SetsRead;
  name: string;
  keep: (onlyRight: boolean) => void;
  busy: boolean;
}) {
  const count = (outcome: SetsRead["rows"][number]["outcome"]) =>
    told.rows.filter((row) => row.outcome === outcome).length;
  const faulty = told.rows.filter((row) => row.outcome === "faulty");
  const right = told.rows.length - faulty.length - count("empty");
  return (
    <div className="mt-3" data-testid="sets-preview">
      <p>
        <strong>{name}</strong>: {counted(count("new"), "set")} new, {count("changes")} changed, {count("as planned")}{" "}
        as planned, {count("empty")} empty, {faulty.length} faulty.
      </p>
      {faulty.length > 0 && (
        <ul className="mt-1 list-disc pl-5 text-sm">
          {faulty.slice(0, SHOWN).flatMap((row) =>
            row.faults.map((fault) => (
              <li key={`${row.line}${fault.field}`}>
                {fault.place}, {fault.field}: {fault.message} <span className="faint">({fault.right})</span>
              </li>
            )),
          )}
          {faulty.length > SHOWN && <li>and {faulty.length - SHOWN} more lines</li>}
        </ul>
      )}
      <div className="mt-2 flex gap-2">
        <button
          type="button"
          className="btn btn-primary btn-sm"
          disabled={busy || right === 0}
          onClick={() => keep(faulty.length > 0)}
        >
          {faulty.length ? `Keep the ${right} that are right` : `Keep ${right}`}
        </button>
      </div>
    </div>
  );
}
