import { Check, ChevronLeft, ChevronRight } from "lucide-react";
import { useState } from "react";

import type { Card } from "../api/runs";
import type { RunState } from "../live/runState";
import { placeIn } from "../live/runState";
import type { LogRow } from "../live/log";
import { otherSet, peopleNow, type PersonNow, type Spot } from "../live/places";
import type { OpenRun } from "../live/useRun";
import { clock } from "../shared/format";
import { PersonDialog } from "./PersonDialog";
import { Relay } from "./Relay";
import { asPlanned } from "./SetForm";
import { countdown, doingWords, loadWords, placeWords } from "../live/words";
import { firstName } from "../shared/names";
import { entryAt } from "../basis/entries";

type Props = {
  run: OpenRun;
  /** where the class stands, or the second that is looked at */
  runState: RunState;
  looking: boolean;
  log: Map<string, LogRow[]>;
  cards: Map<string, Card>;
  onWrite: (person: string) => void;
  onSetDone: (one: PersonNow) => void;
};

/** Everybody: what they do now and where, and where they go next. In blocks at their own pace each is moved on alone. */
export function PeopleList({ run, runState, looking, log, cards, onWrite, onSetDone }: Props) {
  const [open, setOpen] = useState<string | null>(null);
  const { sheet } = runState;
  const block = entryAt(sheet.blocks, placeIn(sheet, runState.second).block);
  const people = peopleNow(runState);
  const waiting = people.filter((person) => person.doing === "wait");
  const chosen = people.find((person) => person.person.id === open);
  const followed = runState.floor !== null && !looking;
  const middle = middleOf(people.filter((person) => !person.away).map((person) => person.behind_s));
  return (
    <div>
      {followed && people.some(assumed) && (
        <p className="faint pt-1 text-sm">
          <em>In italics</em>: assumed, nothing was pressed
        </p>
      )}
      {waiting.length > 0 && (
        <p
          className="mb-1 rounded bg-warning px-2 py-1 text-sm font-semibold text-warning-content"
          data-testid="waiting"
        >
          Waiting for a machine: {waiting.map((item) => `${item.person.number} ${item.person.name}`).join(", ")}
        </p>
      )}
      {!looking && runState.state !== "ended" && <Relay run={run} runState={runState} />}
      <ul className="divide-y divide-base-300" aria-label="People now">
        {people.map((person) => (
          <Row
            key={person.person.id}
            one={person}
            runState={runState}
            moves={block.own_pace && !looking && !person.away}
            followed={followed}
            behind_s={person.behind_s - middle}
            onOpen={() => setOpen(person.person.id)}
            onSetDone={() => onSetDone(person)}
            run={run}
            card={cards.get(person.person.id)}
            rows={log.get(person.person.id) ?? []}
            onWrite={() => onWrite(person.person.id)}
          />
        ))}
      </ul>
      {chosen && (
        <PersonDialog
          run={run}
          runState={runState}
          one={chosen}
          card={cards.get(chosen.person.id)}
          onDone={() => setOpen(null)}
          onLog={() => onWrite(chosen.person.id)}
        />
      )}
    </div>
  );
}

type RowProps = {
  one: PersonNow;
  runState: RunState;
  moves: boolean;
  /** people are followed: their row says what is known of them, and takes a set as done */
  followed: boolean;
  /** by how many seconds they are further behind the plan than the others; less than 0: ahead of them */
  behind_s: number;
  onOpen: () => void;
  onSetDone: () => void;
  run: OpenRun;
  rows: LogRow[];
  card: Card | undefined;
  onWrite: () => void;
};

