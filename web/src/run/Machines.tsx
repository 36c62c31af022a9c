import { Check, Hourglass } from "lucide-react";
import { useState } from "react";

import type { OpenRun } from "../live/useRun";
import { machinesNow, type MachineNow } from "../live/machines";
import type { PersonNow } from "../live/places";
import type { RunState } from "../live/runState";
import { countdown, doingWords } from "../live/words";
import { Dialog } from "../shared/Dialog";
import { firstName } from "../shared/names";
import { entryAt } from "../basis/entries";

type Props = {
  run: OpenRun;
  runState: RunState;
  onSetDone: (one: PersonNow) => void;
  onLost: () => void;
};

/** Machine by machine: who is on it and for how long, who waits at it, who is next. A press opens what can be done. */
export function Machines({ run, runState, onSetDone, onLost }: Props) {
  const [open, setOpen] = useState<number | null>(null);
  const machines = machinesNow(runState);
  const chosen = machines.find((machine) => machine.unit === open);
  if (!machines.length) {
    return (
      <p className="faint py-3">
        {runState.floor
          ? "Nobody needs a machine in this block."
          : "The machines are shown in blocks at people’s own pace."}
      </p>
    );
  }
  return (
    <>
      <ul className="divide-y divide-base-300" aria-label="Machines now">
        {machines.map((machine) => (
          <Row
            key={machine.unit}
            machine={machine}
            onOpen={() => setOpen(machine.unit)}
            onSetDone={onSetDone}
            sets={(one) => setWords(runState, one)}
          />
        ))}
      </ul>
      {chosen && (
        <MachineDialog
          run={run}
          runState={runState}
          machine={chosen}
          onClose={() => setOpen(null)}
          onSetDone={onSetDone}
          onLost={onLost}
        />
      )}
    </>
  );
}

function setWords(runState: RunState, one: PersonNow): string {
  const { here } = one;
  if (!here) return "";
  const all = one.person.sets.filter((set) => set.part === here.part).length;
  return `${entryAt(runState.sheet.parts, here.part).name}, set ${one.set}${all > 1 ? ` of ${all}` : ""}`;
}

type RowProps = {
  machine: MachineNow;
  onOpen: () => void;
  onSetDone: (one: PersonNow) => void;
  sets: (one: PersonNow) => string;
};

function Row({ machine, onOpen, onSetDone, sets }: RowProps) {
  const { on, waiting, next, lost, name } = machine;
  return (
    <li className="flex items-center gap-2 py-1" data-testid={`machine-${machine.unit}`}>
      <button type="button" className="min-h-11 min-w-0 flex-1 text-left leading-tight" onClick={onOpen}>
        <span className="flex items-baseline gap-2">
          <span className="w-32 shrink-0 truncate font-semibold sm:w-44">{name}</span>
          <span className="min-w-0 flex-1 truncate">
            {lost ? (
              <strong className="text-error">out</strong>
            ) : on.length ? (
              on.map((one, at) => (
                <span key={one.person.id}>
                  {at > 0 && ", "}
                  <Who one={one} />
                </span>
              ))
            ) : (
              <span className="faint">free</span>
            )}
          </span>
          <span className="shrink-0 font-semibold tabular-nums">
            {on.length === 1 && (entryAt(on, 0).held ? "done?" : countdown(entryAt(on, 0).left_s))}
          </span>
        </span>
        <span className="block truncate text-sm">
          {[
            on.length === 1 && sets(entryAt(on, 0)),
            ...waiting.map((one) => (
              <span key={one.person.id}>
                {one.doing === "wait" && <Hourglass size={14} aria-hidden className="mr-0.5 inline align-[-2px]" />}
                {one.person.number} {firstName(one.person.name)} {doingWords(one)}
                {next?.person === one && `, on it in ${countdown(next.in_s)}`}
              </span>
            )),
            next && !waiting.includes(next.person) && (
              <span className="faint">
                then {next.person.person.number} {firstName(next.person.person.name)} in {countdown(next.in_s)}
              </span>
            ),
          ]
            .filter(Boolean)
            .map((piece, at) => (
              <span key={at}>
                {at > 0 && <span className="faint"> · </span>}
                {piece}
              </span>
            ))}
        </span>
      </button>
      {on.length === 1 && (
        <button
          type="button"
          className={`btn btn-square h-11 w-11 ${entryAt(on, 0).held ? "btn-primary" : ""}`}
          aria-label={`${entryAt(on, 0).person.name}: set done`}
          title="Set done"
          onClick={() => onSetDone(entryAt(on, 0))}
        >
          <Check size={20} aria-hidden />
        </button>
      )}
    </li>
  );
}

/** A person by number and name; where it is only assumed that they are there, it says so. */
function Who({ one }: { one: PersonNow }) {
  return (
    <span className={one.known ? "font-semibold" : "italic"}>
      {one.person.number} {firstName(one.person.name)}
      {!one.known && <span className="faint"> assumed</span>}
    </span>
  );
}

type DialogProps = {
  run: OpenRun;
  runState: RunState;
  machine: MachineNow;
  onClose: () => void;
  onSetDone: (one: PersonNow) => void;
  onLost: () => void;
};

function MachineDialog({ run, runState, machine, onClose, onSetDone, onLost }: DialogProps) {
  const { sheet } = runState;
  const unit = entryAt(sheet.units, machine.unit);
  return (
    <Dialog title={machine.name} onClose={onClose}>
      <div className="grid gap-2">
        {machine.on.map((one) => (
          <button
            key={one.person.id}
            type="button"
            data-first
            className="btn btn-primary h-12 justify-start"
            onClick={() => {
              onSetDone(one);
              onClose();
            }}
          >
            <Check size={18} aria-hidden /> {one.person.number} {firstName(one.person.name)}: set {one.set} is done
          </button>
        ))}
        {machine.lost ? (
          <button
            type="button"
            className="btn h-12 justify-start"
            onClick={() => void run.add("unit_back", { unit: unit.id }).then(onClose)}
          >
            It can be used again
          </button>
        ) : (
          <button
            type="button"
            className="btn h-12 justify-start"
            onClick={() => {
              onClose();
              onLost();
            }}
          >
            It cannot be used any more …
          </button>
        )}
      </div>
    </Dialog>
  );
}
