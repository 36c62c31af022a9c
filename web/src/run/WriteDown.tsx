import { Check, Plus, Undo2 } from "lucide-react";
import { useState } from "react";

import type { Card, Sheet } from "../api/runs";
import { placeIn, type RunState } from "../live/runState";
import type { LogRow } from "../live/log";
import { personNow } from "../live/places";
import type { OpenRun } from "../live/useRun";
import { marked } from "../live/words";
import { counted } from "../shared/format";
import { Decisions } from "./Decisions";
import { NoteForm } from "./NoteForm";
import { decidedOtherwise } from "./decided";
import { asPlanned, SetForm } from "./SetForm";
import { SetRow } from "./SetRow";
import { Unplanned } from "./Unplanned";
import { firstName } from "../shared/names";
import { entryAt } from "../basis/entries";

type Props = {
  run: OpenRun;
  runState: RunState;
  log: Map<string, LogRow[]>;
  person: string | null;
  onPerson: (person: string) => void;
  cards: Map<string, Card>;
};

/** What was done, set by set: as planned in one press, anything else in two. */
export function WriteDown({ run, runState, log, person, onPerson, cards }: Props) {
  const { sheet } = runState;
  const chosen = sheet.people.find((eachPerson) => eachPerson.id === person) ?? entryAt(sheet.people, 0);
  const block = entryAt(sheet.blocks, placeIn(sheet, runState.second).block);
  const rows = log.get(chosen.id) ?? [];
  const everybody = [...log.values()].flat();
  const open = everybody.filter((row) => row.written === "not written").length;
  const now = personNow(runState, chosen);
  const current = rows.findIndex(
    (row) => row.part && now.here && row.part.id === entryAt(sheet.parts, now.here.part).id && row.number === now.set,
  );
  const blockOf = (row: LogRow) => (row.part ? entryAt(row.sheet.blocks, row.part.block) : null);
  // a block that was left out later still has what was done in it
  const gone = rows.map(blockOf).filter((item) => item && !sheet.blocks.some((here) => here.id === item.id));
  const blocks = [...new Map([...sheet.blocks, ...gone].map((block) => [block!.id, block!])).values()];
  return (
    <div>
      <div
        className="sticky -top-1 z-10 flex max-h-28 flex-wrap items-center gap-1 overflow-auto bg-base-100 py-1"
        role="group"
        aria-label="Whose sets"
      >
        {sheet.people.map((person) => {
          const missing = (log.get(person.id) ?? []).filter((row) => row.written === "not written").length;
          return (
            <button
              key={person.id}
              type="button"
              aria-pressed={person.id === chosen.id}
              className={`btn h-11 gap-1 px-2 ${person.id === chosen.id ? "btn-neutral" : ""}`}
              onClick={() => onPerson(person.id)}
            >
              <span className="font-bold">{person.number}</span>{" "}
              <span className="sr-only max-w-20 truncate sm:not-sr-only">{firstName(person.name)}</span>
              {missing === 0 && <Check size={14} aria-hidden />}
              <span className="sr-only">{missing ? `, ${missing} not written` : ", everything written"}</span>
            </button>
          );
        })}
      </div>
      <OwnCard
        card={cards.get(chosen.id)}
        unit={now.here && now.here.unit >= 0 ? sheet.units[now.here.unit] : undefined}
      />
      <div className="flex flex-wrap items-center gap-2 border-b border-base-300 pb-2 text-sm">
        <span className="faint">As planned:</span>
        <button type="button" className="btn h-11" onClick={() => void tick(run, rows, { person: chosen.id })}>
          {firstName(chosen.name)}
        </button>
        {runState.state !== "ended" && (
          <button
            type="button"
            className="btn h-11"
            onClick={() => void tick(run, inBlock(everybody, block.id), { block: block.id })}
          >
            everybody, {block.name}
          </button>
        )}
        <button type="button" className="btn h-11" onClick={() => void tick(run, everybody, {})}>
          everybody
        </button>
        <TakeBack run={run} />
        <span className="faint ml-auto">{counted(open, "set")} not logged</span>
      </div>
      {blocks.map((eachBlock) => {
        const own = rows.filter((row) => blockOf(row)?.id === eachBlock.id);
        if (!own.length) return null;
        return (
          <BlockRows
            key={`${chosen.id}/${eachBlock.id}`}
            run={run}
            sheet={sheet}
            person={chosen.id}
            block={eachBlock}
            rows={own}
            card={cards.get(chosen.id)}
            current={current >= 0 ? rows[current] : undefined}
            begins={runState.state === "ended" ? own.some((row) => row.part?.takes_load) : eachBlock.id === block.id}
          />
        );
      })}
      <Unplanned run={run} sheet={sheet} person={chosen} rows={rows.filter((row) => !row.part)} />
      <NoteForm
        run={run}
        person={chosen.id}
        label={`Note on ${chosen.name}`}
        placeholder={`Something to remember of ${firstName(chosen.name)}`}
      />
    </div>
  );
}

type BlockProps = {
  run: OpenRun;
  sheet: Sheet;
  person: string;
  block: Sheet["blocks"][number];
  rows: LogRow[];
  card: Card | undefined;
  current: LogRow | undefined;
  /** whether it is open at first */
  begins: boolean;
};

