import { useEffect } from "react";
import { Link, useParams, useSearchParams } from "react-router";

import { useMay } from "../api/account";
import { useBook, type Book, type LogRow } from "../api/book";
import { CannotOpen } from "../shared/CannotOpen";
import { Faces } from "../shared/Faces";
import { counted, when } from "../shared/format";
import { PlannedAndActual } from "../shared/PlannedAndActual";
import { Opening } from "../shared/Opening";
import { useUnits } from "../shared/units";
import { HeartsIn } from "./HeartsIn";
import { HeartsBeside } from "./HeartsBeside";
import { TableIn } from "./TableIn";
import { TypeIn } from "./TypeIn";
import { rowWords } from "./words";
import { entryAt } from "../basis/entries";

/** A run's page: planned and actual, the log set by set, hearts beside forecasts, notes, and what was taken back. */
export function RunBookPage() {
  const id = Number(useParams().id);
  const book = useBook(id);
  const name = book.data?.run.name;
  useEffect(() => {
    if (name) document.title = `${name}, the book – Oaken Circuit`;
  }, [name]);
  if (book.isPending) return <Opening what="the class" />;
  if (book.isError) {
    return (
      <CannotOpen
        what="This class"
        error={book.error}
        again={() => void book.refetch()}
        home="/book"
        homeName="The book"
      />
    );
  }
  return <Page id={id} book={book.data} />;
}

const FACES = [
  ["page", "The page"],
  ["type", "Type in"],
  ["table", "From a table"],
  ["hearts", "Recordings"],
] as const;

function Page({ id, book }: { id: number; book: Book }) {
  const [asked, ask] = useSearchParams();
  const mayReadHealth = useMay("read_health");
  const faces = FACES.filter(([one]) => mayReadHealth || one !== "hearts");
  const face = faces.find(([one]) => one === asked.get("face"))?.[0] ?? "page";
  const { run } = book;
  const open = book.log.filter((item) => item.written === "not written").length;
  return (
    <div className="mx-auto max-w-6xl px-4 pb-10 lg:px-6" data-testid="run-book">
      <header className="flex flex-wrap items-end gap-x-4 gap-y-2 py-3">
        <div className="grow">
          <h1 className="text-2xl leading-7 font-semibold">{run.name}</h1>
          <p className="faint text-sm">
            <Link to="/book" className="underline underline-offset-2">
              The class log
            </Link>{" "}
            · {when(run.began_at ?? run.opened_at)} ·{" "}
            {run.state === "over" ? `${counted(run.people_count, "person", "people")} came` : run.state} ·{" "}
            <a className="underline underline-offset-2" href={`/runs/${run.id}`}>
              the run screen
            </a>{" "}
            ·{" "}
            <Link className="underline underline-offset-2" to={`/classes/${run.class_id}`}>
              the class
            </Link>{" "}
            ·{" "}
            <Link className="underline underline-offset-2" to={`/classes/${run.class_id}/sheet?run=${run.id}`}>
              on paper
            </Link>
          </p>
        </div>
        <Faces
          label="Faces of the page"
          faces={faces}
          chosen={face}
          onChoose={(item) => ask(item === "page" ? {} : { face: item }, { replace: true })}
        />
      </header>
      {open > 0 && face === "page" && (
        <p className="mb-2 text-sm">
          <strong>{counted(open, "set")} not logged</strong>: a set that is not logged is not a set done as planned.
        </p>
      )}
      {face === "type" ? (
        <TypeIn id={id} book={book} />
      ) : face === "table" ? (
        <TableIn id={id} book={book} />
      ) : face === "hearts" ? (
        <HeartsIn id={id} book={book} />
      ) : (
        <>
          <PlannedAndLived book={book} />
          <HeartsBeside book={book} />
          <Told book={book} />
          <Log book={book} />
        </>
      )}
    </div>
  );
}

function PlannedAndLived({ book }: { book: Book }) {
  if (!book.rows.length) return <p className="faint">What it came to is told when the class is over.</p>;
  return (
    <section aria-labelledby="beside-plan">
      <h2 id="beside-plan" className="text-lg font-semibold">
        Planned and actual
      </h2>
      <PlannedAndActual rows={book.rows} testId="planned-and-actual" />
    </section>
  );
}

