import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Download } from "lucide-react";
import { useState } from "react";

import { takeTable, type ComesBack, type TableName, type TableRead } from "../api/tables";
import { FileButton } from "../shared/FileButton";
import { counted } from "../shared/format";
import { Pick } from "../shared/Pick";
import { Refused } from "../shared/Refused";
import { present } from "../basis/entries";

const TABLES: [TableName, string][] = [
  ["sets", "sets that were done"],
  ["attendance", "who came"],
  ["figures", "figures of everybody who came"],
  ["hearts", "readings of heart rate"],
  ["loads", "bests and working loads"],
  ["settings", "settings of the units"],
  ["progress", "progress, day by day"],
  ["forecasts", "forecasts of what is planned"],
];
const WITHOUT_DAYS: TableName[] = ["loads", "settings"];

/** Everything as tables for a spreadsheet, and the two that come back. */
export function Tables() {
  const [name, choose] = useState<TableName>("sets");
  const [since, setSince] = useState("");
  const [until, setUntil] = useState("");
  const days = !WITHOUT_DAYS.includes(name);
  const asked = new URLSearchParams({ ...(days && since ? { since } : {}), ...(days && until ? { until } : {}) });
  return (
    <section className="mt-6" aria-labelledby="tables" data-testid="tables">
      <h2 id="tables" className="text-lg font-semibold">
        Tables for a spreadsheet
      </h2>
      <div className="mt-1 flex flex-wrap items-center gap-x-4 gap-y-2">
        <Pick
          label="Table"
          value={name}
          options={TABLES}
          onChange={(chosen) => choose(TABLES.find(([one]) => one === chosen)?.[0] ?? "sets")}
        />
        {days && (
          <>
            <Day label="From" value={since} onChange={setSince} />
            <Day label="to" value={until} onChange={setUntil} />
          </>
        )}
        <a className="btn btn-sm" href={`/api/tables/${name}?${asked}`} download={`${name}.csv`}>
          <Download size={16} aria-hidden /> Export as CSV
        </a>
      </div>
      <p className="faint mt-1 max-w-prose text-sm">
        Without days: everything. Two of them come back changed: an empty cell leaves what was written down, “-” takes
        it away.
      </p>
      <div className="mt-1 flex flex-wrap gap-x-6 gap-y-2">
        <Back name="loads" words="Loads from a table" />
        <Back name="settings" words="Settings from a table" />
      </div>
    </section>
  );
}

function Day({ label, value, onChange }: { label: string; value: string; onChange: (value: string) => void }) {
  return (
    <label className="flex items-center gap-1 text-sm">
      {label}
      <input
        type="date"
        className="h-7 rounded-[var(--radius-field)] border border-base-300 bg-base-100 px-1 text-sm"
        value={value}
        onChange={(event) => onChange(event.target.value)}
      />
    </label>
  );
}

const SHOWN = 40;

/** A table that comes back: what each row does, before anything is kept. */
function Back({ name, words }: { name: ComesBack; words: string }) {
  const queries = useQueryClient();
  const [file, choose] = useState<File | null>(null);
  const look = useMutation({ mutationFn: (chosen: File) => takeTable(name, chosen, false, false) });
  const keep = useMutation({
    mutationFn: (onlyRight: boolean) => takeTable(name, present(file, "The file"), true, onlyRight),
    onSuccess: () => {
      look.reset();
      void queries.invalidateQueries();
    },
  });
  const told = look.data;
  return (
    <div className={told ? "w-full" : ""}>
      <FileButton
        name={words}
        label={words}
        accept=".csv,text/csv"
        onFile={(chosen) => {
          choose(chosen);
          keep.reset();
          look.mutate(chosen);
        }}
      />
      <Refused error={keep.error ?? look.error} />
      {keep.isSuccess && (
        <p role="status" className="mt-1 text-sm" data-testid={`${name}-kept`}>
          {counted(keep.data.kept, "row")} kept.
        </p>
      )}
      {told && <Looked told={told} keep={(onlyRight) => keep.mutate(onlyRight)} busy={keep.isPending} name={name} />}
    </div>
  );
}

type LookedProps = { told: TableRead; keep: (onlyRight: boolean) => void; busy: boolean; name: string };

function Looked({ told, keep, busy, name }: LookedProps) {
  const faulty = told.rows.filter((row) => row.outcome === "faulty");
  const changing = told.rows.filter((row) => ["new", "changes", "clears"].includes(row.outcome));
  const shown = [...faulty, ...changing];
  return (
    <div className="mt-2 max-w-4xl rounded border border-base-300 p-3 text-sm" data-testid={`${name}-looked`}>
      <p>
        {counted(told.rows.length, "row")}: {changing.length} {changing.length === 1 ? "changes" : "change"} something
        {faulty.length > 0 && <strong className="text-accent">, ▲ {faulty.length} faulty</strong>}. Nothing is kept yet.
      </p>
      <ul className="mt-1 max-h-64 divide-y divide-base-300 overflow-y-auto">
        {shown.slice(0, SHOWN).map((row) => (
          <li key={row.line} className="flex gap-3 py-0.5">
            <span className="faint w-14 shrink-0">line {row.line}</span>
            <span className="grow">
              {row.who}: {row.what}
              {row.faults.map((fault) => (
                <span key={fault.field} className="block text-accent">
                  ▲ {fault.field}: {fault.message} ({fault.right})
                </span>
              ))}
            </span>
            <span className="faint">{row.outcome === "faulty" ? "left out" : row.outcome}</span>
          </li>
        ))}
        {shown.length > SHOWN && <li className="faint py-0.5">and {shown.length - SHOWN} more</li>}
      </ul>
      {changing.length > 0 && (
        <button
          type="button"
          className="btn btn-primary btn-sm mt-2"
          disabled={busy}
          onClick={() => keep(faulty.length > 0)}
        >
          {faulty.length ? `Keep the ${changing.length} that are right` : `Keep ${changing.length}`}
        </button>
      )}
    </div>
  );
}