/** The sets of one block, exercise by exercise; a block, or an exercise, is as planned in one press. */
function BlockRows({ run, sheet, person, block, rows, card, current, begins }: BlockProps) {
  const [chosen, open] = useState<boolean | null>(null);
  const shown = chosen ?? begins;
  const missing = (some: LogRow[]) => some.filter((row) => row.written === "not written").length;
  // a part whose exercise was exchanged stands twice: what was done of each
  const parts = [...new Map(rows.map((row) => [`${row.part!.id} ${row.exercise}`, row.part!])).values()];
  return (
    <section className="border-b border-base-300 py-1" aria-label={block.name}>
      <div className="flex items-center gap-2">
        <button type="button" className="min-h-11 flex-1 text-left" aria-expanded={shown} onClick={() => open(!shown)}>
          <span aria-hidden>{shown ? "▾" : "▸"}</span> <span className="font-semibold">{block.name}</span>{" "}
          <span className="faint text-sm">
            {missing(rows) ? `${missing(rows)} of ${rows.length} not written` : "written"}
          </span>
        </button>
        {missing(rows) > 0 && (
          <button
            type="button"
            className="btn h-11"
            aria-label={`${block.name} as planned`}
            onClick={() => void tick(run, rows, { person, block: block.id })}
          >
            as planned
          </button>
        )}
      </div>
      {shown &&
        parts.map((part) => {
          const own = rows.filter((row) => row.part!.id === part.id && row.exercise === part.exercise);
          return (
            <div key={`${part.id} ${part.exercise}`} className="py-0.5">
              <h3 className="flex items-center gap-2">
                <span className="font-medium">{part.name}</span>
                <span className="faint text-sm">{doseOf(part)}</span>
                {missing(own) > 1 && (
                  <button
                    type="button"
                    className="btn btn-ghost ml-auto h-9"
                    aria-label={`${part.name} as planned`}
                    onClick={() => void tick(run, own, { person, part: part.id })}
                  >
                    as planned
                  </button>
                )}
              </h3>
              <Decisions
                run={run}
                person={person}
                part={part}
                set={own.find((row) => row.written === "not written")?.number ?? own.length + 1}
              />
              <ul>
                {own.map((row) => (
                  <SetRow key={row.number} run={run} sheet={sheet} row={row} current={row === current} card={card} />
                ))}
              </ul>
              <AnotherSet run={run} sheet={sheet} rows={own} part={part} />
            </div>
          );
        })}
    </section>
  );
}

/** Ticks sets as planned; of those that were decided to be otherwise, what was decided is logged first. */
async function tick(run: OpenRun, rows: readonly LogRow[], of: { person?: string; part?: string; block?: string }) {
  for (const row of decidedOtherwise(run.events, rows)) await run.add("set_done", asPlanned(row, run.events));
  await run.add("as_planned", of);
}

function inBlock(rows: readonly LogRow[], block: string): LogRow[] {
  return rows.filter((row) => row.part && entryAt(row.sheet.blocks, row.part.block).id === block);
}

/** The line of a part without the name that stands before it, and without what is asked below it. */
function doseOf(part: Sheet["parts"][number]): string {
  const named = part.line.toLowerCase().startsWith(part.name.toLowerCase());
  const line = named ? part.line.slice(part.name.length).trim() : part.line;
  const first = part.decisions?.[0];
  const asked = first ? line.lastIndexOf(`if ${first.when}:`) : -1;
  return asked < 0 ? line : line.slice(0, asked).trim();
}

/** What somebody's card says, for those who may see it. */
function OwnCard({ card, unit }: { card: Card | undefined; unit: Sheet["units"][number] | undefined }) {
  const setting = unit && card?.settings[unit.id];
  if (!card || (!setting && !card.careful.length && !card.last_note)) return null;
  return (
    <p className="flex flex-wrap gap-x-4 border-b border-base-300 py-1 text-sm" data-testid="card">
      {setting && (
        <span>
          {unit.name}: <strong>{setting}</strong>
        </span>
      )}
      {card.careful.length > 0 && <strong className="text-error">▲ consider: {card.careful.join(", ")}</strong>}
      {card.last_note && <span>last note: {card.last_note}</span>}
    </p>
  );
}

/** Takes back the last thing that was ticked as planned. */
function TakeBack({ run }: { run: OpenRun }) {
  const last = run.events.findLast((event) => event.kind === "as_planned");
  if (!last) return null;
  return (
    <button type="button" className="btn btn-ghost h-11 px-3" onClick={() => void run.withdraw(last.id)}>
      <Undo2 size={16} aria-hidden /> Take back
    </button>
  );
}

/** One set more than planned: a ramp that went on. */
function AnotherSet({
  run,
  rows,
  part,
  sheet,
}: {
  run: OpenRun;
  sheet: Sheet;
  rows: LogRow[];
  part: Sheet["parts"][number];
}) {
  const [open, setOpen] = useState(false);
  const last = rows.at(-1);
  if (!last || rows.some((row) => row.written === "not written")) return null;
  const number = last.number + 1;
  const unit = last.set && last.set.unit >= 0 ? sheet.units[last.set.unit] : undefined;
  const row: LogRow = { ...last, set: null, part, number, written: "not written", done: [] };
  if (!open) {
    return (
      <button type="button" className="btn btn-ghost h-11 px-3" onClick={() => setOpen(true)}>
        <Plus size={16} aria-hidden /> one set more
      </button>
    );
  }
  return (
    <SetForm
      run={run}
      row={row}
      loads={unit?.loads_kg ?? []}
      write={(kg) => marked(kg, unit?.marked ?? "kg")}
      onDone={() => setOpen(false)}
    />
  );
}
