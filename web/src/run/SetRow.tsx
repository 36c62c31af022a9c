import { Check } from "lucide-react";
import { useEffect, useRef, useState } from "react";

import type { Card, Sheet } from "../api/runs";
import { doneWords, type LogRow } from "../live/log";
import type { OpenRun } from "../live/useRun";
import { marked, setWords } from "../live/words";
import { asPlanned, SetForm } from "./SetForm";
import { decidedLoad } from "./decided";
import { targetOf, targetWords } from "./targets";

type RowProps = {
  run: OpenRun;
  sheet: Sheet;
  row: LogRow;
  current: boolean;
  /** the card of whoever does it, with what is to be reached */
  card?: Card;
};

/** One set: what was planned, what was written of it, and the presses that write it. */
export function SetRow({ run, sheet, row, current, card }: RowProps) {
  const [open, setOpen] = useState(false);
  const here = useRef<HTMLLIElement>(null);
  useEffect(() => {
    // the panel alone is moved, never the page
    const panel = here.current?.closest<HTMLElement>("[role=region]");
    if (current && panel) panel.scrollTop = here.current!.offsetTop - panel.offsetTop - panel.clientHeight / 2;
  }, [current]);
  const unit = row.set && row.set.unit >= 0 ? sheet.units[row.set.unit] : undefined;
  const write = (kg: number) => marked(kg, unit?.marked ?? "kg");
  const first = row.set?.kg[0];
  const decided = decidedLoad(run.events, row);
  const planned = row.set ? setWords(row.set, write, row.part?.one_sided ?? false) : "not planned";
  const target = row.set && row.part ? targetOf(card, row.part.id, row.exercise, row.number) : undefined;
  const sides = (row.part?.one_sided ?? false) && row.done.some((item) => item.side) ? row.done : row.done.slice(-1);
  return (
    <li
      ref={here}
      className={`rounded px-1 ${current ? "bg-base-200" : ""}`}
      data-testid={`set-${row.part?.id}-${row.number}`}
    >
      <div className="flex items-center gap-2 py-0.5">
        <span className="w-12 shrink-0 text-sm">
          set {row.number}
          {current && <span className="sr-only">, now</span>}
        </span>
        <span className="min-w-0 flex-1 leading-tight">
          <span className="block text-sm">{planned}</span>
          {decided !== undefined && decided !== first && row.written === "not written" && (
            <strong className="block text-sm">decided: {write(decided)}</strong>
          )}
          {target && <span className="faint block text-sm">{targetWords(target, write)}</span>}
          {sides.map((side) => (
            <strong key={side.id} className="block text-sm">
              {doneWords(side, write) || "done"}
              {side.note && <span className="font-normal"> — {side.note}</span>}
            </strong>
          ))}
          {row.written === "as planned" && <strong className="block text-sm">as planned</strong>}
        </span>
        {row.written === "not written" ? (
          <>
            <button
              type="button"
              className="btn h-11 w-24"
              onClick={() => setOpen(!open)}
              aria-expanded={open}
              aria-label={`Set ${row.number} of ${row.part?.name ?? ""} differs`}
            >
              differs
            </button>
            <button
              type="button"
              className="btn btn-primary btn-square h-11 w-11"
              aria-label={`Set ${row.number} of ${row.part?.name ?? ""} as ${decided === first ? "planned" : "decided"}`}
              onClick={() => void run.add("set_done", asPlanned(row, run.events))}
            >
              <Check size={20} aria-hidden />
            </button>
          </>
        ) : (
          <button
            type="button"
            className="btn btn-ghost h-11"
            aria-expanded={open}
            onClick={() => setOpen(!open)}
            aria-label={`Correct set ${row.number} of ${row.part?.name ?? ""}`}
          >
            correct
          </button>
        )}
      </div>
      {open && <SetForm run={run} row={row} loads={unit?.loads_kg ?? []} write={write} onDone={() => setOpen(false)} />}
    </li>
  );
}
