import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef, useState, type KeyboardEvent } from "react";

import type { Book, LogRow } from "../api/book";
import { sendEvents } from "../api/runs";
import { Pick } from "../shared/Pick";
import { LB_KG, mass, useUnits } from "../shared/units";
import { typedSet, type Typed } from "./typed";
import { countWords, rowWords } from "./words";
import { newId } from "../basis/ids";

type By = "person" | "exercise";

/** An event of the log, written now on this device. */
function happened(kind: string, fields: object) {
  return {
    kind,
    id: newId(),
    happened_at: new Date().toISOString(),
    device: "typed in",
    ...fields,
  } as unknown as Parameters<typeof sendEvents>[1][number];
}

/**
 * Typing in from the paper sheet with the keyboard alone: person by person or exercise by exercise. A field is load or
 * repetitions; Enter goes on and writes what was typed, “=” writes the set as planned, “/” the whole list.
 */
export function TypeIn({ id, book }: { id: number; book: Book }) {
  const queries = useQueryClient();
  const [by, setBy] = useState<By>("person");
  const people = [...new Set(book.log.map((item) => item.person))];
  const exercises = [...new Map(book.log.map((item) => [item.exercise, item.name]))];
  const [person, setPerson] = useState(people[0] ?? "");
  const [exercise, setExercise] = useState(exercises[0]?.[0] ?? "");
  const [everyPart, showEvery] = useState(!book.log.some((item) => item.planned_kg !== null));
  const rows = asOnACard(
    book,
    by === "person"
      ? (row) => row.person === person && (everyPart || row.planned_kg !== null)
      : (row) => row.exercise === exercise,
  );
  const send = useMutation({
    mutationFn: async (events: ReturnType<typeof happened>[]) => {
      const kept = await sendEvents(id, events);
      if (kept.refused.length) throw new Error(kept.refused.map((item) => item.message).join("; "));
    },
    onSuccess: () => queries.invalidateQueries({ queryKey: ["book", id] }),
  });
  const table = useRef<HTMLTableElement>(null);
  const go = (by_: number, from: HTMLElement) => {
    const fields = [...(table.current?.querySelectorAll<HTMLInputElement>("input") ?? [])];
    const next = fields[fields.findIndex((field) => field === from) + by_];
    if (next) {
      next.focus();
      next.select();
      return;
    }
    const list = by === "person" ? people : exercises.map(([one]) => one);
    const at = list.indexOf(by === "person" ? person : exercise);
    const coming = list[at + Math.sign(by_)];
    if (!coming) return;
    if (by === "person") setPerson(coming);
    else setExercise(coming);
    window.setTimeout(() => table.current?.querySelector<HTMLInputElement>("input")?.focus(), 0);
  };
  const everything = () => {
    const fields = by === "person" ? [{ person }] : [...new Set(rows.map((row) => row.part))].map((part) => ({ part }));
    send.mutate(fields.map((field) => happened("as_planned", field)));
  };
  return (
    <section aria-label="Type in" data-testid="type-in">
      <div className="flex flex-wrap items-center gap-4">
        <WhoseSets
          book={book}
          by={by}
          setBy={setBy}
          person={person}
          people={people}
          setPerson={setPerson}
          exercise={exercise}
          exercises={exercises}
          setExercise={setExercise}
        />
        <button type="button" className="btn btn-sm" disabled={send.isPending} onClick={everything}>
          All of these as planned
        </button>
        {by === "person" && (
          <label className="flex items-center gap-1 text-sm">
            <input type="checkbox" checked={everyPart} onChange={(event) => showEvery(event.target.checked)} /> also
            what has no load
          </label>
        )}
        <span className="faint text-xs">
          Enter: on, and write what was typed · <kbd>=</kbd> as planned · <kbd>/</kbd> all of these as planned · 10+8 at
          60+45: a set in parts
        </span>
      </div>
      {send.isError && (
        <p role="alert" className="mt-1 text-sm text-error">
          That was not kept: {send.error.message}
        </p>
      )}
      <table ref={table} className="mt-2 w-full max-w-4xl text-sm">
        <LogHead first={by === "person" ? "Exercise" : "Person"} />
        <tbody>
          {rows.map((row) => (
            <Row
              key={`${row.person} ${row.part} ${row.number}`}
              row={row}
              called={by === "person" ? row.name : (book.people[row.person] ?? row.person)}
              onGo={go}
              onAll={everything}
              onPlanned={() =>
                send.mutate([happened("as_planned", { person: row.person, part: row.part, number: row.number })])
              }
              onWrite={(fields) =>
                send.mutate([
                  happened("set_done", {
                    person: row.person,
                    part: row.part,
                    number: row.number,
                    exercise: row.exercise,
                    ...fields,
                  }),
                ])
              }
            />
          ))}
        </tbody>
      </table>
      {!rows.length && <p className="faint mt-2">Nothing was planned here.</p>}
    </section>
  );
}

