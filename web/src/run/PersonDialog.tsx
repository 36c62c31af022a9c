import type { Card } from "../api/runs";
import type { OpenRun } from "../live/useRun";
import type { RunState } from "../live/runState";
import { stillToDo } from "../live/machines";
import type { PersonNow } from "../live/places";
import { marked, placeWords } from "../live/words";
import { Dialog } from "../shared/Dialog";
import { firstName } from "../shared/names";
import { entryAt } from "../basis/entries";
import { Decisions } from "./Decisions";
import { targetOf, targetWords } from "./targets";

type Props = {
  run: OpenRun;
  runState: RunState;
  one: PersonNow;
  card: Card | undefined;
  onDone: () => void;
  onLog: () => void;
};

/** What can be said of somebody at their own pace besides “done”: one press each. */
export function PersonDialog({ run, runState, one, card, onDone, onLog }: Props) {
  const { sheet } = runState;
  const { person, here } = one;
  const name = firstName(person.name);
  const rows = stillToDo(runState, person.id);
  const now = here && rows.find((row) => row.part === here.part);
  const others = rows.filter((row) => row !== now);
  const sets = here ? person.sets.filter((set) => set.part === here.part) : [];
  // a set that was logged as done is not done again: only taking that back makes it open
  const open = sets.filter(
    (set) =>
      set.number !== one.set && !runState.done.has(`${person.id} ${entryAt(sheet.parts, set.part).id} ${set.number}`),
  );
  const unit = here && here.unit >= 0 ? entryAt(sheet.units, here.unit) : undefined;
  const write = (kg: number) => marked(kg, unit?.marked ?? "kg");
  const part = here && entryAt(sheet.parts, here.part);
  const target = part ? targetOf(card, part.id, part.exercise, one.set) : undefined;
  const setOf = (row: { part: number; number: number; unit: number }) => ({
    person: person.id,
    part: entryAt(sheet.parts, row.part).id,
    number: row.number,
    ...(row.unit >= 0 && { unit: entryAt(sheet.units, row.unit).id }),
  });
  function say(
    kind: "set_started" | "set_skipped" | "took_another",
    row: { part: number; number: number; unit: number },
  ) {
    void run.add(kind, setOf(row)).then(onDone);
  }
  const button = "btn h-12 justify-start text-left";
  return (
    <Dialog title={`${person.number} ${person.name}`} onClose={onDone}>
      {here && (
        <p className="mb-2">
          {placeWords(sheet, here).what}, set {one.set} of {sets.length}
          {!one.known && <span className="faint"> (assumed)</span>}
          {target && <span className="block text-sm font-semibold">{targetWords(target, write)}</span>}
        </p>
      )}
      {part && <Decisions run={run} person={person.id} part={part} set={one.set} />}
      <div className="grid gap-2 sm:grid-cols-2">
        {here && (
          <>
            <button
              type="button"
              data-first
              className={button}
              onClick={() => say("set_started", { ...here, number: one.set })}
            >
              Started this set now
            </button>
            <button type="button" className={button} onClick={() => say("set_skipped", { ...here, number: one.set })}>
              Skipped this set
            </button>
          </>
        )}
        <button type="button" className={button} onClick={onLog}>
          Log what was done
        </button>
        <button
          type="button"
          className={button}
          onClick={() => void run.add("left", { person: person.id }).then(onDone)}
        >
          Has left
        </button>
      </div>
      {others.length > 0 && (
        <section aria-label="Took another machine first" className="mt-4">
          <h3 className="font-semibold">{name} took another first</h3>
          <ul className="mt-1 grid gap-2 sm:grid-cols-2">
            {others.map((row) => (
              <li key={row.part}>
                <button type="button" className={`${button} w-full`} onClick={() => say("took_another", row)}>
                  {row.name}
                </button>
              </li>
            ))}
          </ul>
        </section>
      )}
      {here && open.length > 0 && (
        <section aria-label="Is at another set" className="mt-4">
          <h3 className="font-semibold">{name} is at another set of this</h3>
          <div className="mt-1 flex flex-wrap gap-2">
            {open.map((set) => (
              <button
                key={set.number}
                type="button"
                className="btn h-12 min-w-12"
                aria-label={`Set ${set.number}`}
                onClick={() => say("set_started", { ...here, number: set.number })}
              >
                {set.number}
              </button>
            ))}
          </div>
        </section>
      )}
    </Dialog>
  );
}