function Row({ one, runState, moves, followed, behind_s, onOpen, onSetDone, run, rows, card, onWrite }: RowProps) {
  const { sheet } = runState;
  const { person } = one;
  const here = placeWords(sheet, one.here);
  const next = placeWords(sheet, one.next);
  const planned = setAt(one, one.here, one.set);
  const sets = one.here ? person.sets.filter((set) => set.part === one.here?.part).length : 0;
  const unit = planned && planned.unit >= 0 ? entryAt(sheet.units, planned.unit).marked : "kg";
  const coming = one.next
    ? person.sets.find((set) => set.part === one.next?.part && set.start_s > runState.second)
    : undefined;
  const comingUnit = coming && coming.unit >= 0 ? entryAt(sheet.units, coming.unit).marked : "kg";
  const unitAt = one.here ? one.here.unit : (one.next?.unit ?? -1);
  const setting = unitAt >= 0 ? card?.settings[entryAt(sheet.units, unitAt).id] : undefined;
  const row = rows.find(
    (each) => planned && each.part?.id === entryAt(sheet.parts, planned.part).id && each.number === planned.number,
  );
  const block = entryAt(sheet.blocks, placeIn(sheet, runState.second).block);
  function move(way: "next" | "back") {
    const second = otherSet(runState, person, way);
    if (second === null) return;
    const within = Math.round((second - block.start_s) * 1000) / 1000;
    void run.add("moved_on", { person: person.id, block: block.id, second: within });
  }
  return (
    <li
      className={`flex flex-wrap items-center gap-x-2 py-1 sm:flex-nowrap ${one.away ? "opacity-60" : ""} ${
        one.held ? "bg-base-200" : ""
      }`}
      data-testid={`now-${person.id}`}
    >
      <button
        type="button"
        className="flex min-h-11 min-w-0 flex-1 items-center gap-2 text-left sm:w-36 sm:flex-none"
        onClick={followed ? onOpen : onWrite}
        title={followed ? `What ${person.name} does instead` : `Log the sets of ${person.name}`}
      >
        <span className="grid h-8 w-8 shrink-0 place-items-center rounded-full border-2 border-base-content font-bold">
          {person.number}
        </span>
        <span className="truncate font-semibold">{firstName(person.name)}</span>
      </button>
      <span className="order-last min-w-0 basis-full leading-tight sm:order-none sm:flex-1 sm:basis-0">
        <span className="flex items-baseline gap-2">
          <span className={`truncate text-base font-medium ${followed && assumed(one) ? "pr-1 italic" : ""}`}>
            {followed && assumed(one) && <span className="sr-only">assumed: </span>}
            {one.doing !== "work" && <span className="faint">{doingWords(one)} </span>}
            {!one.here && one.next ? (
              <>
                → {next.what}
                {next.where && <span className="faint font-normal">, {next.where}</span>}
              </>
            ) : (
              <>
                {here.what}
                {here.where && <span className="faint font-normal">, {here.where}</span>}
              </>
            )}
          </span>
          {moves && one.doing !== "finished" && (
            <span className="ml-auto font-semibold tabular-nums">{one.held ? "done?" : countdown(one.left_s)}</span>
          )}
        </span>
        <span className="block truncate text-sm">
          {sets > 1 && `set ${one.set} of ${sets}`}
          {followed && Math.abs(behind_s) >= BEHIND_FROM_S && !one.away && one.doing !== "finished" && (
            <span className={`float-right pl-2 ${behind_s > 0 ? "font-semibold" : "faint"}`}>
              {clock(Math.abs(behind_s))} {behind_s > 0 ? "behind" : "ahead"}
            </span>
          )}
          {planned && loadWords(planned, unit) && `${sets > 1 ? ", " : ""}${loadWords(planned, unit)}`}
          {!one.here && coming && loadWords(coming, comingUnit)}
          {setting && `, ${setting}`}
          {one.next && one.here && (
            <span className="faint">
              {" "}
              → {next.what}
              {next.where && `, ${next.where}`}
              {one.next_in_s !== null && ` in ${countdown(one.next_in_s)}`}
            </span>
          )}
        </span>
      </span>
      {followed && one.here && (
        <button
          type="button"
          className={`btn btn-square h-11 w-11 ${one.held ? "btn-primary" : ""}`}
          aria-label={`Set ${one.set} of ${person.name} is done`}
          title="Set done"
          onClick={onSetDone}
        >
          <Check size={20} aria-hidden />
        </button>
      )}
      {planned && !one.away && !followed && (
        <button
          type="button"
          className={`btn btn-square h-11 w-11 ${row && row.written !== "not written" ? "btn-success" : ""}`}
          aria-label={`Set ${planned.number} of ${person.name} as planned`}
          title="As planned"
          disabled={row ? row.written !== "not written" : true}
          onClick={() => row && void run.add("set_done", asPlanned(row, run.events))}
        >
          <Check size={20} aria-hidden />
        </button>
      )}
      {moves && !followed && <Moves name={person.name} onMove={move} />}
    </li>
  );
}

/** From so much on it is said that somebody is behind the others, or ahead of them. */
const BEHIND_FROM_S = 120;

function middleOf(seconds: number[]): number {
  const sorted = seconds.toSorted((one, other) => one - other);
  return sorted.length ? entryAt(sorted, Math.floor(sorted.length / 2)) : 0;
}

const assumed = (one: PersonNow) => !one.known && !one.away && one.doing !== "finished";

function setAt(one: PersonNow, spot: Spot | null, number: number) {
  return spot ? one.person.sets.find((set) => set.part === spot.part && set.number === number) : undefined;
}

/** Moves somebody back a set, or on to the next one. */
function Moves({ name, onMove }: { name: string; onMove: (way: "next" | "back") => void }) {
  return (
    <span className="join">
      <button
        type="button"
        className="btn join-item btn-square h-11 w-9"
        aria-label={`${name} back a set`}
        onClick={() => onMove("back")}
      >
        <ChevronLeft size={20} aria-hidden />
      </button>
      <button
        type="button"
        className="btn join-item btn-square h-11 w-9"
        aria-label={`${name} on to the next set`}
        onClick={() => onMove("next")}
      >
        <ChevronRight size={20} aria-hidden />
      </button>
    </span>
  );
}