/** Notes, stops, and what was taken back. */
function Told({ book }: { book: Book }) {
  if (!book.told.length && !book.traces.length) return null;
  return (
    <section className="mt-6 grid gap-x-8 gap-y-4 *:min-w-0 md:grid-cols-2" aria-label="Notes and corrections">
      <div>
        <h2 className="text-lg font-semibold">Notes and stops</h2>
        <ul className="text-sm">
          {book.told.map((item) => (
            <li key={`${item.at}${item.words}`} className="border-t border-base-300 py-1">
              {item.stop && <strong className="text-accent">■ stopped </strong>}
              {item.person && <strong>{book.people[item.person] ?? item.person}: </strong>}
              {item.words}{" "}
              <span className="faint text-xs">
                {when(item.at)}
                {item.by && `, ${item.by}`}
              </span>
            </li>
          ))}
          {!book.told.length && <li className="faint">None.</li>}
        </ul>
      </div>
      <div>
        <h2 className="text-lg font-semibold">Corrections</h2>
        <ul className="text-sm" data-testid="traces">
          {book.traces.map((trace) => (
            <li key={`${trace.withdrawn_at}${trace.words}`} className="border-t border-base-300 py-1">
              {trace.words}{" "}
              <span className="faint text-xs">
                written {when(trace.written_at)}
                {trace.by && ` by ${trace.by}`}, {trace.kind === "set_done" ? "changed" : "taken back"}{" "}
                {when(trace.withdrawn_at)}
                {trace.withdrawn_by && ` by ${trace.withdrawn_by}`}
              </span>
            </li>
          ))}
          {!book.traces.length && <li className="faint">None: everything stands as it was written first.</li>}
        </ul>
      </div>
    </section>
  );
}

const MARKS = { "not written": "○", "as planned": "✓", done: "✎" } as const;

/** The log, person after person, each exercise in a line. */
function Log({ book }: { book: Book }) {
  const [units] = useUnits();
  const people = [...new Set(book.log.map((item) => item.person))];
  return (
    <section className="mt-6" aria-labelledby="log">
      <div className="flex flex-wrap items-baseline gap-3">
        <h2 id="log" className="grow text-lg font-semibold">
          The log, set by set
        </h2>
        <span className="faint text-xs">✓ as planned · ✎ logged · ○ not logged</span>
        <a className="btn btn-xs" href={`/api/runs/${book.run.id}/sets.csv`} download={`sets-${book.run.id}.csv`}>
          CSV
        </a>
      </div>
      {people.map((person) => {
        const own = book.log.filter((item) => item.person === person);
        const parts = [...new Set(own.map((item) => item.part))];
        return (
          <details key={person} className="border-t border-base-300" open={people.length <= 4}>
            <summary className="flex min-h-10 cursor-pointer items-center gap-3">
              <span className="font-medium">{book.people[person] ?? person}</span>
              <span className="faint text-sm">{tally(own)}</span>
            </summary>
            <Link to={`/people/${person}/progress`} className="text-sm underline underline-offset-2">
              Week after week
            </Link>
            <table className="mb-2 w-full text-sm">
              <tbody>
                {parts.map((part) => {
                  const sets = own.filter((item) => item.part === part);
                  return (
                    <tr key={part} className="border-t border-base-300 align-top">
                      <th scope="row" className="w-52 py-1 pr-3 text-left font-normal">
                        {entryAt(sets, 0).name}
                      </th>
                      <td className="py-1">
                        <span className="flex flex-wrap gap-x-4">
                          {sets.map((set) => (
                            <span key={set.number}>
                              <span aria-label={set.written}>{MARKS[set.written]}</span> {rowWords(set, units)}
                            </span>
                          ))}
                        </span>
                      </td>
                    </tr>
                  );
                })}
              </tbody>
            </table>
          </details>
        );
      })}
    </section>
  );
}

function tally(rows: LogRow[]): string {
  const count = (how: LogRow["written"]) => rows.filter((row) => row.written === how).length;
  return [
    `${count("done")} written`,
    `${count("as planned")} as planned`,
    count("not written") ? `${count("not written")} not logged` : "",
  ]
    .filter(Boolean)
    .join(", ");
}