type RowProps = {
  row: LogRow;
  called: string;
  onGo: (by: number, from: HTMLElement) => void;
  onAll: () => void;
  onPlanned: () => void;
  onWrite: (fields: Typed) => void;
};

function Row({ row, called, onGo, onAll, onPlanned, onWrite }: RowProps) {
  const [units] = useUnits();
  const [load, setLoad] = useState("");
  const [reps, setReps] = useState("");
  const [fault, setFault] = useState("");
  const per = units === "metric" ? 1 : LB_KG;
  const write = (): boolean => {
    if (!load && !reps) return true;
    const said = typedSet(load, reps, per, units === "metric" ? "kg" : "lb");
    if ("fault" in said) {
      setFault(said.fault);
      return false;
    }
    setFault("");
    onWrite(said.done);
    setLoad("");
    setReps("");
    return true;
  };
  const keys = (event: KeyboardEvent<HTMLInputElement>, last: boolean) => {
    const field = event.currentTarget;
    if (event.key === "Enter" || event.key === "ArrowDown") {
      event.preventDefault();
      if (!last && event.key === "Enter") onGo(1, field);
      else if (write()) onGo(last ? 1 : 2, field);
    } else if (event.key === "ArrowUp") {
      event.preventDefault();
      onGo(-2, field);
    } else if (event.key === "=") {
      event.preventDefault();
      onPlanned();
      onGo(last ? 1 : 2, field);
    } else if (event.key === "/") {
      event.preventDefault();
      onAll();
    }
  };
  const field = "h-8 w-20 rounded-[var(--radius-field)] border border-base-300 bg-base-100 px-2";
  return (
    <tr className="border-t border-base-300">
      <th scope="row" className="py-1 pr-3 text-left font-normal">
        {called}
      </th>
      <td className="pr-3">{row.number}</td>
      <td className="pr-3 whitespace-nowrap">
        {row.planned_kg === null ? "" : `${mass(row.planned_kg, units)} × `}
        {countWords(row) || "by the clock"}
      </td>
      <td className="pr-3">
        <input
          inputMode="decimal"
          aria-label={`Load of ${called}, set ${row.number}`}
          className={field}
          value={load}
          onChange={(event) => setLoad(event.target.value)}
          onKeyDown={(event) => keys(event, false)}
        />
      </td>
      <td className="pr-3">
        <input
          inputMode="numeric"
          aria-label={`Repetitions of ${called}, set ${row.number}`}
          className={field}
          value={reps}
          onChange={(event) => setReps(event.target.value)}
          onKeyDown={(event) => keys(event, true)}
          onBlur={write}
        />
      </td>
      <td>
        {fault ? (
          <span role="alert" className="text-error">
            {fault}
          </span>
        ) : (
          <span className={row.written === "not written" ? "faint" : ""}>
            {row.written === "done" ? rowWords(row, units) : row.written}
          </span>
        )}
      </td>
    </tr>
  );
}

type WhoseSetsProps = {
  book: Book;
  by: By;
  setBy: (by: By) => void;
  person: string;
  people: string[];
  setPerson: (person: string) => void;
  exercise: string;
  exercises: [string, string][];
  setExercise: (exercise: string) => void;
};

/** Whether one goes by people or by exercises, and which one it is now. */
function WhoseSets({ book, by, setBy, ...chosen }: WhoseSetsProps) {
  const { person, people, setPerson, exercise, exercises, setExercise } = chosen;
  return (
    <>
      <Pick
        label="Go"
        value={by}
        options={[
          ["person", "person by person"],
          ["exercise", "exercise by exercise"],
        ]}
        onChange={setBy}
      />
      {by === "person" ? (
        <Pick
          label="Person"
          value={person}
          options={people.map((person): [string, string] => [person, book.people[person] ?? person])}
          onChange={setPerson}
        />
      ) : (
        <Pick label="Exercise" value={exercise} options={exercises} onChange={setExercise} />
      )}
    </>
  );
}

function LogHead({ first }: { first: string }) {
  return (
    <thead className="faint text-left text-xs">
      <tr>
        {[first, "Set", "Planned", "Load", "Reps", "Stands as"].map((head) => (
          <th key={head} scope="col" className="pr-3 font-normal">
            {head}
          </th>
        ))}
      </tr>
    </thead>
  );
}

/** The rows that are meant, as on a card: exercise by exercise, each with its sets. */
function asOnACard(book: Book, meant: (row: LogRow) => boolean): LogRow[] {
  const parts = [...new Set(book.log.map((item) => item.part))];
  return book.log
    .filter(meant)
    .sort((one, other) => parts.indexOf(one.part) - parts.indexOf(other.part) || one.number - other.number);
}
