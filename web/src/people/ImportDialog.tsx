import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { importRoster, previewRoster } from "../api/people";
import { Dialog } from "../shared/Dialog";
import { counted } from "../shared/format";
import { Refused } from "../shared/Refused";
import { present } from "../basis/entries";

/** A roster file: what it would do, row by row, before anything is kept. */
export function ImportDialog({ onClose }: { onClose: () => void }) {
  const queries = useQueryClient();
  const [chosen, choose] = useState<File | null>(null);
  const look = useMutation({
    mutationFn: async (file: File) => {
      choose(file);
      return previewRoster(file);
    },
  });
  const keep = useMutation({
    mutationFn: (onlyRight: boolean) => importRoster(present(chosen, "The file"), onlyRight),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["people"] }),
  });
  const preview = look.data;
  const right = preview ? preview.new.length + preview.changing.length : 0;
  return (
    <Dialog title="People from a CSV file" onClose={onClose} wide>
      <p className="text-sm">
        A line of names, then one for each person. At least <b>name</b>, <b>age</b>, and <b>mass_kg</b> or{" "}
        <b>mass_lb</b>; also height_cm or height_in, sex, level, group, resting_bpm, max_bpm, vo2max, heart_medication,
        careful, screening, screening_on, and columns such as <b>best leg-press kg</b>. An empty cell leaves what was
        written down, <b>-</b> takes it away.
      </p>
      <input
        type="file"
        accept=".csv,text/csv"
        aria-label="CSV file"
        className="file-input file-input-sm mt-3 w-full"
        onChange={(event) => {
          const file = event.target.files?.[0];
          keep.reset();
          if (file) look.mutate(file);
        }}
      />
      {look.isPending && <p role="status">Reading …</p>}
      <Refused error={keep.error ?? look.error} />
      {preview && !keep.isSuccess && (
        <>
          <p className="mt-3" data-testid="preview">
            {counted(preview.new.length, "new person", "new people")}, {preview.changing.length} changed
            {preview.faulty.length > 0 && (
              <strong className="text-accent">, ▲ {counted(preview.faulty.length, "faulty row")}</strong>
            )}
          </p>
          <ul className="mt-2 max-h-64 divide-y divide-base-300 overflow-y-auto text-sm">
            {preview.rows.map((row) => (
              <li key={row.line} className="flex gap-3 py-1">
                <span className="faint w-14 shrink-0">line {row.line}</span>
                <span className="grow">
                  {row.name || "(no name)"}
                  {row.faults.map((fault) => (
                    <span key={fault.path} className="block text-accent">
                      ▲ {fault.field}: {fault.message}
                      {fault.right && ` (${fault.right})`}
                    </span>
                  ))}
                </span>
                <span className="faint">
                  {preview.new.includes(row.line)
                    ? "new"
                    : preview.changing.includes(row.line)
                      ? "changed"
                      : "left out"}
                </span>
              </li>
            ))}
          </ul>
          <div className="mt-4 flex gap-2">
            <button
              type="button"
              className="btn btn-primary"
              disabled={right === 0 || keep.isPending}
              onClick={() => keep.mutate(preview.faulty.length > 0)}
            >
              {preview.faulty.length ? `Keep the ${right} that are right` : `Keep all ${right}`}
            </button>
            <button type="button" className="btn" onClick={onClose}>
              Keep nothing
            </button>
          </div>
        </>
      )}
      {keep.isSuccess && (
        <p role="status" className="mt-3">
          {counted(keep.data.added, "person", "people")} added, {keep.data.changed} changed
          {keep.data.left_out.length > 0 && `; left out: lines ${keep.data.left_out.join(", ")}`}.
        </p>
      )}
    </Dialog>
  );
}
